#include "work/properties.h"

namespace work {

void describe(Visitor& v, SheetSize& s)
{
    const auto side = [](const char* key, const char* label, const char* what, double least) {
        return plain(key, label, what, least, 100000).in(1, 3);
    };
    v.number(side("width", "Width", "Of the sheet, in its unit", 0.01), s.width);
    v.number(side("height", "Height", "Of the sheet, in its unit", 0.01), s.height);
    v.oneOf({"unit", "Unit", "Of the sheet and of all lengths in the ticket; the sheet keeps its size"}, s.unit, kUnits);
    v.number(plain("ppi", "Resolution", "Pixels per inch: 72 for screens, 300 for print", 1, 4800), s.ppi);
    v.number(side("margin", "Margin", "Kept free along the edges, in the sheet's unit; pieces snap to it", 0).at(Counts::Never).in(1, 2),
             s.margin);
}

void describe(Visitor& v, FontChoice& f)
{
    v.text({{"family", "Family", "Family name of the face"}}, f.family);
    v.text({{"style", "Style", "Style name of the face, empty for the regular one"}}, f.style);
    v.text({{"asset", "File", "Font file in this work, empty to look the family up on the machine"}}, f.asset);
    v.number(count("index", "Face", "Number of the face in its file", 0, 65535), f.index);
    v.text({{"variations", "Axes", "Settings of a variable font, such as wght=800"}}, f.variations);
}

void describe(Visitor& v, LinePoint& p)
{
    v.number(place("x", "Across", "Of the point"), p.x);
    v.number(place("y", "Up", "Of the point"), p.y);
    v.number(place("inX", "Handle across", "Towards the point before, from this one; 0: straight"), p.inX);
    v.number(place("inY", "Handle up", "Towards the point before, from this one; 0: straight"), p.inY);
    v.number(place("outX", "Handle across", "Towards the next point, from this one; 0: straight"), p.outX);
    v.number(place("outY", "Handle up", "Towards the next point, from this one; 0: straight"), p.outY);
}

void describe(Visitor& v, SharePoint& p)
{
    const auto of = [](const char* key, const char* label, const char* what) { return plain(key, label, what, -100, 100).in(0.01, 3); };
    v.number(of("x", "Across", "Of the point: 0 is the left end of the lettering, 1 the right one"), p.x);
    v.number(of("y", "Up", "Of the point: 0 is the last baseline, 1 the height of the capitals"), p.y);
    v.number(of("inX", "Handle across", "Towards the point before, from this one"), p.inX);
    v.number(of("inY", "Handle up", "Towards the point before, from this one"), p.inY);
    v.number(of("outX", "Handle across", "Towards the next point, from this one"), p.outX);
    v.number(of("outY", "Handle up", "Towards the next point, from this one"), p.outY);
}

void describe(Visitor& v, DrawnLine& l)
{
    v.things({"points", "Points", "From its start to its end"}, l.points);
    v.flag({"closed", "Closed", "It ends where it begins"}, l.closed);
}

void describe(Visitor& v, Run& r)
{
    if (!v.kind({"kind", "Runs", "Straight, along a line, or bent between two lines"}, r.kind, kRuns, r.newer))
        return;
    const bool arc = r.kind == RunKind::Arc, spiral = r.kind == RunKind::Spiral, ellipse = r.kind == RunKind::Ellipse;
    const bool along = r.isAlong(), two = r.kind == RunKind::TwoLines, drawn = !r.top.items.empty();
    v.number(angle("bend", "Bend", "From the first letter to the last; negative hangs down", -720, 720).when(arc), r.bend);
    v.number(length("widthPt", "Across", "Diameter of the line", 0.1, 1e6).in(5, 1).when(r.kind == RunKind::Circle || ellipse || spiral),
             r.width);
    v.number(length("heightPt", "Upright", "Diameter of the line", 0.1, 1e6).in(5, 1).when(ellipse), r.height);
    v.number(plain("turns", "Turns", "Of the spiral", 0.25, 50).in(0.25, 2).when(spiral), r.turns);
    v.number(share("inner", "Begins at", "Inner diameter of the spiral, of its outer one").when(spiral), r.inner);
    v.object({"line", "Line", "Drawn by hand"}, r.line);
    v.text({{"piece", "Piece", "Whose outline it runs round"}}, r.piece);
    v.text({{"shape", "Shape", "Of that piece; empty: its largest"}}, r.shape);
    v.oneOf({"side", "Letters", "They stand on the line, or hang from it", Counts::Exposure, along}, r.side, kSides);
    Number start = share("start", "Start", "Shifted along the line, in hundredths of it").in(0.01, 1).when(along && !arc);
    start.least = -1;
    v.number(start, r.start);
    v.flag({"backwards", "From the other end", "Along the line the other way: the lower half of a circle reads from the left",
            Counts::Exposure, along && !arc},
           r.backwards);
    v.flag({"upright", "Upright letters", "They stay upright instead of turning with the line", Counts::Exposure, along}, r.upright);
    v.flag({"fill", "Spread over the line", "Letters are spaced out over its whole length", Counts::Exposure, along && !arc}, r.fill);
    v.oneOf({"lines", "Start", "Two lines to begin with; drag their points in the picture", Counts::Exposure, two && !drawn}, r.lines,
            kLineStarts);
    Number amount = share("amount", "Amount", "How far the lines are from straight; negative the other way round", 5).in(0.05, 0).when(two);
    amount.least = -5;
    v.number(amount, r.amount);
    v.flag({"eachLine", "Each line by itself", "Every line of text is bent, instead of the whole block", Counts::Exposure, two},
           r.eachLine);
    v.things({"top", "Top line", "Points drawn by hand"}, r.top);
    v.things({"bottom", "Bottom line", "Points drawn by hand"}, r.bottom);
}

void describe(Visitor& v, Shape& s)
{
    const bool corners = s.kind == ShapeKind::Rectangle || s.kind == ShapeKind::Polygon || s.kind == ShapeKind::Star;
    const bool points = s.kind == ShapeKind::Polygon || s.kind == ShapeKind::Star, drawn = s.kind == ShapeKind::Drawn, plate = s.isPlate();
    v.oneOf({"shape", "Shape", "What it is"}, s.kind, kShapes);
    v.number(length("widthPt", "Width", "From side to side", 0.1, 1e6).in(5, 1).when(!drawn && !plate), s.width);
    v.number(length("heightPt", "Height", "From top to bottom; depth and bevels grow with it", 0.1, 1e6).in(5, 1).when(!drawn && !plate),
             s.height);
    v.number(length("roundPt", "Round corners", "Their radius; 0: sharp", 0, 1e6).when(corners), s.round);
    v.number(count("points", "Points", "Of a polygon or star", 3, 200).when(points), s.points);
    v.number(share("inner", "Inner size", "Of a ring or star, of its outer one")
                 .from(0.01)
                 .when(s.kind == ShapeKind::Ring || s.kind == ShapeKind::Star),
             s.inner);
    v.object({"line", "Line", "Drawn with the pen"}, s.line);
    v.number(length("strokePt", "Stroke", "How wide an open line is", 0.01, 1e5).when(drawn && !s.line.closed), s.stroke);
    v.text({{"piece", "Round", "The piece a plate goes round, and follows"}}, s.piece);
    v.list({"letters", "Letters", "A plate goes round these; none: round all"}, s.letters);
    v.number(length("marginPt", "Margin", "How far the plate reaches beyond the letters; less than 0 stays inside them", -1e5, 1e5)
                 .in(0.5, 2)
                 .when(plate),
             s.margin);
    v.number(length("rimPt", "Rim", "Only a rim this wide is left, round the margin; 0 is the whole plate", 0, 1e5).in(0.5, 2).when(plate),
             s.rim);
    v.flag({"fillsHoles", "Fill holes", "Of letters, and between them", Counts::Exposure, plate}, s.fillsHoles);
    v.flag({"behind", "Behind", "The piece lies on its front; else both stand on the same plane", Counts::Exposure, plate}, s.behind);
}

void describe(Visitor& v, Lettering& l)
{
    v.text({{"text", "Text", "What it says; lines end with a line feed"}, kMostText}, l.text);
    v.object({"font", "Face", "The face it is set in"}, l.font);
    v.number(length("sizePt", "Size", "Of the em, in pt; depth and bevels grow with it", 0.1, 50000), l.layout.sizePt);
    v.flag({"fits", "Fit to the sheet", "As large as its sheet allows; stays so while the text changes", Counts::Exposure,
            !l.run.hasOwnMiddle()},
           l.fits);
    v.number(plain("tracking", "Tracking", "Space between all letters, in thousandths of an em", -1000, 10000).in(5, 1), l.layout.tracking);
    v.number(plain("lineSpacing", "Line spacing", "From baseline to baseline, in em", -10, 10)
                 .in(0.05, 2)
                 .when(l.text.find('\n') != std::string::npos),
             l.layout.lineSpacing);
    v.flag({"stacked", "Stacked upright", "Letters stand one under the other; each line is a column", Counts::Exposure, l.run.isStraight()},
           l.layout.stacked);
    v.oneOf({"align", "Alignment", "Of the lines to each other; justified ones are all as wide as the widest"}, l.layout.align, kAligns);
    v.flag({"capitals", "Capitals", "Shown in capitals; the text stays as it was typed"}, l.layout.capitals);
    v.object({"run", "Runs", "What its lines run along"}, l.run);
    v.text({{"features", "Features", "Of the face, as OpenType names them: ss01=1,liga=0"}}, l.layout.features);
    v.list({"letterIds", "Letters", "An id for each grapheme of the text"}, l.letterIds);
    v.number(count("nextLetter", "Next letter", "Number of the next new letter's id", 1, 2000000000).at(Counts::Never), l.nextLetter);
}

void describe(Visitor& v, ArtShape& s)
{
    v.text({{"shape", "Shape", "Its id in the drawing"}}, s.shape);
    v.text({{"name", "Name", "As the artwork calls it", Counts::Never}}, s.name);
    v.colour({"colour", "Colour", "As the artwork paints it", Counts::Never}, s.colour, nullptr);
}

void describe(Visitor& v, Artwork& a)
{
    v.text({{"name", "Name", "Of the file", Counts::Never}}, a.name);
    v.text({{"path", "Path", "Where it was read from, or empty", Counts::Never}, 4096}, a.path);
    v.text({{"original", "Original", "The file as it was, in this work", Counts::Never}}, a.original);
    v.text({{"drawing", "Drawing", "Its shapes, in this work"}}, a.drawing);
    v.number(count("page", "Page", "Of a PDF", 1, 100000).at(Counts::Never), a.page);
    const bool traced = a.isTraced();
    v.text({{"greys", "Greys", "A picture it is traced from, in this work"}}, a.greys);
    v.number(share("threshold", "Threshold", "What is darker becomes a shape").in(0.01, 0).when(traced), a.trace.threshold);
    v.flag({"inverse", "Light on dark", "What is lighter becomes a shape", Counts::Exposure, traced}, a.trace.inverse);
    v.number(share("smoothness", "Smoothness", "0 keeps every corner, 1 rounds all").in(0.05, 0).when(traced), a.trace.smoothness);
    v.number(count("specks", "Leave out specks", "Of so many pixels or fewer", 0, 100000).when(traced), a.trace.specks);
    v.number(length("heightPt", "Height", "Of the artwork's page; depth and bevels grow with it", 0.1, 100000), a.heightPt);
    v.things({"shapes", "Shapes", "From the lowest to the topmost"}, a.shapes);
    v.number(count("nextShape", "Next shape", "Number of the next new shape's id", 1, 2000000000).at(Counts::Never), a.nextShape);
}

void describe(Visitor& v, Grow& g)
{
    v.number(
        length("byPt", "Heavier by", "Outlines grow by so much all round, with round corners; negative: thinner", -10000, 10000).in(0.5, 2),
        g.by);
}

void describe(Visitor& v, RoundCorners& r)
{
    v.number(length("radiusPt", "Radius", "Of the arcs that corners become, as far as the sides allow", 0, 10000).in(0.5, 2), r.radius);
}

void describe(Visitor& v, Combine& c)
{
    v.oneOf({"how", "How", "United with the piece, without it, or only where both are; without a piece, its own letters are united"}, c.how,
            kHows);
    v.text({{"piece", "Piece", "Whose outlines are taken, as both stand on the sheet"}}, c.piece);
}

void describe(Visitor& v, Cut& c)
{
    v.text({{"letter", "Letter", "The line goes with it; empty: with the piece"}}, c.letter);
    v.object({"line", "Line", "Where it cuts"}, c.line);
    v.number(length("gapPt", "Gap", "How wide the cut is", 0, 10000).in(0.5, 2), c.gap);
}

void describe(Visitor& v, Push& p)
{
    v.text({{"letter", "Letter", "The push goes with it; empty: with the piece"}}, p.letter);
    v.number(place("x", "From across", "Where it is pushed"), p.x);
    v.number(place("y", "From up", "Where it is pushed"), p.y);
    v.number(place("byX", "Across by", "How far it is pushed"), p.byX);
    v.number(place("byY", "Up by", "How far it is pushed"), p.byY);
    v.number(length("radiusPt", "Radius", "How far round it goes along, less and less", 0.01, 1e5).in(1, 1), p.radius);
}

void describe(Visitor& v, Mirror& m)
{
    v.flag({"across", "Left and right", "They change places; else top and bottom do"}, m.across);
}

void describe(Visitor& v, OutlineStep& s)
{
    v.flag({"on", "On", "The step is taken"}, s.on);
    v.list({"letters", "Letters", "It is taken on these; none: on all"}, s.letters);
    describe(v, s.what);
}

void describe(Visitor& v, solid::Bevel& b)
{
    const bool stepped = b.profile != solid::Profile::Chamfer, isDrawn = b.profile == solid::Profile::Drawn;
    const bool curved = stepped && !isDrawn && b.profile != solid::Profile::Terraces;
    v.number(length("widthPt", "Bevel width", "Along the face, from its edge; wider than the stroke it ends in a clean ridge; 0 for none",
                    0, 100000)
                 .in(0.5, 2),
             b.widthPt);
    v.number(length("heightPt", "Bevel height", "Along the depth: equal to the width the edge stands at 45 degrees; 0 for none", 0, 100000)
                 .in(0.5, 2),
             b.heightPt);
    v.oneOf({"profile", "Profile",
             "Cross-section: straight, a quarter round outwards or inwards, an S of both, treads and risers, or one of your own"},
            b.profile, kProfiles);
    v.number(count("steps", "Steps", "Of a curve: few catch hard glints, 0 is as many as the picture needs; or how many terraces", 0, 64)
                 .when(stepped),
             b.steps);
    v.flag({"facets", "Hard facets", "Each step is flat with hard edges instead of one curve", Counts::Exposure, curved}, b.facets);
    v.text(profile("drawn", "Drawn profile", "Path from the foot (0 0) to the face (1 1), of M, L and C; empty is a bead over a step"),
           b.drawn);
}

void describe(Visitor& v, solid::Flutes& f)
{
    const bool is = f.count > 0;
    v.number(count("count", "Flutes", "Furrows round the sides, one behind the other; 0 for none", 0, 100), f.count);
    v.number(length("deepPt", "Flute depth", "How deep they are cut into the sides", 0, 100000).in(0.5, 2).when(is), f.deepPt);
    v.text(profile("drawn", "Flute's profile", "Path along the depth, 1 is the deepest, of M, L and C; empty is a half round"), f.drawn);
}

void describe(Visitor& v, solid::Along& a)
{
    v.number(angle("twist", "Twist", "The back is turned by, counter-clockwise, and all between by its share", -3600, 3600), a.twist);
    v.number(share("taper", "Taper", "Size of the back, of the front's: 0 runs to a point", 10).in(0.05, 0), a.taper);
    v.number(place("leanX", "Lean right", "The back is moved by, and all between by its share"), a.leanX);
    v.number(place("leanY", "Lean up", "The back is moved by, and all between by its share"), a.leanY);
    v.number(angle("bend", "Bend", "The depth is bent by, like a finger"), a.bend);
    v.number(angle("bendTowards", "Bent to", "0 is to the right, 90 up").when(a.bend != 0), a.bendTowards);
    v.flag({"together", "As one", "All letters about the piece's middle, instead of each about its own", Counts::Exposure,
            a.twist != 0 || a.taper != 1},
           a.together);
}

void describe(Visitor& v, solid::Inlay& i)
{
    const bool is = !i.none();
    v.number(
        length("sunkPt", "Sunk by", "The face inside a border lies deeper; less than 0 raises it, 0 is none", -100000, 100000).in(0.5, 2),
        i.sunkPt);
    v.number(length("borderPt", "Border", "Of the face that stays, inside the bevel", 0, 100000).in(0.5, 2).when(is), i.borderPt);
    v.number(length("rimPt", "Rim", "Width of what leads to it; 0 is an upright wall", 0, 100000).in(0.5, 2).when(is), i.rimPt);
    const bool leans = is && i.rimPt > 0;
    v.oneOf({"profile", "Rim's profile", "Cross-section of the rim", Counts::Exposure, leans}, i.profile, kProfiles);
    v.number(count("steps", "Rim's steps", "Of a curved rim, 0 is as many as the picture needs; or how many terraces", 0, 64)
                 .when(leans && i.profile != solid::Profile::Chamfer),
             i.steps);
    v.text(profile("drawn", "Drawn rim", "Path across the rim, of M, L and C; empty is a bead over a step"), i.drawn);
}

void describe(Visitor& v, solid::SlabForm& f)
{
    v.number(length("depthPt", "Depth", "From front to back; 0 is flat", 0, 100000).in(1, 2), f.depthPt);
    v.object({"front", "Bevel in front", "Bevel in front"}, f.front);
    v.oneOf({"corners", "Corners", "How bevels and sides turn round a corner: an arc, a point, or straight across"}, f.corners, kCorners);
    v.flag({"grownOut", "Grown out", "Bevels stand round the outline, the face stays as it is drawn; else they are cut into it"},
           f.grownOut);
    v.flag({"linked", "As in front", "The back's bevel is as the front's"}, f.linked);
    v.object({"back", "Bevel at the back", "Bevel at the back"}, f.back);
    v.number(angle("draft", "Draft angle", "How far the sides lean: above 0 the front is smaller, below 0 the back", -85, 85), f.draft);
    v.object({"flutes", "Flutes", "Furrows round the sides"}, f.flutes);
    v.object({"inlay", "Inlay", "A face sunk or raised inside a border"}, f.inlay);
    v.object({"along", "Along the depth", "Twisted, tapered, leaned and bent towards the back; the front stays"}, f.along);
}

void describe(Visitor& v, solid::DomedForm& f)
{
    v.number(
        share("rise", "Rise", "Of the front: 100 % makes a half round of a stroke and a half ball of a dot, 0 is flat", 10).in(0.05, 0),
        f.rise);
    v.number(share("backRise", "Back's rise", "The same at the back, as of a cushion; 0 is flat", 10).in(0.05, 0), f.backRise);
    Number full = share("fullness", "Fullness",
                        "0 is round; more makes flat tops and lifts thin strokes, like a pillow; less makes slanted flanks, like a tent");
    full.least = -1;
    v.number(full.in(0.05, 0), f.fullness);
    v.number(length("depthPt", "Depth", "Of the straight side between front and back; 0 is a cushion", 0, 100000).in(1, 2), f.depthPt);
    v.number(length("seamPt", "Round seam", "How round the rim of slanted flanks is; round domes have none", 0, 1000)
                 .in(0.5, 2)
                 .when(f.fullness < 0),
             f.seamPt);
    v.object({"along", "Along the depth", "Twisted, tapered, leaned and bent towards the back; the front stays"}, f.along);
}

void describe(Visitor& v, solid::TubeForm& f)
{
    const bool rope = f.section == solid::TubeSection::Rope, ribbon = f.section == solid::TubeSection::Ribbon;
    const bool centre = f.path == solid::TubePath::Centre;
    v.oneOf({"path", "Runs along", "The middle of every stroke, or the outline round it"}, f.path, kTubePaths);
    v.oneOf({"section", "Cross-section", "A round tube, a rope of strands, or a ribbon with edges"}, f.section, kTubeSections);
    v.number(length("widthPt", "Width", "Across, in the plane of the letters", 0.01, 10000).in(0.5, 2), f.widthPt);
    v.number(length("heightPt", "Height", "Towards you; 0 is as high as wide", 0, 100000).in(0.5, 2), f.heightPt);
    v.number(length("liftPt", "Lifted by", "Off the plane of its back, as on spacers", 0, 100000).in(0.5, 2), f.liftPt);
    v.flag({"gaps", "Gaps where strokes meet", "A stroke stops short of one that goes on, as bent glass does", Counts::Exposure, centre},
           f.gaps);
    v.number(length("gapPt", "Gap", "Between the two", 0, 10000).in(0.5, 2).when(centre && f.gaps), f.gapPt);
    v.flag({"over", "Over each other", "Where strokes cross, one goes over the other in turn, as bent glass and cords do", Counts::Exposure,
            centre},
           f.over);
    v.flag({"roundEnds", "Round ends", "Half balls; flat ends without", Counts::Exposure, centre && !ribbon}, f.roundEnds);
    v.number(count("strands", "Strands", "Of the rope", 2, 8).when(rope), f.strands);
    v.number(length("layPt", "Lay", "Length in which a strand goes round once", 0.05, 100000).in(1, 1).when(rope), f.layPt);
}

void describe(Visitor& v, solid::BlockForm& f)
{
    v.flag({"toPoint", "To a point", "All sides run to one point; else all in one direction"}, f.toPoint);
    v.number(place("x", "Point across", "Where the sides run to, from the piece's place; without a point, how far the back is moved"), f.x);
    v.number(place("y", "Point up", "Where the sides run to, from the piece's place; without a point, how far the back is moved"), f.y);
    v.number(share("share", "Goes to", "How much of the way to the point they go: 100 % ends in it").in(0.05, 0).when(f.toPoint), f.share);
    v.number(length("depthPt", "Depth", "How far back it reaches; 0 is flat, as a shadow on a poster", 0, 100000).in(1, 2), f.depthPt);
}

void describe(Visitor& v, Pictures& p)
{
    v.text({{"colour", "Colour", "Picture over the base colour, which shows where the picture is clear"}}, p.colour);
    v.text({{"roughness", "Roughness", "Picture whose grey is the roughness: black is a mirror, white chalk"}}, p.roughness);
    v.text({{"metallic", "Metallic", "Picture whose grey is how metallic it is: white is metal"}}, p.metallic);
    v.text({{"relief", "Relief", "Picture whose grey is felt as height: white stands out"}}, p.relief);
    v.text({{"cutOut", "Cut out", "Picture that makes holes where it is clear, or without transparency where it is dark"}}, p.cutOut);
    v.text({{"light", "Light", "Picture that light given off is seen through: black is dark"}}, p.light);
    v.text({{"coat", "Coat", "Picture whose grey is felt as height by the clear coat alone, as ripples in a varnish"}}, p.coat);
    const bool some = p.any();
    v.oneOf({"lies", "Lies", "Where: one sheet over the whole piece, letter by letter, or along the outline", Counts::Exposure, some},
            p.lies, kPictureLies);
    v.number(length("widthPt", "Width", "Of a picture as it lies; each is as high as that makes it", 0.01, 1e6).in(1, 2).when(some),
             p.widthPt);
    v.number(angle("turn", "Turned", "Counter-clockwise").when(some), p.turn);
    v.number(place("x", "Across", "Its middle, right of the middle of what it lies on").when(some), p.x);
    v.number(place("y", "Up", "Its middle, above the middle of what it lies on").when(some), p.y);
    v.oneOf({"edges", "Beyond", "How it goes on beyond its edges", Counts::Exposure, some}, p.edges, kPictureEdges);
    const bool relief = !p.relief.empty() || !p.coat.empty();
    v.number(length("reliefPt", "Height", "Of white over black in relief and coat; negative turns it inside out", -10000, 10000)
                 .in(0.1, 2)
                 .when(relief && !p.normals),
             p.reliefPt);
    v.flag({"normals", "Normal map", "Pictures of relief and coat have directions instead of heights, as glTF has them", Counts::Exposure,
            relief},
           p.normals);
}

void describe(Visitor& v, Material& m)
{
    v.colour({"baseColour", "Base colour", "In true colour what is typed is what is seen under even white light"}, m.baseColour, &m.swatch);
    v.number(share("metallic", "Metallic", "0 is plastic or paint, 1 metal; shiny balloon plastic is 0.5 to 0.6"), m.metallic);
    v.number(share("roughness", "Roughness",
                   "0 is a mirror, 0.17 glossy lettering, 0.43 a soft toy, 1 chalk; less makes the ground reflect the letters"),
             m.roughness);
    v.number(share("specular", "Mirror layer", "Strength of the clear reflection over a plastic's colour; 0 is fully matte"), m.specular);
    v.number(share("emission", "Gives off light",
                   "In its base colour: 1 is as bright as a white card in full light, neon 5 and more; not of wall and floor", 1000)
                 .in(0.1, 0),
             m.emission);
    v.number(share("clearcoat", "Clear coat", "A clear lacquer over everything, as on cars and candy: 1 is a whole one"), m.clearcoat);
    v.number(share("clearcoatRoughness", "Roughness", "0 is a mirror, 0.5 satin lacquer").when(m.clearcoat > 0), m.clearcoatRoughness);
    v.number(share("clearcoatRelief", "Coat's relief", "0 levels what is below, as thick lacquer, 1 follows it, as a thin varnish")
                 .when(m.clearcoat > 0 && (m.patternRelief > 0 || !m.pictures.relief.empty())),
             m.clearcoatRelief);
    v.colour({"sheenColour", "Sheen", "The soft rim of velvet, felt and satin, in this colour; black is none"}, m.sheenColour, nullptr);
    v.number(share("sheenRoughness", "Sheen's width", "0.2 is a thin rim, as of satin, 0.8 covers all of it, as of dusty felt")
                 .when(m.sheenColour != Rgb{0, 0, 0}),
             m.sheenRoughness);
    v.number(plain("ior", "Refraction", "Index of refraction under the mirror layer: water 1.33, plastic and glass 1.5, diamond 2.42", 1, 3)
                 .in(0.05, 2),
             m.ior);
    v.colour({"specularColour", "Layer's colour", "Tints the mirror layer seen head on; white is clear"}, m.specularColour, nullptr);
    v.number(share("anisotropy", "Brushed", "Draws highlights out across the strokes: 0.6 brushed steel, 0.8 satin; not of glass"),
             m.anisotropy);
    v.number(angle("anisotropyRotation", "Drawn out to", "Counter-clockwise from across the sheet, on sides from along the outline")
                 .when(m.anisotropy > 0),
             m.anisotropyRotation);
    v.number(share("iridescence", "Thin film", "Colours that change with the angle: soap bubbles, oil, heat-tinted steel, pearl"),
             m.iridescence);
    const bool film = m.iridescence > 0;
    v.number(plain("iridescenceThicknessNm", "Film's depth",
                   "In nanometres: 100 is brown, 200 blue, 300 yellow, 400 pink, then pale green and pink in turns", 0, 1500)
                 .in(10, 0)
                 .when(film),
             m.iridescenceThicknessNm);
    v.number(plain("iridescenceIor", "Film's index", "Index of refraction: soap and water 1.33, oil 1.5, an oxide on metal 2 to 2.5", 1, 3)
                 .in(0.05, 2)
                 .when(film),
             m.iridescenceIor);
    v.number(share("transmission", "Transmission", "1 is clear glass or water, coloured by the base colour; roughness frosts it"),
             m.transmission);
    v.number(share("translucency", "Translucency", "Diffuse light that goes through, as in wax, soap, gummy sweets and paper"),
             m.translucency);
    const bool through = m.letsThrough();
    v.flag({"solid", "Solid", "Full, so that light is bent and coloured inside; a thin wall, as of a bulb or a sheet, without",
            Counts::Exposure, through},
           m.solid);
    const bool inside = through && m.solid;
    v.number(length("attenuationDistancePt", "Colour depth",
                    "So deep inside white light has become the colour inside; 0 takes nothing away", 0, 100000)
                 .in(1, 1)
                 .when(inside),
             m.attenuationDistancePt);
    v.colour({"attenuationColour", "Colour inside", "Of light that has gone so deep: thin places stay pale", Counts::Exposure,
              inside && m.attenuationDistancePt > 0},
             m.attenuationColour, nullptr);
    v.oneOf({"pattern", "Pattern", "Stone, wood, cloth, dots: made by formulas, in real size; solid ones go from the face into the side"},
            m.pattern, kPatterns);
    const bool some = m.pattern != surface::PatternKind::None;
    v.number(length("patternSizePt", "Size", "Of a grain, a brick's length, a ring of wood, a thread, from dot to dot", 0.01, 100000)
                 .in(0.5, 2)
                 .when(some),
             m.patternSizePt);
    v.colour(
        {"patternColour", "Other colour", "Of veins, mortar, late wood, weft, dots; the base colour is the rest", Counts::Exposure, some},
        m.patternColour, nullptr);
    v.number(share("patternStrength", "Strength", "Of the other colour and of all that differs from place to place").when(some),
             m.patternStrength);
    v.number(share("patternRelief", "Relief", "How deep it is felt: 0 is flat, 1 as such things are", 4).when(some), m.patternRelief);
    v.number(angle("patternTurn", "Turned", "Counter-clockwise: the grain of wood, the courses of brick").when(some), m.patternTurn);
    v.number(count("patternSeed", "Variant", "Another number is another piece of the same stuff", 0, 9999).when(some), m.patternSeed);
    v.object({"pictures", "Pictures", "Laid on it in real size"}, m.pictures);
}

void describe(Visitor& v, MaterialSet& m)
{
    v.object({"piece", "All parts", "Material of every part that has none of its own"}, m.piece);
    v.things({"parts", "Parts", "Materials of single parts, by their names"}, m.parts);
}

void describe(Visitor& v, Placement& p)
{
    const bool wall = p.stance == Stance::AgainstWall, floor = p.stance == Stance::OnFloor, free = p.stance == Stance::Free;
    v.oneOf({"stance", "Stance", "How the piece meets the ground; against the wall it never sinks in, however deep it is"}, p.stance,
            kStances);
    v.number(place("x", "Across", "Its middle, right of the sheet's middle"), p.x);
    v.number(place("y", "Up", "Its middle, above the sheet's middle").when(wall || free), p.y);
    v.number(place("z", "Towards you", "In front of the sheet's plane, measured at the back of the letters").when(floor || free), p.z);
    v.number(angle("turn", "Turn", "About the upright axis").when(floor || free), p.turn);
    v.number(angle("tilt", "Tilt", "Top towards you").when(free), p.tilt);
    v.number(angle("roll", "Roll", "In its own plane, counter-clockwise").when(wall || free), p.roll);
}

void describe(Visitor& v, LetterOwn& l)
{
    v.own({"form", "Form", "Where it differs from the piece's"}, l.form);
    v.own({"material", "Material", "Materials, where they differ from the piece's"}, l.material);
    v.text({{"name", "Name", "Of the letter, shape or segment; empty: as it reads", Counts::Never}}, l.name);
    v.own({"font", "Face", "Where it differs from the piece's"}, l.font);
    v.number(share("typeSize", "Type size", "Of its type, in hundredths of the piece's; it takes the room it needs", 20).from(0.05),
             l.typeSize);
    v.number(plain("space", "Space after", "Kerning by hand, to the next letter, in thousandths of an em", -5000, 5000).in(5, 0), l.space);
    v.number(place("x", "Across", "Moved along the line"), l.x);
    v.number(place("y", "Up", "Moved off the baseline"), l.y);
    v.number(place("z", "Towards you", "Moved out of the piece"), l.z);
    v.number(angle("roll", "Roll", "About the letter's middle, counter-clockwise"), l.roll);
    v.number(angle("turn", "Turn", "About the letter's upright axis"), l.turn);
    v.number(angle("tilt", "Tilt", "About the letter's level axis, top towards you"), l.tilt);
    v.number(share("scale", "Size", "Of the letter's outline; depth and bevels stay", 20).from(0.01), l.scale);
}

void describe(Visitor& v, Copies& c)
{
    const bool some = c.count > 0;
    v.number(count("count", "Copies", "They follow text and form of the piece, each a step further", 0, 50), c.count);
    v.number(place("acrossPt", "Across by", "Each copy: a row of them").when(some), c.across);
    v.number(place("upPt", "Up by", "Each copy: a column or a stair").when(some), c.up);
    v.number(count("rows", "Rows", "Of the piece with its copies: a grid", 1, 50), c.rows);
    v.number(place("rowAcrossPt", "Row across by", "Each row is moved by so much").when(c.rows > 1), c.rowAcross);
    v.number(place("rowUpPt", "Row up by", "Each row is moved by so much; negative goes down").when(c.rows > 1), c.rowUp);
    v.number(
        length("depthStepPt", "Deeper by", "Each copy; negative for flatter ones, as a plate behind a word", -100000, 100000).when(some),
        c.depthStep);
    v.number(length("growthPt", "Larger by", "Each outline grows outwards, with round corners: a rim", 0, 10000).when(some), c.growth);
    v.number(place("backPt", "Back by", "Each copy stands so much further behind").when(some), c.back);
    v.number(angle("turn", "Turned by", "Each copy, in its plane").when(some), c.turn);
    v.colour({"tint", "Tint", "The copies' colours go towards it", Counts::Exposure, some}, c.tint, nullptr);
    v.number(share("tintShare", "Tinted by", "How much of the tint each step mixes in").in(0.05, 0).when(some), c.tintShare);
}

void describe(Visitor& v, Piece& p)
{
    v.text({{"name", "Name", "Empty: it is named after its text", Counts::Never}}, p.name);
    v.flag({"hidden", "Hidden", "It is not shown"}, p.hidden);
    v.flag({"locked", "Locked", "It is not changed by hand in the picture", Counts::Never}, p.locked);
    v.text({{"group", "Group", "Id of the group it belongs to, or empty", Counts::Never}}, p.group);
    v.object({"source", "Source", "What its outlines are made from"}, p.source);
    v.things({"steps", "Steps", "What is done to its outlines, one after the other"}, p.steps);
    v.object({"form", "Form", "What its outlines become"}, p.form);
    v.object({"material", "Material", "What it is made of"}, p.material);
    v.object({"placement", "Place", "Stance and place"}, p.placement);
    v.things({"letters", "Letters", "By letter id: what single letters have of their own"}, p.letters);
    v.object({"copies", "Linked copies", "Copies that follow the piece"}, p.copies);
    v.flag({"castsShadow", "Throws shadows", "On everything else; it shades itself all the same"}, p.castsShadow);
    v.flag({"mirrored", "Seen in mirrors", "In everything else that mirrors, and its light on other things"}, p.mirrored);
}

void describe(Visitor& v, Ground& g)
{
    using render::GroundKind;
    const bool wall = g.kind == GroundKind::Wall || g.kind == GroundKind::Sweep,
               floor = g.kind == GroundKind::Floor || g.kind == GroundKind::Sweep;
    v.oneOf({"kind", "Kind", "What stands behind and below, always larger than the frame; a sweep is wall and floor in one bend"}, g.kind,
            kGrounds);
    v.number(place("wallBehindPt", "Wall behind", "Distance of the wall behind the sheet's plane").when(wall), g.wallBehind);
    v.number(place("floorBelowPt", "Floor below", "Distance of the floor below the sheet's middle").when(floor), g.floorBelow);
    v.number(length("sweepPt", "Bend", "Radius of the bend between floor and wall", 0, 1e6).when(wall && floor), g.sweep);
    v.object({"wall", "Wall", "Material of the wall", Counts::Exposure, wall}, g.wall);
    v.object({"floor", "Floor", "Material of floor and sweep", Counts::Exposure, floor}, g.floor);
    v.oneOf({"backdropKind", "Backdrop", "Seen where nothing is hit; left out of transparent exports", Counts::Finish}, g.backdropKind,
            kBackdrops);
    const bool gradient = g.backdropKind == BackdropKind::Gradient, plain = g.backdropKind == BackdropKind::Colour;
    v.text({{"backdropPicture", "Picture", "Fills the frame behind everything, as typed; the colour shows where it lets through",
             Counts::Finish, g.backdropKind == BackdropKind::Picture}},
           g.backdropPicture);
    v.colour({"backdrop", gradient ? "At the bottom" : "Colour", "Of the backdrop", Counts::Finish,
              plain || gradient || g.backdropKind == BackdropKind::Picture},
             g.backdrop, &g.backdropSwatch);
    v.colour({"backdropTop", "At the top", "Of the backdrop's gradient", Counts::Finish, gradient}, g.backdropTop, nullptr);
    v.number(share("backdropBlur", "Blurred", "How soft the surroundings are behind the letters; reflections stay sharp")
                 .at(Counts::Finish)
                 .when(g.backdropKind == BackdropKind::Surroundings),
             g.backdropBlur);
}

void describe(Visitor& v, View& w)
{
    v.flag({"perspective", "Projection", "Perspective, or parallel without any"}, w.perspective);
    v.number(plain("focalLengthMm", "Focal length", "In mm on a frame 36 mm wide: short is strong perspective, 50 is usual", 5, 2000)
                 .when(w.perspective),
             w.focalLength);
    v.number(angle("walk", "Walk round", "To the right round the lettering; drag outside the frame does it by hand"), w.walk);
    v.number(angle("rise", "Rise", "Over the lettering; 90 looks straight down", -90, 90), w.rise);
    v.number(angle("roll", "Roll", "Of the camera"), w.roll);
    v.number(place("aimX", "Across", "The point in the frame's middle, right of the sheet's"), w.aimX);
    v.number(place("aimY", "Up", "The point in the frame's middle, above the sheet's"), w.aimY);
    v.number(place("aimZ", "Towards you", "The point in the frame's middle, before the sheet's plane"), w.aimZ);
    Number frame =
        share("frame", "Width seen", "How wide the view is, in sheet widths; the wheel in the margin changes it", 1000).in(0.01, 1);
    frame.least = 0.001;
    v.number(frame, w.frame);
    v.number(
        plain("fNumber", "f-number", "Of the lens: 2 blurs much of what is nearer or farther, 16 little; 0: everything is sharp", 0, 128)
            .when(w.perspective),
        w.fNumber);
    const bool blurs = w.perspective && w.fNumber > 0;
    v.number(place("sharpPt", "Sharp at", "Before the point in the frame's middle, towards you; pick it in the picture").when(blurs),
             w.sharp);
    v.number(count("blades", "Blades", "Of the lens: corners of what is blurred bright; 0 is round", 0, 12).when(blurs), w.blades);
    v.flag({"cutsNear", "Cut off what is near", "Pieces end at a plane before the camera, as if they ended there; wall and floor stay"},
           w.cutsNear);
    v.number(place("cutBeforePt", "Cut before", "The point in the frame's middle, towards you").when(w.cutsNear), w.cutBefore);
}

void describe(Visitor& v, Casting& c)
{
    v.flag({"shadows", "Shadows", "Pieces throw shadows in this light"}, c.shadows);
    v.list({"unlit", "Not lit", "Ids of pieces, and \"ground\" for wall and floor, that get none of this light straight"}, c.unlit);
    v.list({"shadowless", "Without shadow", "Ids of pieces that throw no shadow in this light, but on themselves"}, c.shadowless);
}

void describe(Visitor& v, Light& l)
{
    using light::LightKind;
    const bool softbox = l.kind == LightKind::Softbox, sun = l.kind == LightKind::Sun, spot = l.kind == LightKind::Spot;
    const bool round = spot || l.kind == LightKind::Bulb;
    v.text({{"name", "Name", "Empty: it is named after its kind", Counts::Never}}, l.name);
    v.flag({"on", "On", "It lights the work"}, l.on);
    if (!v.kind({"kind", "Kind", "A softbox is a bright rectangle, a sun shines from far away, a bulb all round, a spot in a cone"}, l.kind,
                kLights, l.newer))
        return;
    v.number(angle("direction", "From", "Round the lettering: 0 from you, 90 from the right, 180 from behind"), l.direction);
    v.number(angle("height", "Height", "Over the lettering; higher makes shadows shorter", -90, 90), l.height);
    v.number(
        length("distancePt", "Distance", "From the sheet's middle: nearer is softer, the brightness stays", 1, 1e6).in(10, 1).when(!sun),
        l.distance);
    const bool disc = softbox && l.form == light::SoftboxForm::Disc;
    v.oneOf({"form", "Form", "Of the softbox; a strip is a narrow rectangle", Counts::Exposure, softbox}, l.form, kSoftboxForms);
    v.number(length("widthPt", "Width", "Larger is softer", 0.1, 1e6).in(10, 1).when(softbox), l.width);
    v.number(length("breadthPt", "Box height", "Larger is softer", 0.1, 1e6).in(10, 1).when(softbox && !disc), l.breadth);
    v.number(angle("turn", "Turned", "In its own plane, counter-clockwise as the letters see it").when(softbox && !disc), l.turn);
    v.number(angle("grid", "Grid", "Lets through light up to this angle from straight ahead: a narrower beam; 90: without a grid", 5, 90)
                 .when(softbox),
             l.grid);
    v.number(length("sizePt", "Size", "Diameter; larger is softer", 0.1, 1e6).when(round), l.size);
    v.number(angle("sunSize", "Size", "Diameter as seen; the real sun has 0.53 degrees", 0.01, 90).in(0.1, 2).when(sun), l.sunSize);
    v.number(angle("cone", "Cone", "Full angle of a spot's cone", 1, 179).when(spot), l.cone);
    v.number(angle("fade", "Fading edge", "How much of a spot's cone fades", 0, 90).when(spot), l.fade);
    v.flag({"falls", "Falls off", "With distance, as light does; without it, which no real lamp can, what is far away gets as much",
            Counts::Exposure, !sun},
           l.falls);
    v.colour({"colour", "Colour", "Of its light, as of a filter before it", Counts::Desk}, l.colour, &l.swatch);
    v.number(temperature("Of its light: 2856 is a light bulb (CIE's A), 5000 noon, 6504 white (D65), 10000 blue sky"), l.kelvin);
    v.number(stops("stops", "Brightness", "0 makes a white card at the lettering white; each stop doubles", Counts::Desk), l.stops);
    v.object({"casting", "Who casts on whom", "In this light"}, l.casting);
    v.text({{"group", "Group", "Lights of one name are chosen and changed together; empty: of none", Counts::Never}}, l.group);
}

void describe(Visitor& v, SkyCard& c)
{
    v.text({{"name", "Name", "Empty: it is named after what it does"}}, c.name);
    v.flag({"on", "On", "It is there"}, c.on);
    v.number(angle("direction", "From", "Round the lettering: 0 is behind the viewer, 90 on the right, 180 behind the letters"),
             c.direction);
    v.number(angle("height", "Height", "Over the horizon; negative is below", -90, 90), c.height);
    v.number(angle("width", "Width", "As the letters see it; a long strip is 5 to 10 narrow", 0.2, 170), c.width);
    v.number(angle("breadth", "Breadth", "As the letters see it", 0.2, 170), c.breadth);
    v.number(angle("roll", "Turned", "Counter-clockwise, as the letters see it"), c.roll);
    v.number(share("roundness", "Roundness", "0 is a rectangle, 1 an ellipse"), c.roundness);
    v.number(share("softness", "Softness", "How far its edge fades towards its middle"), c.softness);
    const Counts counts = c.own ? Counts::Desk : Counts::Exposure;
    v.colour({"colour", "Colour", "Black is a flag: it takes light and reflections away", counts}, c.colour, nullptr);
    v.number(stops("stops", "Brightness", "0 is as bright as white surroundings; each stop doubles", counts).when(c.colour != Rgb{0, 0, 0}),
             c.stops);
    v.flag({"own", "At the light desk", "It has a fader of its own there, as a lamp has", Counts::Exposure, c.colour != Rgb{0, 0, 0}},
           c.own);
}

void describe(Visitor& v, Surroundings& s)
{
    v.flag({"on", "Light from all round", "Fills the shadows; without it they are black"}, s.on);
    v.colour({"colour", "Colour", "Of the light from all round", Counts::Desk}, s.colour, &s.swatch);
    v.number(temperature("Of the light from all round: 2856 is a light bulb (CIE's A), 6504 white (D65), 10000 blue sky"), s.kelvin);
    v.number(stops("stops", "Brightness", "0 makes a white card white by itself", Counts::Desk), s.stops);
    v.oneOf(
        {"kind", "Kind", "The same from everywhere, a sky with cards, or a picture, for metal and glass to show", Counts::Exposure, s.on},
        s.kind, kSurroundings);
    const bool picture = s.on && s.kind == SurroundingsKind::Picture;
    v.text(
        {{"picture", "Picture",
          "All round in equal steps, twice as wide as high; the viewer's side in its middle, as light or brightened where it is no HDR"}},
        s.picture);
    const bool sky = s.on && s.kind == SurroundingsKind::Sky;
    v.colour({"above", "Above", "Colour straight up", Counts::Exposure, sky}, s.above, nullptr);
    v.colour({"horizon", "Horizon", "Colour all round", Counts::Exposure, sky}, s.horizon, nullptr);
    v.colour({"below", "Below", "Colour straight down, where no ground is", Counts::Exposure, sky}, s.below, nullptr);
    v.number(share("softness", "Softness", "How far from the horizon the colours go over: 0 is a sharp horizon").when(sky), s.softness);
    v.number(angle("turn", "Turned", "All of it round the lettering, to the right").when(sky || picture), s.turn);
    v.number(angle("tilt", "Tilted", "All of it: what is straight up comes towards you").when(sky || picture), s.tilt);
    v.number(share("blur", "Blurred", "What mirrors show of it, and the light it gives").when(picture), s.blur);
    v.things({"cards", "Cards", "Painted on the sky, the later over the earlier"}, s.cards);
    v.object({"casting", "Who casts on whom", "In this light"}, s.casting);
}

void describe(Visitor& v, Emissive& e)
{
    v.colour({"colour", "Colour", "Mixed with the colour of all materials that give off light", Counts::Desk}, e.colour, nullptr);
    v.number(stops("stops", "Brightness", "0: as the materials say", Counts::Desk), e.stops);
    v.object({"casting", "Who casts on whom", "In this light"}, e.casting);
}

void describe(Visitor& v, render::StopRule& r)
{
    v.number(count("samples", "Samples", "Stop after so many samples; 0: not by samples", 0, 1000000).at(Counts::Never), r.samples);
    Number seconds = plain("seconds", "Seconds", "Stop after so long; 0: not by time", 0, 1e7).at(Counts::Never);
    seconds.kind = Kind::Seconds;
    v.number(seconds, r.seconds);
    v.number(plain("noise", "Noise", "Stop at this noise, in 1/255; 0: not by noise", 0, 255).at(Counts::Never), r.noise);
}

void describe(Visitor& v, Swatch& s)
{
    v.text({{"name", "Name", "Of the colour"}}, s.name);
    v.colour({"colour", "Colour", "What follows it changes with it"}, s.colour, nullptr);
}

void describe(Visitor& v, Group& g)
{
    v.text({{"name", "Name", "Of the group; empty: it is named after its pieces"}}, g.name);
}

void describe(Visitor& v, SavedView& s)
{
    v.text({{"name", "Name", "Of the view"}}, s.name);
    v.object({"view", "View", "The camera"}, s.view);
}

void describe(Visitor& v, Proof& p)
{
    v.text({{"note", "Note", "What is to be told apart", Counts::Never}, 400}, p.note);
    v.text({{"made", "Kept", "When it was kept", Counts::Never}}, p.made);
    v.text({{"picture", "Picture", "PNG", Counts::Never}}, p.picture);
    v.text({{"version", "Version", "The work as it was, as JSON", Counts::Never}}, p.version);
    v.list({"uses", "Uses", "Assets that the version needs", Counts::Never}, p.uses);
}

void describe(Visitor& v, Shift& s)
{
    v.number(place("x", "Across", "Moved on this sheet alone"), s.x);
    v.number(place("y", "Up", "Moved on this sheet alone"), s.y);
    v.number(place("z", "Towards you", "Moved on this sheet alone"), s.z);
}

void describe(Visitor& v, Output& o)
{
    v.text(
        {{"name", "Name", "Of the file, without its ending; {work}, {sheet}, {width}, {height} and {date} stand for those; empty: {work}",
          Counts::Never}},
        o.name);
    v.oneOf({"format", "Format",
             "PNG for a picture, JPEG or WebP for small files, 16 bits for further work, PDF for print with sharp captions, EXR for all "
             "passes in linear light",
             Counts::Never},
            o.format, kFileFormats);
    v.number(count("widthPx", "Width in px",
                   "The height follows the sheet's shape. Everything is rendered at this size; nothing is enlarged. 0: the sheet's own", 0,
                   100000)
                 .at(Counts::Never)
                 .in(10, 0),
             o.widthPx);
    v.number(count("quality", "Quality", "Of JPEG, WebP, AVIF and JPEG XL: 92 shows nothing to the eye, 75 is small", 1, 100)
                 .at(Counts::Never)
                 .when(hasQuality(o.format)),
             o.quality);
    v.oneOf({"colours", "Colours", "Which red, green and blue the file names; what is seen stays the same", Counts::Never,
             namesProfile(o.format)},
            o.colours, kColours);
    v.text({{"profile", "Profile", "An .icc file in this work", Counts::Never}}, o.profile);
    v.list({"passes", "Passes", "Names of passes; none: all in an EXR, and no files beside a PNG", Counts::Never}, o.passes);
    v.flag({"transparent", "Transparent background", "Without the backdrop, with clean edges", Counts::Never, hasCoverage(o.format)},
           o.transparent);
    v.flag({"denoise", "Noise reduction", "Keeps texture and edges; without it a clean still takes many times as long", Counts::Never},
           o.denoise);
    v.object({"stop", "Stops", "When the final render stops", Counts::Never}, o.stop);
}

void describe(Visitor& v, Sheet& s)
{
    v.text({{"name", "Name", "Of the sheet", Counts::Never}}, s.name);
    v.object({"size", "Size", "The picture's area"}, s.size);
    v.number(place("x", "Across", "Its middle, from the origin"), s.x);
    v.number(place("y", "Up", "Its middle, from the origin"), s.y);
    v.object({"view", "View", "The camera"}, s.view);
    v.things({"shifts", "Shifts", "By piece: moved on this sheet alone"}, s.shifts);
    v.things({"outputs", "Outputs", "The files it becomes", Counts::Never}, s.outputs);
    v.text({{"shownOutput", "Shown output", "Id of the one whose values are shown; empty: the first", Counts::Never}}, s.shownOutput);
}

void describe(Visitor& v, Credits& c)
{
    v.text({{"author", "Author", "Written into the picture files, as XMP", Counts::Never}}, c.author);
    v.text({{"licence", "Licence", "Who may do what with the picture; written into its files, as XMP", Counts::Never}}, c.licence);
    v.text({{"description", "In words", "What is seen, for those who do not see it; written into its files, as XMP", Counts::Never}, 4000},
           c.description);
}

void describe(Visitor& v, Work& w)
{
    v.things({"sheets", "Sheets", "Pictures that are taken of the work"}, w.sheets);
    v.text({{"shown", "Shown", "Id of the sheet that is worked on"}}, w.shown);
    v.things({"pieces", "Pieces", "Pieces, front to back"}, w.pieces);
    v.things({"groups", "Groups", "Pieces that are chosen and moved together", Counts::Never}, w.groups);
    v.object({"ground", "Ground", "Wall, floor and backdrop"}, w.ground);
    v.flag({"viewLocked", "Lock the view", "Hands in the picture leave the camera as it is", Counts::Never}, w.viewLocked);
    v.things({"views", "Saved views", "Cameras by name", Counts::Never}, w.views);
    v.things({"swatches", "Swatches", "Colours by name", Counts::Never}, w.swatches);
    v.object({"surroundings", "Surroundings", "Plain light from all round"}, w.surroundings);
    v.object({"emissive", "Emissive materials", "Light of all materials that give some off"}, w.emissive);
    v.things({"lights", "Lights", "Lights"}, w.lights);
    v.object({"finish", "Finish", "From light to picture", Counts::Finish}, w.finish);
    v.object({"credits", "Credits", "Said in the picture files", Counts::Never}, w.credits);
    v.things({"proofs", "Proofs", "Versions of the work that are kept with their pictures", Counts::Never}, w.proofs);
    v.list({"meantSo", "Meant so", "Silenced notices: kind and place", Counts::Never}, w.meantSo);
    v.number(count("nextId", "Next id", "Number of the next new id", 1, 2000000000).at(Counts::Never), w.nextId);
}

}  // namespace work
