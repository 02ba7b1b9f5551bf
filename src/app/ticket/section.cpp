#include "app/ticket/section.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/fields/one_of_field.h"
#include "app/motion.h"
#include "app/style.h"
#include "app/ticket/drawings.h"
#include "app/ticket/head.h"
#include "app/window/flow.h"
#include "session/edits.h"

namespace app {

namespace {

constexpr int kMostNotices = 4;
constexpr int kLabelWidth = 92;  // px at the usual text size

int labelWidth()
{
    return kLabelWidth * currentLook().textPercent / 100;
}

}  // namespace

Rows::Rows(const Context& context, const QString& prefix, QWidget* parent) : QWidget(parent), m_context(context), m_prefix(prefix)
{
    m_form = new QFormLayout(this);
    m_form->setContentsMargins(0, 0, 0, 0);
    m_form->setHorizontalSpacing(2 * kGrid);
    m_form->setVerticalSpacing(kGrid);
    m_form->setFieldGrowthPolicy(QFormLayout::AllNonFixedFieldsGrow);
    m_form->setLabelAlignment(Qt::AlignLeft);
}

void Rows::add(const QString& label, QWidget* field, const QString& tip, std::function<void()> show, When when)
{
    Row row{nullptr, field, std::move(show), std::move(when), nullptr};
    field->setToolTip(tip);
    if (label.isNull()) {
        m_form->addRow(field);
    } else {
        auto* text = new QLabel(label);
        text->setFixedWidth(labelWidth());
        text->setToolTip(tip);
        text->setBuddy(field);
        if (field->accessibleName().isEmpty())
            field->setAccessibleName(label);
        row.label = text;
        m_form->addRow(text, field);
    }
    m_rows.push_back(std::move(row));
}

void Rows::edit(const QString& label, const QString& key, bool going, const std::function<void(work::Work&)>& change)
{
    m_context.session->edit(label.toStdString(), key.toStdString(), change);
    if (!going)
        m_context.session->endMerge();
}

NumberField* Rows::number(const char* id, const QString& label, const QString& tip, const NumberSpec& spec, Get<double> get,
                          Set<double> set, Get<double> usual, When when)
{
    auto* field = new NumberField(spec);
    field->setAccessibleName(label);
    field->setObjectNames(named(id));
    connect(field, &NumberField::changed, this,
            [=, this](double value, bool going) { edit(label, named(id), going, [&](work::Work& w) { set(w, value); }); });
    connect(field, &NumberField::finished, this, [this] { m_context.session->endMerge(); });
    connect(field, &NumberField::refused, this, [this](const QString& message) { m_context.say(message); });
    add(
        label, field, tip,
        [=, this] {
            field->setUnit(m_context.unit());
            field->setUsual(usual ? usual() : std::nullopt);
            field->showValue(get());
        },
        std::move(when));
    return field;
}

QComboBox* Rows::oneOf(const char* id, const QString& label, const QString& tip, const QStringList& names, Get<int> get, Set<int> set,
                       When when)
{
    auto* field = new OneOfField;
    field->addItems(names);
    field->setPlaceholderText(tr("mixed"));
    field->setAccessibleName(label);
    field->setObjectName(named(id));
    connect(field, &QComboBox::activated, this, [=, this](int index) { edit(label, {}, false, [&](work::Work& w) { set(w, index); }); });
    add(
        label, field, tip, [=] { field->setCurrentIndex(get().value_or(-1)); }, std::move(when));
    return field;
}

QCheckBox* Rows::flag(const char* id, const QString& label, const QString& tip, Get<bool> get, Set<bool> set, When when)
{
    auto* field = new QCheckBox(label);
    field->setObjectName(named(id));
    field->setAccessibleName(label);
    connect(field, &QCheckBox::stateChanged, this, [=, this] {  // by click, by key or by a screen reader
        const bool on = field->checkState() != Qt::Unchecked;
        edit(label, {}, false, [&](work::Work& w) { set(w, on); });
    });
    add(
        QString(), field, tip,
        [=] {
            const auto value = get();
            const QSignalBlocker quiet(field);
            field->setTristate(false);
            field->setCheckState(!value ? Qt::PartiallyChecked : *value ? Qt::Checked : Qt::Unchecked);
        },
        std::move(when));
    return field;
}

ColourField* Rows::colour(const char* id, const QString& label, const QString& tip, Get<ColourField::Value> get,
                          Set<ColourField::Value> set, When when)
{
    auto* field = new ColourField;
    field->setOffer([session = m_context.session]() -> const work::Work& { return session->work(); });
    field->setAccessibleName(label);
    field->setObjectNames(named(id));
    const auto take = [=, this](const ColourField::Value& value, bool going) {
        edit(label, named(id), going, [&](work::Work& w) {
            set(w, value);
            // What follows a swatch changes the swatch.
            if (w.swatches.items.contains(value.swatch) && !(w.swatches.items.at(value.swatch).colour == value.colour))
                work::setSwatch(w, value.swatch, value.colour);
        });
    };
    connect(field, &ColourField::changed, this, take);
    connect(field, &ColourField::finished, this, [this] { m_context.session->endMerge(); });
    connect(field, &ColourField::refused, this, [this](const QString& message) { m_context.say(message); });
    connect(field, &ColourField::swatchWanted, this, [=, this](base::Rgb colour) {
        edit(tr("New swatch"), {}, false, [&](work::Work& w) {
            const std::string swatch = session::addSwatch(w, picture::hexFromRgb(colour), colour);
            set(w, {colour, swatch});
        });
    });
    connect(field, &ColourField::swatchesWanted, this, [=, this](const std::vector<base::Rgb>& colours) {
        edit(tr("New swatches"), {}, false, [&](work::Work& w) {
            for (const base::Rgb colour : colours)
                session::addSwatch(w, picture::hexFromRgb(colour), colour);
        });
    });
    connect(field, &ColourField::swatchRemoved, this, [=, this](const QString& swatch) {
        edit(tr("Remove swatch"), {}, false, [&](work::Work& w) { session::removeSwatch(w, swatch.toStdString()); });
    });
    connect(field, &ColourField::swatchRenamed, this, [=, this](const QString& swatch, const QString& name) {
        edit(tr("Rename swatch"), {}, false, [&](work::Work& w) { w.swatches.items.at(swatch.toStdString()).name = name.toStdString(); });
    });
    connect(field, &ColourField::pickWanted, this, [=, this] {
        m_context.say(tr("Click in the picture; the colour under the pointer is taken. Escape leaves it."));
        m_context.pickColour([=](base::Rgb colour) { take({colour, {}}, false); });
    });
    add(
        label, field, tip, [=, this] { field->showValue(get()); }, std::move(when));
    return field;
}

namespace {

// The value that all have.
template <class T, class Read>
std::optional<T> shared(const std::vector<work::Value>& values, Read read)
{
    std::optional<T> common;
    for (const work::Value& value : values) {
        const T own = read(value);
        if (common && !(*common == own))
            return std::nullopt;
        common = own;
    }
    return common;
}

std::string withoutUnit(std::string key)
{
    for (const char* unit : {"Pt", "Mm"})
        if (key.ends_with(unit))
            key.resize(key.size() - 2);
    return key;
}

}  // namespace

void Rows::property(const Found& found, const Extra& extra)
{
    const work::Number& line = found.usual.number;
    m_ids.push_back(extra.id ? extra.id : withoutUnit(line.key));
    const char* id = m_ids.back().c_str();
    const QString label = extra.label.isNull() ? tr(line.label) : extra.label, tip = extra.tip.isNull() ? tr(line.what) : extra.tip;
    const When when = [read = found.read, more = extra.when] {
        if (more && !more())
            return false;
        const std::vector<work::Value> values = read();
        return std::any_of(values.begin(), values.end(), [](const work::Value& v) { return v.number.applies; });
    };
    const auto& usual = found.usual.at;
    if (found.usual.isNumber()) {
        Get<double> usually = extra.usual;
        if (!usually && (!line.grows || found.usual.asNumber() == 0))
            usually = [value = found.usual.asNumber()] { return std::optional(value); };
        Set<double> set = extra.set;
        if (!set)
            set = [write = found.write](work::Work& w, double v) {
                for (const work::Value& value : write(w))
                    value.setNumber(v);
            };
        number(
            id, label, tip, {line.kind, line.least, line.most, line.step, line.decimals, extra.unit},
            extra.get ? extra.get
                      : [read = found.read] { return shared<double>(read(), [](const work::Value& v) { return v.asNumber(); }); },
            set, usually, when);
    } else if (std::holds_alternative<bool*>(usual)) {
        flag(
            id, label, tip,
            [read = found.read] { return shared<bool>(read(), [](const work::Value& v) { return *std::get<bool*>(v.at); }); },
            [write = found.write](work::Work& w, bool v) {
                for (const work::Value& value : write(w))
                    *std::get<bool*>(value.at) = v;
            },
            when);
    } else if (const auto* names = std::get_if<work::OneOfAt>(&usual)) {
        QStringList labels;
        for (int i = 0; i < names->count(); ++i)
            labels << tr(names->label(i));
        QComboBox* field = oneOf(
            id, label, tip, labels,
            [read = found.read] { return shared<int>(read(), [](const work::Value& v) { return std::get<work::OneOfAt>(v.at).get(); }); },
            extra.choose ? extra.choose
                         : [write = found.write](work::Work& w, int v) {
                               for (const work::Value& value : write(w))
                                   std::get<work::OneOfAt>(value.at).set(v);
                           },
            when);
        if (extra.changed)
            connect(field, &QComboBox::activated, this, extra.changed);
    } else if (std::holds_alternative<work::ColourAt>(usual)) {
        colour(
            id, label, tip,
            [read = found.read] {
                return shared<ColourField::Value>(read(), [](const work::Value& v) {
                    const auto& at = std::get<work::ColourAt>(v.at);
                    return ColourField::Value{*at.colour, at.swatch ? *at.swatch : std::string()};
                });
            },
            [write = found.write](work::Work& w, const ColourField::Value& v) {
                for (const work::Value& value : write(w)) {
                    const auto& at = std::get<work::ColourAt>(value.at);
                    *at.colour = v.colour;
                    if (at.swatch)
                        *at.swatch = v.swatch;
                }
            },
            when);
    }
}

void Rows::words(const Found& found, const Extra& extra)
{
    const work::Number& line = found.usual.number;
    const QString label = extra.label.isNull() ? tr(line.label) : extra.label;
    auto* field = new QLineEdit;
    field->setObjectName(named(extra.id ? extra.id : line.key));
    field->setAccessibleName(label);
    field->setToolTip(extra.tip.isNull() ? tr(line.what) : extra.tip);
    const auto now = [read = found.read] {
        return shared<std::string>(read(), [](const work::Value& v) { return *std::get<std::string*>(v.at); });
    };
    connect(field, &QLineEdit::editingFinished, this, [=, this, write = found.write] {
        const std::string typed = field->text().toStdString();
        if (now() != typed)
            edit(label, field->objectName(), false, [&](work::Work& w) {
                for (const work::Value& value : write(w))
                    *std::get<std::string*>(value.at) = typed;
            });
    });
    add(
        label, field, field->toolTip(),
        [=] {
            if (!field->hasFocus())
                field->setText(QString::fromStdString(now().value_or(std::string())));
        },
        [=, more = extra.when, read = found.read] { return !read().empty() && (!more || more()); });
}

void Rows::wide(QWidget* widget, std::function<void()> show, When when)
{
    add(QString(), widget, widget->toolTip(), std::move(show), std::move(when));
}

void Rows::labelled(const QString& label, QWidget* widget, std::function<void()> show, When when)
{
    add(label, widget, widget->toolTip(), std::move(show), std::move(when));
}

Rows* Rows::group(const char* id, const QString& title, std::function<QString()> summary, When when)
{
    auto* head = new GroupHead(title);
    head->setObjectName(named(id));
    auto* inner = new Rows(m_context, named(id), this);
    inner->setContentsMargins(2 * kGrid, 0, 0, 2 * kGrid);
    inner->hide();
    const auto show = [=] { head->setSummary(summary()); };
    connect(head, &GroupHead::toggled, this, [=, this](bool open) {
        show();
        inner->setVisible(open);
        refresh();
    });
    add(QString(), head, {}, show, when);
    add(
        QString(), inner, {}, [=] { inner->refresh(); }, [=] { return head->isChecked() && (!when || when()); });
    m_rows.back().inner = inner;
    return inner;
}

void Rows::changeEvent(QEvent* event)
{
    QWidget::changeEvent(event);
    if (event->type() == QEvent::StyleChange || event->type() == QEvent::FontChange)
        for (const Row& row : m_rows)
            if (row.label)
                row.label->setFixedWidth(labelWidth());
}

void Rows::refresh()
{
    for (const Row& row : m_rows) {
        const bool shown = !row.when || row.when();
        m_form->setRowVisible(row.field, shown);
        if (shown && row.show)
            row.show();
    }
}

int Rows::visibleRows() const
{
    int count = 0;
    for (const Row& row : m_rows)
        if (!row.field->isHidden())
            count += row.inner ? row.inner->visibleRows() : 1;
    return count;
}

Section::Section(const Context& context, const QString& id, const QString& title, std::function<QString()> summary, QWidget* parent)
    : QWidget(parent), m_title(title), m_summary(std::move(summary))
{
    setObjectName("section." + id);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(0);
    m_head = new SectionHead(title, drawingOf(context, id));
    m_head->setObjectName("section." + id + ".head");
    box->addWidget(m_head);
    m_pin = new QToolButton;
    m_pin->setObjectName("section." + id + ".pin");
    m_pin->setText(tr("keep open"));
    m_pin->setProperty("mark", true);
    m_pin->setCheckable(true);
    m_pin->setAccessibleName(tr("Keep %1 open").arg(title));
    m_pin->setToolTip(tr("Stays open when another section opens"));
    m_pin->setVisible(false);
    m_head->setAside(m_pin);

    m_notices = new QWidget;
    auto* notices = new QVBoxLayout(m_notices);
    notices->setContentsMargins(3 * kGrid, kGrid, 2 * kGrid, kGrid);
    m_notices->hide();
    box->addWidget(m_notices);

    m_rows = new Rows(context, id);
    m_rows->setContentsMargins(3 * kGrid, 2 * kGrid, 3 * kGrid, 3 * kGrid);
    m_rows->hide();
    box->addWidget(m_rows);
    connect(m_head, &SectionHead::toggled, this, &Section::setOpen);  // by click, by key or by a screen reader
}

bool Section::isPinned() const
{
    return m_pin->isChecked();
}

void Section::setOpen(bool open)
{
    m_head->setChecked(open);
    if (m_open == open)
        return;
    m_open = open;
    showRows();
    if (open)
        fadeIn(m_rows);
    else
        m_pin->setChecked(false);
    refresh();
    Q_EMIT openChanged(open);
}

void Section::refresh()
{
    m_head->setSummary(m_summary());
    if (m_titleNow) {
        m_head->setText(title());
        m_head->setAccessibleName(title());
        m_pin->setAccessibleName(tr("Keep %1 open").arg(title()));
    }
    if (m_open)
        m_rows->refresh();
}

QString Section::summary() const
{
    return m_head->summary();
}

void Section::setNarrow(bool narrow)
{
    m_narrow = narrow;
    m_head->setNarrow(narrow);
    showRows();
}

void Section::setUsable(bool usable)
{
    m_usable = usable;
    m_head->setEnabled(usable);
    showRows();
}

void Section::showRows()
{
    const bool shown = m_open && m_usable && !m_narrow;
    m_rows->setVisible(shown);
    m_pin->setVisible(shown);
    m_notices->setVisible(!m_shownNotices.empty() && !m_narrow);
}

QWidget* Section::firstField() const
{
    for (QWidget* next = m_rows->nextInFocusChain(); next && next != m_rows && m_rows->isAncestorOf(next); next = next->nextInFocusChain())
        if (next->isVisibleTo(m_rows) && next->isEnabled() && (next->focusPolicy() & Qt::TabFocus))
            return next;
    return nullptr;
}

void Section::showNotices(const base::Notes& notes)
{
    if (notes == m_shownNotices)
        return;
    m_shownNotices = notes;
    makeNotices();
}

void Section::makeNotices()
{
    qDeleteAll(m_notices->findChildren<QWidget*>(Qt::FindDirectChildrenOnly));
    int number = 0;
    for (const base::Note& note : m_shownNotices) {
        if (++number > kMostNotices)
            break;
        auto* line = new QWidget;
        auto* column = new QVBoxLayout(line);
        column->setContentsMargins(0, 0, 0, kGrid);
        column->setSpacing(kGrid);
        auto* text = new QLabel(QString("<a href=\"%1\" style=\"color:%2;text-decoration:none\">%3</a>")
                                    .arg(QString::fromStdString(note.place).toHtmlEscaped(), colours().warning.name(),
                                         QString::fromStdString(note.message).toHtmlEscaped()));
        text->setObjectName(QString("notice%1").arg(number));
        text->setWordWrap(true);
        text->setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard);
        text->setToolTip(tr("Shows the place"));
        connect(text, &QLabel::linkActivated, this, &Section::noticeClicked);
        column->addWidget(text);
        auto* row = new Flow(kGrid);
        const auto button = [&](const QString& id, const QString& label, const QString& tip, const std::function<void()>& run) {
            auto* b = new QPushButton(label);
            b->setObjectName(QString("notice%1.").arg(number) + id);
            b->setToolTip(tip);
            connect(b, &QPushButton::clicked, this, run);
            row->addWidget(b);
        };
        if (m_remedies)
            for (const Remedy& remedy : m_remedies(note))
                button(remedy.id, remedy.label, {}, remedy.run);
        const QString key = QString::fromStdString(work::noticeKey(note));
        button("meantSo", tr("Meant so"), tr("Says no more about it"), [this, key] { Q_EMIT noticeSilenced(key); });
        column->addLayout(row);
        m_notices->layout()->addWidget(line);
    }
    if (number > kMostNotices)
        m_notices->layout()->addWidget(new QLabel(tr("and %1 more").arg(m_shownNotices.size() - kMostNotices)));
    showRows();
}

void Section::changeEvent(QEvent* event)
{
    QWidget::changeEvent(event);
    if (event->type() == QEvent::StyleChange && !m_shownNotices.empty())
        QTimer::singleShot(0, this, &Section::makeNotices);  // the colours of links are part of their text
}

}  // namespace app
