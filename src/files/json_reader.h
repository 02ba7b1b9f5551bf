// The table of properties from JSON: missing keys keep their values, the first that is wrong becomes an error with its place.
#pragma once

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>
#include <set>

#include "base/result.h"
#include "work/properties.h"

namespace files::json {

using Json = nlohmann::json;  // sorted: keys are found fast however many there are

using work::About;
using work::Number;
using work::Text;

inline std::string escaped(std::string key)  // for a JSON pointer
{
    for (std::size_t at = 0; (at = key.find_first_of("~/", at)) != std::string::npos; at += 2)
        key.replace(at, 1, key[at] == '~' ? "~0" : "~1");
    return key;
}

// A value as errors repeat it: its beginning.
inline std::string shown(const Json& j)
{
    constexpr std::size_t kMost = 60;
    if (j.is_structured())
        return j.is_array() ? "a list" : "an object";
    std::string text = j.dump();
    if (text.size() <= kMost)
        return text;
    std::size_t end = kMost;
    while (end > 0 && (static_cast<unsigned char>(text[end]) & 0xc0) == 0x80)
        --end;
    return text.substr(0, end) + "...";
}

inline bool isId(const std::string& id)
{
    return !id.empty() && id.size() <= 64 &&
           std::all_of(id.begin(), id.end(), [](unsigned char c) { return std::isalnum(c) || c == '-' || c == '_'; });
}

inline std::string namesOf(const work::OneOfAt& v)
{
    std::string list;
    for (int i = 0; i < v.count(); ++i)
        list += (list.empty() ? "" : ", ") + std::string(v.name(i));
    return list;
}

struct Reader : work::Visitor {
    const Json* in;
    std::string place;
    base::Error* error;
    base::Notes* notes;              // what was mended; nullptr: nobody asks
    std::vector<std::string> known;  // keys that were looked for
    bool isNewer = false;            // the rest is of a kind that a newer version made

    Reader(const Json& json, std::string at, base::Error& wrong, base::Notes* mends = nullptr)
        : in(&json), place(std::move(at)), error(&wrong), notes(mends)
    {
    }

    void mended(const char* kind, std::string message, const std::string& key)
    {
        if (notes)
            notes->push_back({kind, std::move(message), place + "/" + key});
    }
    void fail(const std::string& key, const std::string& message)
    {
        if (error->message.empty())
            *error = {base::ErrorCode::BadInput, message, place + "/" + escaped(key)};
    }
    const Json* find(const char* key)
    {
        if (isNewer)
            return nullptr;
        known.emplace_back(key);
        const auto found = in->find(key);
        return found == in->end() ? nullptr : &*found;
    }
    const Json* findObject(const char* key)
    {
        const Json* j = find(key);
        if (j && !j->is_object()) {
            fail(key, fmt::format("{} must be an object in braces", key));
            return nullptr;
        }
        return j;
    }
    void number(const Number& line, const work::NumberAt& v) override
    {
        const Json* j = find(line.key);
        if (!j)
            return;
        const double value = j->is_number() ? j->get<double>() : std::nan("");
        if (!std::isfinite(value) || value < line.least || value > line.most || (v.isWhole() && value != std::floor(value)))
            fail(line.key, fmt::format("{} is not allowed for {} ({}); give a {}number from {} to {}", shown(*j), line.key, line.what,
                                       v.isWhole() ? "whole " : "", line.least, line.most));
        else
            v.set(value);
    }
    void flag(const About& about, bool& v) override
    {
        if (const Json* j = find(about.key)) {
            if (j->is_boolean())
                v = j->get<bool>();
            else
                fail(about.key, fmt::format("{} is not allowed for {} ({}); give true or false", shown(*j), about.key, about.what));
        }
    }
    void text(const Text& about, std::string& v) override
    {
        const Json* j = find(about.key);
        if (!j)
            return;
        if (!j->is_string())
            fail(about.key, fmt::format("{} is not allowed for {} ({}); give a text in quotes", shown(*j), about.key, about.what));
        else if (j->get_ref<const std::string&>().size() > about.mostBytes)
            fail(about.key, fmt::format("{} ({}) has {} bytes; {} are allowed at most", about.key, about.what,
                                        j->get_ref<const std::string&>().size(), about.mostBytes));
        else if (const std::string why = about.wrong ? about.wrong(j->get_ref<const std::string&>()) : std::string(); !why.empty())
            fail(about.key, why);
        else
            v = j->get<std::string>();
    }
    void list(const About& about, std::vector<std::string>& v) override
    {
        const Json* j = find(about.key);
        if (!j)
            return;
        if (j->is_array() && std::all_of(j->begin(), j->end(), [](const Json& e) { return e.is_string(); }))
            v = j->get<std::vector<std::string>>();
        else
            fail(about.key, fmt::format("{} must be a list of texts ({})", about.key, about.what));
    }
    void colour(const About& about, base::Rgb& v, std::string* swatch) override
    {
        if (swatch)
            text({{work::swatchKey(about.key), "", "Id of the swatch the colour follows, or empty"}}, *swatch);
        const Json* j = find(about.key);
        if (!j)
            return;
        if (j->is_string())
            if (const auto rgb = picture::rgbFromHex(j->get<std::string>())) {
                v = *rgb;
                return;
            }
        const auto isLinear = [](const Json& e) { return e.is_number() && e.get<double>() >= 0 && e.get<double>() <= 1; };
        if (j->is_array() && j->size() == 3 && std::all_of(j->begin(), j->end(), isLinear)) {
            v = {(*j)[0].get<float>(), (*j)[1].get<float>(), (*j)[2].get<float>()};
            return;
        }
        fail(about.key, fmt::format("{} is no colour for {} ({}); write one like \"#E8664F\"", shown(*j), about.key, about.what));
    }
    void oneOf(const About& about, const work::OneOfAt& v) override
    {
        const Json* j = find(about.key);
        if (!j)
            return;
        if (j->is_string())
            for (int i = 0; i < v.count(); ++i)
                if (j->get_ref<const std::string&>() == v.name(i)) {
                    v.set(i);
                    return;
                }
        fail(about.key, fmt::format("{} is not allowed for {} ({}); choose one of {}", shown(*j), about.key, about.what, namesOf(v)));
    }
    void read(const Json& j, const std::string& key, const work::Thing& v)
    {
        if (!j.is_object()) {
            fail(key, fmt::format("{} must be an object in braces", key));
            return;
        }
        Reader inner(j, place + "/" + escaped(key), *error, notes);
        v.visit(inner);
    }
    void object(const About& about, const work::Thing& v) override
    {
        if (const Json* j = find(about.key))
            read(*j, about.key, v);
    }
    void own(const About& about, const work::OwnAt& v) override
    {
        v.drop();
        if (const Json* j = find(about.key))
            read(*j, about.key, v.make());
    }
    void things(const About& about, const work::ThingsAt& v) override
    {
        v.clear();
        if (const Json* j = findObject(about.key)) {
            if (j->size() > work::kMostThings) {
                fail(about.key, fmt::format("There are {} entries in {}; {} are allowed at most", j->size(), about.key, work::kMostThings));
                return;
            }
            Reader inside(*j, place + "/" + about.key, *error, notes);
            for (const auto& [id, item] : j->items()) {
                if (!isId(id))
                    inside.fail(id.substr(0, 64), "An id may have letters, digits, - and _, 64 at most");
                inside.read(item, id, v.add(id));
                if (!error->message.empty())
                    return;
            }
        }
        if (v.order())
            readOrder(about, v);
    }
    // An order that does not fit is mended: what is named twice or not there is left out, what it lacks comes last.
    void readOrder(const About& about, const work::ThingsAt& v)
    {
        const std::string orderKey = std::string(about.key) + "Order";
        std::vector<std::string> order;
        list({orderKey.c_str(), "", "ids in order"}, order);
        std::set<std::string> seen;
        for (const std::string& id : order) {
            const bool fits = v.has(id) && seen.insert(id).second;
            if (fits)
                v.order()->push_back(id);
            else
                mended("order",
                       fmt::format("{} named \"{}\" {}; it was left out there", orderKey, id.substr(0, 64),
                                   seen.contains(id) ? "twice" : "which is not there"),
                       orderKey);
        }
        v.each([&](const std::string& id, const work::Thing&) {
            if (seen.contains(id))
                return;
            v.order()->push_back(id);
            if (!order.empty())
                mended("order", fmt::format("{} lacked \"{}\"; it comes last now", orderKey, id), orderKey);
        });
    }
    // The name of its kind, or nullptr for the usual one.
    const std::string* kindName()
    {
        const Json* j = find("kind");
        if (!j)
            return nullptr;
        if (!j->is_string() || !isId(j->get_ref<const std::string&>())) {
            fail("kind", fmt::format("{} is no kind; give its name in quotes", shown(*j)));
            return nullptr;
        }
        return &j->get_ref<const std::string&>();
    }
    // What of the object is not known yet, to be kept.
    work::Newer newer(const std::string& kind)
    {
        Json rest = *in;
        for (const std::string& key : known)
            rest.erase(key);
        isNewer = true;
        mended("newer", fmt::format("\"{}\" was made by a newer version of Open Glow: it is kept, but it is not in the picture", kind),
               "kind");
        return {kind, rest.dump()};
    }
    void kinds(const work::KindsAt& v) override
    {
        const std::string* name = kindName();
        for (int i = 0; i < v.count(); ++i)
            if (name ? *name == v.name(i) : i == 0) {
                v.become(i);
                v.thing().visit(*this);
                return;
            }
        if (name)
            v.become(newer(*name));
    }
    bool kind(const About& about, const work::OneOfAt& v, std::optional<work::Newer>& isOf) override
    {
        const std::string* name = kindName();
        isOf.reset();
        if (!name)
            return true;
        bool isKnown = false;
        for (int i = 0; i < v.count(); ++i)
            isKnown |= *name == v.name(i);
        if (!isKnown) {
            isOf = newer(*name);
            return false;
        }
        oneOf(about, v);
        return true;
    }
};

}  // namespace files::json
