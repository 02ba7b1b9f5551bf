#include "work/properties.h"

namespace work {

namespace {

// From -1 to 1, 0 changes nothing.
constexpr Number bothWays(const char* key, const char* label, const char* what)
{
    return share(key, label, what).from(-1);
}

}  // namespace

void describe(Visitor& v, finish::Tone& t)
{
    v.number(stops("exposure", "Exposure", "One stop doubles what is seen", Counts::Finish).in(0.05, 2), t.exposure);
    v.number(bothWays("contrast", "Contrast", "About the middle grey; -1 leaves nothing but that"), t.contrast);
    v.number(bothWays("saturation", "Saturation", "-1 is black and white"), t.saturation);
    v.number(bothWays("warmth", "Warmth", "Warmer, or cooler below 0"), t.warmth);
    v.number(bothWays("highlights", "Highlights", "Of what is bright; white stays"), t.highlights);
    v.number(bothWays("shadows", "Shadows", "Of what is dark; black stays"), t.shadows);
    v.number(bothWays("whites", "Whites", "Where white begins: above 0 more becomes white"), t.whites);
    v.number(bothWays("blacks", "Blacks", "Where black begins: above 0 black is lifted"), t.blacks);
    v.number(bothWays("tint", "Tint", "Towards green, or magenta below 0"), t.tint);
    v.number(bothWays("vibrance", "Vibrance", "Saturation of pale colours; strong ones stay"), t.vibrance);
    v.number(angle("hue", "Hue", "All colours turned round the circle", -180, 180), t.hue);
}

void describe(Visitor& v, finish::Levels& l)
{
    v.number(share("low", "Black from", "What is as dark becomes black"), l.low);
    v.number(share("high", "White from", "What is as bright becomes white"), l.high);
    v.number(plain("middle", "Middle", "Above 1 brightens between them, below darkens", 0.1, 10).in(0.05, 2), l.middle);
    v.number(share("outLow", "Black becomes", "So bright"), l.outLow);
    v.number(share("outHigh", "White becomes", "So bright"), l.outHigh);
}

void describe(Visitor& v, finish::Duotone& d)
{
    v.colour({"dark", "Dark", "What black becomes"}, d.dark, &d.swatch);
    v.colour({"light", "Light", "What white becomes"}, d.light, nullptr);
}

void describe(Visitor& v, finish::Fill& f)
{
    const bool gradient = f.form != finish::FillForm::Even;
    v.oneOf({"form", "Form", "The same everywhere, or from one colour to another"}, f.form, kFillForms);
    v.colour({"colour", gradient ? "From" : "Colour", "Of the fill"}, f.colour, &f.swatch);
    v.colour({"to", "To", "The other end of the gradient", Counts::Exposure, gradient}, f.to, nullptr);
    v.number(share("toOpacity", "Covers there", "How much the other end covers; 0 fades out").when(gradient), f.toOpacity);
    v.number(angle("turn", "Turned", "Where the other end lies: 0 right, 90 up", -360, 360).when(f.form == finish::FillForm::Linear),
             f.turn);
    v.number(share("reach", "Reach", "How far the colours go over: of the way across the frame, or from its middle to a corner", 4)
                 .from(0.01)
                 .when(gradient),
             f.reach);
    v.flag({"byLetter", "Letter by letter", "The gradient lies over each letter by itself, and nowhere else", Counts::Exposure, gradient},
           f.byLetter);
}

void describe(Visitor& v, finish::Halo& h)
{
    v.number(length("radiusPt", "Radius", "How far its light reaches", 0.1, 5000).in(1, 1), h.radius);
    v.number(share("from", "From", "Only light above this gives some off, of white", 20).in(0.05, 0), h.from);
    v.number(stops("stops", "Brightness", "Each stop doubles it", Counts::Finish), h.stops);
    v.colour({"tint", "Tint", "Of its light"}, h.tint, &h.swatch);
}

void describe(Visitor& v, finish::Soften& s)
{
    v.number(length("radiusPt", "Radius", "How soft", 0, 2000).in(0.5, 2), s.radius);
}

void describe(Visitor& v, finish::Sharpen& s)
{
    v.number(length("radiusPt", "Radius", "Of what counts as fine", 0.1, 200).in(0.1, 2), s.radius);
    v.number(share("amount", "Amount", "How much fine things stand out more", 5), s.amount);
}

void describe(Visitor& v, finish::Grain& g)
{
    v.number(length("sizePt", "Size", "Of its grains", 0.1, 200).in(0.1, 2), g.size);
    v.number(share("amount", "Amount", "Its spread, of the way from grey to white", 2), g.amount);
    v.number(share("colour", "Coloured", "How much of it differs by channel"), g.colour);
    v.number(count("seed", "Another one", "Each number gives other grains", 0, 1000000), g.seed);
}

void describe(Visitor& v, finish::Vignette& g)
{
    v.number(share("amount", "Amount", "In the corners"), g.amount);
    v.number(share("begins", "Begins", "Of the way from the middle to a corner"), g.begins);
    v.number(share("roundness", "Roundness", "0 is as long as the frame, 1 a circle"), g.roundness);
    v.colour({"colour", "Colour", "Of the corners"}, g.colour, nullptr);
}

void describe(Visitor& v, finish::PrintRaster& r)
{
    v.number(length("sizePt", "Size", "From dot to dot", 0.5, 1000).in(0.5, 2), r.size);
    v.number(angle("turn", "Turned", "Of the rows of dots", -360, 360), r.turn);
    v.colour({"ink", "Ink", "Of the dots"}, r.ink, &r.swatch);
    v.colour({"paper", "Paper", "Between them"}, r.paper, nullptr);
}

void describe(Visitor& v, finish::FlatShadow& s)
{
    v.number(length("rightPt", "Right by", "How far it is moved", -10000, 10000).in(1, 1), s.right);
    v.number(length("downPt", "Down by", "How far it is moved", -10000, 10000).in(1, 1), s.down);
    v.number(length("softnessPt", "Softness", "Of its edge", 0, 1000).in(0.5, 2), s.softness);
    v.flag({"long", "Long", "All the way from the letters to there"}, s.isLong);
    v.colour({"colour", "Colour", "Of the shadow"}, s.colour, &s.swatch);
}

void describe(Visitor& v, finish::Picture& p)
{
    v.text({{"picture", "Picture", "As typed; what lets through in it lets through here"}}, p.asset);
    v.number(place("x", "Across", "Its middle, from that of the sheet"), p.x);
    v.number(place("y", "Up", "Its middle, from that of the sheet"), p.y);
    v.number(length("widthPt", "Width", "It is as high as that makes it", 0.1, 1e6).in(5, 1), p.width);
    v.number(angle("turn", "Turned", "Counter-clockwise", -360, 360), p.turn);
    v.oneOf({"edges", "Beyond it", "A picture lies there once, a texture goes on"}, p.edges, kPictureEdges);
    const bool once = p.edges == surface::PictureEdges::Once;
    v.number(share("cropLeft", "Crop left", "What is cut off it, of its width", 1).when(once), p.cropLeft);
    v.number(share("cropRight", "Crop right", "What is cut off it, of its width", 1).when(once), p.cropRight);
    v.number(share("cropTop", "Crop top", "What is cut off it, of its height", 1).when(once), p.cropTop);
    v.number(share("cropBottom", "Crop bottom", "What is cut off it, of its height", 1).when(once), p.cropBottom);
}

void describe(Visitor& v, finish::Lines& l)
{
    v.number(length("widthPt", "Width", "Of the lines", 0.1, 200).in(0.1, 2), l.width);
    v.colour({"colour", "Colour", "Of the lines"}, l.colour, &l.swatch);
    v.flag({"betweenLetters", "Between letters", "Also where one letter meets another"}, l.letters);
    v.flag({"betweenParts", "Between parts", "Also where face, bevel and side meet"}, l.parts);
}

void describe(Visitor& v, finish::Curves& c)
{
    v.oneOf({"channel", "Channel", "That it bends"}, c.of, kCurvesOf);
    v.number(share("black", "Black becomes", "Of the way to white"), c.black);
    v.number(share("dark", "A quarter", "What it becomes"), c.dark);
    v.number(share("middle", "The middle", "What it becomes"), c.middle);
    v.number(share("bright", "Three quarters", "What they become"), c.bright);
    v.number(share("white", "White becomes", "Of the way from black"), c.white);
}

void describe(Visitor& v, finish::Mixer& m)
{
    const auto of = [](const char* key, const char* label, const char* what) { return share(key, label, what, 2).from(-2); };
    v.number(of("redRed", "Red of red", "How much of the red there is goes into the red that is seen"), m.redRed);
    v.number(of("redGreen", "Red of green", "How much of the green there is goes into the red that is seen"), m.redGreen);
    v.number(of("redBlue", "Red of blue", "How much of the blue there is goes into the red that is seen"), m.redBlue);
    v.number(of("greenRed", "Green of red", "How much of the red there is goes into the green that is seen"), m.greenRed);
    v.number(of("greenGreen", "Green of green", "How much of the green there is goes into the green that is seen"), m.greenGreen);
    v.number(of("greenBlue", "Green of blue", "How much of the blue there is goes into the green that is seen"), m.greenBlue);
    v.number(of("blueRed", "Blue of red", "How much of the red there is goes into the blue that is seen"), m.blueRed);
    v.number(of("blueGreen", "Blue of green", "How much of the green there is goes into the blue that is seen"), m.blueGreen);
    v.number(of("blueBlue", "Blue of blue", "How much of the blue there is goes into the blue that is seen"), m.blueBlue);
}

void describe(Visitor& v, finish::Rays& r)
{
    v.number(count("count", "Rays", "Of each star", 1, 16), r.count);
    v.number(length("lengthPt", "Length", "To where a tenth of its light is left", 1, 5000).in(1, 1), r.length);
    v.number(angle("turn", "Turned", "The way of the first ray; 0 is right, 90 up", -360, 360), r.turn);
    v.number(share("from", "From", "Only light above this gives some off, of white", 20).in(0.05, 0), r.from);
    v.number(stops("stops", "Brightness", "Each stop doubles it", Counts::Finish), r.stops);
    v.colour({"tint", "Tint", "Of its light"}, r.tint, &r.swatch);
}

void describe(Visitor& v, finish::Flare& f)
{
    v.text({{"lamp", "Lamp", "Whose place it has in the picture; none: the place is typed", Counts::Finish}}, f.lamp);
    v.number(place("x", "Across", "The lamp, from the sheet's middle").when(f.lamp.empty()), f.x);
    v.number(place("y", "Up", "The lamp, from the sheet's middle").when(f.lamp.empty()), f.y);
    v.number(length("sizePt", "Size", "Of its ring; all of it grows with it", 1, 10000).in(5, 1), f.size);
    v.number(share("ring", "Ring", "How strong it is; 1 is twice as strong as usual"), f.ring);
    v.number(count("ghosts", "Ghosts", "Spots on the line from the lamp through the middle", 0, 16), f.ghosts);
    v.number(stops("stops", "Brightness", "Each stop doubles it", Counts::Finish), f.stops);
    v.colour({"tint", "Tint", "Of its light"}, f.tint, &f.swatch);
    v.number(count("seed", "Another one", "Each number gives other ghosts", 0, 1000000), f.seed);
}

void describe(Visitor& v, finish::Beams& b)
{
    v.text({{"lamp", "Lamp", "Whose place it has in the picture; none: the place is typed", Counts::Finish}}, b.lamp);
    v.number(place("x", "Across", "The lamp, from the sheet's middle").when(b.lamp.empty()), b.x);
    v.number(place("y", "Up", "The lamp, from the sheet's middle").when(b.lamp.empty()), b.y);
    v.number(length("sizePt", "Reach", "Where half of its light is left", 1, 1e5).in(5, 1), b.size);
    v.number(stops("stops", "Brightness", "Each stop doubles it", Counts::Finish), b.stops);
    v.colour({"tint", "Tint", "Of its light"}, b.tint, &b.swatch);
}

void describe(Visitor& v, finish::Particles& p)
{
    const bool fly = p.form != finish::ParticleForm::Dots;
    v.oneOf({"form", "Form", "Of each of them"}, p.form, kParticleForms);
    v.number(count("count", "Number", "In the whole frame", 0, 20000).in(10, 0), p.count);
    v.number(length("sizePt", "Size", "Of the largest", 0.1, 1000).in(0.5, 2), p.size);
    v.colour({"colour", "From", "They have the colours between these two"}, p.colour, &p.swatch);
    v.colour({"to", "To", "They have the colours between these two"}, p.to, nullptr);
    v.number(share("variation", "Variation", "Of their sizes; 0: all alike"), p.variation);
    v.number(angle("turn", "They fly", "0 is right, 90 up", -360, 360).when(fly), p.turn);
    v.number(angle("spread", "Spread", "How far their ways differ from that", 0, 180).when(fly), p.spread);
    v.number(share("gathers", "Gather", "Towards the frame's middle"), p.gathers);
    v.number(count("seed", "Another one", "Each number strews them anew", 0, 1000000), p.seed);
}

void describe(Visitor& v, finish::Smoke& s)
{
    v.number(length("sizePt", "Size", "Of a cloud", 1, 10000).in(5, 1), s.size);
    v.number(share("density", "Density", "How much it hides where it is thickest"), s.density);
    v.colour({"colour", "Colour", "Of the smoke"}, s.colour, &s.swatch);
    v.number(angle("turn", "Thickest", "-90 at the bottom, 0 on the right, 90 at the top", -360, 360), s.turn);
    v.number(share("reach", "Reach", "How far it goes from there; 0: it is the same everywhere", 2), s.reach);
    v.number(count("seed", "Another one", "Each number gives other clouds", 0, 1000000), s.seed);
}

void describe(Visitor& v, finish::Trail& t)
{
    using finish::TrailForm;
    const bool along = t.form == TrailForm::Along;
    v.oneOf({"way", "Way", "Of the movement"}, t.form, kTrailForms);
    v.number(length("lengthPt", "Length", "How far it moves", 0, 5000).in(1, 1).when(along), t.length);
    v.number(angle("turn", "Goes to", "0 is right, 90 up", -360, 360).when(along), t.turn);
    v.number(angle("angle", "Angle", "How far it turns", 0, 360).when(t.form == TrailForm::Round), t.angle);
    v.number(share("zoom", "Zoom", "How far it moves, of the way to the point", 0.9).when(t.form == TrailForm::Zoom), t.zoom);
    v.number(place("x", "Across", "The point, from the sheet's middle").when(!along), t.x);
    v.number(place("y", "Up", "The point, from the sheet's middle").when(!along), t.y);
    v.flag({"onlyBehind", "Only behind", "What moves leaves a trail, instead of being blurred both ways"}, t.onlyBehind);
}

void describe(Visitor& v, finish::Stuff& s)
{
    using finish::StuffForm;
    const bool covers = s.form == StuffForm::Dust || s.form == StuffForm::Scratches || s.form == StuffForm::Worn;
    v.oneOf({"form", "Form", "What it is"}, s.form, kStuffForms);
    v.number(length("sizePt", "Size", "Of a fibre, a thread, a speck", 0.1, 500).in(0.5, 2), s.size);
    v.number(share("amount", "Amount", "How much of it is seen"), s.amount);
    v.number(angle("turn", "Turned", "Of threads and scratches", -360, 360).when(s.form != StuffForm::Dust), s.turn);
    v.colour({"colour", "Colour", "Of specks, scratches and bare paper", Counts::Exposure, covers}, s.colour, &s.swatch);
    v.number(count("seed", "Another one", "Each number gives another sheet", 0, 1000000), s.seed);
}

void describe(Visitor& v, finish::Misprint& m)
{
    v.number(length("rightPt", "Right by", "Of cyan; yellow goes the other way", -1000, 1000).in(0.1, 2), m.right);
    v.number(length("downPt", "Down by", "Of cyan; yellow goes the other way", -1000, 1000).in(0.1, 2), m.down);
}

void describe(Visitor& v, finish::Bands& b)
{
    v.number(length("sizePt", "Size", "From band to band", 0.5, 10000).in(1, 1), b.size);
    v.number(angle("turn", "Across", "The way across them; 0 is right, 90 up", -360, 360), b.turn);
    v.number(share("softness", "Softness", "How far they go over"), b.softness);
    v.number(share("variation", "Variation", "Of their widths"), b.variation);
    v.colour({"colour", "Colour", "Of every other band"}, b.colour, &b.swatch);
    v.colour({"to", "To", "Of those between"}, b.to, nullptr);
    v.number(share("toOpacity", "Covers there", "How much those between cover"), b.toOpacity);
    v.number(count("seed", "Another one", "Each number gives other widths", 0, 1000000), b.seed);
}

void describe(Visitor& v, finish::Print& p)
{
    v.text({{"piece", "Piece", "That is printed flat over the picture, as it lies on the sheet, and is no body"}}, p.piece);
    v.colour({"colour", "Colour", "Of the print"}, p.colour, &p.swatch);
}

void describe(Visitor& v, finish::Code& c)
{
    v.oneOf({"code", "Code", "A QR code for any text, or the 13 digits of an article's number"}, c.form, kCodeForms);
    v.text({{"text", "Says", "What machines read: an address, or 12 or 13 digits of an EAN"}}, c.text);
    v.number(place("x", "Across", "Its middle, from that of the sheet"), c.x);
    v.number(place("y", "Up", "Its middle, from that of the sheet"), c.y);
    v.number(length("sizePt", "Size", "Its width, with the quiet zone round it", 5, 100000).in(1, 1), c.size);
    v.colour({"colour", "Colour", "Of the bars; dark, for readers to see them"}, c.colour, &c.swatch);
    v.colour({"paper", "Field", "Light, for readers to see the bars"}, c.paper, nullptr);
}

void describe(Visitor& v, finish::Lookup& l)
{
    v.text({{"table", "Table", "A .cube file in this work: colours as they are seen go in and come out"}}, l.asset);
}

void describe(Visitor&, finish::Group&) {}

void describe(Visitor& v, Stroke& s)
{
    constexpr std::size_t kMostPointText = 200000;  // bytes
    const auto wrong = [](const std::string& points) {
        return pointsOf(points).empty() ? std::string("A stroke has points, as \"x,y x,y\" in pt") : std::string();
    };
    v.text(
        {{"points", "Points", "\"x,y x,y\" in pt from the sheet's middle, y up; as SVG writes those of a polyline"}, kMostPointText, wrong},
        s.points);
    v.number(length("sizePt", "Brush", "Across", 0.1, 1e5).at(Counts::Finish).in(5, 1), s.size);
    v.number(share("softness", "Softness", "Of its radius, where it fades"), s.softness);
    v.flag({"erases", "Erases", "It takes away from the strokes before it"}, s.erases);
}

void describe(Visitor& v, Layer& l)
{
    v.text({{"name", "Name", "Empty: it is named after what it does"}}, l.name);
    v.flag({"on", "On", "It is seen"}, l.on);
    v.number(share("strength", "Strength", "0 changes nothing"), l.strength);
    v.oneOf({"blend", "Blend", "How it goes over what is below", Counts::Exposure, !l.isLight()}, l.blend, kBlends);
    v.oneOf({"acts", "Acts on", "Where it is seen"}, l.acts, kActs);
    v.list({"pieces", "Only on", "Ids of pieces, or of their letters as \"p1/a2\"; none: on all"}, l.pieces);
    v.list({"parts", "Only on parts", "Names of parts, such as face or side; none: on all"}, l.parts);
    v.text({{"lightOf", "Light of", "Id of a lamp, or \"surroundings\": it acts as far as the light is of that one; empty: of any"}},
           l.light);
    v.oneOf({"lit", "Light and shadow", "As far as the lights are hidden from what is there, or not"}, l.lit, kLits);
    v.number(length("edgePt", "Soft edge", "How softly it ends there", 0, 1000).in(0.5, 2), l.edge);
    v.number(share("darkest", "Not darker", "It acts on what is at least so bright"), l.darkest);
    v.number(share("brightest", "Not brighter", "It acts on what is at most so bright"), l.brightest);
    v.number(share("fades", "Fades", "Across the frame; 1: to nothing"), l.fades);
    v.number(angle("fadesTurn", "Fades to", "0 the right, 90 the top", -360, 360).when(l.fades > 0), l.fadesTurn);
    v.number(length("farFromPt", "Far from", "Behind the point the view is aimed at, negative before it: it begins to act there", -1e6, 1e6)
                 .at(Counts::Finish)
                 .in(5, 1),
             l.farFrom);
    v.number(length("farToPt", "Far to", "It acts wholly from there on; the same as where it begins: at any depth", -1e6, 1e6)
                 .at(Counts::Finish)
                 .in(5, 1),
             l.farTo);
    v.flag({"inverted", "Inverted", "Everywhere but there"}, l.inverted);
    v.things({"strokes", "Strokes", "Drawn by hand: it acts only there"}, l.strokes);
    v.text({{"group", "In group", "Id of the group it is in; empty: of none"}}, l.group);
    describe(v, l.what);
}

void describe(Visitor& v, Finish& f)
{
    v.number(stops("exposure", "Exposure", "Of the whole picture: one stop doubles the light", Counts::Finish), f.exposure);
    v.oneOf(
        {"viewTransform", "Colours", "True colour: typed is seen; soft whites: bright whites roll off instead of clipping", Counts::Finish},
        f.viewTransform, kViewTransforms);
    v.things({"layers", "Layers", "Over the developed picture, from the lowest to the topmost", Counts::Finish}, f.layers);
}

}  // namespace work
