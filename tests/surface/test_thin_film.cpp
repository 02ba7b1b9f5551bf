#include <QtTest>
#include <complex>

#include "picture/cie1931.h"
#include "support/lobes.h"
#include "support/long_test.h"
#include "support/registered.h"
#include "surface/thin_film.h"

using base::Rgb;
using support::at;
using surface::ThinFilm;

namespace {

using Complex = std::complex<double>;

// The same by the characteristic matrix of a layer (M. Born and E. Wolf, Principles of Optics, 1.6.2; F. Abeles 1950): no sum over what
// goes to and fro.
double byMatrix(double cosine, double index, double thickness, double base, double wavelength)
{
    const double sin2 = 1 - cosine * cosine, inside = std::sqrt(1 - sin2 / (index * index)), below = std::sqrt(1 - sin2 / (base * base));
    const double beta = 2 * base::kPi * index * thickness * inside / wavelength;
    double sum = 0;
    for (const bool parallel : {false, true}) {
        const double p0 = parallel ? 1 / cosine : cosine, p1 = parallel ? index / inside : index * inside,
                     p2 = parallel ? base / below : base * below;
        const Complex m11 = std::cos(beta), m12 = Complex(0, -std::sin(beta) / p1), m21 = Complex(0, -p1 * std::sin(beta)), m22 = m11;
        const Complex up = (m11 + m12 * p2) * p0, down = m21 + m22 * p2;
        sum += std::norm((up - down) / (up + down)) / 2;
    }
    return sum;
}

surface::Layers filmed(float index, float thickness, float ior = 1.5f, Rgb metal = {1, 1, 1})
{
    surface::Layers layers;
    layers.ior = ior;
    layers.iridescence = 1;
    const float headOn = surface::squared((ior - 1) / (ior + 1));
    layers.film.film = surface::thinFilm({index, thickness, {headOn, headOn, headOn}, metal});
    return layers;
}

}  // namespace

class TestThinFilm : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void airysSumIsTheMatrix()
    {
        for (const double cosine : {1.0, 0.7, 0.3, 0.05})
            for (const double index : {1.33, 2.4})
                for (const double base : {1.0, 1.5, 4.0})
                    for (const double thickness : {20.0, 120.0, 700.0})
                        for (const double wavelength : {420.0, 560.0, 680.0}) {
                            const double airy = surface::filmReflectance(cosine, index, thickness, base, wavelength);
                            QVERIFY(std::abs(airy - byMatrix(cosine, index, thickness, base, wavelength)) < 1e-9);
                        }
    }

    // E. Hecht, Optics, 9.7: a quarter wave of index sqrt(n) takes all reflection away, half a wave changes nothing; as no film does.
    void quarterAndHalfWaves()
    {
        const double index = std::sqrt(1.5);
        QVERIFY(surface::filmReflectance(1, index, 550 / (4 * index), 1.5, 550) < 1e-12);
        QVERIFY(std::abs(surface::filmReflectance(1, index, 550 / (2 * index), 1.5, 550) - 0.04) < 1e-12);
        for (const double cosine : {1.0, 0.5, 0.1}) {
            const float plain = surface::fresnelDielectric(float(cosine), 1.5f);
            QVERIFY(std::abs(surface::filmReflectance(cosine, 2, 0, 1.5, 550) - double(plain)) < 1e-6);
        }
    }

    // What is seen of it, against the matrix integrated with the observer at full length; between the points of the curve too.
    void coloursAreThoseOfTheObserver()
    {
        const ThinFilm film({1.4f, 380, {0.04f, 0.04f, 0.04f}, {0.04f, 0.25f, 0.5f}});
        for (const double cosine : {1.0, 0.803, 0.411, 0.137}) {
            const auto seen = [&](double base) {
                return picture::seenUnderD65([&](float nm) { return byMatrix(cosine, 1.4f, 380, base, double(nm)); });
            };
            const Rgb over = seen(1.5), is = film.layer(float(cosine)), metal = film.metal(float(cosine));
            const float held[] = {std::clamp(over.x, 0.0f, 1.0f), std::clamp(over.y, 0.0f, 1.0f), std::clamp(over.z, 0.0f, 1.0f)};
            QVERIFY2(std::abs(is.x - held[0]) < 1e-3f && std::abs(is.y - held[1]) < 1e-3f && std::abs(is.z - held[2]) < 1e-3f,
                     qPrintable(QString("%1 %2 %3 for %4 %5 %6").arg(is.x).arg(is.y).arg(is.z).arg(over.x).arg(over.y).arg(over.z)));
            QVERIFY(std::abs(metal.y - std::clamp(seen(3).y, 0.0f, 1.0f)) < 1e-3f);
        }
        // A perfect mirror stays one, and a film too thin to count is black where nothing is below it (Newton's black spot; Hecht, 9.4).
        const ThinFilm mirror({1.8f, 300, {0, 0, 0}, {1, 1, 1}});
        QVERIFY(mirror.metal(0.6f).x > 0.999f && mirror.metal(0.6f).z > 0.999f);
        const ThinFilm black({1.33f, 5, {0, 0, 0}, {1, 1, 1}});
        QVERIFY(black.layer(1).y < 0.005f && black.layer(1).y >= 0);
    }

    // Newton's colours (Hecht, 9.4.1): the path in the film grows with its depth and shrinks with the angle, so a film that is 1.1 times
    // as deep looks, at the angle where its cosine inside is 1 / 1.1, as the other does head on, but for Fresnel's share.
    void coloursMoveWithTheAngle()
    {
        const float index = 1.33f, inside = 1 / 1.1f, cosine = std::sqrt(1 - (1 - inside * inside) * index * index);
        const ThinFilm thin({index, 300, {0, 0, 0}, {1, 1, 1}}), deep({index, 330, {0, 0, 0}, {1, 1, 1}});
        const Rgb straight = thin.layer(1), slant = deep.layer(cosine), other = deep.layer(1);
        const auto differs = [](Rgb a, Rgb b) { return std::abs(a.x / a.y - b.x / b.y) + std::abs(a.z / a.y - b.z / b.y); };
        QVERIFY2(differs(straight, slant) < 0.05f * differs(straight, other),
                 qPrintable(QString("%1 of %2").arg(differs(straight, slant)).arg(differs(straight, other))));
    }

    // The same stack is one film, as long as it is kept.
    void filmsAreShared()
    {
        const auto one = surface::thinFilm({1.4f, 250});
        QCOMPARE(surface::thinFilm({1.4f, 250}), one);
        QVERIFY(surface::thinFilm({1.4f, 251}) != one);
    }

    // Nothing is made: of dielectrics, metals, panes and glass from both sides; little is lost where nothing is absorbed.
    void inTheFurnace()
    {
        OPEN_GLOW_LONG_TEST
        for (const float roughness : {0.0f, 0.4f, 1.0f})
            for (const double angle : {5.0, 50.0, 80.0})
                for (int kind = 0; kind < 5; ++kind) {
                    surface::Layers layers = filmed(1.8f, 320);
                    layers.transmission = kind > 1;
                    layers.solid = kind > 2;
                    const float eta = kind == 3 ? 1.5f : kind == 4 ? 1 / 1.5f : 0;
                    const surface::LayeredSurface surface({{1, 1, 1}, kind == 1 ? 1.0f : 0.0f, roughness, 1}, layers, at(angle), eta);
                    const double albedo = support::sampledAlbedo(surface, 1 << 16);
                    const double least = kind < 2 ? 0.985 : roughness < 1 ? 0.8 : 0.4;
                    QVERIFY2(albedo < 1.002 && albedo > least,
                             qPrintable(QString("kind %1, roughness %2 at %3: %4").arg(kind).arg(roughness).arg(angle).arg(albedo)));
                }
    }

    // Seen from inside glass, a film sends back as much of the same way as from outside (Stokes's relations; Hecht, 4.10).
    void fromInsideItIsTheSame()
    {
        surface::Layers layers = filmed(2, 260);
        layers.transmission = layers.solid = 1;
        const surface::Material clear{{1, 1, 1}, 0, 0, 1};
        const auto back = [&](double angle, float eta) {
            const surface::LayeredSurface surface(clear, layers, at(angle), eta);
            double sum = 0;
            for (int i = 0; i < 8192; ++i) {
                render::Sampler sampler(1, 2, static_cast<std::uint32_t>(i), 3);
                const auto [u, v] = sampler.next2();
                const auto s = surface.sample(sampler.next1(), u, v);
                sum += s.pdf > 0 && s.direction.z > 0 ? double(s.weight.y) / 8192 : 0;
            }
            return sum;
        };
        const double outside = 40, inside = base::degrees(std::asin(std::sin(base::radians(outside)) / 1.5));
        QVERIFY2(std::abs(back(outside, 1.5f) - back(inside, 1 / 1.5f)) < 0.01, qPrintable(QString::number(back(outside, 1.5f))));
        QVERIFY(std::abs(back(outside, 1.5f) - double(layers.film.film->layer(float(std::cos(base::radians(outside)))).y)) < 0.01);
        QVERIFY(back(60, 1 / 1.5f) > 0.99);
    }

    void followsItsDensity()
    {
        for (const float metallic : {0.0f, 0.6f, 1.0f}) {
            const QString wrong = support::densityIsWrong({{{0.7f, 0.4f, 0.3f}, metallic, 0.5f, 1}, filmed(1.5f, 400), at(40)}, 0, 10, 8);
            QVERIFY2(wrong.isEmpty(), qPrintable(wrong));
        }
    }
};

OPEN_GLOW_TEST(TestThinFilm)
#include "test_thin_film.moc"
