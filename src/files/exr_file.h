// OpenEXR: named channels of one picture, packed without loss (openexr.com, OpenEXR File Layout).
#pragma once

#include <cstdint>
#include <map>
#include <memory>
#include <span>
#include <string>
#include <vector>

#include "base/result.h"
#include "files/sink.h"

namespace files {

struct ExrHead {
    int x = 0, y = 0, width = 0, height = 0;  // what there is, px from the upper left corner of the whole
    int fullWidth = 0, fullHeight = 0;        // the whole
    std::vector<std::string> channels;        // in the order of the values; "layer.R"
    bool half = false;                        // 16 bits, up to 65,504; else 32
    double ppi = 0;                           // 0: not said
    std::map<std::string, std::string> texts;
    std::map<std::string, float> numbers;
};

class ExrWriter {
public:
    // The sink must stay. Errors: CannotWrite.
    static base::Result<ExrWriter> begin(Sink& sink, const ExrHead& head);
    ExrWriter(ExrWriter&&) noexcept;
    ~ExrWriter();
    // `count` rows of interleaved channels, from the top. Errors: CannotWrite.
    base::Result<void> add(const float* rows, int count);
    // After the last row. Whether its bytes arrived, the sink knows.
    void end();

private:
    struct Open;
    explicit ExrWriter(std::unique_ptr<Open> open);
    std::unique_ptr<Open> m_open;
};

// From bytes that may be hostile; the header's attributes must fit (the library takes the memory that they claim).
class ExrReader {
public:
    // `bytes` must stay. Errors: BadInput: no EXR of one picture whose channels have a value at every pixel.
    static base::Result<ExrReader> open(std::span<const std::uint8_t> bytes);
    ExrReader(ExrReader&&) noexcept;
    ~ExrReader();
    const ExrHead& head() const;
    // All rows, one after the other, each of width x channels values: each(y from 0, values). False when the file ends early.
    template <class Each>
    bool eachRow(Each each)
    {
        const std::size_t stride = static_cast<std::size_t>(head().width) * head().channels.size();
        std::vector<float> rows(kTogether * stride);
        for (int y = 0; y < head().height; y += kTogether) {
            const int end = std::min(y + kTogether, head().height);
            if (!read(y, end, rows.data()))
                return false;
            for (int row = y; row < end; ++row)
                each(row, rows.data() + static_cast<std::size_t>(row - y) * stride);
        }
        return true;
    }

private:
    static constexpr int kTogether = 16;  // rows that are packed as one
    struct Open;
    explicit ExrReader(std::unique_ptr<Open> open);
    bool read(int from, int end, float* to);
    std::unique_ptr<Open> m_open;
};

}  // namespace files
