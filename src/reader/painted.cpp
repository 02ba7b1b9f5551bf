#include "reader/painted.h"

#include <fmt/format.h>

#include <charconv>
#include <cmath>
#include <pugixml.hpp>
#include <string_view>

namespace reader {

namespace {

constexpr std::size_t kMostPainted = 200'000;
constexpr std::size_t kMostCurves = 4'000'000;
constexpr int kDeepest = 200;

std::string_view trimmed(std::string_view s)
{
    while (!s.empty() && (s.front() == ' ' || s.front() == '\n'))
        s.remove_prefix(1);
    while (!s.empty() && (s.back() == ' ' || s.back() == '\n'))
        s.remove_suffix(1);
    return s;
}

std::vector<double> numbersIn(std::string_view text)
{
    std::vector<double> numbers;
    const char *at = text.data(), *end = at + text.size();
    while (at != end) {
        double value = 0;
        const auto read = std::from_chars(at, end, value);
        if (read.ec == std::errc()) {
            numbers.push_back(value);
            at = read.ptr;
        } else {
            ++at;
        }
    }
    return numbers;
}

// "name:value;" pairs.
std::map<std::string, std::string, std::less<>> styleOf(const pugi::xml_node& node)
{
    std::map<std::string, std::string, std::less<>> style;
    std::string_view rest = node.attribute("style").value();
    while (!rest.empty()) {
        const auto end = std::min(rest.find(';'), rest.size());
        const std::string_view one = rest.substr(0, end);
        if (const auto colon = one.find(':'); colon != std::string_view::npos)
            style[std::string(trimmed(one.substr(0, colon)))] = trimmed(one.substr(colon + 1));
        rest.remove_prefix(std::min(end + 1, rest.size()));
    }
    return style;
}

std::string idIn(std::string_view url)
{
    const auto from = url.find('#');
    const auto to = url.find_first_of(")\"'", from);
    return from == std::string_view::npos ? std::string() : std::string(url.substr(from + 1, to - from - 1));
}

std::string rectangleData(const pugi::xml_node& node)
{
    const double x = node.attribute("x").as_double(), y = node.attribute("y").as_double();
    const double right = x + node.attribute("width").as_double(), bottom = y + node.attribute("height").as_double();
    return fmt::format("M {} {} L {} {} L {} {} L {} {} Z", x, y, right, y, right, bottom, x, bottom);
}

Matrix matrixOf(const pugi::xml_node& node, const char* attribute)
{
    const auto n = numbersIn(node.attribute(attribute).value());
    return n.size() == 6 ? Matrix{n[0], n[1], n[2], n[3], n[4], n[5]} : Matrix();
}

class Reading {
public:
    explicit Reading(const pugi::xml_document& document) { index(document.child("svg"), 0); }

    base::Result<Picture> read(const pugi::xml_document& document)
    {
        for (const pugi::xml_node child : document.child("svg").children())
            visit(child, {}, 0);
        if (m_tooMuch)
            return base::fail(base::ErrorCode::TooLarge, "The artwork paints more than can be read; simplify it");
        return std::move(m_picture);
    }

private:
    struct State {
        Matrix matrix;
        std::vector<Clip> clips;
        std::string fill = {};  // of glyphs, which have none of their own
        double fillOpacity = 1;
    };

    void index(const pugi::xml_node& node, int depth)
    {
        if (depth > kDeepest)
            return;
        for (const pugi::xml_node child : node.children()) {
            if (const char* id = child.attribute("id").value(); *id)
                m_byId.emplace(id, child);
            index(child, depth + 1);
        }
    }
    pugi::xml_node named(const std::string& id) const
    {
        const auto found = m_byId.find(id);
        return found == m_byId.end() ? pugi::xml_node() : found->second;
    }
    void note(const char* what) { ++m_picture.left[what]; }

    Path pathOf(std::string_view data)
    {
        Path path;
        const char *at = data.data(), *end = at + data.size();
        Subpath current;
        Vec2 here;
        bool open = false;
        const auto finish = [&](bool closed) {
            if (open && (!current.curves.empty() || closed)) {
                current.closed = closed;
                m_curves += current.curves.size();
                path.push_back(std::move(current));
            }
            current = {};
            open = false;
        };
        const auto point = [&](Vec2& p) {
            double v[2];
            for (double& value : v) {
                while (at != end && (*at == ' ' || *at == ','))
                    ++at;
                const auto read = std::from_chars(at, end, value);
                if (read.ec != std::errc())
                    return false;
                at = read.ptr;
            }
            p = {v[0], v[1]};
            return std::isfinite(p.x) && std::isfinite(p.y);
        };
        while (at != end && m_curves < kMostCurves) {
            const char command = *at++;
            if (command == 'M') {
                finish(false);
                if (!point(here))
                    break;
                current.start = here;
                open = true;
            } else if (command == 'L' || command == 'C') {
                outline::Curve curve{command == 'L' ? 1 : 3, {here}};
                bool read = true;
                for (int i = 1; read && i <= curve.degree; ++i)
                    read = point(curve.p[i]);
                if (!read)
                    break;
                here = curve.p[curve.degree];
                current.curves.push_back(curve);
                open = true;
            } else if (command == 'Z') {
                const Vec2 start = current.start;
                finish(true);
                here = current.start = start;
            }
        }
        finish(false);
        return path;
    }

    // False for a paint that is none.
    bool colourOf(std::string_view paint, Painted& out)
    {
        if (paint.empty() || paint == "none")
            return false;
        if (paint.starts_with("rgb(")) {
            const auto n = numbersIn(paint);
            if (n.size() != 3)
                return false;
            out.colour = rgb(n[0], n[1], n[2]);
            return true;
        }
        const pugi::xml_node source = named(idIn(paint));
        const std::string_view kind = source.name();
        if (kind == "linearGradient" || kind == "radialGradient") {
            note("gradient");
            return meanOf(source, out);
        }
        note(kind == "pattern" ? "pattern or picture as a fill" : "paint");
        return false;
    }
    static std::uint32_t rgb(double r, double g, double b)  // percent
    {
        const auto byte = [](double v) { return static_cast<std::uint32_t>(std::lround(std::clamp(v, 0.0, 100.0) * 2.55)); };
        return byte(r) << 16 | byte(g) << 8 | byte(b);
    }
    // The mean of a gradient's stops.
    bool meanOf(pugi::xml_node gradient, Painted& out)
    {
        for (int i = 0; i < 8 && !gradient.child("stop") && gradient.attribute("xlink:href"); ++i)
            gradient = named(idIn(gradient.attribute("xlink:href").value()));
        double sum[3] = {}, opacity = 0;
        int count = 0;
        for (const pugi::xml_node stop : gradient.children("stop")) {
            const auto style = styleOf(stop);
            const auto colour = style.find("stop-color"), alpha = style.find("stop-opacity");
            if (colour == style.end())
                continue;
            const auto n = numbersIn(colour->second);
            if (n.size() != 3)
                continue;
            for (int k = 0; k < 3; ++k)
                sum[k] += n[static_cast<std::size_t>(k)];
            opacity += alpha == style.end() ? 1 : std::atof(alpha->second.c_str());
            ++count;
        }
        if (count == 0)
            return false;
        out.colour = rgb(sum[0] / count, sum[1] / count, sum[2] / count);
        out.opacity *= opacity / count;
        return true;
    }

    void visitPath(const pugi::xml_node& node, const State& state)
    {
        const auto style = styleOf(node);
        const auto value = [&](const char* key) {
            const auto found = style.find(key);
            return found == style.end() ? std::string_view() : std::string_view(found->second);
        };
        const auto number = [&](const char* key, double usual) {
            const auto n = numbersIn(value(key));
            return n.empty() ? usual : n.front();
        };
        Painted base;
        base.path = pathOf(std::string_view(node.name()) == "rect" ? rectangleData(node) : std::string(node.attribute("d").value()));
        base.matrix = state.matrix * matrixOf(node, "transform");
        base.clips = state.clips;
        base.evenOdd = value("fill-rule") == "evenodd";
        Painted fill = base;
        fill.opacity = number("fill-opacity", state.fillOpacity);
        if (colourOf(style.contains("fill") ? value("fill") : std::string_view(state.fill), fill))
            add(std::move(fill));
        base.isStroke = true;
        base.opacity = number("stroke-opacity", 1);
        if (!colourOf(value("stroke"), base))
            return;
        base.stroke.width = number("stroke-width", 1);
        base.stroke.miterLimit = number("stroke-miterlimit", 4);
        base.stroke.cap = value("stroke-linecap") == "round"    ? StrokeStyle::Cap::Round
                          : value("stroke-linecap") == "square" ? StrokeStyle::Cap::Square
                                                                : StrokeStyle::Cap::Butt;
        base.stroke.join = value("stroke-linejoin") == "round"   ? StrokeStyle::Join::Round
                           : value("stroke-linejoin") == "bevel" ? StrokeStyle::Join::Bevel
                                                                 : StrokeStyle::Join::Miter;
        if (value("stroke-dasharray") != "none")
            base.stroke.dashes = numbersIn(value("stroke-dasharray"));
        base.stroke.dashOffset = number("stroke-dashoffset", 0);
        add(std::move(base));
    }

    void add(Painted painted)
    {
        if (m_picture.painted.size() >= kMostPainted || m_curves >= kMostCurves) {
            m_tooMuch = true;
            return;
        }
        if (painted.opacity < 0.995)
            note(painted.opacity <= 0.004 ? "paint that is not seen" : "transparency");
        if (painted.opacity > 0.004)
            m_picture.painted.push_back(std::move(painted));
    }

    void visit(const pugi::xml_node& node, State state, int depth)
    {
        const std::string_view kind = node.name();
        if (depth > kDeepest || m_tooMuch) {
            m_tooMuch = true;
            return;
        }
        if (kind == "defs" || kind == "filter" || kind == "mask")
            return;
        if (kind == "path" || kind == "rect") {  // the whole surface is painted as a rectangle
            visitPath(node, state);
            return;
        }
        if (kind == "image") {
            note("picture");
            return;
        }
        if (const char* mask = node.attribute("mask").value(); *mask)
            noteMask(named(idIn(mask)));
        if (kind != "g" && kind != "use" && kind != "symbol")
            return;
        if (const std::string clip = node.attribute("clip-path").value(); !clip.empty()) {
            const pugi::xml_node path = named(idIn(clip)).child("path");
            if (path)
                state.clips.push_back({placed(pathOf(path.attribute("d").value()), state.matrix * matrixOf(path, "transform")),
                                       std::string_view(node.attribute("clip-rule").value()) == "evenodd"});
            // A clip that is a rectangle of the whole surface says nothing.
        }
        if (const auto style = styleOf(node); style.contains("fill")) {
            state.fill = style.at("fill");
            state.fillOpacity = style.contains("fill-opacity") ? std::atof(style.at("fill-opacity").c_str()) : 1;
        }
        if (node.attribute("transform"))
            state.matrix = state.matrix * matrixOf(node, "transform");
        if (kind == "use") {
            const double x = node.attribute("x").as_double(), y = node.attribute("y").as_double();
            state.matrix = state.matrix * Matrix{1, 0, 0, 1, x, y};
            if (const pugi::xml_node target = named(idIn(node.attribute("xlink:href").value())))
                visit(target, std::move(state), depth + 1);
            return;
        }
        for (const pugi::xml_node child : node.children())
            visit(child, state, depth + 1);
    }

    // A mask of one rectangle of even opacity is a group's transparency.
    void noteMask(const pugi::xml_node& mask)
    {
        const pugi::xml_node rect = mask.child("g").child("rect");
        note(rect && !rect.next_sibling() ? "transparency" : "mask");
    }

    Picture m_picture;
    std::map<std::string, pugi::xml_node> m_byId;
    std::size_t m_curves = 0;
    bool m_tooMuch = false;
};

}  // namespace

Matrix Matrix::operator*(const Matrix& m) const
{
    return {a * m.a + c * m.b, b * m.a + d * m.b, a * m.c + c * m.d, b * m.c + d * m.d, a * m.e + c * m.f + e, b * m.e + d * m.f + f};
}

Path placed(Path path, const Matrix& matrix)
{
    for (Subpath& sub : path) {
        for (outline::Curve& curve : sub.curves)
            for (int i = 0; i <= curve.degree; ++i)
                curve.p[i] = matrix(curve.p[i]);
        sub.start = matrix(sub.start);
    }
    return path;
}

double Matrix::scale() const
{
    return std::sqrt(std::abs(a * d - b * c));
}

base::Result<Picture> readCairoSvg(const std::string& svg)
{
    pugi::xml_document document;
    if (const auto parsed = document.load_buffer(svg.data(), svg.size()); !parsed)
        return base::fail(base::ErrorCode::BadInput, fmt::format("The artwork cannot be drawn: {}", parsed.description()));
    Reading reading(document);
    return reading.read(document);
}

}  // namespace reader
