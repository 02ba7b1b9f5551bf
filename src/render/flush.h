// Tiny numbers become zero while rays are traced. Geometry code must not run under it.
#pragma once

#include <pmmintrin.h>
#include <xmmintrin.h>

namespace render {

class FlushToZero {
public:
    FlushToZero() : m_before(_mm_getcsr())
    {
        _MM_SET_FLUSH_ZERO_MODE(_MM_FLUSH_ZERO_ON);
        _MM_SET_DENORMALS_ZERO_MODE(_MM_DENORMALS_ZERO_ON);
    }
    ~FlushToZero() { _mm_setcsr(m_before); }
    FlushToZero(const FlushToZero&) = delete;
    FlushToZero& operator=(const FlushToZero&) = delete;

private:
    unsigned m_before;
};

}  // namespace render
