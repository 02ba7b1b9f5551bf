// Forms to begin with, each shown on the first letter of what is chosen, and those a designer keeps.
#pragma once

#include "app/ticket/section.h"
#include "files/form_start.h"

class QPushButton;

namespace app {

class SamplePanel;

class FormStarts : public QWidget {
    Q_OBJECT

public:
    explicit FormStarts(const Context& context, QWidget* parent = nullptr);

private:
    void open();
    void makePanel();
    void take(int row);
    void keep();
    void forget(int row);

    Context m_context;
    QPushButton* m_button;
    SamplePanel* m_panel = nullptr;  // once it was opened
    std::vector<files::FormStart> m_starts;
};

}  // namespace app
