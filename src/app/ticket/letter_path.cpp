#include "app/ticket/letter_path.h"

#include <QTransform>

namespace app {

void addCurve(QPainterPath& path, const outline::Curve& curve)
{
    const auto at = [&](int i) { return QPointF(curve.p[i].x, -curve.p[i].y); };
    if (curve.degree == 1)
        path.lineTo(at(1));
    else if (curve.degree == 2)
        path.quadTo(at(1), at(2));
    else
        path.cubicTo(at(1), at(2), at(3));
}

QPainterPath pathOf(const std::string& text, const outline::Font& font, const std::string& features)
{
    QPainterPath all;
    outline::LayoutSettings settings;
    settings.sizePt = 1;
    settings.features = features;
    const auto layout = outline::layoutText(text, font, settings, {});
    if (!layout)
        return all;
    const double em = 1 / font.unitsPerEm();
    for (const outline::PlacedGlyph& glyph : layout->glyphs) {
        QPainterPath path;
        for (const outline::CurveContour& contour : font.glyphOutline(glyph.glyph)) {
            if (contour.empty())
                continue;
            path.moveTo(contour.front().p[0].x, -contour.front().p[0].y);
            for (const outline::Curve& curve : contour)
                addCurve(path, curve);
            path.closeSubpath();
        }
        all.addPath(QTransform::fromScale(em, em).map(path).translated(glyph.origin.x, -glyph.origin.y));
    }
    all.setFillRule(Qt::WindingFill);
    return all;
}

}  // namespace app
