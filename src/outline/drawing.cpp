#include "outline/drawing.h"

#include <fmt/format.h>

#include <charconv>
#include <cmath>
#include <pugixml.hpp>
#include <set>

namespace outline {

namespace {

void appendNumber(std::string& text, double value)
{
    char digits[32];
    const auto end = std::to_chars(digits, digits + sizeof digits, value == 0 ? 0.0 : value);
    text.append(digits, end.ptr);
}

void appendPoint(std::string& text, Vec2 p, double height)
{
    text += ' ';
    appendNumber(text, p.x);
    text += ' ';
    appendNumber(text, height - p.y);
}

// Numbers one after the other, between blanks and commas.
class Numbers {
public:
    explicit Numbers(std::string_view text) : m_at(text.data()), m_end(text.data() + text.size()) { skip(); }

    bool atEnd() const { return m_at == m_end; }
    char letter()
    {
        const char c = *m_at++;
        skip();
        return c;
    }
    bool isNumber() const { return m_at != m_end && ((*m_at >= '0' && *m_at <= '9') || *m_at == '-' || *m_at == '.'); }
    bool point(double height, Vec2& p)
    {
        if (!number(p.x) || !number(p.y))
            return false;
        p.y = height - p.y;
        return true;
    }

private:
    void skip()
    {
        while (m_at != m_end && (*m_at == ' ' || *m_at == ',' || *m_at == '\n'))
            ++m_at;
    }
    bool number(double& value)
    {
        const auto read = std::from_chars(m_at, m_end, value);
        if (read.ec != std::errc() || !std::isfinite(value) || std::abs(value) > 1e9)
            return false;
        m_at = read.ptr;
        skip();
        return true;
    }

    const char *m_at, *m_end;
};

}  // namespace

std::string escapedXml(std::string_view text)
{
    std::string out;
    for (const char c : text)
        if (c == '<')
            out += "&lt;";
        else if (c == '>')
            out += "&gt;";
        else if (c == '&')
            out += "&amp;";
        else if (c == '"')
            out += "&quot;";
        else if (static_cast<unsigned char>(c) >= ' ')
            out += c;
    return out;
}

void appendPathData(std::string& text, const std::vector<CurveContour>& contours, double height)
{
    for (const CurveContour& contour : contours) {
        if (contour.empty())
            continue;
        text += text.empty() ? "M" : " M";
        appendPoint(text, contour.front().p[0], height);
        for (const Curve& curve : contour) {
            text += curve.degree == 1 ? " L" : curve.degree == 2 ? " Q" : " C";
            for (int i = 1; i <= curve.degree; ++i)
                appendPoint(text, curve.p[i], height);
        }
        text += " Z";
    }
}

bool readPathData(std::string_view text, double height, std::vector<CurveContour>& contours)
{
    Numbers in(text);
    CurveContour contour;
    Vec2 at, start;
    bool open = false;
    const auto close = [&] {
        if (open && !(at == start))
            contour.push_back({1, {at, start}});
        if (!contour.empty())
            contours.push_back(std::move(contour));
        contour = {};
        at = start;
        open = false;
    };
    char command = 0;
    while (!in.atEnd()) {
        if (!in.isNumber())
            command = in.letter();
        else if (command == 'M')
            command = 'L';  // further points of a move are lines
        switch (command) {
        case 'M':
            close();
            if (!in.point(height, at))
                return false;
            start = at;
            open = true;
            break;
        case 'L':
        case 'Q':
        case 'C': {
            Curve curve{command == 'L' ? 1 : command == 'Q' ? 2 : 3, {at}};
            for (int i = 1; i <= curve.degree; ++i)
                if (!in.point(height, curve.p[i]))
                    return false;
            open = true;
            at = curve.p[curve.degree];
            contour.push_back(curve);
            break;
        }
        case 'Z':
            close();
            command = 0;
            break;
        default:
            return false;
        }
    }
    close();
    return true;
}

std::string svgOf(const Drawing& drawing)
{
    std::string text = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" version=\"1.1\" width=\"";
    appendNumber(text, drawing.widthPt);
    text += "pt\" height=\"";
    appendNumber(text, drawing.heightPt);
    text += "pt\" viewBox=\"0 0 ";
    appendNumber(text, drawing.widthPt);
    text += ' ';
    appendNumber(text, drawing.heightPt);
    text += "\">\n";
    if (!drawing.notes.empty()) {
        text += "<metadata>\n";
        for (const base::Note& note : drawing.notes)
            text += fmt::format("<note kind=\"{}\" place=\"{}\">{}</note>\n", escapedXml(note.kind), escapedXml(note.place),
                                escapedXml(note.message));
        text += "</metadata>\n";
    }
    for (const DrawnShape& shape : drawing.shapes) {
        std::string data;
        appendPathData(data, shape.contours, drawing.heightPt);
        text += fmt::format("<path id=\"{}\" fill=\"#{:06X}\"{} d=\"{}\"", escapedXml(shape.id), shape.colour & 0xFFFFFF,
                            shape.evenOdd ? " fill-rule=\"evenodd\"" : "", data);
        text += shape.name.empty() ? "/>\n" : "><title>" + escapedXml(shape.name) + "</title></path>\n";
    }
    return text + "</svg>\n";
}

base::Result<Drawing> drawingFromSvg(std::string_view text, const std::string& name)
{
    const auto bad = [&](const std::string& what) { return base::fail(base::ErrorCode::BadInput, what, name); };
    pugi::xml_document document;
    if (const auto parsed = document.load_buffer(text.data(), text.size(), pugi::parse_default, pugi::encoding_utf8); !parsed)
        return bad(fmt::format("The drawing is broken: {}", parsed.description()));
    const pugi::xml_node root = document.child("svg");
    Drawing drawing;
    const std::string box = root.attribute("viewBox").value();
    double x = 0, y = 0;
    if (std::sscanf(box.c_str(), "%lf %lf %lf %lf", &x, &y, &drawing.widthPt, &drawing.heightPt) != 4 || x != 0 || y != 0 ||
        !(drawing.widthPt > 0 && drawing.widthPt < 1e7) || !(drawing.heightPt > 0 && drawing.heightPt < 1e7))
        return bad("The drawing has no size; read the artwork again");
    for (const pugi::xml_node note : root.child("metadata").children("note"))
        drawing.notes.push_back({note.attribute("kind").value(), note.text().get(), note.attribute("place").value()});
    std::set<std::string> ids;
    std::size_t curves = 0;
    for (const pugi::xml_node path : root.children("path")) {
        DrawnShape shape;
        shape.id = path.attribute("id").value();
        shape.name = path.child("title").text().get();
        shape.evenOdd = std::string_view(path.attribute("fill-rule").value()) == "evenodd";
        const std::string fill = path.attribute("fill").value();
        if (shape.id.empty() || !ids.insert(shape.id).second)
            return bad("A shape of the drawing has no id of its own; read the artwork again");
        if (fill.size() != 7 || std::from_chars(fill.data() + 1, fill.data() + 7, shape.colour, 16).ptr != fill.data() + 7)
            return bad(fmt::format("Shape {} of the drawing has no colour; read the artwork again", shape.id));
        if (!readPathData(path.attribute("d").value(), drawing.heightPt, shape.contours))
            return bad(fmt::format("The path of shape {} is broken; read the artwork again", shape.id));
        for (const CurveContour& contour : shape.contours)
            curves += contour.size();
        drawing.shapes.push_back(std::move(shape));
        if (drawing.shapes.size() > kMostShapes || curves > kMostCurves)
            return base::fail(base::ErrorCode::TooLarge,
                              fmt::format("The drawing has more than {} shapes or {} curves", kMostShapes, kMostCurves), name);
    }
    return drawing;
}

}  // namespace outline
