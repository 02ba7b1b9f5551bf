// A section of the ticket: a head with a line in plain words, and rows that open under it.
#pragma once

#include <QFormLayout>
#include <QWidget>
#include <functional>
#include <optional>

#include "app/fields/colour_field.h"
#include "app/fields/font_field.h"
#include "app/fields/number_field.h"
#include "session/session.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QToolButton;

namespace app {

inline QString text(const std::string& s)
{
    return QString::fromStdString(s);
}

// What rows share: the open work, how lengths are shown, and a place for messages.
struct Desk {
    session::Session* session = nullptr;
    std::function<session::LengthUnit()> unit;
    std::function<void(const QString&)> say;                               // one sentence under the picture
    std::function<void(std::function<void(base::Rgb)>)> pickColour;        // the next click in the picture
    std::shared_ptr<std::string> light = std::make_shared<std::string>();  // id of the light that is shown
    std::function<void()> lightChanged;                                    // another one is shown
};

// Rows bound to the work. A row knows how to read its value and how to write it to all that is chosen; it shows itself anew
// whenever the work or the choice changes.
class Rows : public QWidget {
    Q_OBJECT

public:
    Rows(const Desk& desk, const QString& prefix, QWidget* parent = nullptr);

    template <class T>
    using Get = std::function<std::optional<T>()>;
    template <class T>
    using Set = std::function<void(work::Work&, const T&)>;
    using When = std::function<bool()>;

    NumberField* number(const char* id, const QString& label, const QString& tip, const NumberSpec& spec, Get<double> get, Set<double> set,
                        Get<double> usual = {}, When when = {});
    QComboBox* choice(const char* id, const QString& label, const QString& tip, const QStringList& names, Get<int> get, Set<int> set,
                      When when = {});
    QCheckBox* flag(const char* id, const QString& label, const QString& tip, Get<bool> get, Set<bool> set, When when = {});
    ColourField* colour(const char* id, const QString& label, const QString& tip, Get<ColourField::Value> get, Set<ColourField::Value> set,
                        When when = {});
    // Any widget over the whole width, shown anew by `show`.
    void wide(QWidget* widget, std::function<void()> show = {}, When when = {});
    void labelled(const QString& label, QWidget* widget, std::function<void()> show = {}, When when = {});
    // A line that opens further rows; `summary` is shown while it is closed.
    Rows* group(const char* id, const QString& title, std::function<QString()> summary, When when = {});

    void refresh();
    int visibleRows() const;  // as they stand now, opened groups included

private:
    struct Row {
        QWidget* label = nullptr;
        QWidget* field = nullptr;
        std::function<void()> show;
        When when;
        Rows* inner = nullptr;
    };
    void add(const QString& label, QWidget* field, const QString& tip, std::function<void()> show, When when);
    QString named(const char* id) const { return m_prefix + "." + id; }
    void edit(const QString& label, const QString& key, bool going, const std::function<void(work::Work&)>& change);

    Desk m_desk;
    QString m_prefix;
    QFormLayout* m_form;
    std::vector<Row> m_rows;
};

class Section : public QWidget {
    Q_OBJECT

public:
    Section(const Desk& desk, const QString& id, const QString& title, std::function<QString()> summary, QWidget* parent = nullptr);

    Rows* rows() const { return m_rows; }
    const QString& title() const { return m_title; }
    bool isOpen() const { return m_open; }
    bool isPinned() const;
    void setOpen(bool open);
    void refresh();
    // Notices stand under the head, each with "meant so".
    void showNotices(const base::Notes& notes);
    QPushButton* head() const { return m_head; }

Q_SIGNALS:
    void openChanged(bool open);
    void noticeClicked(const QString& place);
    void noticeSilenced(const QString& key);

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void elide();

    QString m_title;
    std::function<QString()> m_summary;
    QString m_summaryText;
    QPushButton* m_head;
    QToolButton* m_pin;
    QLabel* m_line;
    QWidget* m_notices;
    base::Notes m_shownNotices;
    Rows* m_rows;
    bool m_open = false;
};

}  // namespace app
