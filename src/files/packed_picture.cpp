#include "files/packed_picture.h"

#include <avif/avif.h>
#include <fmt/format.h>
#include <jxl/encode.h>
#include <jxl/thread_parallel_runner.h>
#include <webp/encode.h>
#include <webp/mux.h>

#include <algorithm>
#include <memory>
#include <thread>

namespace files {

namespace {

tl::unexpected<base::Error> notMade(const char* format, const std::string& why)
{
    return base::fail(base::ErrorCode::CannotWrite,
                      fmt::format("This picture cannot become {} ({}); save it in another format", format, why));
}

int threads()
{
    return static_cast<int>(std::max(1u, std::thread::hardware_concurrency()));
}

}  // namespace

base::Result<std::vector<std::uint8_t>> avifBytes(const picture::Raster<std::uint8_t>& picture, const PackedAbout& about)
{
    const auto failed = [](avifResult why) { return notMade("AVIF", avifResultToString(why)); };
    const bool alpha = picture.channels == 4;
    // Coloured letters have hard edges: colour is halved only where small files are asked for.
    const std::unique_ptr<avifImage, void (*)(avifImage*)> image(
        avifImageCreate(picture.width, picture.height, 8, about.quality >= 90 ? AVIF_PIXEL_FORMAT_YUV444 : AVIF_PIXEL_FORMAT_YUV420),
        avifImageDestroy);
    if (!image)
        return failed(AVIF_RESULT_OUT_OF_MEMORY);
    image->yuvRange = AVIF_RANGE_FULL;
    image->matrixCoefficients = AVIF_MATRIX_COEFFICIENTS_BT601;
    if (!about.profile.empty())
        avifImageSetProfileICC(image.get(), about.profile.data(), about.profile.size());
    if (!about.xmp.empty())
        avifImageSetMetadataXMP(image.get(), reinterpret_cast<const std::uint8_t*>(about.xmp.data()), about.xmp.size());
    avifRGBImage rgb;
    avifRGBImageSetDefaults(&rgb, image.get());
    rgb.format = alpha ? AVIF_RGB_FORMAT_RGBA : AVIF_RGB_FORMAT_RGB;
    rgb.pixels = const_cast<std::uint8_t*>(picture.values.data());  // only read
    rgb.rowBytes = static_cast<std::uint32_t>(picture.width * picture.channels);
    if (const avifResult done = avifImageRGBToYUV(image.get(), &rgb); done != AVIF_RESULT_OK)
        return failed(done);
    const std::unique_ptr<avifEncoder, void (*)(avifEncoder*)> encoder(avifEncoderCreate(), avifEncoderDestroy);
    encoder->maxThreads = threads();
    encoder->speed = 6;
    // 63 is the coarsest; transparency keeps its edges.
    const int coarse =
        std::clamp((100 - about.quality) * AVIF_QUANTIZER_WORST_QUALITY / 100, 0, static_cast<int>(AVIF_QUANTIZER_WORST_QUALITY));
    encoder->minQuantizer = std::max(0, coarse - 4);
    encoder->maxQuantizer = coarse;
    encoder->minQuantizerAlpha = encoder->maxQuantizerAlpha = AVIF_QUANTIZER_LOSSLESS;
    avifRWData made = AVIF_DATA_EMPTY;
    const avifResult done = avifEncoderWrite(encoder.get(), image.get(), &made);
    std::vector<std::uint8_t> bytes(made.data, made.data + made.size);
    avifRWDataFree(&made);
    if (done != AVIF_RESULT_OK)
        return failed(done);
    return bytes;
}

namespace {

template <class T>
base::Result<std::vector<std::uint8_t>> toJxl(const picture::Raster<T>& picture, const PackedAbout& about)
{
    const bool alpha = picture.channels == 4, lossless = about.quality >= 100;
    constexpr std::uint32_t kBits = 8 * sizeof(T);
    const auto failed = [](const char* where) { return notMade("JPEG XL", where); };
    const std::unique_ptr<void, void (*)(void*)> runner(JxlThreadParallelRunnerCreate(nullptr, static_cast<std::size_t>(threads())),
                                                        JxlThreadParallelRunnerDestroy);
    const std::unique_ptr<JxlEncoder, void (*)(JxlEncoder*)> encoder(JxlEncoderCreate(nullptr), JxlEncoderDestroy);
    if (!encoder || JxlEncoderSetParallelRunner(encoder.get(), JxlThreadParallelRunner, runner.get()) != JXL_ENC_SUCCESS)
        return failed("it does not begin");
    JxlBasicInfo info;
    JxlEncoderInitBasicInfo(&info);
    info.xsize = static_cast<std::uint32_t>(picture.width);
    info.ysize = static_cast<std::uint32_t>(picture.height);
    info.bits_per_sample = kBits;
    info.num_color_channels = 3;
    info.num_extra_channels = alpha ? 1 : 0;
    info.alpha_bits = alpha ? kBits : 0;
    info.uses_original_profile = lossless ? JXL_TRUE : JXL_FALSE;
    if (JxlEncoderSetBasicInfo(encoder.get(), &info) != JXL_ENC_SUCCESS)
        return failed("its size");
    if (JxlEncoderSetICCProfile(encoder.get(), about.profile.data(), about.profile.size()) != JXL_ENC_SUCCESS)
        return failed("its colour profile");
    if (!about.xmp.empty() && (JxlEncoderUseBoxes(encoder.get()) != JXL_ENC_SUCCESS ||
                               JxlEncoderAddBox(encoder.get(), "xml ", reinterpret_cast<const std::uint8_t*>(about.xmp.data()),
                                                about.xmp.size(), JXL_FALSE) != JXL_ENC_SUCCESS))
        return failed("its author and licence");
    JxlEncoderFrameSettings* const frame = JxlEncoderFrameSettingsCreate(encoder.get(), nullptr);
    // Butteraugli's distance, at which 1 is where a difference begins to be seen: about quality 90.
    const float distance = 0.1f + 0.09f * static_cast<float>(100 - about.quality);
    const JxlPixelFormat format{static_cast<std::uint32_t>(picture.channels), kBits == 8 ? JXL_TYPE_UINT8 : JXL_TYPE_UINT16,
                                JXL_NATIVE_ENDIAN, 0};
    if ((lossless ? JxlEncoderSetFrameLossless(frame, JXL_TRUE) : JxlEncoderSetFrameDistance(frame, distance)) != JXL_ENC_SUCCESS ||
        JxlEncoderAddImageFrame(frame, &format, picture.values.data(), picture.values.size() * sizeof(T)) != JXL_ENC_SUCCESS)
        return failed("its pixels");
    JxlEncoderCloseInput(encoder.get());
    std::vector<std::uint8_t> bytes(std::size_t{1} << 16);
    std::size_t filled = 0;
    for (;;) {
        std::uint8_t* next = bytes.data() + filled;
        std::size_t left = bytes.size() - filled;
        const JxlEncoderStatus status = JxlEncoderProcessOutput(encoder.get(), &next, &left);
        filled = static_cast<std::size_t>(next - bytes.data());
        if (status == JXL_ENC_SUCCESS)
            break;
        if (status != JXL_ENC_NEED_MORE_OUTPUT)
            return failed("its encoding");
        bytes.resize(bytes.size() * 2);
    }
    bytes.resize(filled);
    return bytes;
}

}  // namespace

// Lossy; profile and packet have chunks of their own (RFC 9649, 2.7).
base::Result<std::vector<std::uint8_t>> webpBytes(const picture::Raster<std::uint8_t>& picture, const PackedAbout& about)
{
    const auto failed = [](const char* where) { return notMade("WebP", where); };
    WebPConfig config;
    WebPPicture frame;
    if (!WebPConfigPreset(&config, WEBP_PRESET_DEFAULT, static_cast<float>(about.quality)) || !WebPPictureInit(&frame))
        return failed("its library is another version");
    config.thread_level = 1;
    const std::unique_ptr<WebPPicture, void (*)(WebPPicture*)> freed(&frame, WebPPictureFree);
    frame.width = picture.width;
    frame.height = picture.height;
    const auto import = picture.channels == 4 ? WebPPictureImportRGBA : WebPPictureImportRGB;
    if (picture.channels < 3 || !import(&frame, picture.values.data(), picture.width * picture.channels))
        return failed("its pixels");
    WebPMemoryWriter made;
    WebPMemoryWriterInit(&made);
    const std::unique_ptr<WebPMemoryWriter, void (*)(WebPMemoryWriter*)> cleared(&made, WebPMemoryWriterClear);
    frame.writer = WebPMemoryWrite;
    frame.custom_ptr = &made;
    if (!WebPEncode(&config, &frame))
        return failed("its encoding");
    const std::unique_ptr<WebPMux, void (*)(WebPMux*)> mux(WebPMuxNew(), WebPMuxDelete);
    const WebPData image{made.mem, made.size}, profile{about.profile.data(), about.profile.size()},
        xmp{reinterpret_cast<const std::uint8_t*>(about.xmp.data()), about.xmp.size()};
    WebPData whole{};
    if (!mux || WebPMuxSetImage(mux.get(), &image, 0) != WEBP_MUX_OK || WebPMuxSetChunk(mux.get(), "ICCP", &profile, 0) != WEBP_MUX_OK ||
        (xmp.size > 0 && WebPMuxSetChunk(mux.get(), "XMP ", &xmp, 0) != WEBP_MUX_OK) || WebPMuxAssemble(mux.get(), &whole) != WEBP_MUX_OK)
        return failed("its colour profile, author and licence");
    std::vector<std::uint8_t> bytes(whole.bytes, whole.bytes + whole.size);
    WebPDataClear(&whole);
    return bytes;
}

base::Result<std::vector<std::uint8_t>> jxlBytes(const picture::Raster<std::uint8_t>& picture, const PackedAbout& about)
{
    return toJxl(picture, about);
}

base::Result<std::vector<std::uint8_t>> jxlBytes(const picture::Raster<std::uint16_t>& picture, const PackedAbout& about)
{
    return toJxl(picture, about);
}

}  // namespace files
