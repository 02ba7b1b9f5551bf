// For the one file that compiles a Variant: template class base::Variant<...>;
#pragma once

#include "base/variant.h"

namespace base {

template <class... T>
Variant<T...>::Variant() = default;
template <class... T>
Variant<T...>::Variant(const Variant&) = default;
template <class... T>
Variant<T...>::Variant(Variant&&) noexcept = default;
template <class... T>
Variant<T...>& Variant<T...>::operator=(const Variant&) = default;
template <class... T>
Variant<T...>& Variant<T...>::operator=(Variant&&) noexcept = default;
template <class... T>
Variant<T...>::~Variant() = default;
template <class... T>
bool Variant<T...>::operator==(const Variant& other) const
{
    return static_cast<const std::variant<T...>&>(*this) == static_cast<const std::variant<T...>&>(other);
}

}  // namespace base
