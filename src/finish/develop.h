// From the film to the picture: light desk, exposure, view transform, encoding.
#pragma once

#include <optional>
#include <stop_token>

#include "finish/behind.h"
#include "finish/graph.h"
#include "finish/layers.h"
#include "picture/colour.h"
#include "picture/raster.h"
#include "render/render.h"

namespace finish {

using base::Rgb;

struct DevelopSettings {
    std::vector<Rgb> desk;  // factor of each film entry: colour times brightness, linear
    double exposureStops = 0;
    picture::ViewTransform viewTransform = picture::ViewTransform::TrueColour;
    Rgb backdrop{1, 1, 1};     // linear; shown where nothing was hit
    bool transparent = false;  // keep coverage instead of the backdrop
    Behind behind;             // where it is more than the backdrop's colour; its light is that of the first entries
    std::vector<Layer> layers;
    double widthPt = 0;  // of the whole frame; lengths of layers are measured by it

    bool operator==(const DevelopSettings&) const = default;
    // Whether the shares must say what pixels show.
    bool needsIds() const;
};

// Linear light of a pixel after desk and exposure, premultiplied. `entries` are means, one for each desk factor.
Rgb mixed(const Rgb* entries, const DevelopSettings& settings);

// Light that was mixed, as seen: the second half of developed(). `quick` encodes by a table, true to 1e-4.
Rgb shown(Rgb light, float alpha, const DevelopSettings& settings, bool quick = false);
// The same at a place of the frame, (u, v) in [0, 1]^2, with what is behind there; `pixel` is the share of the frame's width that sees it.
Rgb shownAt(Rgb light, float alpha, double u, double v, double pixel, const DevelopSettings& settings, bool quick = false);

// A pixel as seen, encoded sRGB in 0 to 1. Colour is un-premultiplied before the view transform; over the backdrop it is
// blended in linear light.
Rgb developed(const Rgb* entries, float alpha, const DevelopSettings& settings);

// How a render sees what it exposes.
film::Viewing viewingOf(const DevelopSettings& settings);

// The steps from mixed light (premultiplied, with coverage, over what is light behind) to encoded sRGB with three channels, or four with
// straight alpha when transparent: exposure, view transform. Of a whole picture of this size.
Graph graphOf(const DevelopSettings& settings, int width = 1, int height = 1);

// The region of some shares as encoded sRGB. O(pixels), parallel.
picture::Raster<float> develop(const film::LightShares& shares, const DevelopSettings& settings);
// Rows y0 to before y1 of the whole picture alone, of shares that cover them and graphOf().reach() rows above and below, as far as the
// picture that is developed goes: from row `top` to before row `bottom`.
picture::Raster<float> developRows(const film::LightShares& shares, const DevelopSettings& settings, int y0, int y1, int top, int bottom);

// A layer that covers what is below, by itself over nothing: rows as developRows() gives them, encoded sRGB with straight alpha.
bool standsAlone(const Layer& layer);
DevelopSettings aloneOf(const DevelopSettings& settings, const Layer& layer);  // `settings` with this one layer, blended as usual
picture::Raster<float> layerRows(const film::LightShares& shares, const DevelopSettings& alone, int y0, int y1, int top, int bottom);

// Develops the same light again and again, as while a value is dragged: what lies below the first layer that changed is kept, and made
// no more. The pictures are those of develop(), bit by bit. Holds a picture of 16 bytes a pixel.
class Redeveloper {
public:
    // Asked to stop it returns nothing, soon, and begins again the next time.
    std::optional<picture::Raster<float>> develop(const film::LightShares& shares, const DevelopSettings& settings,
                                                  const std::stop_token& stop = {});
    // Must be called when the light is another one.
    void forget();

private:
    template <class Source>
    bool keep(const Graph& graph, Source source, const Area& whole, const std::stop_token& stop);

    std::optional<DevelopSettings> m_last;
    film::FilmShape m_shape;
    Image m_below;             // encoded colour with coverage, or nothing yet
    std::size_t m_layers = 0;  // so many are in it
};

// 1 where the light of a covered pixel is brighter than a screen's white in any channel, before the view transform: detail there
// is lost or softened. One channel. O(pixels), parallel.
picture::Raster<std::uint8_t> clipped(const film::LightShares& shares, const DevelopSettings& settings);

// 8 bits with dither: each value is rounded up with the chance of its fraction, by a hash of place and channel,
// so that gradients do not band and exact values stay exact. Alpha is not dithered. 16 bits are rounded. `firstRow`: where the rows
// lie in a picture that is made in parts.
picture::Raster<std::uint8_t> to8Bits(const picture::Raster<float>& encoded, int firstRow = 0);
picture::Raster<std::uint16_t> to16Bits(const picture::Raster<float>& encoded);

}  // namespace finish
