// PNG, JPEG and TIFF, each by the library of its own, row by row from the top.
#pragma once

#include <cstdint>
#include <memory>
#include <span>
#include <string>

#include "files/sink.h"

namespace files {

enum class Depth { Byte, Word, Float };  // 8 and 16 bits, native order; 32 bits of floating point

struct RowsHead {
    int width = 0, height = 0, channels = 0;  // 1, 3, or 4 with straight alpha
    Depth depth = Depth::Byte;
    double ppi = 72;
    int quality = 92;                       // of JPEG, 1 to 100; from 90 on colour is kept at every pixel
    std::span<const std::uint8_t> profile;  // ICC; of PNG nothing: its chunk for sRGB
};

class RowWriter {
public:
    virtual ~RowWriter() = default;
    // False when it did not go; error() says why as the library says it. `row` holds width x channels values.
    virtual bool add(const void* row) = 0;
    virtual bool end() = 0;
    const std::string& error() const { return m_error; }

protected:
    std::string m_error;
};

// The head is written at once; what goes wrong is said by the first row. The sink must stay. Depths: PNG Byte and Word, JPEG Byte (no
// alpha), TIFF all (deflated, with differences, which loses nothing; over 4 GB as BigTIFF).
std::unique_ptr<RowWriter> pngWriter(Sink& sink, const RowsHead& head);
std::unique_ptr<RowWriter> jpegWriter(Sink& sink, const RowsHead& head);
std::unique_ptr<RowWriter> tiffWriter(Sink& sink, const RowsHead& head);

}  // namespace files
