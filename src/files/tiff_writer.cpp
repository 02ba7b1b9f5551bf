#include <tiffio.h>

#include <algorithm>
#include <array>
#include <cstdarg>
#include <cstdio>
#include <cstring>
#include <vector>

#include "files/row_writers.h"

namespace files {

namespace {

int bytesOf(Depth depth)
{
    return depth == Depth::Byte ? 1 : depth == Depth::Word ? 2 : 4;
}

class TiffWriter : public RowWriter {
public:
    TiffWriter(Sink& sink, const RowsHead& head) : m_sink(sink)
    {
        const int bytes = bytesOf(head.depth);
        m_row.resize(static_cast<std::size_t>(head.width) * static_cast<std::size_t>(head.channels * bytes));
        constexpr double kMostSmall = 4e9;  // bytes that four of an offset reach, with room for what deflating may add
        const bool large = static_cast<double>(m_row.size()) * head.height > kMostSmall;
        TIFFOpenOptions* options = TIFFOpenOptionsAlloc();
        TIFFOpenOptionsSetErrorHandlerExtR(
            options,
            [](TIFF*, void* self, const char*, const char* format, va_list arguments) {
                std::array<char, 512> why;
                std::vsnprintf(why.data(), why.size(), format, arguments);
                static_cast<TiffWriter*>(self)->m_error = why.data();
                return 1;
            },
            this);
        TIFFOpenOptionsSetWarningHandlerExtR(
            options, [](TIFF*, void*, const char*, const char*, va_list) { return 1; }, nullptr);
        m_tiff = TIFFClientOpenExt(
            "picture.tif", large ? "w8" : "w", this, [](thandle_t, void*, tmsize_t) { return tmsize_t{0}; }, written, sought,
            [](thandle_t) { return 0; }, sizeOf, nullptr, nullptr, options);
        TIFFOpenOptionsFree(options);
        if (!m_tiff)
            return;
        set(TIFFTAG_IMAGEWIDTH, head.width);
        set(TIFFTAG_IMAGELENGTH, head.height);
        set(TIFFTAG_SAMPLESPERPIXEL, head.channels);
        set(TIFFTAG_BITSPERSAMPLE, 8 * bytes);
        set(TIFFTAG_SAMPLEFORMAT, head.depth == Depth::Float ? SAMPLEFORMAT_IEEEFP : SAMPLEFORMAT_UINT);
        set(TIFFTAG_ORIENTATION, ORIENTATION_TOPLEFT);
        set(TIFFTAG_PLANARCONFIG, PLANARCONFIG_CONTIG);
        set(TIFFTAG_PHOTOMETRIC, head.channels == 1 ? PHOTOMETRIC_MINISBLACK : PHOTOMETRIC_RGB);
        const std::uint16_t alpha = EXTRASAMPLE_UNASSALPHA;
        if (head.channels == 4)
            TIFFSetField(m_tiff, TIFFTAG_EXTRASAMPLES, 1, &alpha);
        set(TIFFTAG_COMPRESSION, COMPRESSION_ADOBE_DEFLATE);
        set(TIFFTAG_PREDICTOR, head.depth == Depth::Float ? PREDICTOR_FLOATINGPOINT : PREDICTOR_HORIZONTAL);
        TIFFSetField(m_tiff, TIFFTAG_XRESOLUTION, head.ppi);
        TIFFSetField(m_tiff, TIFFTAG_YRESOLUTION, head.ppi);
        set(TIFFTAG_RESOLUTIONUNIT, RESUNIT_INCH);
        constexpr int kTogether = 32;  // rows of a strip
        set(TIFFTAG_ROWSPERSTRIP, std::min(kTogether, head.height));
        if (!head.profile.empty())
            TIFFSetField(m_tiff, TIFFTAG_ICCPROFILE, static_cast<std::uint32_t>(head.profile.size()), head.profile.data());
    }
    ~TiffWriter() override
    {
        if (m_tiff)
            TIFFClose(m_tiff);
    }
    TiffWriter(const TiffWriter&) = delete;
    TiffWriter& operator=(const TiffWriter&) = delete;

    bool add(const void* row) override
    {
        if (!m_error.empty() || !m_tiff)
            return false;
        std::memcpy(m_row.data(), row, m_row.size());  // the library takes differences in place
        return TIFFWriteScanline(m_tiff, m_row.data(), m_rows++, 0) == 1 && m_error.empty();
    }
    bool end() override { return m_tiff && TIFFWriteDirectory(m_tiff) == 1 && m_error.empty(); }

private:
    void set(std::uint32_t tag, int value) { TIFFSetField(m_tiff, tag, value); }
    static tmsize_t written(thandle_t self, void* data, tmsize_t size)
    {
        auto& writer = *static_cast<TiffWriter*>(self);
        if (!writer.m_sink.write(data, static_cast<std::size_t>(size)))
            return 0;
        writer.m_end = std::max(writer.m_end, writer.m_sink.tell());
        return size;
    }
    static toff_t sought(thandle_t self, toff_t offset, int whence)
    {
        auto& writer = *static_cast<TiffWriter*>(self);
        const std::int64_t from = whence == SEEK_CUR ? writer.m_sink.tell() : whence == SEEK_END ? writer.m_end : 0;
        return writer.m_sink.seek(from + static_cast<std::int64_t>(offset)) ? static_cast<toff_t>(writer.m_sink.tell()) : toff_t(-1);
    }
    static toff_t sizeOf(thandle_t self) { return static_cast<toff_t>(static_cast<TiffWriter*>(self)->m_end); }

    Sink& m_sink;
    TIFF* m_tiff = nullptr;
    std::vector<std::uint8_t> m_row;
    std::uint32_t m_rows = 0;
    std::int64_t m_end = 0;
};

}  // namespace

std::unique_ptr<RowWriter> tiffWriter(Sink& sink, const RowsHead& head)
{
    return std::make_unique<TiffWriter>(sink, head);
}

}  // namespace files
