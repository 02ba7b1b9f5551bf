// Forms to begin with, each shown on the first letter of what is chosen, and those a designer keeps.
#pragma once

#include <atomic>
#include <memory>

#include "app/ticket/section.h"
#include "app/window/background.h"
#include "files/form_start.h"

class QListWidget;
class QPushButton;

namespace app {

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
    QWidget* m_panel = nullptr;
    QListWidget* m_list = nullptr;
    std::vector<files::FormStart> m_starts;
    std::shared_ptr<std::atomic<int>> m_opened = std::make_shared<std::atomic<int>>(0);  // samples of an earlier opening are not made
    Background m_background;                                                             // renders the samples
};

}  // namespace app
