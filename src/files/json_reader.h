// What describe.h describes, from JSON: missing keys keep their values, the first that is wrong becomes an error with its place.
#pragma once

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "files/describe.h"

namespace files::json {

using Json = nlohmann::ordered_json;

inline std::string escaped(std::string key)  // for a JSON pointer
{
    for (std::size_t at = 0; (at = key.find_first_of("~/", at)) != std::string::npos; at += 2)
        key.replace(at, 1, key[at] == '~' ? "~0" : "~1");
    return key;
}

inline bool isId(const std::string& id)
{
    return !id.empty() && id.size() <= 64 && std::all_of(id.begin(), id.end(), [](unsigned char c) { return std::isalnum(c) || c == '-' || c == '_'; });
}

template <class E, std::size_t N>
std::string namesOf(const Named<E> (&names)[N])
{
    std::string list;
    for (const auto& n : names)
        list += (list.empty() ? "" : ", ") + std::string(n.name);
    return list;
}

struct Reader {
    const Json* in;
    std::string place;
    base::Error* error;

    void fail(const std::string& key, const std::string& message)
    {
        if (error->message.empty())
            *error = {base::ErrorCode::BadInput, message, place + "/" + escaped(key)};
    }
    const Json* find(const char* key)
    {
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
    template <class T>
    void readNumber(const char* key, T& v, double min, double max, const char* what, bool whole)
    {
        const Json* j = find(key);
        if (!j)
            return;
        const double value = j->is_number() ? j->get<double>() : std::nan("");
        if (!std::isfinite(value) || value < min || value > max || (whole && value != std::floor(value)))
            fail(key, fmt::format("{} is not allowed for {} ({}); give a {}number from {} to {}", j->dump(), key, what, whole ? "whole " : "", min, max));
        else
            v = static_cast<T>(value);
    }
    void number(const char* key, double& v, double min, double max, const char* what) { readNumber(key, v, min, max, what, false); }
    void number(const char* key, float& v, double min, double max, const char* what) { readNumber(key, v, min, max, what, false); }
    template <class I>
    void whole(const char* key, I& v, int min, int max, const char* what) { readNumber(key, v, min, max, what, true); }
    void flag(const char* key, bool& v, const char* what)
    {
        if (const Json* j = find(key)) {
            if (j->is_boolean())
                v = j->get<bool>();
            else
                fail(key, fmt::format("{} is not allowed for {} ({}); give true or false", j->dump(), key, what));
        }
    }
    void text(const char* key, std::string& v, const char* what)
    {
        if (const Json* j = find(key)) {
            if (j->is_string())
                v = j->get<std::string>();
            else
                fail(key, fmt::format("{} is not allowed for {} ({}); give a text in quotes", j->dump(), key, what));
        }
    }
    void list(const char* key, std::vector<std::string>& v, const char* what)
    {
        const Json* j = find(key);
        if (!j)
            return;
        if (j->is_array() && std::all_of(j->begin(), j->end(), [](const Json& e) { return e.is_string(); }))
            v = j->get<std::vector<std::string>>();
        else
            fail(key, fmt::format("{} must be a list of texts ({})", key, what));
    }
    void colour(const char* key, base::Rgb& v, const char* what)
    {
        const Json* j = find(key);
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
        fail(key, fmt::format("{} is no colour for {} ({}); write one like \"#E8664F\"", j->dump(), key, what));
    }
    template <class E, std::size_t N>
    void choice(const char* key, E& v, const Named<E> (&names)[N], const char* what)
    {
        const Json* j = find(key);
        if (!j)
            return;
        if (j->is_string())
            for (const auto& n : names)
                if (j->get<std::string>() == n.name) {
                    v = n.value;
                    return;
                }
        fail(key, fmt::format("{} is not allowed for {} ({}); choose one of {}", j->dump(), key, what, namesOf(names)));
    }
    template <class T>
    void read(const Json& j, const std::string& key, T& v)
    {
        if (!j.is_object()) {
            fail(key, fmt::format("{} must be an object in braces", key));
            return;
        }
        Reader inner{&j, place + "/" + escaped(key), error};
        describe(inner, v);
    }
    template <class T>
    void object(const char* key, T& v, const char*)
    {
        if (const Json* j = find(key))
            read(*j, key, v);
    }
    template <class T>
    void byId(const char* key, std::map<std::string, T>& v, const char*)
    {
        v.clear();
        const Json* j = findObject(key);
        if (!j)
            return;
        Reader inside{j, place + "/" + key, error};
        for (const auto& [id, item] : j->items()) {
            if (!isId(id))
                inside.fail(id, "An id may have letters, digits, - and _, 64 at most");
            inside.read(item, id, v[id]);
        }
    }
    template <class T>
    void own(const char* key, std::optional<T>& v, const char*)
    {
        v.reset();
        if (const Json* j = find(key))
            read(*j, key, v.emplace());
    }
    template <class T>
    void map(const char* key, work::Ordered<T>& v, const char* what, const char*)
    {
        v = {};
        byId(key, v.items, what);
        const std::string orderKey = std::string(key) + "Order";
        list(orderKey.c_str(), v.order, "ids in order");
        for (std::size_t i = 0; i < v.order.size(); ++i)
            if (!v.items.contains(v.order[i]) || std::count(v.order.begin(), v.order.end(), v.order[i]) > 1)
                fail(orderKey, fmt::format("\"{}\" in {} must name one of {}, once", v.order[i], orderKey, key));
        for (const auto& [id, _] : v.items)
            if (std::find(v.order.begin(), v.order.end(), id) == v.order.end())
                v.order.push_back(id);
    }
    template <class T>
    void partMap(const char* key, std::map<solid::Part, T>& v, const char*)
    {
        v.clear();
        const Json* j = findObject(key);
        if (!j)
            return;
        Reader inside{j, place + "/" + key, error};
        for (const auto& part : kParts)
            if (const auto found = j->find(part.name); found != j->end())
                inside.read(*found, part.name, v[part.value]);
    }
};

}  // namespace files::json
