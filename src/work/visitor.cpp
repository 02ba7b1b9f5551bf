#include "work/visitor.h"

#include <cmath>

namespace work {

void NumberAt::set(double value) const
{
    std::visit(
        [value]<class N>(N* v) {
            if constexpr (std::is_integral_v<N>)
                *v = static_cast<N>(std::llround(value));
            else
                *v = static_cast<N>(value);
        },
        at);
}

void Visitor::number(const Number&, const NumberAt&) {}
void Visitor::flag(const About&, bool&) {}
void Visitor::text(const Text&, std::string&) {}
void Visitor::list(const About&, std::vector<std::string>&) {}
void Visitor::oneOf(const About&, const OneOfAt&) {}
void Visitor::colour(const About&, Rgb&, std::string*) {}

void Visitor::object(const About&, const Thing& v)
{
    v.visit(*this);
}

void Visitor::own(const About&, const OwnAt& v)
{
    if (v.has())
        v.thing().visit(*this);
}

void Visitor::things(const About&, const ThingsAt& v)
{
    v.each([this](const std::string&, const Thing& thing) { thing.visit(*this); });
}

void Visitor::kinds(const KindsAt& v)
{
    v.thing().visit(*this);
}

bool Visitor::kind(const About& about, const OneOfAt& v, std::optional<Newer>& newer)
{
    if (!newer)
        oneOf(about, v);
    return !newer;
}

}  // namespace work
