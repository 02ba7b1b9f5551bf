// Hands and keys in the picture. A gesture begins where the pointer goes down, changes the work of that moment while it moves, and
// is one step of the history when it ends. Moving the camera and moving a piece never share a gesture: the camera is moved
// from the margin, with the middle button and the wheel.
#pragma once

#include <QKeyEvent>
#include <QPainter>
#include <functional>

#include "app/picture/aim_at.h"
#include "app/ticket/section.h"
#include "session/gesture.h"
#include "session/gestures.h"
#include "session/lines.h"
#include "session/render_queue.h"

namespace session {
class LightHand;
struct Touched;
}  // namespace session

namespace app {

class PictureView;
enum class PenFor;

inline constexpr double kTake = 9;  // px within which a lug is taken

// A place to take hold of.
struct Lug {
    enum class Kind {
        Depth,
        Bevel,
        Rise,
        TubeWidth,
        Point,
        Twist,
        Taper,
        Plumb,
        Turn,
        Swing,
        Size,
        LampFoot,
        LampHead,
        LampSize,
        Line,
        PictureMiddle,
        PictureCorner
    };
    Kind kind;
    QPointF at;
    std::string light;  // of a lamp
    std::optional<session::LineHandle> line = {};
};

class Hands {
public:
    Hands(const Context& context, PictureView& view) : m_context(context), m_view(view) {}

    void press(const QPointF& place, Qt::MouseButton button, Qt::KeyboardModifiers modifiers);
    void move(const QPointF& place, Qt::KeyboardModifiers modifiers);
    void release(const QPointF& place, Qt::KeyboardModifiers modifiers);
    void doubleClick(const QPointF& place, Qt::KeyboardModifiers modifiers);
    void wheel(const QPointF& place, double notches);
    bool takesDelete() const;  // the pointer is on a point of a line
    bool key(QKeyEvent* event);
    bool callOff();
    void paint(QPainter& painter) const;

    void pickColour(std::function<void(base::Rgb)> take) { m_pick = std::move(take); }
    void choosePart() { m_choosingPart = true; }
    // The next clicks draw a line: a shape of its own, what a lettering runs along, or where a piece is cut.
    void drawWithPen(PenFor use, const std::string& piece);
    bool isDrawing() const { return m_pen.has_value(); }
    // The next drags, or a click, set a light, a card or the lens by a place; `id`: which one.
    void aimAt(AimAt what, const std::string& id);
    bool isAiming() const { return m_aim.has_value(); }
    void showLamps(bool shown) { m_lamps = shown; }
    bool showsLamps() const { return m_lamps; }
    // Where the lugs are now.
    std::vector<Lug> lugs() const;

    // What an arrow key moves by, pt: chosen by the person, else one of the unit that is shown.
    double nudgeStep() const;

private:
    struct Drag {
        std::optional<session::Gesture> gesture;
        std::function<void(const QPointF&, Qt::KeyboardModifiers)> move;
        std::function<void(bool moved, const QPointF&, Qt::KeyboardModifiers)> done;
        std::function<void(QPainter&)> paint;
        QPointF from;
        bool moved = false;
    };
    // The chosen piece or letter in space.
    struct Extent {
        base::Pose pose;               // of its piece
        base::Box3 box;                // along pose.right, up and out
        base::Vec3 top, bottom, left;  // on its front, in the world

        base::Vec3 peak() const  // over its middle
        {
            return pose.origin + pose.right * box.centre().x + pose.up * box.centre().y + pose.out * box.high.z;
        }
    };

    const session::ShownWork* shownWork() const;
    std::optional<Extent> extent() const;
    std::optional<session::Target> targetAt(const QPointF& place, bool letter) const;
    std::vector<session::MoveDrag::Item> movable(const session::Choice& choice) const;
    QPointF seen(base::Vec3 point) const;
    double reach() const;
    double unitStep() const;
    QString length(double pt) const;
    bool viewIsFree() const;

    // Shows the work of the beginning, changed. What undo or opening has made another work is let go.
    void change(const std::function<void(work::Work&)>& change);
    void begin(Drag drag, const QPointF& from, const QString& label);
    Drag labelled(const std::shared_ptr<QString>& text) const;  // shows the text beside the pointer
    void beginView(const QPointF& from, bool slide);
    void beginMove(const QPointF& from, const session::Target& target, Qt::KeyboardModifiers modifiers);
    void beginBand(const QPointF& from, Qt::KeyboardModifiers modifiers);
    void beginPart(const QPointF& from);
    void beginLug(const Lug& lug, const QPointF& from);
    void beginTurn(const Extent& extent, const QPointF& from);
    void beginSize(const Extent& extent, const QPointF& from);
    void beginSwing(const QPointF& from);
    void beginLamp(const Lug& lug, const QPointF& from);
    void click(const QPointF& place, Qt::KeyboardModifiers modifiers);
    void goDeeper(const QPointF& place);
    void toggleWhole(session::Choice& choice, const std::string& piece);

    void nudge(base::Vec3 by);
    void plumb(double by);
    void turn(double degrees);
    void changeView(const std::string& label, const std::function<work::View(const work::View&)>& change);
    void nextPiece(int step);
    void arrowKey(double right, double up, Qt::KeyboardModifiers modifiers);
    void closer(double factor);
    void leave();
    void intoLetters(int step, bool add);

    // --- kinds of form: hand_forms.cpp
    void addFormLugs(std::vector<Lug>& lugs, const Extent& extent) const;
    bool beginFormLug(const Lug& lug, const Extent& extent, const QPointF& from);  // false: it is none
    QString paintFormLug(QPainter& painter, const Lug& lug) const;                 // returns what it does; nothing: it is none

    // --- pictures on materials: hand_pictures.cpp
    struct LaidPicture {
        work::Pictures pictures;
        double aspect;     // height over width
        base::Pose plane;  // that they lie on, its origin where they are counted from
    };
    std::optional<LaidPicture> laidPicture() const;  // of what is chosen, while they are moved by hand
    void addPictureLugs(std::vector<Lug>& lugs, const LaidPicture& laid) const;
    void beginPictureLug(const Lug& lug, const LaidPicture& laid, const QPointF& from);
    void paintLaidPicture(QPainter& painter, const LaidPicture& laid) const;
    QString paintPictureLug(QPainter& painter, const Lug& lug) const;

    // --- lights, cards and the lens by a place: hand_aims.cpp
    struct Aim {
        AimAt what;
        std::string id;
    };
    using Touch = std::function<std::optional<session::Touched>(const QPointF&)>;
    void beginAim(const QPointF& from, Qt::KeyboardModifiers modifiers);
    void beginSharp(const QPointF& from, const Touch& touch);
    void beginGlint(const QPointF& from, const Touch& touch);
    void beginShadow(const QPointF& from, const session::LightHand& hand, const Touch& touch);

    // --- where a layer acts: hand_brush.cpp
    void beginStroke(const QPointF& from, Qt::KeyboardModifiers modifiers);
    base::Vec2 onSheet(const QPointF& place) const;  // pt from its middle, y up
    void paintBrush(QPainter& painter) const;

    // --- lines: hand_lines.cpp
    struct Pen {
        PenFor use;
        std::string piece;  // whose line it is
        base::Pose plane;
        session::PenLine line;
        bool pulls = false;  // the last point's handles
    };
    // The chosen piece's plane, its lines lie on it.
    struct LinePlane {
        std::string piece;
        work::PiecePlace place;
        base::Pose pose;  // at the front of the letters
    };
    std::optional<LinePlane> linePlane() const;
    std::optional<base::Vec2> onPose(const base::Pose& pose, const QPointF& place) const;
    QPointF seenOn(const base::Pose& pose, base::Vec2 at) const;
    void addLineLugs(std::vector<Lug>& lugs) const;
    bool isOnLine(const QPointF& place) const;
    std::optional<Lug> pointAt(const QPointF& place) const;
    void removePointUnderPointer();
    void beginLine(const Lug& lug, const QPointF& from);
    void paintLine(QPainter& painter) const;
    QString lineHint(const Lug& lug) const;
    void penPress(const QPointF& place, Qt::KeyboardModifiers modifiers);
    void penMove(const QPointF& place, Qt::KeyboardModifiers modifiers);
    bool penKey(int key);
    void endPen();
    std::string letterUnder(const Pen& pen) const;
    void paintPen(QPainter& painter) const;

    QPointF onPlan(base::Vec2 place) const;
    base::Vec2 fromPlan(QPointF place) const;
    void paintLamps(QPainter& painter) const;
    void paintLugs(QPainter& painter) const;
    void paintClashes(QPainter& painter) const;

    Context m_context;
    PictureView& m_view;
    std::optional<Drag> m_drag;
    std::function<void(base::Rgb)> m_pick;
    bool m_choosingPart = false, m_lamps = false;
    std::optional<Pen> m_pen;
    std::optional<Aim> m_aim;
    QPointF m_pointer{-1e6, -1e6};
    mutable std::optional<Extent> m_extent;  // kept while shownWork and choice are the same
    mutable const void* m_extentOf = nullptr;
    mutable session::Choice m_extentChoice;
};

}  // namespace app
