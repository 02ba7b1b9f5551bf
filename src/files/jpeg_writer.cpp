#include <cstdio>

#include <jpeglib.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <csetjmp>

#include "files/row_writers.h"

namespace files {

namespace {

// Functions that call libjpeg hold nothing with a destructor: it comes back by longjmp.
class JpegWriter : public RowWriter {
public:
    JpegWriter(Sink& sink, const RowsHead& head) : m_sink(sink)
    {
        m_jpeg.err = jpeg_std_error(&m_messages);
        m_jpeg.client_data = this;
        m_messages.error_exit = [](j_common_ptr jpeg) {
            auto* self = static_cast<JpegWriter*>(jpeg->client_data);
            std::array<char, JMSG_LENGTH_MAX> why;
            jpeg->err->format_message(jpeg, why.data());
            self->m_error = why.data();
            std::longjmp(self->m_back, 1);
        };
        m_messages.output_message = [](j_common_ptr) {};
        begin(head);
    }
    ~JpegWriter() override { jpeg_destroy_compress(&m_jpeg); }
    JpegWriter(const JpegWriter&) = delete;
    JpegWriter& operator=(const JpegWriter&) = delete;

    bool add(const void* row) override
    {
        if (!m_error.empty() || setjmp(m_back))
            return false;
        auto* line = static_cast<JSAMPLE*>(const_cast<void*>(row));  // only read
        jpeg_write_scanlines(&m_jpeg, &line, 1);
        return true;
    }
    bool end() override
    {
        if (!m_error.empty() || setjmp(m_back))
            return false;
        jpeg_finish_compress(&m_jpeg);
        return true;
    }

private:
    static constexpr int kWhole = 90;  // coloured letters have hard edges: from this quality on colour is not halved

    void begin(const RowsHead& head)
    {
        if (setjmp(m_back))
            return;
        jpeg_create_compress(&m_jpeg);
        m_to.init_destination = [](j_compress_ptr jpeg) { of(jpeg).startBuffer(); };
        m_to.empty_output_buffer = [](j_compress_ptr jpeg) -> boolean {
            of(jpeg).flush(kBuffer);
            return TRUE;
        };
        m_to.term_destination = [](j_compress_ptr jpeg) { of(jpeg).flush(kBuffer - of(jpeg).m_to.free_in_buffer); };
        m_jpeg.dest = &m_to;
        m_jpeg.image_width = static_cast<JDIMENSION>(head.width);
        m_jpeg.image_height = static_cast<JDIMENSION>(head.height);
        m_jpeg.input_components = head.channels;
        m_jpeg.in_color_space = head.channels == 1 ? JCS_GRAYSCALE : JCS_RGB;
        jpeg_set_defaults(&m_jpeg);
        jpeg_set_quality(&m_jpeg, head.quality, TRUE);
        m_jpeg.density_unit = 1;  // an inch
        m_jpeg.X_density = m_jpeg.Y_density = static_cast<UINT16>(std::clamp(std::lround(head.ppi), 1L, 65535L));
        if (head.channels == 3 && head.quality >= kWhole)
            m_jpeg.comp_info[0].h_samp_factor = m_jpeg.comp_info[0].v_samp_factor = 1;
        jpeg_start_compress(&m_jpeg, TRUE);
        if (!head.profile.empty())
            jpeg_write_icc_profile(&m_jpeg, head.profile.data(), static_cast<unsigned>(head.profile.size()));
    }
    static JpegWriter& of(j_compress_ptr jpeg) { return *static_cast<JpegWriter*>(jpeg->client_data); }
    void startBuffer()
    {
        m_to.next_output_byte = m_buffer.data();
        m_to.free_in_buffer = kBuffer;
    }
    void flush(std::size_t size)
    {
        if (!m_sink.write(m_buffer.data(), size)) {
            m_error = "cannot be written";
            std::longjmp(m_back, 1);
        }
        startBuffer();
    }

    static constexpr std::size_t kBuffer = 1 << 16;
    Sink& m_sink;
    jpeg_compress_struct m_jpeg{};
    jpeg_error_mgr m_messages{};
    jpeg_destination_mgr m_to{};
    std::array<JOCTET, kBuffer> m_buffer;
    std::jmp_buf m_back{};
};

}  // namespace

std::unique_ptr<RowWriter> jpegWriter(Sink& sink, const RowsHead& head)
{
    return std::make_unique<JpegWriter>(sink, head);
}

}  // namespace files
