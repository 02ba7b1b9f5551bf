// Blends against cairo's operators of the same names, which follow the same formulas, and against what must change nothing.
#include <QtTest>
#include <cairo.h>

#include "finish/blend.h"
#include "support/registered.h"

using base::Rgb;
using finish::Blend;
using finish::Covered;

namespace {

struct Named {
    Blend blend;
    cairo_operator_t cairo;
    const char* name;
};
constexpr Named kAll[] = {{Blend::Normal, CAIRO_OPERATOR_OVER, "normal"},
                          {Blend::Multiply, CAIRO_OPERATOR_MULTIPLY, "multiply"},
                          {Blend::Screen, CAIRO_OPERATOR_SCREEN, "screen"},
                          {Blend::Overlay, CAIRO_OPERATOR_OVERLAY, "overlay"},
                          {Blend::Darken, CAIRO_OPERATOR_DARKEN, "darken"},
                          {Blend::Lighten, CAIRO_OPERATOR_LIGHTEN, "lighten"},
                          {Blend::ColorDodge, CAIRO_OPERATOR_COLOR_DODGE, "color-dodge"},
                          {Blend::ColorBurn, CAIRO_OPERATOR_COLOR_BURN, "color-burn"},
                          {Blend::HardLight, CAIRO_OPERATOR_HARD_LIGHT, "hard-light"},
                          {Blend::SoftLight, CAIRO_OPERATOR_SOFT_LIGHT, "soft-light"},
                          {Blend::Difference, CAIRO_OPERATOR_DIFFERENCE, "difference"},
                          {Blend::Exclusion, CAIRO_OPERATOR_EXCLUSION, "exclusion"},
                          {Blend::Hue, CAIRO_OPERATOR_HSL_HUE, "hue"},
                          {Blend::Saturation, CAIRO_OPERATOR_HSL_SATURATION, "saturation"},
                          {Blend::Color, CAIRO_OPERATOR_HSL_COLOR, "color"},
                          {Blend::Luminosity, CAIRO_OPERATOR_HSL_LUMINOSITY, "luminosity"},
                          {Blend::PlusLighter, CAIRO_OPERATOR_ADD, "plus-lighter"}};

// One pixel through cairo.
Covered byCairo(cairo_operator_t how, const Covered& below, Rgb over, float alpha)
{
    cairo_surface_t* surface = cairo_image_surface_create(CAIRO_FORMAT_ARGB32, 1, 1);
    cairo_t* c = cairo_create(surface);
    cairo_set_operator(c, CAIRO_OPERATOR_SOURCE);
    cairo_set_source_rgba(c, double(below.colour.x), double(below.colour.y), double(below.colour.z), double(below.alpha));
    cairo_paint(c);
    cairo_set_operator(c, how);
    cairo_set_source_rgba(c, double(over.x), double(over.y), double(over.z), double(alpha));
    cairo_paint(c);
    cairo_surface_flush(surface);
    const std::uint32_t p = *reinterpret_cast<const std::uint32_t*>(cairo_image_surface_get_data(surface));
    cairo_destroy(c);
    cairo_surface_destroy(surface);
    const auto channel = [&](int shift) { return float(p >> shift & 255) / 255; };
    const float a = channel(24);
    return {a > 0 ? Rgb{channel(16), channel(8), channel(0)} * (1 / a) : Rgb{}, a};
}

constexpr float kValues[] = {0, 0.1f, 0.4f, 0.5f, 0.8f, 1};

}  // namespace

class TestBlend : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // All of them, on what is opaque, half there and not there: premultiplied results within 2/255 of its 8 bits.
    void likeCairo()
    {
        for (const Named& n : kAll)
            for (const float below : {1.0f, 0.5f, 0.0f})
                for (const float alpha : {1.0f, 0.35f})
                    for (const float r : kValues)
                        for (const float s : kValues) {
                            const Covered b{{r, 0.5f, 1 - r}, below};
                            const Rgb over{s, 0.25f, 0.7f * (1 - s)};
                            const Covered mine = finish::composited(n.blend, b, over, alpha), theirs = byCairo(n.cairo, b, over, alpha);
                            const Rgb off = mine.colour * mine.alpha - theirs.colour * theirs.alpha;
                            // cairo's 8 bits round the operands too, more so what is half there; dodge and burn divide by them.
                            const bool divides = n.blend == Blend::ColorDodge || n.blend == Blend::ColorBurn;
                            const float most = (divides ? 6 : below < 1 ? 3 : 2.01f) / 255;
                            QVERIFY2(std::abs(mine.alpha - theirs.alpha) < 2.01f / 255 && std::abs(off.x) <= most &&
                                         std::abs(off.y) <= most && std::abs(off.z) <= most,
                                     qPrintable(QString("%1: below %2 x %3, over %4 x %5: %6 %7 %8")
                                                    .arg(n.name)
                                                    .arg(r)
                                                    .arg(below)
                                                    .arg(s)
                                                    .arg(alpha)
                                                    .arg(off.x * 255)
                                                    .arg(off.y * 255)
                                                    .arg(off.z * 255)));
                        }
    }

    // Screen with black, multiply with white, plus-lighter with black and overlay with the middle grey (soft light too) leave what is
    // there.
    void changesNothing()
    {
        for (const float v : kValues) {
            const Rgb c{v, 1 - v, 0.3f};
            const auto near = [&](Blend blend, float grey) { return length(finish::blended(blend, c, {grey, grey, grey}) - c) < 1e-6f; };
            QVERIFY(near(Blend::Screen, 0) && near(Blend::Multiply, 1) && near(Blend::PlusLighter, 0) && near(Blend::Overlay, 0.5f) &&
                    near(Blend::SoftLight, 0.5f) && near(Blend::HardLight, 0.5f) && near(Blend::Difference, 0));
            QCOMPARE(finish::composited(Blend::Multiply, {c, 0.4f}, {0, 0, 0}, 0), (Covered{c, 0.4f}));
        }
    }
};

OPEN_GLOW_TEST(TestBlend)
#include "test_blend.moc"
