// A variant of structs whose copies, moves and comparisons are compiled once (variant_compiled.h), not in each file that has one.
#pragma once

#include <variant>

namespace base {

template <class... T>
class Variant : public std::variant<T...> {
public:
    using std::variant<T...>::variant;
    Variant();
    Variant(const Variant&);
    Variant(Variant&&) noexcept;
    Variant& operator=(const Variant&);
    Variant& operator=(Variant&&) noexcept;
    ~Variant();
    bool operator==(const Variant&) const;
};

}  // namespace base

template <class... T>
struct std::variant_size<base::Variant<T...>> : std::variant_size<std::variant<T...>> {
};
