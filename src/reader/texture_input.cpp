#include "reader/texture_input.h"

#include <fmt/format.h>
#include <lcms2.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <memory>
#include <string_view>

#include "reader/open_picture.h"

namespace reader {

namespace {

constexpr double kMostPixelsOfFile = 120e6;  // what fits the memory this may take
constexpr double kMostBytesOut = 256 << 20;  // larger pictures are made smaller

// Four channels of T by rows from the top.
template <class T>
struct Pixels {
    int width = 0, height = 0;
    std::vector<T> rgba;
};

// Grey and grey with alpha become four channels; what is more than four is left out.
template <class From, class T>
Pixels<T> fourOf(const std::vector<From>& all, int width, int height, int channels, T (*value)(From), T opaque)
{
    Pixels<T> pixels{width, height, std::vector<T>(4 * static_cast<std::size_t>(width) * static_cast<std::size_t>(height))};
    const bool grey = channels < 3, alpha = channels == 2 || channels > 3;
    const std::size_t count = pixels.rgba.size() / 4, step = static_cast<std::size_t>(channels);
    for (std::size_t i = 0; i < count; ++i) {
        const From* p = all.data() + i * step;
        for (std::size_t c = 0; c < 3; ++c)
            pixels.rgba[4 * i + c] = value(p[grey ? 0 : c]);
        pixels.rgba[4 * i + 3] = alpha ? value(p[grey ? 1 : 3]) : opaque;
    }
    return pixels;
}

// Squares of `factor` become their mean. (Of coded values: what is so large is made smaller again before it is seen.)
template <class T>
Pixels<T> smaller(const Pixels<T>& from, int factor)
{
    Pixels<T> to{std::max(1, from.width / factor), std::max(1, from.height / factor), {}};
    to.rgba.resize(4 * static_cast<std::size_t>(to.width) * static_cast<std::size_t>(to.height));
    for (int y = 0; y < to.height; ++y)
        for (int x = 0; x < to.width; ++x)
            for (int c = 0; c < 4; ++c) {
                std::uint64_t sum = 0, count = 0;
                for (int j = y * factor; j < std::min(from.height, (y + 1) * factor); ++j)
                    for (int i = x * factor; i < std::min(from.width, (x + 1) * factor); ++i, ++count)
                        sum += from.rgba[4 * (static_cast<std::size_t>(j) * static_cast<std::size_t>(from.width) +
                                              static_cast<std::size_t>(i)) +
                                         static_cast<std::size_t>(c)];
                to.rgba[4 * (static_cast<std::size_t>(y) * static_cast<std::size_t>(to.width) + static_cast<std::size_t>(x)) +
                        static_cast<std::size_t>(c)] = static_cast<T>((sum + count / 2) / count);
            }
    return to;
}

// As it is held: TIFF 6.0's and Exif's orientation, 1 to 8.
template <class T>
Pixels<T> upright(Pixels<T> from, int orientation)
{
    if (orientation < 2 || orientation > 8)
        return from;
    const bool lies = orientation > 4;
    Pixels<T> to{lies ? from.height : from.width, lies ? from.width : from.height, std::vector<T>(from.rgba.size())};
    for (int y = 0; y < to.height; ++y)
        for (int x = 0; x < to.width; ++x) {
            int u = lies ? y : x, v = lies ? x : y;
            if (orientation == 2 || orientation == 3 || orientation == 7 || orientation == 8)
                u = from.width - 1 - u;
            if (orientation == 3 || orientation == 4 || orientation == 6 || orientation == 7)
                v = from.height - 1 - v;
            for (std::size_t c = 0; c < 4; ++c)
                to.rgba[4 * (static_cast<std::size_t>(y) * static_cast<std::size_t>(to.width) + static_cast<std::size_t>(x)) + c] =
                    from.rgba[4 * (static_cast<std::size_t>(v) * static_cast<std::size_t>(from.width) + static_cast<std::size_t>(u)) + c];
        }
    return to;
}

// From the colours of its profile to sRGB; as it is where it has none, or a broken one.
template <class T>
void toSrgb(Pixels<T>& pixels, const OIIO::ImageSpec& spec)
{
    const OIIO::ParamValue* profile = spec.find_attribute("ICCProfile");
    if (!profile || profile->datasize() < 128)
        return;
    const auto opened = [](cmsHPROFILE p) { return std::unique_ptr<void, int (*)(cmsHPROFILE)>(p, cmsCloseProfile); };
    const auto own = opened(cmsOpenProfileFromMem(profile->data(), static_cast<cmsUInt32Number>(profile->datasize())));
    if (!own || cmsGetColorSpace(own.get()) != cmsSigRgbData)
        return;
    char name[256] = {};
    cmsGetProfileInfoASCII(own.get(), cmsInfoDescription, "en", "US", name, sizeof name - 1);
    if (std::string_view(name).find("sRGB") != std::string_view::npos)
        return;
    const auto srgb = opened(cmsCreate_sRGBProfile());
    const cmsUInt32Number format = sizeof(T) == 1 ? TYPE_RGBA_8 : TYPE_RGBA_16;
    if (cmsHTRANSFORM transform =
            cmsCreateTransform(own.get(), format, srgb.get(), format, INTENT_RELATIVE_COLORIMETRIC, cmsFLAGS_COPY_ALPHA)) {
        cmsDoTransform(transform, pixels.rgba.data(), pixels.rgba.data(), static_cast<cmsUInt32Number>(pixels.rgba.size() / 4));
        cmsDeleteTransform(transform);
    }
}

// As a PAM (netpbm's pam(5)); 16 bits are big-endian there.
template <class T>
std::string pamOf(const Pixels<T>& pixels, bool linear)
{
    std::string pam = fmt::format("P7\n{}WIDTH {}\nHEIGHT {}\nDEPTH 4\nMAXVAL {}\nTUPLTYPE RGB_ALPHA\nENDHDR\n", linear ? "# linear\n" : "",
                                  pixels.width, pixels.height, sizeof(T) == 1 ? 255 : 65535);
    pam.reserve(pam.size() + pixels.rgba.size() * sizeof(T));
    if constexpr (sizeof(T) == 1)
        pam.append(reinterpret_cast<const char*>(pixels.rgba.data()), pixels.rgba.size());
    else
        for (const T v : pixels.rgba) {
            pam += static_cast<char>(v >> 8);
            pam += static_cast<char>(v & 255);
        }
    return pam;
}

template <class T>
std::string finished(Pixels<T> pixels, const OIIO::ImageSpec& spec, bool linear)
{
    const double bytes = static_cast<double>(pixels.rgba.size()) * sizeof(T);
    if (const int factor = static_cast<int>(std::ceil(std::sqrt(bytes / kMostBytesOut))); factor > 1)
        pixels = smaller(pixels, factor);
    if (!linear)
        toSrgb(pixels, spec);
    return pamOf(upright(std::move(pixels), spec.get_int_attribute("Orientation", 1)), linear);
}

// Of whole numbers, as the file has them.
template <class T>
base::Result<std::string> coded(OIIO::ImageInput& input, const OIIO::ImageSpec& spec, int channels, OIIO::TypeDesc type)
{
    std::vector<T> all(static_cast<std::size_t>(spec.width) * static_cast<std::size_t>(spec.height) * static_cast<std::size_t>(channels));
    if (!input.read_image(0, 0, 0, channels, type, all.data()))
        return badPicture(input.geterror());
    const auto same = [](T v) { return v; };
    return finished(fourOf<T, T>(all, spec.width, spec.height, channels, same, std::numeric_limits<T>::max()), spec, false);
}

}  // namespace

base::Result<std::string> readTexture(const std::vector<std::uint8_t>& bytes)
{
    auto picture = openPicture(bytes, kMostPixelsOfFile, false);
    if (!picture)
        return base::failed(picture);
    OIIO::ImageInput* input = picture->input.get();
    const OIIO::ImageSpec& spec = picture->spec;
    const double count = static_cast<double>(spec.width) * spec.height;
    const int channels = std::min(spec.nchannels, 4);
    const std::size_t values = static_cast<std::size_t>(count) * static_cast<std::size_t>(channels);
    const bool light = picture->isLight(), deep = spec.format.basesize() > 1;
    if (light) {
        std::vector<float> all(values);
        if (!input->read_image(0, 0, 0, channels, OIIO::TypeDesc::FLOAT, all.data()))
            return badPicture(input->geterror());
        const auto part = [](float v) { return static_cast<std::uint16_t>(std::clamp(v, 0.0f, 1.0f) * 65535 + 0.5f); };
        // EXR has alpha multiplied in.
        if (channels == 4 && picture->format == "openexr")
            for (std::size_t i = 0; i < values; i += 4)
                for (std::size_t c = 0; c < 3; ++c)
                    all[i + c] = all[i + 3] > 0 ? all[i + c] / all[i + 3] : all[i + c];
        for (float& v : all)
            v = std::isfinite(v) ? v : 0;
        return finished(fourOf<float, std::uint16_t>(all, spec.width, spec.height, channels, part, 65535), spec,
                        picture->format == "openexr" || spec.get_string_attribute("oiio:ColorSpace") == "Linear");
    }
    return deep ? coded<std::uint16_t>(*input, spec, channels, OIIO::TypeDesc::UINT16)
                : coded<std::uint8_t>(*input, spec, channels, OIIO::TypeDesc::UINT8);
}

}  // namespace reader
