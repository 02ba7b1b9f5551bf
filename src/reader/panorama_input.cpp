#include "reader/panorama_input.h"

#include <fmt/format.h>

#include <bit>
#include <cmath>
#include <cstring>

#include "picture/colour.h"
#include "reader/open_picture.h"

namespace reader {

namespace {

constexpr double kMostPixels = 64e6;
constexpr int kMostAcross = 2048, kLeastAcross = 8;
constexpr float kMostLight = 1e6f;
constexpr float kBrightened = 15.0f / 16;

float usable(float v)
{
    return std::isnan(v) ? 0 : std::clamp(v, 0.0f, kMostLight);
}

float brightened(float encoded)
{
    const float v = picture::decodeSrgb(std::clamp(encoded, 0.0f, 1.0f));
    return v / (1 - kBrightened * v);
}

}  // namespace

base::Result<std::string> readPanorama(const std::vector<std::uint8_t>& bytes)
{
    static_assert(std::endian::native == std::endian::little);
    auto picture = openPicture(bytes, kMostPixels, true);
    if (!picture)
        return base::failed(picture);
    const OIIO::ImageSpec& spec = picture->spec;
    const int width = spec.width, height = spec.height, channels = std::min(spec.nchannels, 3);
    if (width < kLeastAcross || height < kLeastAcross / 2)
        return badPicture(fmt::format("it has {} x {} pixels, too few to show what is all round", width, height));
    const auto step = static_cast<std::size_t>(channels);
    std::vector<float> all(static_cast<std::size_t>(width) * static_cast<std::size_t>(height) * step);
    if (!picture->input->read_image(0, 0, 0, channels, OIIO::TypeDesc::FLOAT, all.data()))
        return badPicture(picture->input->geterror());
    const bool light = picture->isLight() || picture->format == "hdr";
    for (float& v : all)
        v = light ? usable(v) : brightened(v);

    const int factor = (width + kMostAcross - 1) / kMostAcross, wide = width / factor, high = std::max(1, height / factor);
    std::string pfm = fmt::format("PF\n{} {}\n-1.0\n", wide, high);
    const std::size_t head = pfm.size();
    pfm.resize(head + static_cast<std::size_t>(wide) * static_cast<std::size_t>(high) * 3 * sizeof(float));
    char* out = pfm.data() + head;
    for (int y = high - 1; y >= 0; --y)
        for (int x = 0; x < wide; ++x)
            for (std::size_t c = 0; c < 3; ++c) {
                double sum = 0;
                for (int j = y * factor; j < (y + 1) * factor; ++j)
                    for (int i = x * factor; i < (x + 1) * factor; ++i)
                        sum +=
                            static_cast<double>(all[(static_cast<std::size_t>(std::min(j, height - 1)) * static_cast<std::size_t>(width) +
                                                     static_cast<std::size_t>(i)) *
                                                        step +
                                                    (channels < 3 ? 0 : c)]);
                const auto mean = static_cast<float>(sum / (factor * factor));
                std::memcpy(out, &mean, sizeof mean);
                out += sizeof mean;
            }
    return pfm;
}

}  // namespace reader
