// Our own small drawings, where one is quicker than a word. They take the colours of the look they are painted in.
#pragma once

#include <QIcon>

namespace app {

enum class Symbol { Pause, Part, TooBright, Grain, SideView, Desk };

QIcon iconOf(Symbol symbol);

}  // namespace app
