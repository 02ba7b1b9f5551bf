#include "app/ticket/axes_rows.h"

#include <QGridLayout>
#include <QLabel>

#include "app/style.h"

namespace app {

AxesRows::AxesRows(const Context& context, QWidget* parent) : QWidget(parent), m_context(context)
{
    setObjectName("lettering.axes.rows");
    m_grid = new QGridLayout(this);
    m_grid->setContentsMargins(0, 0, 0, 0);
    m_grid->setHorizontalSpacing(2 * kGrid);
    m_grid->setVerticalSpacing(kGrid);
    m_grid->setColumnStretch(1, 1);
}

void AxesRows::refresh()
{
    const session::Choice& choice = m_context.session->choice();
    const work::Work& w = m_context.session->work();
    const auto faces = session::facesOf(w, choice);
    const work::FontChoice font = faces.empty() ? work::FontChoice() : *faces.back();
    if (m_shown == font)
        return;
    m_shown = font;
    base::Notes notes;
    const auto opened = work::openFont(w, font, m_cache, notes);
    const std::vector<outline::FontAxis> axes = opened ? (*opened)->axes() : std::vector<outline::FontAxis>();
    const bool sameAxes = std::equal(axes.begin(), axes.end(), m_axes.begin(), m_axes.end(),
                                     [](const auto& a, const auto& b) { return a.tag == b.tag && a.most == b.most; });
    m_axes = axes;
    if (!sameAxes)
        rebuild();
    for (std::size_t i = 0; i < m_axes.size(); ++i) {
        m_fields[i]->setUsual(m_axes[i].usual);
        m_fields[i]->showValue(m_axes[i].value);
    }
}

void AxesRows::rebuild()
{
    qDeleteAll(findChildren<QWidget*>(Qt::FindDirectChildrenOnly));
    m_fields.clear();
    for (int i = 0; i < static_cast<int>(m_axes.size()); ++i) {
        const outline::FontAxis& axis = m_axes[static_cast<std::size_t>(i)];
        const QString name = QString::fromStdString(axis.name);
        auto* label = new QLabel(QFontMetrics(font()).elidedText(name, Qt::ElideRight, 92));
        label->setFixedWidth(92);
        label->setToolTip(name);
        auto* field = new NumberField({session::Kind::Plain, axis.least, axis.most, axis.most - axis.least > 20 ? 5.0 : 0.1, 2});
        field->setAccessibleName(name);
        field->setObjectNames("lettering.axes." + QString::fromStdString(axis.tag));
        label->setBuddy(field);
        m_grid->addWidget(label, i, 0);
        m_grid->addWidget(field, i, 1);
        m_fields.push_back(field);
        connect(field, &NumberField::changed, this, [this, i](double value, bool going) {
            const outline::FontAxis changed = m_axes[static_cast<std::size_t>(i)];
            // Every chosen piece or letter whose face is this one.
            const work::FontChoice shown = *m_shown;
            m_context.session->edit(changed.name, "axis " + changed.tag, [&](work::Work& w) {
                session::changeFaces(w, m_context.session->choice(), [&](work::FontChoice& face) {
                    if (face == shown)
                        face.variations = outline::withVariation(face.variations, changed, value);
                });
            });
            if (!going)
                m_context.session->endMerge();
        });
        connect(field, &NumberField::finished, this, [this] { m_context.session->endMerge(); });
        connect(field, &NumberField::refused, this, [this](const QString& message) { m_context.say(message); });
    }
}

QString AxesRows::summary() const
{
    QStringList parts;
    for (const outline::FontAxis& axis : m_axes)
        parts << QString("%1 %2").arg(QString::fromStdString(axis.name)).arg(axis.value, 0, 'g', 4);
    return parts.join(", ");
}

}  // namespace app
