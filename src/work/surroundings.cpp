#include "work/surroundings.h"

#include <algorithm>
#include <cmath>

#include "base/words.h"
#include "picture/colour.h"
#include "work/scene.h"

namespace work {

namespace {

// `share` darkens: a colour's own brightness is that of what it is seen on.
Rgb hue(const char* hex, float share = 1)
{
    return *picture::rgbFromHex(hex) * share;
}

Surroundings sky(Rgb above, Rgb horizon, Rgb below, float softness)
{
    Surroundings s;
    s.kind = SurroundingsKind::Sky;
    s.above = above;
    s.horizon = horizon;
    s.below = below;
    s.softness = softness;
    return s;
}

struct CardShape {
    double width, breadth;
    float roundness = 0, softness = 0.1f;
    double roll = 0;
};

void addCard(Surroundings& s, const char* name, double direction, double height, CardShape shape, const char* colour, double stops)
{
    SkyCard card;
    card.name = name;
    card.direction = direction;
    card.height = height;
    card.width = shape.width;
    card.breadth = shape.breadth;
    card.roundness = shape.roundness;
    card.softness = shape.softness;
    card.roll = shape.roll;
    card.colour = hue(colour);
    card.stops = stops;
    s.cards.add("k" + std::to_string(s.cards.order.size() + 1), card);
}

Surroundings tent()
{
    Surroundings s = sky(hue("#FFFFFF"), hue("#FFFFFF", 0.8f), hue("#FFFFFF", 0.45f), 1);
    addCard(s, "Roof", 0, 62, {90, 60, 0.3f, 0.5f}, "#FFFFFF", 1);
    addCard(s, "Opening", 0, 2, {34, 26, 0.2f, 0.4f}, "#000000", 0);
    return s;
}

// Faces that look at the viewer mirror what stands behind him: a soft sheet as bright as white, and darker things round it for the edges.
Surroundings brightFront()
{
    Surroundings s = sky(hue("#FFFFFF", 0.3f), hue("#FFFFFF", 0.2f), hue("#E8DCCB", 0.1f), 0.8f);
    addCard(s, "Sheet", 0, 4, {96, 58, 0.5f, 1}, "#FFFBF2", 0.5);
    addCard(s, "Left strip", -72, 14, {10, 90, 0, 0.3f}, "#FFFFFF", 1.6);
    addCard(s, "Right strip", 78, 14, {7, 90, 0, 0.3f}, "#FFFFFF", 1.6);
    addCard(s, "Above", 0, 72, {80, 16, 0.2f, 0.5f}, "#FFFFFF", 1.4);
    return s;
}

Surroundings windowWall()
{
    Surroundings s = sky(hue("#C8CCD4", 0.12f), hue("#C8CCD4", 0.16f), hue("#A88C6C", 0.12f), 0.7f);
    for (int column = 0; column < 3; ++column)
        for (int row = 0; row < 2; ++row)
            addCard(s, "Window", -92 + 25.0 * column, 8 + 31.0 * row, {22, 27, 0, 0.04f}, "#E8F1FF", 3);
    addCard(s, "Lamp in the room", 75, 25, {16, 16, 1, 0.5f}, "#FFD9A8", 2.4);
    return s;
}

Surroundings twoStrips()
{
    Surroundings s = sky(hue("#FFFFFF", 0.02f), hue("#FFFFFF", 0.03f), hue("#FFFFFF", 0.02f), 1);
    addCard(s, "Left strip", -58, 10, {9, 110, 0, 0.25f}, "#FFFFFF", 3.6);
    addCard(s, "Right strip", 62, 10, {9, 110, 0, 0.25f}, "#FFFFFF", 3.6);
    addCard(s, "Above", 0, 76, {70, 14, 0, 0.5f}, "#FFFFFF", 2.2);
    return s;
}

// Three times as bright above as at the horizon (ISO 15469/CIE S 011, type 1, the standard overcast sky).
Surroundings overcast()
{
    return sky(hue("#F6F9FF"), hue("#F6F9FF", 0.34f), hue("#8E877C", 0.2f), 1);
}

Surroundings clearNoon()
{
    Surroundings s = sky(hue("#3D7CC9", 0.8f), hue("#C3DCF2"), hue("#B7A98C", 0.5f), 0.45f);
    addCard(s, "Round the sun", 38, 58, {44, 44, 1, 1}, "#F4FAFF", 0.8);
    addCard(s, "Sun", 38, 58, {5, 5, 1, 0.3f}, "#FFF6E6", 7.5);
    return s;
}

Surroundings lowEveningSun()
{
    Surroundings s = sky(hue("#3F5587", 0.5f), hue("#F2A877", 0.75f), hue("#4B372C", 0.4f), 0.4f);
    addCard(s, "Glow", -72, 6, {120, 44, 1, 1}, "#FF9A4D", 1);
    addCard(s, "Sun", -72, 9, {6, 6, 1, 0.3f}, "#FFC98A", 6.4);
    addCard(s, "Clouds", 60, 24, {80, 7, 0.8f, 0.9f, 6}, "#FFC2A6", 0.5);
    return s;
}

Surroundings blueHour()
{
    Surroundings s = sky(hue("#1C3568", 0.6f), hue("#7E9AD8", 0.6f), hue("#141A2C", 0.5f), 0.5f);
    addCard(s, "Last light", 100, 3, {130, 26, 1, 1}, "#F6A98C", 0.2);
    addCard(s, "First lamp", -40, 30, {5, 5, 1, 0.4f}, "#FFD08A", 4.6);
    return s;
}

Surroundings nightStreet()
{
    Surroundings s = sky(hue("#0B1024", 0.5f), hue("#2A2438", 0.5f), hue("#151520", 0.6f), 0.4f);
    addCard(s, "Street lamp", -35, 48, {10, 10, 1, 0.5f}, "#FFC98A", 4.4);
    addCard(s, "Street lamp", 70, 40, {8, 8, 1, 0.5f}, "#FFC98A", 4.2);
    constexpr const char* kColours[] = {"#FF5A4A", "#FFC24B", "#5AE0A0", "#5AA8FF", "#FF6AC8", "#FFF2DC"};
    for (int i = 0; i < 16; ++i)
        addCard(s, "Light", -150 + 19.0 * i + 5 * (i % 3), -6 + 5.0 * (i % 4), {2.0 + i % 3, 2.0 + (i * 2) % 3, 1, 0.4f}, kColours[i % 6],
                4);
    addCard(s, "Shop window", 128, 2, {46, 22, 0, 0.1f}, "#FFE2B0", 1.6);
    return s;
}

Surroundings galleryCeiling()
{
    Surroundings s = sky(hue("#FFFFFF", 0.22f), hue("#FFFFFF", 0.4f), hue("#9C7A58", 0.3f), 0.5f);
    for (int i = -2; i <= 2; ++i)
        addCard(s, "Ceiling light", i < 0 ? -90 : 90, i == 0 ? 89 : 90 - 24.0 * std::abs(i), {10, 84, 0, 0.08f, i == 0 ? 0.0 : 90.0},
                "#FFFDF6", 2.6);
    return s;
}

Surroundings onePatch()
{
    Surroundings s = sky({}, {}, {}, 1);
    addCard(s, "Patch", -18, 40, {80, 56, 0.7f, 1}, "#FFFFFF", 1.8);
    return s;
}

Surroundings workshop()
{
    Surroundings s = sky(hue("#8C7A66", 0.2f), hue("#8C6F50", 0.28f), hue("#4A3A2C", 0.35f), 0.6f);
    addCard(s, "Tube", -50, 66, {6, 70, 0, 0.1f, 40}, "#F4FBFF", 3.2);
    addCard(s, "Tube", 40, 66, {6, 70, 0, 0.1f, -40}, "#F4FBFF", 3.2);
    addCard(s, "Window", 96, 16, {40, 34, 0, 0.04f}, "#DCEBFF", 2.4);
    addCard(s, "Glazing bar", 96, 16, {2.5, 34, 0, 0.02f}, "#000000", 0);
    addCard(s, "Cupboard", -110, -6, {50, 44, 0, 0.05f}, "#000000", 0);
    return s;
}

Surroundings neonAlley()
{
    Surroundings s = sky(hue("#0A0A14", 0.5f), hue("#1E1226", 0.5f), hue("#10101A", 0.5f), 0.5f);
    addCard(s, "Sign", -64, 12, {12, 74, 0.2f, 0.3f}, "#FF3FA8", 3.4);
    addCard(s, "Sign", 66, 16, {14, 66, 0.2f, 0.3f}, "#30D8FF", 3.2);
    addCard(s, "Sign", -112, 30, {36, 8, 0.3f, 0.3f}, "#FFB03A", 3);
    addCard(s, "Sign", 116, -4, {30, 12, 0.3f, 0.3f}, "#7C5CFF", 3);
    addCard(s, "Puddles", 0, -48, {90, 20, 1, 1}, "#8A4AFF", -0.5);
    return s;
}

Surroundings beach()
{
    Surroundings s = sky(hue("#4E94DC", 0.85f), hue("#EAF4FB"), hue("#E2C79A", 0.8f), 0.4f);
    addCard(s, "Sea", 180, -7, {170, 13, 0, 0.15f}, "#2E8C9E", -0.6);
    addCard(s, "Sun", -30, 52, {7, 7, 1, 0.5f}, "#FFF8EA", 6.6);
    addCard(s, "Cloud", 64, 34, {56, 16, 0.9f, 0.9f, -5}, "#FFFFFF", 0.7);
    addCard(s, "Cloud", -96, 26, {44, 12, 0.9f, 0.9f, 4}, "#FFFFFF", 0.6);
    return s;
}

Surroundings snow()
{
    Surroundings s = sky(hue("#A9C6EA", 0.8f), hue("#F2F7FF"), hue("#EEF4FF", 0.92f), 0.7f);
    addCard(s, "Hazy sun", -40, 34, {26, 26, 1, 1}, "#FFF6E4", 3);
    addCard(s, "Wood", 150, 4, {150, 12, 0.3f, 0.7f}, "#000000", 0);
    return s;
}

Surroundings stage()
{
    Surroundings s = sky({}, hue("#FFFFFF", 0.01f), {}, 1);
    for (int i = -1; i <= 1; ++i)
        addCard(s, "Front lamp", 34.0 * i, 46, {12, 12, 1, 0.6f}, "#FFE4C0", 4);
    addCard(s, "Rim", -142, 34, {16, 40, 0.4f, 0.6f}, "#5C8CFF", 4);
    addCard(s, "Rim", 142, 34, {16, 40, 0.4f, 0.6f}, "#FF6A5C", 4);
    return s;
}

constexpr ReadySurroundings kReady[] = {
    {"light-tent", "Light tent", "white soft bright studio for metal", tent},
    {kFrontForMetal, "Bright front", "studio soft sheet behind the viewer metal gold faces shine", brightFront},
    {"window-wall", "Window wall", "room daylight cool left lamp", windowWall},
    {"two-strips", "Two strips", "studio black long highlights for metal", twoStrips},
    {"overcast", "Overcast", "outside soft grey day", overcast},
    {"clear-noon", "Clear noon", "outside blue sky sun hard", clearNoon},
    {"evening-sun", "Evening sun", "outside warm orange dusk gold", lowEveningSun},
    {"blue-hour", "Blue hour", "outside dusk cool lamp", blueHour},
    {"night-street", "Night street", "outside dark points of colour lights", nightStreet},
    {"gallery-ceiling", "Gallery ceiling", "room strips above museum", galleryCeiling},
    {"soft-patch", "Soft patch", "black studio alone balloons one", onePatch},
    {"workshop", "Workshop", "room warm tubes window", workshop},
    {"neon-alley", "Neon alley", "night pink cyan signs colour", neonAlley},
    {"beach", "Beach", "outside sun sea sand bright", beach},
    {"snow", "Snow", "outside bright white cold", snow},
    {"stage", "Stage", "black lamps rims blue red show", stage},
};

}  // namespace

std::span<const ReadySurroundings> readySurroundings()
{
    return kReady;
}

const ReadySurroundings* readySurroundings(std::string_view name)
{
    const auto found = std::ranges::find_if(
        kReady, [&](const ReadySurroundings& r) { return base::sameInAnyCase(name, r.id) || base::sameInAnyCase(name, r.name); });
    return found == std::end(kReady) ? nullptr : found;
}

bool isDullInEvenLight(const Material& material)
{
    return material.metallic >= 0.5f && material.roughness <= 0.5f;
}

double surroundingsOnCard(const Work& work)
{
    const Surroundings& s = work.surroundings;
    const double factor = static_cast<double>(luminance(s.factor()));
    return s.kind == SurroundingsKind::Even ? factor
                                            : factor * static_cast<double>(luminance(light::skyMap(skyOf(work, true))->onCard({0, 0, 1})));
}

void setSurroundingsOnCard(Work& work, double wanted)
{
    const double is = surroundingsOnCard(work);
    if (is > 1e-12 && wanted > 0)
        work.surroundings.stops = std::clamp(std::round(100 * (work.surroundings.stops + std::log2(wanted / is))) / 100, -20.0, 20.0);
}

namespace {

// What was black gives no measure.
double measuredOn(const Work& work)
{
    const double was = work.surroundings.on ? surroundingsOnCard(work) : 0;
    return was > 1e-4 ? was : 0.33;
}

}  // namespace

void useSurroundings(Work& work, const ReadySurroundings& ready, bool keepsExposure)
{
    const double was = keepsExposure ? measuredOn(work) : 0;
    Surroundings made = ready.make();
    Ordered<SkyCard> cards;
    std::swap(cards, made.cards);
    made.stops = 0;
    made.casting = work.surroundings.casting;
    work.surroundings = made;
    for (const std::string& id : cards.order)
        work.surroundings.cards.add(work.newId("k"), cards.items.at(id));
    if (keepsExposure)
        setSurroundingsOnCard(work, was);
}

void usePanorama(Work& work, const PanoramaFile& file, bool keepsExposure)
{
    const double was = keepsExposure ? measuredOn(work) : 0;
    if (work.surroundings.kind != SurroundingsKind::Picture) {
        Surroundings fresh;
        fresh.casting = work.surroundings.casting;
        work.surroundings = fresh;
    }
    work.surroundings.kind = SurroundingsKind::Picture;
    work.surroundings.on = true;
    work.surroundings.picture = addPanorama(work, file);
    work.surroundings.stops = 0;
    if (keepsExposure)
        setSurroundingsOnCard(work, was);
}

}  // namespace work
