#include "work/light_desk.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "work/scene.h"

namespace work {

Rgb DeskChannel::factor() const
{
    return colour * picture::rgbOfTemperature(kelvin) * static_cast<float>(std::exp2(stops));
}

DeskChannel* LightDesk::find(const std::string& entry)
{
    const auto at = std::find_if(channels.begin(), channels.end(), [&](const DeskChannel& c) { return c.entry == entry; });
    return at == channels.end() ? nullptr : &*at;
}

std::vector<Rgb> LightDesk::factorsFor(const film::Entries& entries) const
{
    std::vector<Rgb> factors;
    const auto around = std::ranges::find(channels, kSurroundingsEntry, &DeskChannel::entry);
    for (const film::Entry& entry : entries) {
        const auto at = std::find_if(channels.begin(), channels.end(), [&](const DeskChannel& c) { return c.entry == entry.name; });
        const bool heard = at != channels.end() && (solo.empty() || solo.contains(entry.name));
        factors.push_back(!heard ? Rgb{} : at->isCard && around != channels.end() ? at->factor() * around->factor() : at->factor());
    }
    return factors;
}

LightDesk deskOf(const Work& work)
{
    LightDesk desk;
    desk.channels.push_back(
        {kSurroundingsEntry, work.surroundings.colour, work.surroundings.stops, work.surroundings.on, work.surroundings.kelvin});
    for (const std::string& id : ownCardsOf(work)) {
        const SkyCard& card = work.surroundings.cards.items.at(id);
        desk.channels.push_back({id, card.colour, card.stops, true, picture::kWhiteKelvin, true});
    }
    if (isEmissive(work))
        desk.channels.push_back({kEmissiveEntry, work.emissive.colour, work.emissive.stops, true});
    for (const std::string& id : work.lights.order) {
        const Light& light = work.lights.items.at(id);
        if (!light.newer)
            desk.channels.push_back({id, light.colour, light.stops, light.on, light.kelvin});
    }
    return desk;
}

void useDesk(Work& work, const LightDesk& desk)
{
    // A colour that was changed follows its swatch no longer.
    const auto take = [](auto& light, const DeskChannel& channel) {
        if (light.colour != channel.colour) {
            light.colour = channel.colour;
            if constexpr (requires { light.swatch; })
                light.swatch.clear();
        }
        light.stops = channel.stops;
        if constexpr (requires { light.kelvin; })
            light.kelvin = channel.kelvin;
    };
    for (const DeskChannel& channel : desk.channels)
        if (channel.entry == kSurroundingsEntry)
            take(work.surroundings, channel);
        else if (channel.entry == kEmissiveEntry)
            take(work.emissive, channel);
        else if (channel.isCard) {
            if (const auto card = work.surroundings.cards.items.find(channel.entry); card != work.surroundings.cards.items.end())
                take(card->second, channel);
        } else if (const auto light = work.lights.items.find(channel.entry); light != work.lights.items.end())
            take(light->second, channel);
}

base::Result<void> onlyDeskMoved(const Work& rendered, const Work& moved)
{
    const auto notRendered = [](const std::string& place) {
        return base::fail(base::ErrorCode::BadInput, "This light was off when the film was made, so it was not rendered; render with it on",
                          place);
    };
    if (moved.surroundings.on && !rendered.surroundings.on)
        return notRendered("/surroundings/on");
    for (const auto& [id, light] : moved.lights.items)
        if (const auto was = rendered.lights.items.find(id); was != rendered.lights.items.end() && light.on && !was->second.on)
            return notRendered("/lights/" + id + "/on");
    if (reworkBetween(rendered, moved) == Rework::Expose)
        return base::fail(
            base::ErrorCode::BadInput,
            "Only brightness and colour of lights, backdrop and finish can change after a render; render the work again for the rest");
    return {};
}

}  // namespace work
