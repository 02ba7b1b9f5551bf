#include "outline/text.h"

#include <unicode/brkiter.h>
#include <unicode/uchar.h>
#include <unicode/utext.h>
#include <unicode/utf8.h>

#include <memory>

namespace outline {

std::vector<Grapheme> graphemes(std::string_view text)
{
    UErrorCode status = U_ZERO_ERROR;
    const std::unique_ptr<icu::BreakIterator> breaks(icu::BreakIterator::createCharacterInstance(icu::Locale::getRoot(), status));
    UText source = UTEXT_INITIALIZER;
    utext_openUTF8(&source, text.data(), static_cast<std::int64_t>(text.size()), &status);
    std::vector<Grapheme> list;
    if (U_SUCCESS(status)) {
        breaks->setText(&source, status);
        std::size_t begin = 0;
        for (std::int32_t end = breaks->next(); end != icu::BreakIterator::DONE; end = breaks->next()) {
            list.push_back({begin, static_cast<std::size_t>(end)});
            begin = static_cast<std::size_t>(end);
        }
    }
    utext_close(&source);
    return list;
}

bool isUtf8(std::string_view text)
{
    const auto size = static_cast<std::int32_t>(text.size());
    for (std::int32_t i = 0; i < size;) {
        UChar32 c;
        U8_NEXT(text.data(), i, size, c);
        if (c < 0)
            return false;
    }
    return true;
}

bool needsGlyph(char32_t character)
{
    constexpr std::uint32_t kUnseen = U_GC_ZS_MASK | U_GC_ZL_MASK | U_GC_ZP_MASK | U_GC_CF_MASK | U_GC_CC_MASK | U_GC_MN_MASK;
    return (U_MASK(u_charType(static_cast<UChar32>(character))) & kUnseen) == 0;
}

std::vector<CodePoint> codePoints(std::string_view text)
{
    std::vector<CodePoint> list;
    const auto size = static_cast<std::int32_t>(text.size());
    for (std::int32_t i = 0; i < size;) {
        const auto at = static_cast<std::size_t>(i);
        UChar32 c;
        U8_NEXT(text.data(), i, size, c);
        list.push_back({c < 0 ? U'\uFFFD' : static_cast<char32_t>(c), at});
    }
    return list;
}

}  // namespace outline
