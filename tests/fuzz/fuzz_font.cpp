// Fonts: opened, measured, a line set and drawn.
#include "fuzz/target.h"
#include "outline/outline.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const auto bytes = std::make_shared<const outline::Bytes>(data, data + size);
    const auto font = outline::Font::open(bytes, 0, "wght=700", "fuzz");
    if (!font)
        return 0;
    (void)(*font)->capHeight();
    (void)(*font)->axes();
    const std::string text = "Ag\u00c4fi";
    const auto layout = outline::layoutText(text, **font, {}, {});
    if (layout)
        (void)outline::outlineLayout(*layout, text, **font, {100, 0.5, {}}, {});
    return 0;
}
