#include <librsvg/rsvg.h>

#include <algorithm>
#include <cmath>
#include <pugixml.hpp>
#include <sstream>

#include "reader/cairo_surface.h"
#include "reader/inputs.h"
#include "reader/shapes.h"

namespace reader {

namespace {

constexpr double kPtPerPx = 0.75;
constexpr double kMostPx = 1e6;
constexpr double kMarkOpacity = 0.498;

struct Drawn {
    std::string text;
    double width = 0, height = 0, scale = 1;  // px
};

base::Result<Drawn> draw(const std::uint8_t* bytes, std::size_t size)
{
    const auto bad = [](const std::string& what) { return base::fail(base::ErrorCode::BadInput, what); };
    GError* error = nullptr;
    const std::unique_ptr<RsvgHandle, void (*)(RsvgHandle*)> handle(rsvg_handle_new_from_data(bytes, size, &error),
                                                                    [](RsvgHandle* h) { h ? g_object_unref(h) : void(); });
    if (!handle) {
        const std::string why = error ? error->message : "unknown reason";
        g_clear_error(&error);
        return bad("The SVG cannot be read: " + why);
    }
    // What has no outline of its own would become a picture.
    const std::string plain = "* { filter: none !important; mix-blend-mode: normal !important; }";
    rsvg_handle_set_stylesheet(handle.get(), reinterpret_cast<const guint8*>(plain.data()), plain.size(), nullptr);
    Drawn drawn;
    if (!rsvg_handle_get_intrinsic_size_in_pixels(handle.get(), &drawn.width, &drawn.height) || !(drawn.width > 0) || !(drawn.height > 0)) {
        gboolean hasWidth = 0, hasHeight = 0, hasBox = 0;
        RsvgLength width, height;
        RsvgRectangle box{};
        rsvg_handle_get_intrinsic_dimensions(handle.get(), &hasWidth, &width, &hasHeight, &height, &hasBox, &box);
        RsvgRectangle ink{};
        if (hasBox && box.width > 0 && box.height > 0) {
            drawn.width = box.width;
            drawn.height = box.height;
        } else if (rsvg_handle_get_geometry_for_element(handle.get(), nullptr, nullptr, &ink, nullptr) && ink.width > 0 && ink.height > 0) {
            drawn.width = std::max(ink.x + ink.width, 1.0);
            drawn.height = std::max(ink.y + ink.height, 1.0);
        } else {
            return bad("The SVG shows nothing");
        }
    }
    if (!std::isfinite(drawn.width) || !std::isfinite(drawn.height) || drawn.width > kMostPx || drawn.height > kMostPx)
        return base::fail(base::ErrorCode::TooLarge, "The SVG's page is larger than 1,000,000 px");
    SvgSurface surface(drawn.width, drawn.height);
    const RsvgRectangle page{0, 0, drawn.width, drawn.height};
    if (!rsvg_handle_render_document(handle.get(), surface.cairo(), &page, &error)) {
        const std::string why = error ? error->message : "unknown reason";
        g_clear_error(&error);
        return bad("The SVG cannot be drawn: " + why);
    }
    drawn.scale = surface.scale();
    drawn.text = surface.finish();
    if (drawn.text.empty())
        return base::fail(base::ErrorCode::TooLarge, "The SVG paints more than can be read; simplify it");
    return drawn;
}

// --- names ------------------------------------------------------------------------------------------------------------------------

std::string_view localName(const pugi::xml_node& node)
{
    const std::string_view name = node.name();
    const auto colon = name.find(':');
    return colon == std::string_view::npos ? name : name.substr(colon + 1);
}

bool isOneOf(std::string_view name, std::initializer_list<std::string_view> names)
{
    return std::find(names.begin(), names.end(), name) != names.end();
}

std::string nameOf(const pugi::xml_node& node)
{
    for (const pugi::xml_attribute attribute : node.attributes())
        if (std::string_view(attribute.name()).ends_with(":label"))
            return attribute.value();
    if (const char* title = node.child("title").text().get(); *title)
        return title;
    return node.attribute("id").value();
}

// Puts a small triangle of a colour of its own before everything that paints and has a name: what follows it in the output is that.
struct Marked {
    pugi::xml_document document;
    std::vector<std::string> names;

    void mark(pugi::xml_node node, const std::string& outer, int depth)
    {
        constexpr std::size_t kMostNames = 20'000;
        if (depth > 200)
            return;
        for (pugi::xml_node child = node.first_child(); child; child = child.next_sibling()) {
            const std::string_view kind = localName(child);
            if (isOneOf(kind, {"defs", "clipPath", "mask", "pattern", "marker", "symbol", "style", "metadata", "linearGradient",
                               "radialGradient", "filter", "switch"}))
                continue;
            std::string name = nameOf(child);
            if (isOneOf(kind, {"g", "svg", "a"})) {
                mark(child, name.empty() ? outer : name, depth + 1);
                continue;
            }
            if (!isOneOf(kind, {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon", "text", "use", "image"}))
                continue;
            if (names.size() >= kMostNames)
                return;
            if (name.empty())
                name = outer;
            const std::string prefix(std::string_view(child.name()).substr(0, std::string_view(child.name()).size() - kind.size()));
            pugi::xml_node mark = child.parent().insert_child_before((prefix + "path").c_str(), child);
            const std::size_t number = names.size();
            names.push_back(std::move(name));
            mark.append_attribute("d") = "M0 0L1 0L1 1Z";
            std::ostringstream style;
            style << "fill:rgb(" << (number >> 16 & 255) << ',' << (number >> 8 & 255) << ',' << (number & 255)
                  << ")!important;fill-opacity:" << kMarkOpacity
                  << "!important;stroke:none!important;opacity:1!important;visibility:visible!important;display:inline!important;"
                     "clip-path:none!important;mask:none!important";
            mark.append_attribute("style") = style.str().c_str();
        }
    }
};

// A name for each thing that is painted, found by drawing once more with marks; none where that cannot be told.
std::vector<std::string> namesFor(const std::vector<std::uint8_t>& bytes, const Picture& picture)
{
    constexpr std::size_t kMostPainted = 20'000;  // drawing twice would take too long
    if (picture.painted.size() > kMostPainted)
        return {};
    Marked marked;
    if (!marked.document.load_buffer(bytes.data(), bytes.size(), pugi::parse_full))
        return {};
    for (pugi::xml_node root : marked.document.children())
        if (localName(root) == "svg")
            marked.mark(root, {}, 0);
    if (std::all_of(marked.names.begin(), marked.names.end(), [](const std::string& n) { return n.empty(); }))
        return {};
    std::ostringstream text;
    marked.document.save(text, "", pugi::format_raw);
    const std::string source = text.str();
    const auto drawn = draw(reinterpret_cast<const std::uint8_t*>(source.data()), source.size());
    if (!drawn)
        return {};
    const auto again = readCairoSvg(drawn->text);
    if (!again)
        return {};
    std::vector<std::string> names;
    std::string current;
    for (const Painted& painted : again->painted) {
        const bool isMark = !painted.isStroke && std::abs(painted.opacity - kMarkOpacity) < 0.002 && painted.path.size() == 1 &&
                            painted.path[0].curves.size() == 2;
        if (isMark && painted.colour < marked.names.size())
            current = marked.names[painted.colour];
        else
            names.push_back(current);
    }
    return names.size() == picture.painted.size() ? names : std::vector<std::string>();
}

void countEffects(const pugi::xml_node& node, Picture& picture, int depth)
{
    if (depth > 200)
        return;
    for (const pugi::xml_node child : node.children()) {
        const std::string_view style = child.attribute("style").value();
        if (child.attribute("filter") || style.find("filter:") != std::string_view::npos)
            ++picture.left["filter"];
        if (style.find("mix-blend-mode:") != std::string_view::npos)
            ++picture.left["blend mode"];
        countEffects(child, picture, depth + 1);
    }
}

}  // namespace

base::Result<outline::Drawing> readSvg(const std::vector<std::uint8_t>& bytes)
{
    const auto drawn = draw(bytes.data(), bytes.size());
    if (!drawn)
        return tl::unexpected<base::Error>(drawn.error());
    auto picture = readCairoSvg(drawn->text);
    if (!picture)
        return tl::unexpected<base::Error>(picture.error());
    pugi::xml_document document;
    if (document.load_buffer(bytes.data(), bytes.size()))
        countEffects(document, *picture, 0);
    const std::vector<std::string> names = namesFor(bytes, *picture);
    return drawingOf(std::move(*picture), drawn->width * kPtPerPx, drawn->height * kPtPerPx, kPtPerPx / drawn->scale, names);
}

}  // namespace reader
