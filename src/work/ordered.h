// What lists of things with ids are made of.
#pragma once

#include <map>
#include <string>
#include <utility>
#include <vector>

namespace work {

// Things with ids in an order of their own.
template <class T>
struct Ordered {
    std::map<std::string, T> items;
    std::vector<std::string> order;

    bool operator==(const Ordered&) const = default;
    void add(const std::string& id, T item)
    {
        items[id] = std::move(item);
        order.push_back(id);
    }
};

// Something of a kind that a newer version made and this one does not know. It is kept as it was read and saved again; it is in the
// lists, but not in the picture.
struct Newer {
    std::string kind;
    std::string json;  // the object, without the values that are known

    bool operator==(const Newer&) const = default;
};

}  // namespace work
