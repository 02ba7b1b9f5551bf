// Where the bytes of a picture go: into a file on its way, or into memory.
#pragma once

#include <algorithm>
#include <cstdint>
#include <cstring>
#include <vector>

#include "base/file.h"

namespace files {

class Sink {
public:
    virtual ~Sink() = default;
    // False when the bytes did not arrive.
    virtual bool write(const void* data, std::size_t size) = 0;
    virtual bool seek(std::int64_t offset) = 0;
    virtual std::int64_t tell() = 0;
};

class FileSink : public Sink {
public:
    explicit FileSink(base::FileWriter& file) : m_file(file) {}
    bool write(const void* data, std::size_t size) override { return m_file.write(data, size); }
    bool seek(std::int64_t offset) override { return m_file.seek(offset); }
    std::int64_t tell() override { return m_file.tell(); }

private:
    base::FileWriter& m_file;
};

class MemorySink : public Sink {
public:
    std::vector<std::uint8_t> bytes;

    bool write(const void* data, std::size_t size) override
    {
        bytes.resize(std::max(bytes.size(), m_at + size));
        if (size > 0)
            std::memcpy(bytes.data() + m_at, data, size);
        m_at += size;
        return true;
    }
    bool seek(std::int64_t offset) override
    {
        m_at = static_cast<std::size_t>(offset);
        return true;
    }
    std::int64_t tell() override { return static_cast<std::int64_t>(m_at); }

private:
    std::size_t m_at = 0;
};

}  // namespace files
