// A section of the ticket: a head with a line in plain words, and rows that open under it.
#pragma once

#include <QFormLayout>
#include <QImage>
#include <QWidget>
#include <algorithm>
#include <functional>
#include <list>
#include <optional>

#include "app/fields/colour_field.h"
#include "app/fields/font_field.h"
#include "app/fields/number_field.h"
#include "app/picture/aim_at.h"
#include "session/layers.h"
#include "session/profiles.h"
#include "session/session.h"
#include "work/values.h"

class QCheckBox;
class QComboBox;
class QToolButton;

namespace app {

class SectionHead;

inline QString text(const std::string& s)
{
    return QString::fromStdString(s);
}

// A button beside a message.
struct Offer {
    QString id, label;
    std::function<void()> run;
};

// What rows share: the open work, how lengths are shown, and a place for messages.
struct Context {
    session::Session* session = nullptr;
    std::function<session::LengthUnit()> unit;
    std::function<QImage()> shownPicture;                                  // of the work as it is; null while it is coarse
    std::function<void(const QString&)> say;                               // one sentence over the picture
    std::function<void(const QString&, const std::vector<Offer>&)> offer;  // the same with buttons
    std::function<void(std::function<void(base::Rgb)>)> pickColour;        // the next click in the picture
    std::shared_ptr<std::string> light = std::make_shared<std::string>();  // id of the light that is shown
    std::function<void()> lightChanged;                                    // another one is shown
    // Ids of lights that are changed together with it, where it is one of them.
    std::shared_ptr<std::vector<std::string>> lightsTogether = std::make_shared<std::vector<std::string>>();
    std::function<void(const QString& piece, const QString& path)> replaceArtwork;
    std::function<void(const QString& piece, int page)> artworkPage;
    std::shared_ptr<std::string> step = std::make_shared<std::string>();  // id of the step whose values and handles are shown
    std::function<void(const std::string& lettering)> pen;                // draws the line it runs along
    std::function<void(const std::string& piece)> penCut;                 // draws a line that cuts it apart
    std::function<void(session::ProfileOf)> drawProfile;                  // on the bench
    std::function<void()> openBook;                                       // the sample book
    std::function<void()> openCharts;                                     // of the sky, in the drawer
    std::function<void()> openCasting;                                    // who casts on whom, in the drawer
    std::shared_ptr<std::string> card = std::make_shared<std::string>();  // id of the surroundings' card that is shown
    // Reads a picture, makes it part of the work and does `use` with its name there; puts a file in the place of a picture.
    std::function<void(const QString& path, const QString& label, std::function<void(work::Work&, const std::string& asset)> use)>
        layPicture;
    std::function<void(AimAt what, const std::string& id)> aimAt;           // by a place in the picture; `id`: of a light or card
    std::function<void(const QString& path, bool keepsExposure)> surround;  // by a picture of all round
    std::function<void(const std::string& asset, const QString& path)> replacePicture;
    std::shared_ptr<bool> movesPictures = std::make_shared<bool>(false);  // hands move the pictures on what is chosen
    std::function<void()> handsChanged;
    std::shared_ptr<session::Brush> brush = std::make_shared<session::Brush>();  // that draws where layers act
};

// Rows bound to the work. A row knows how to read its value and how to write it to all that is chosen; it shows itself anew
// whenever the work or the choice changes.
class Rows : public QWidget {
    Q_OBJECT

public:
    Rows(const Context& context, const QString& prefix, QWidget* parent = nullptr);

    template <class T>
    using Get = std::function<std::optional<T>()>;
    template <class T>
    using Set = std::function<void(work::Work&, const T&)>;
    using When = std::function<bool()>;

    NumberField* number(const char* id, const QString& label, const QString& tip, const NumberSpec& spec, Get<double> get, Set<double> set,
                        Get<double> usual = {}, When when = {});
    QComboBox* oneOf(const char* id, const QString& label, const QString& tip, const QStringList& names, Get<int> get, Set<int> set,
                     When when = {});
    QCheckBox* flag(const char* id, const QString& label, const QString& tip, Get<bool> get, Set<bool> set, When when = {});
    ColourField* colour(const char* id, const QString& label, const QString& tip, Get<ColourField::Value> get, Set<ColourField::Value> set,
                        When when = {});
    // --- rows from the table of properties
    // Where values of a struct are: of all that is chosen, to read and to write.
    template <class T>
    struct Reach {
        std::function<std::vector<const T*>(const work::Work&)> of;
        std::function<std::vector<T*>(work::Work&)> in;
    };
    // What a row has beyond its line of the table.
    struct Extra {
        const char* id = nullptr;            // the key without its unit
        QString label = {}, tip = {};        // instead of the table's
        Get<double> usual = {};              // instead of the struct's own value; lengths have one only where that is 0
        Get<double> get = {};                // instead of the value as it is
        Set<double> set = {};                // instead of writing the value alone
        Set<int> choose = {};                // instead of writing the choice alone
        std::function<void()> changed = {};  // after a choice was made here
        When when = {};                      // beside what the table says
        std::optional<session::LengthUnit> unit = {};
    };
    template <class T>
    void property(const Reach<T>& reach, const char* key, const Extra& extra = {});
    // A line to type in, of a text.
    template <class T>
    void words(const Reach<T>& reach, const char* key, const Extra& extra = {})
    {
        words(foundIn(reach, key), extra);
    }
    // A row for every value of the struct in the table's order, but for those in `except`.
    template <class T>
    void properties(const Reach<T>& reach, const std::vector<std::string>& except = {});

    // Any widget over the whole width, shown anew by `show`.
    void wide(QWidget* widget, std::function<void()> show = {}, When when = {});
    void labelled(const QString& label, QWidget* widget, std::function<void()> show = {}, When when = {});
    // A line that opens further rows; `summary` is shown while it is closed.
    Rows* group(const char* id, const QString& title, std::function<QString()> summary, When when = {});

    QString named(const char* id) const { return m_prefix + "." + id; }  // of a row's widget
    void refresh();
    int visibleRows() const;  // as they stand now, opened groups included

protected:
    void changeEvent(QEvent* event) override;

private:
    // A property whose struct is known no more: it finds its values by itself.
    struct Found {
        std::function<std::vector<work::Value>()> read;
        std::function<std::vector<work::Value>(work::Work&)> write;
        work::Value usual;
    };
    void property(const Found& found, const Extra& extra);
    void words(const Found& found, const Extra& extra);
    template <class T>
    Found foundIn(const Reach<T>& reach, const char* key) const;

    struct Row {
        QWidget* label = nullptr;
        QWidget* field = nullptr;
        std::function<void()> show;
        When when;
        Rows* inner = nullptr;
    };
    void add(const QString& label, QWidget* field, const QString& tip, std::function<void()> show, When when);
    void edit(const QString& label, const QString& key, bool going, const std::function<void(work::Work&)>& change);

    Context m_context;
    QString m_prefix;
    QFormLayout* m_form;
    std::vector<Row> m_rows;
    std::list<std::string> m_ids;  // of rows from the table
};

template <class T>
Rows::Found Rows::foundIn(const Reach<T>& reach, const char* key) const
{
    static T s_usual{};
    const session::Session* session = m_context.session;
    return {[=] {
                std::vector<work::Value> values;
                for (const T* thing : reach.of(session->work()))
                    values.push_back(work::valueIn(const_cast<T&>(*thing), key));  // read only
                return values;
            },
            [=](work::Work& w) {
                std::vector<work::Value> values;
                for (T* thing : reach.in(w))
                    values.push_back(work::valueIn(*thing, key));
                return values;
            },
            work::valueIn(s_usual, key)};
}

template <class T>
void Rows::property(const Reach<T>& reach, const char* key, const Extra& extra)
{
    property(foundIn(reach, key), extra);
}

template <class T>
void Rows::properties(const Reach<T>& reach, const std::vector<std::string>& except)
{
    T usual{};
    for (const work::Value& value : work::valuesIn(usual))
        if (std::find(except.begin(), except.end(), value.number.key) == except.end())
            property(reach, value.number.key);
}

class Section : public QWidget {
    Q_OBJECT

public:
    Section(const Context& context, const QString& id, const QString& title, std::function<QString()> summary, QWidget* parent = nullptr);

    Rows* rows() const { return m_rows; }
    QString title() const { return m_titleNow ? m_titleNow() : m_title; }
    bool isOpen() const { return m_open; }
    bool isPinned() const;
    void setOpen(bool open);
    QString summary() const;
    // The head's drawing alone; nothing opens.
    void setNarrow(bool narrow);
    // Without something to speak of it shows no rows.
    void setUsable(bool usable);
    // The first field that takes keys; nothing while all rows are hidden.
    QWidget* firstField() const;
    void refresh();
    // Notices stand under the head, each with what can be done about it and "meant so".
    void showNotices(const base::Notes& notes);
    struct Remedy {
        QString id, label;
        std::function<void()> run;
    };
    void setRemedies(std::function<std::vector<Remedy>(const base::Note&)> remedies) { m_remedies = std::move(remedies); }
    SectionHead* head() const { return m_head; }
    // A title that goes with what is chosen.
    void setTitleBy(std::function<QString()> title) { m_titleNow = std::move(title); }

Q_SIGNALS:
    void openChanged(bool open);
    void noticeClicked(const QString& place);
    void noticeSilenced(const QString& key);

protected:
    void changeEvent(QEvent* event) override;

private:
    void makeNotices();
    void showRows();

    QString m_title;
    std::function<QString()> m_titleNow;
    std::function<std::vector<Remedy>(const base::Note&)> m_remedies;
    std::function<QString()> m_summary;
    SectionHead* m_head;
    QToolButton* m_pin;
    QWidget* m_notices;
    base::Notes m_shownNotices;
    Rows* m_rows;
    bool m_open = false, m_narrow = false, m_usable = true;
};

}  // namespace app
