#include "work/codes.h"

#include <fmt/format.h>
#include <zint.h>

#include <map>
#include <memory>
#include <mutex>

#include "work/piece_outlines.h"
#include "work/work.h"

namespace work {

namespace {

using base::Vec2;

struct Drop {
    void operator()(zint_symbol* symbol) const { ZBarcode_Delete(symbol); }
};

std::vector<Vec2> rectangle(double x0, double y0, double x1, double y1)
{
    return {{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}};
}

// Digits as they stand under the bars, by the face that the interface has too.
void addDigits(finish::FlatShape& to, const std::string& text, Vec2 middle, double height)
{
    constexpr double kSize = 100;
    Work work;
    Piece piece;
    Lettering lettering;
    lettering.font.family = "Inter";
    lettering.layout.sizePt = kSize;
    piece.source = lettering;
    setText(piece, text);
    work.pieces.add("p1", piece);
    Cache cache;
    const auto shape = flatShapeOf(work, "p1", kSize / 500, cache);
    if (!shape)
        return;
    base::Box2 box;
    for (const auto& line : *shape)
        for (const Vec2& p : line)
            box.add(p);
    if (box.empty())
        return;
    const double scale = height / (box.high.y - box.low.y);
    const Vec2 from = (box.low + box.high) * 0.5;
    for (auto line : *shape) {
        for (Vec2& p : line)
            p = middle + (p - from) * scale;
        to.push_back(std::move(line));
    }
}

base::Result<CodeShapes> made(finish::CodeForm form, const std::string& text)
{
    const bool qr = form == finish::CodeForm::Qr;
    const auto bad = [](const std::string& message) { return base::fail(base::ErrorCode::BadInput, message, "text"); };
    if (text.empty())
        return bad(qr ? "A QR code must say something, such as an address" : "An EAN-13 has 12 digits and one that checks them");
    if (!qr && (text.find_first_not_of("0123456789") != std::string::npos || text.size() < 12 || text.size() > 13))
        return bad(fmt::format("\"{}\" is no EAN-13: give its 12 digits, or 13 with the one that checks them", text.substr(0, 40)));
    const std::unique_ptr<zint_symbol, Drop> symbol(ZBarcode_Create());
    symbol->symbology = qr ? BARCODE_QRCODE : BARCODE_EANX;
    symbol->input_mode = UNICODE_MODE;
    symbol->output_options |= BARCODE_QUIET_ZONES;
    if (qr)
        symbol->option_1 = 2;  // a quarter of it may be lost but for an eighth: level M
    const auto* bytes = reinterpret_cast<const unsigned char*>(text.data());
    if (ZBarcode_Encode(symbol.get(), bytes, static_cast<int>(text.size())) >= ZINT_ERROR ||
        ZBarcode_Buffer_Vector(symbol.get(), 0) >= ZINT_ERROR || !symbol->vector)
        return bad(fmt::format("This cannot be said by {}: {}", qr ? "a QR code" : "an EAN-13", symbol->errtxt));
    const zint_vector& drawn = *symbol->vector;
    const double unit = 1 / static_cast<double>(drawn.width), high = static_cast<double>(drawn.height) * unit;
    const auto at = [&](double x, double y) { return Vec2{x * unit - 0.5, high / 2 - y * unit}; };
    finish::FlatShape bars, field;
    field.push_back(rectangle(-0.5, -high / 2, 0.5, high / 2));
    for (const zint_vector_rect* r = drawn.rectangles; r; r = r->next) {
        const auto x = static_cast<double>(r->x), y = static_cast<double>(r->y);
        const Vec2 low = at(x, y + static_cast<double>(r->height)), top = at(x + static_cast<double>(r->width), y);
        bars.push_back(rectangle(low.x, low.y, top.x, top.y));
    }
    for (const zint_vector_string* s = drawn.strings; s; s = s->next) {
        const double size = static_cast<double>(s->fsize) * unit, digits = size * 0.72;
        // Their places are those of the baseline.
        Vec2 middle = at(static_cast<double>(s->x), static_cast<double>(s->y));
        middle.y += digits / 2;
        if (s->halign != 0)
            middle.x += (s->halign == 1 ? 0.5 : -0.5) * static_cast<double>(s->length) * size * 0.55;
        addDigits(bars, std::string(reinterpret_cast<const char*>(s->text), static_cast<std::size_t>(s->length)), middle, digits);
    }
    return CodeShapes{std::make_shared<const finish::FlatShape>(std::move(bars)),
                      std::make_shared<const finish::FlatShape>(std::move(field))};
}

}  // namespace

base::Result<CodeShapes> codeOf(finish::CodeForm form, const std::string& text)
{
    static std::mutex s_mutex;
    static std::map<std::pair<finish::CodeForm, std::string>, base::Result<CodeShapes>> s_known;
    const std::lock_guard lock(s_mutex);
    const std::pair key(form, text);
    auto found = s_known.find(key);
    if (found == s_known.end()) {
        if (s_known.size() >= kMostCodes)
            s_known.clear();
        found = s_known.emplace(key, made(form, text)).first;
    }
    return found->second;
}

}  // namespace work
