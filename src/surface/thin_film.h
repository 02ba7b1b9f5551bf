// Colours of a thin film over a material (KHR_materials_iridescence): soap bubbles, oil on water, heat-tinted steel, pearl.
//
// Light goes to and fro in the film, and its wavelengths add up or cancel. Reflectance is G. B. Airy's sum (M. Born and E. Wolf, Principles
// of Optics, 7.6) for each wavelength and both polarisations, seen by the CIE 1931 observer under D65, as linear sRGB; what lies outside of
// sRGB is brought to its edge. The film is in air. Below it is a dielectric, or a metal of which only its colour is known: each of its
// channels is a dielectric that reflects as much head on. Nothing is absorbed in the film.
#pragma once

#include <memory>
#include <vector>

#include "base/lanes.h"
#include "base/vec.h"

namespace surface {

using namespace base;  // lanes are arithmetic, and used like it

// Share of unpolarised light of a wavelength that a film reflects. `base`: index of refraction of what is below, at least 1 as `index`, the
// film's.
double filmReflectance(double cosine, double index, double thicknessNm, double base, double wavelengthNm);

class ThinFilm {
public:
    struct Stack {
        float index = 1.3f, thicknessNm = 400;
        Rgb layer{0.04f, 0.04f, 0.04f}, metal{1, 1, 1};  // what is reflected head on without the film: by a dielectric, by a metal

        bool operator==(const Stack&) const = default;
    };
    // Some milliseconds.
    explicit ThinFilm(const Stack& stack);
    const Stack& stack() const { return m_stack; }

    // Share of light that a facet reflects; cosine on its outside, 0 to 1.
    Rgb layer(float cosine) const { return lookUp(m_layer, cosine); }
    Rgb metal(float cosine) const { return lookUp(m_metal, cosine); }
    // Of a dielectric's layer with that roughness: albedo towards a direction, and averaged over them, weighted by the cosine.
    Rgb layerAlbedo(float cosine, float roughness) const;
    Rgb layerMean(float roughness) const;

private:
    using Curve = std::vector<Rgb>;  // by the cosine
    static Rgb lookUp(const Curve& curve, float cosine);
    Curve curveOver(Rgb headOn) const;

    Stack m_stack;
    Curve m_layer, m_metal;
    std::vector<Rgb> m_albedo, m_mean;
};

// The same one for the same stack as long as somebody keeps it. From any thread.
std::shared_ptr<const ThinFilm> thinFilm(const ThinFilm::Stack& stack);

// The films over materials side by side; without one nothing may be asked for.
template <class F>
struct FilmOf;
template <>
struct FilmOf<float> {
    std::shared_ptr<const ThinFilm> film;

    template <class Ask>
    Rgb ask(const Ask& ask, float at, float roughness) const
    {
        return film ? ask(*film, at, roughness) : Rgb{};
    }
    bool operator==(const FilmOf&) const = default;
};
template <>
struct FilmOf<Wide> {
    const ThinFilm* film[kLanes] = {};

    template <class Ask>
    V3<Wide> ask(const Ask& ask, const Wide& at, const Wide& roughness) const
    {
        V3<Wide> all;
        for (int lane = 0; lane < kLanes; ++lane)
            if (film[lane])
                setLane(all, lane, ask(*film[lane], at[lane], roughness[lane]));
        return all;
    }
};

}  // namespace surface
