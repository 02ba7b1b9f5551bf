// A cairo SVG surface that writes into memory.
#pragma once

#include <cairo-svg.h>

#include <memory>
#include <string>

namespace reader {

class SvgSurface {
public:
    static constexpr std::size_t kMostBytes = 256u << 20;

    // What is drawn is as large as `width` x `height`; cairo's coordinates have 24.8 bits, so it is enlarged before they are rounded.
    SvgSurface(double width, double height)
    {
        constexpr double kMostExtent = 1e6;  // an eighth of what the coordinates hold: room round the page
        m_scale = std::clamp(kMostExtent / std::max(width, height), 1e-3, 64.0);
        m_surface.reset(cairo_svg_surface_create_for_stream(&SvgSurface::take, this, width * m_scale, height * m_scale));
        cairo_surface_set_device_scale(m_surface.get(), m_scale, m_scale);  // of the surface: scaling the drawing breaks text
        m_cairo.reset(cairo_create(m_surface.get()));
    }
    cairo_t* cairo() const { return m_cairo.get(); }
    double scale() const { return m_scale; }
    // The text; empty when it became too long or cairo failed.
    std::string finish()
    {
        m_cairo.reset();
        cairo_surface_finish(m_surface.get());
        return cairo_surface_status(m_surface.get()) == CAIRO_STATUS_SUCCESS ? std::move(m_text) : std::string();
    }

private:
    static cairo_status_t take(void* self, const unsigned char* data, unsigned length)
    {
        std::string& text = static_cast<SvgSurface*>(self)->m_text;
        if (text.size() + length > kMostBytes)
            return CAIRO_STATUS_WRITE_ERROR;
        text.append(reinterpret_cast<const char*>(data), length);
        return CAIRO_STATUS_SUCCESS;
    }
    struct Free {
        void operator()(cairo_surface_t* s) const { cairo_surface_destroy(s); }
        void operator()(cairo_t* c) const { cairo_destroy(c); }
    };
    double m_scale = 1;
    std::string m_text;
    std::unique_ptr<cairo_surface_t, Free> m_surface;
    std::unique_ptr<cairo_t, Free> m_cairo;
};

}  // namespace reader
