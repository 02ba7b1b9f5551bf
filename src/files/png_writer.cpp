#include <png.h>

#include <bit>
#include <cmath>
#include <csetjmp>

#include "files/row_writers.h"

namespace files {

namespace {

// Functions that call libpng hold nothing with a destructor: it comes back by longjmp.
class PngWriter : public RowWriter {
public:
    PngWriter(Sink& sink, const RowsHead& head) : m_sink(sink)
    {
        m_png = png_create_write_struct(PNG_LIBPNG_VER_STRING, this, failed, [](png_structp, png_const_charp) {});
        m_info = m_png ? png_create_info_struct(m_png) : nullptr;
        if (!m_info)
            m_error = "no memory";
        else
            begin(head);
    }
    ~PngWriter() override { png_destroy_write_struct(&m_png, &m_info); }
    PngWriter(const PngWriter&) = delete;
    PngWriter& operator=(const PngWriter&) = delete;

    bool add(const void* row) override
    {
        if (!m_error.empty() || setjmp(png_jmpbuf(m_png)))
            return false;
        png_write_row(m_png, static_cast<png_const_bytep>(row));
        return true;
    }
    bool end() override
    {
        if (!m_error.empty() || setjmp(png_jmpbuf(m_png)))
            return false;
        png_write_end(m_png, m_info);
        return true;
    }

private:
    void begin(const RowsHead& head)
    {
        if (setjmp(png_jmpbuf(m_png)))
            return;
        png_set_write_fn(
            m_png, this,
            [](png_structp png, png_bytep data, std::size_t size) {
                if (!static_cast<PngWriter*>(png_get_io_ptr(png))->m_sink.write(data, size))
                    png_error(png, "cannot be written");
            },
            [](png_structp) {});
        const int kind = head.channels == 1 ? PNG_COLOR_TYPE_GRAY : head.channels == 3 ? PNG_COLOR_TYPE_RGB : PNG_COLOR_TYPE_RGB_ALPHA;
        png_set_IHDR(m_png, m_info, static_cast<png_uint_32>(head.width), static_cast<png_uint_32>(head.height),
                     head.depth == Depth::Word ? 16 : 8, kind, PNG_INTERLACE_NONE, PNG_COMPRESSION_TYPE_DEFAULT, PNG_FILTER_TYPE_DEFAULT);
        const auto pxPerM = static_cast<png_uint_32>(std::lround(head.ppi / 0.0254));
        png_set_pHYs(m_png, m_info, pxPerM, pxPerM, PNG_RESOLUTION_METER);
        if (head.profile.empty())
            png_set_sRGB_gAMA_and_cHRM(m_png, m_info, PNG_sRGB_INTENT_PERCEPTUAL);
        else
            png_set_iCCP(m_png, m_info, "ICC profile", PNG_COMPRESSION_TYPE_BASE, head.profile.data(),
                         static_cast<png_uint_32>(head.profile.size()));
        png_write_info(m_png, m_info);
        if (head.depth == Depth::Word && std::endian::native == std::endian::little)
            png_set_swap(m_png);
    }
    static void failed(png_structp png, png_const_charp why)
    {
        static_cast<PngWriter*>(png_get_error_ptr(png))->m_error = why;
        png_longjmp(png, 1);
    }

    Sink& m_sink;
    png_structp m_png = nullptr;
    png_infop m_info = nullptr;
};

}  // namespace

std::unique_ptr<RowWriter> pngWriter(Sink& sink, const RowsHead& head)
{
    return std::make_unique<PngWriter>(sink, head);
}

}  // namespace files
