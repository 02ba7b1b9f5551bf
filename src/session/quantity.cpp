#include "session/quantity.h"

#include <fmt/format.h>

#include <charconv>
#include <cmath>

#include "base/units.h"

namespace session {

namespace {

constexpr int kDeepest = 50;  // brackets in brackets

// Recursive descent over sum = product (+- product)*, product = factor (*/ factor)*, factor = -factor | (sum) | number unit.
class Reader {
public:
    Reader(std::string_view text, Kind kind, const LengthUnit& unit) : m_text(text), m_kind(kind), m_unit(unit) {}

    base::Result<double> all()
    {
        const double value = sum(0);
        skip();
        if (m_wrong.empty() && m_at < m_text.size())
            wrong();
        if (m_wrong.empty() && !std::isfinite(value))
            m_wrong = "This divides by zero";
        if (!m_wrong.empty())
            return base::fail(base::ErrorCode::BadInput, m_wrong);
        // A sum without any unit is in the shown one.
        return m_hasUnit ? value : value * shownScale();
    }

private:
    double shownScale() const { return m_kind == Kind::Length ? m_unit.toPt(1) : m_kind == Kind::Percent ? 0.01 : 1; }
    void skip()
    {
        while (m_at < m_text.size() && (m_text[m_at] == ' ' || m_text[m_at] == '\t'))
            ++m_at;
    }
    bool take(std::string_view sign)
    {
        skip();
        if (m_text.substr(m_at, sign.size()) != sign)
            return false;
        m_at += sign.size();
        return true;
    }
    void wrong()
    {
        if (m_wrong.empty())
            m_wrong = m_at < m_text.size()
                          ? fmt::format("\"{}\" is not understood here; write a number such as {}", m_text.substr(m_at), example())
                          : fmt::format("Something is missing; write a number such as {}", example());
    }
    const char* example() const
    {
        switch (m_kind) {
        case Kind::Length:
            return "12mm, 1/2in or 24+6";
        case Kind::Angle:
            return "30 or 90/4";
        case Kind::Percent:
            return "25 or 25%";
        default:
            return "12 or 24+6";
        }
    }
    double sum(int depth)
    {
        double value = product(depth);
        while (m_wrong.empty()) {
            if (take("+"))
                value += product(depth);
            else if (take("-") || take("\u2212"))
                value -= product(depth);
            else
                break;
        }
        return value;
    }
    double product(int depth)
    {
        double value = factor(depth);
        value *= unitScale();
        while (m_wrong.empty()) {
            if (take("*") || take("\u00d7"))
                value *= factor(depth);
            else if (take("/"))
                value /= factor(depth);
            else
                break;
            value *= unitScale();  // 1/2in is half an inch
        }
        return value;
    }
    double factor(int depth)
    {
        if (depth > kDeepest) {
            m_wrong = "Too many brackets";
            return 0;
        }
        if (take("-") || take("\u2212"))
            return -factor(depth + 1);
        if (take("+"))
            return factor(depth + 1);
        if (take("(")) {
            const double value = sum(depth + 1);
            if (!take(")"))
                wrong();
            return value;
        }
        skip();
        std::string digits;
        std::size_t end = m_at;
        while (end < m_text.size() && ((m_text[end] >= '0' && m_text[end] <= '9') || m_text[end] == '.' || m_text[end] == ','))
            digits += m_text[end] == ',' ? '.' : m_text[end], ++end;
        double value = 0;
        const auto [next, error] = std::from_chars(digits.data(), digits.data() + digits.size(), value);
        if (error != std::errc{} || next != digits.data() + digits.size() || digits.empty()) {
            wrong();
            return 0;
        }
        m_at = end;
        return value;
    }
    // Of a unit behind what was just read.
    double unitScale()
    {
        struct Name {
            const char* text;
            Kind kind;
            double scale;
        };
        const Name names[] = {{"px", Kind::Length, m_unit.ppi > 0 ? base::kPtPerInch / m_unit.ppi : 1},
                              {"mm", Kind::Length, base::ptFromMm(1)},
                              {"cm", Kind::Length, base::ptFromMm(10)},
                              {"in", Kind::Length, base::kPtPerInch},
                              {"pt", Kind::Length, 1},
                              {"\"", Kind::Length, base::kPtPerInch},
                              {"\u00b0", Kind::Angle, 1},
                              {"deg", Kind::Angle, 1},
                              {"%", Kind::Percent, 0.01},
                              {"min", Kind::Seconds, 60},
                              {"s", Kind::Seconds, 1},
                              {"stops", Kind::Stops, 1},
                              {"K", Kind::Kelvin, 1}};
        for (const Name& name : names)
            if (name.kind == m_kind && take(name.text)) {
                m_hasUnit = true;
                return name.scale;
            }
        return 1;
    }

    std::string_view m_text;
    Kind m_kind;
    LengthUnit m_unit;
    std::size_t m_at = 0;
    bool m_hasUnit = false;
    std::string m_wrong;
};

}  // namespace

base::Result<double> parseQuantity(std::string_view text, Kind kind, const LengthUnit& unit)
{
    // "24 + 6mm": a number without a unit beside one with a unit means the shown unit. Terms are read one by one for that.
    int depth = 0;
    double total = 0;
    std::size_t from = 0;
    bool several = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        depth += c == '(' ? 1 : c == ')' ? -1 : 0;
        const bool startsTerm = text.substr(0, i).find_last_not_of(" \t") != std::string_view::npos &&
                                std::string_view("+-*/(").find(text[text.substr(0, i).find_last_not_of(" \t")]) == std::string_view::npos;
        if (depth == 0 && (c == '+' || c == '-') && startsTerm) {
            auto term = Reader(text.substr(from, i - from), kind, unit).all();
            if (!term)
                return term;
            total += *term;
            from = i;
            several = true;
        }
    }
    auto last = Reader(text.substr(from), kind, unit).all();
    if (last && several)
        return total + *last;
    return last;
}

std::string shownNumber(double value, Kind kind, const LengthUnit& unit, int decimals)
{
    const double shown = kind == Kind::Length ? unit.fromPt(value) : kind == Kind::Percent ? value * 100 : value;
    std::string text = fmt::format("{:.{}f}", shown, decimals);
    if (text.find('.') != std::string::npos) {
        text.erase(text.find_last_not_of('0') + 1);
        if (text.back() == '.')
            text.pop_back();
    }
    return text == "-0" ? "0" : text;
}

std::string unitName(Kind kind, const LengthUnit& unit)
{
    switch (kind) {
    case Kind::Length:
        return unit.unit == work::Unit::Px ? "px" : unit.unit == work::Unit::Mm ? "mm" : unit.unit == work::Unit::In ? "in" : "pt";
    case Kind::Angle:
        return "\u00b0";
    case Kind::Percent:
        return "%";
    case Kind::Stops:
        return "stops";
    case Kind::Seconds:
        return "s";
    case Kind::Kelvin:
        return "K";
    case Kind::Plain:
        break;
    }
    return {};
}

}  // namespace session
