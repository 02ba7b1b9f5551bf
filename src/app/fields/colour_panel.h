// The panel of a colour field: the plane of a hue, lightness steps, the work's colours, last used ones and swatches, numbers, and
// picking from the picture or a file.
#pragma once

#include <QWidget>
#include <optional>
#include <string>

#include "picture/oklab.h"
#include "work/work.h"

class QLabel;
class QListWidget;
class QVBoxLayout;

namespace app {

class ColourPlane;
class ColourRow;
class HueStrip;
class NumberField;

class ColourPanel : public QWidget {
    Q_OBJECT

public:
    // `name` begins the object names of its parts.
    ColourPanel(const QString& name, QWidget* parent);

    void showColour(const std::optional<base::Rgb>& colour, const std::string& swatch);
    void showOffer(const work::Ordered<work::Swatch>& swatches, const std::vector<base::Rgb>& inWork);

    static constexpr int kSteps = 3;  // of stepsWanted()
    // Keeps a colour among the last used ones, which all fields offer.
    static void remember(base::Rgb colour);
    static std::vector<base::Rgb> lastUsed();

Q_SIGNALS:
    void picked(base::Rgb colour, bool going);
    void finished();
    void swatchTaken(const std::string& id);
    void swatchWanted();
    void swatchRemoved(const QString& id);
    void swatchRenamed(const QString& id, const QString& name);
    void stepsWanted(const QString& id);  // new swatches between the colour and this one
    void pictureWanted();                 // a click in the picture shall give the colour
    void fileWanted();

protected:
    bool eventFilter(QObject* object, QEvent* event) override;

private:
    void addRows(QVBoxLayout* box);
    void addNumbers(QVBoxLayout* box);
    void addSwatches(QVBoxLayout* box);
    void pick(const picture::Oklch& colour, bool going);
    void refresh();
    QString currentSwatch() const;

    std::optional<base::Rgb> m_colour;
    picture::Oklch m_seen;  // kept where the colour does not say: grey has no hue
    std::string m_swatch;
    ColourPlane* m_plane;
    HueStrip* m_hues;
    ColourRow *m_steps, *m_harmonies, *m_inWork, *m_last;
    QLabel *m_inWorkLabel, *m_lastLabel;
    NumberField* m_numbers[6] = {};
    QListWidget* m_list;
};

}  // namespace app
