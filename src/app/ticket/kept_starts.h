// A button that shows what is ready to begin from, on the first letter of what is chosen, and one that keeps what is there among it.
#pragma once

#include <functional>
#include <vector>

#include "app/ticket/section.h"
#include "base/result.h"

class QBoxLayout;
class QPushButton;

namespace app {

class SamplePanel;

class KeptStarts : public QWidget {
    Q_OBJECT

public:
    struct Start {
        std::string id;  // of its file
        QString name, tip;
        bool own = false;  // kept by the user
        std::function<work::Work()> shown;
        QString label;  // of the step that takes it
        std::function<void(work::Work&)> take;
    };
    struct Words {
        QString begin, beginTip, keepTip, list;
        QString leftOut, forget, askTitle, ask, kept, onlyOwn, forgotten;  // %1: reason or name
    };
    struct Kind {
        QString id;                                                              // of buttons and panel: "form"
        std::function<std::vector<Start>(base::Notes&)> all;                     // none: the panel does not open
        std::function<base::Result<std::string>(const std::string& name)> keep;  // by what name
        std::string folder;                                                      // of the user's own
        Words words;
    };
    KeptStarts(const Context& context, Kind kind, QWidget* parent = nullptr);
    void addBeside(QWidget* widget);  // between the two buttons

private:
    void open();
    void makePanel();
    void keep();
    void forget(int row);

    Context m_context;
    Kind m_kind;
    QBoxLayout* m_line;
    QPushButton* m_button;
    SamplePanel* m_panel = nullptr;  // once it was opened
    std::vector<Start> m_starts;
};

}  // namespace app
