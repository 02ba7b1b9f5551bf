#include "files/json_text.h"

#include <fmt/format.h>

#include <map>
#include <string_view>
#include <vector>

#include "outline/text.h"

namespace files::json {

namespace {

// What a look over the text finds before anything is built from it.
struct Survey {
    std::size_t values = 1;
    int deepest = 0;
    struct Twice {
        std::size_t end = 0;  // of the key in the text, before its closing quote
        std::string name;     // what is put there
        std::string key;
    };
    std::vector<Twice> twice;
};

Survey survey(const std::string& text)
{
    Survey found;
    std::vector<std::map<std::string, int>> keys;  // of the objects that are open, with the number that the next such key gets
    std::size_t stringBegin = 0, stringEnd = 0;
    for (std::size_t i = 0; i < text.size() && found.deepest <= kDeepest && found.values <= kMostValues; ++i)
        switch (text[i]) {
        case '"':
            stringBegin = ++i;
            while (i < text.size() && text[i] != '"')
                i += text[i] == '\\' ? 2 : 1;
            stringEnd = std::min(i, text.size());
            break;
        case '{':
        case '[':
            keys.emplace_back();
            found.deepest = std::max(found.deepest, static_cast<int>(keys.size()));
            ++found.values;
            break;
        case '}':
        case ']':
            if (!keys.empty())
                keys.pop_back();
            break;
        case ',':
            ++found.values;
            break;
        case ':':
            if (!keys.empty()) {
                const std::string key = text.substr(stringBegin, stringEnd - stringBegin);
                const auto [known, isNew] = keys.back().try_emplace(key, 2);
                if (isNew)
                    break;
                int& number = known->second;
                while (!keys.back().try_emplace(key + fmt::format("-{}", number), 2).second)
                    ++number;
                found.twice.push_back({stringEnd, fmt::format("-{}", number), key});
            }
            break;
        default:
            break;
        }
    return found;
}

}  // namespace

base::Result<nlohmann::json> parse(const std::string& text, base::Notes* notes)
{
    const auto tooLarge = [](const std::string& what) {
        return base::fail(base::ErrorCode::TooLarge, fmt::format("This JSON {}; it is not from Open Glow, or damaged", what));
    };
    if (text.size() > kMostBytes)
        return tooLarge(fmt::format("is larger than {} MB", kMostBytes >> 20));
    if (!outline::isUtf8(text))
        return base::fail(base::ErrorCode::BadInput, "The JSON is not UTF-8; save it as UTF-8");
    const Survey found = survey(text);
    if (found.deepest > kDeepest)
        return tooLarge(fmt::format("has more than {} brackets in brackets", kDeepest));
    if (found.values > kMostValues)
        return tooLarge(fmt::format("has more than {} values", kMostValues));
    std::string mended;
    const std::string* source = &text;
    if (!found.twice.empty()) {
        std::size_t from = 0;
        for (const Survey::Twice& t : found.twice) {
            mended.append(text, from, t.end - from).append(t.name);
            from = t.end;
        }
        mended.append(text, from);
        source = &mended;
        if (notes)
            for (const Survey::Twice& t : found.twice)
                notes->push_back({"twice",
                                  fmt::format("\"{}\" was there twice; the second is called \"{}{}\" now", t.key.substr(0, 64),
                                              t.key.substr(0, 64), t.name),
                                  {}});
    }
    try {
        return nlohmann::json::parse(*source);
    } catch (const nlohmann::json::out_of_range&) {
        return base::fail(base::ErrorCode::BadInput, "The JSON is broken: a number in it is too large to be read");
    } catch (const nlohmann::json::exception& e) {
        // "[json.exception.parse_error.101] parse error at line 3, column 7: ...": the place alone is for people.
        const std::string what = e.what();
        const std::size_t from = what.find("line "), end = what.find(':', from == std::string::npos ? 0 : from);
        return base::fail(base::ErrorCode::BadInput, from == std::string::npos ? std::string("The JSON is broken and cannot be read")
                                                                               : "The JSON is broken at " + what.substr(from, end - from));
    }
}

}  // namespace files::json
