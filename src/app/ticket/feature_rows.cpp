#include "app/ticket/feature_rows.h"

#include <QCheckBox>
#include <QGridLayout>
#include <QPainter>

#include "app/style.h"
#include "app/ticket/letter_path.h"
#include "outline/text.h"

namespace app {

namespace {

constexpr QSize kSample{112, 24};        // px at the usual size of text
constexpr std::size_t kMostSample = 24;  // letters

// Letters in which a feature would be seen when the text has none: looked through in this order.
const char* const kWords[] = {"Affluent", "Tyfoon", "Kite", "AVATAR", "0123456789", "1/2 3/4", "1st 2nd", "(A-B)", "Qu ag &", "ffi st ct"};

std::string beginningOf(const std::string& text)
{
    std::string words;
    std::size_t count = 0;
    for (const outline::Grapheme& g : outline::graphemes(std::string_view(text).substr(0, 400))) {
        const std::string one = text.substr(g.begin, g.end - g.begin);
        if (one == "\n" || ++count > kMostSample)
            break;
        words += one;
    }
    return words;
}

// The words themselves where the feature changes them, else the first of ours that it does.
std::string sampleFor(const std::string& words, const outline::Font& font, const outline::FontFeature& feature)
{
    const auto changes = [&](const std::string& text) {
        outline::LayoutSettings off, on;
        off.features = feature.tag + "=0";
        on.features = feature.tag + "=1";
        const auto a = outline::layoutText(text, font, off, {}), b = outline::layoutText(text, font, on, {});
        return a && b && a->glyphs != b->glyphs;
    };
    if (!words.empty() && changes(words))
        return words;
    for (const char* const word : kWords)
        if (changes(word))
            return word;
    return words;
}

// Words in the face, as large as fits.
class Sample : public QWidget {
public:
    Sample() { setFixedSize(kSample * currentLook().textPercent / 100); }
    void show(QPainterPath path)
    {
        m_path = std::move(path);
        update();
    }

protected:
    void paintEvent(QPaintEvent*) override
    {
        const QRectF box = m_path.boundingRect();
        if (box.isEmpty())
            return;
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        const double scale = std::min((width() - 4) / box.width(), (height() - 4) / box.height());
        painter.translate(width() - 2 - box.width() * scale, height() / 2.0);
        painter.scale(scale, scale);
        painter.translate(-box.left(), -box.center().y());
        painter.fillPath(m_path, colours().ink);
    }

private:
    QPainterPath m_path;
};

}  // namespace

FeatureRows::FeatureRows(const Context& context, QWidget* parent) : QWidget(parent), m_context(context)
{
    setObjectName("lettering.features.rows");
    m_grid = new QGridLayout(this);
    m_grid->setContentsMargins(0, 0, 0, 0);
    m_grid->setHorizontalSpacing(2 * kGrid);
    m_grid->setVerticalSpacing(kGrid);
    m_grid->setColumnStretch(0, 1);
}

void FeatureRows::refresh()
{
    const session::Choice& choice = m_context.session->choice();
    const work::Work& w = m_context.session->work();
    if (choice.empty())
        return;
    const work::Lettering* lettering = w.pieces.items.at(choice.targets.back().piece).lettering();
    base::Notes notes;
    const auto opened =
        lettering ? work::openFont(w, lettering->font, m_cache, notes) : base::Result<std::shared_ptr<const outline::Font>>();
    const auto font = opened ? *opened : nullptr;
    const std::string words = lettering ? beginningOf(lettering->text) : std::string();
    if (font != m_font) {
        m_font = font;
        m_features = font ? font->features() : std::vector<outline::FontFeature>();
        rebuild();
        m_text.clear();
    }
    m_state = lettering ? lettering->layout.features : std::string();
    for (std::size_t i = 0; i < m_checks.size(); ++i) {
        const QSignalBlocker quiet(m_checks[i]);
        m_checks[i]->setChecked(outline::isOn(m_state, m_features[i]));
    }
    if (m_text != words && m_font && isVisible()) {
        m_text = words;
        paintSamples();
    }
}

void FeatureRows::paintSamples()
{
    for (std::size_t i = 0; i < m_features.size(); ++i) {
        const auto& feature = m_features[i];
        auto* sample = static_cast<Sample*>(m_grid->itemAtPosition(static_cast<int>(i), 1)->widget());
        sample->show(pathOf(sampleFor(m_text, *m_font, feature), *m_font, feature.tag + "=1"));
    }
}

void FeatureRows::rebuild()
{
    qDeleteAll(findChildren<QWidget*>(Qt::FindDirectChildrenOnly));
    m_checks.clear();
    for (int i = 0; i < static_cast<int>(m_features.size()); ++i) {
        const outline::FontFeature feature = m_features[static_cast<std::size_t>(i)];
        const QString name = text(feature.name);
        auto* check = new QCheckBox(fontMetrics().elidedText(name, Qt::ElideRight, 150 * currentLook().textPercent / 100));
        check->setObjectName("lettering.features." + text(feature.tag));
        check->setAccessibleName(name);
        check->setToolTip(QString("%1 (%2)").arg(name, text(feature.tag)));
        m_grid->addWidget(check, i, 0);
        m_grid->addWidget(new Sample, i, 1, Qt::AlignRight);
        m_checks.push_back(check);
        connect(check, &QCheckBox::toggled, this, [this, feature](bool on) {
            m_context.session->edit(feature.name, [&](work::Work& w) {
                for (const std::string& id : m_context.session->choice().pieces())
                    if (work::Lettering* l = w.pieces.items.at(id).lettering())
                        l->layout.features = outline::withFeature(l->layout.features, feature, on);
            });
        });
    }
}

QString FeatureRows::summary() const
{
    QStringList parts;
    for (const outline::FontFeature& feature : m_features)
        if (const bool on = outline::isOn(m_state, feature); on != feature.usual)
            parts << (on ? text(feature.name) : tr("no %1").arg(text(feature.name)));
    return parts.isEmpty() ? tr("as the face is") : parts.join(", ");
}

}  // namespace app
