// Drives the real window by events, as a person would.
#pragma once

#include <QApplication>
#include <QLabel>
#include <QLineEdit>
#include <QTemporaryDir>
#include <QtTest>

#include "app/picture/hands.h"
#include "app/style.h"
#include "app/window/main_window.h"
#include "support/long_test.h"
#include "support/registered.h"

namespace driver {

// The home of settings, unsaved works and finals while the test runs: OPEN_GLOW_TEST_HOME, or a new one.
QString home();
QString path(const QString& name);  // in it

// Answers the file dialog that comes up next.
void answerFileDialog(const QString& path);

// "KITE" on a small sheet, or another text.
work::Work kites(const std::string& text = "KITE", int widthPx = 320, int heightPx = 180);

#ifdef OPEN_GLOW_CHECKED
inline constexpr std::uint32_t kSamples = 1;  // sanitizers are slow; what is checked does not depend on it
#else
inline constexpr std::uint32_t kSamples = 4;
#endif
// ms in which the window's thread answers while the machine is busy, but for single beats that the machine takes for something else.
#ifdef OPEN_GLOW_CHECKED
inline constexpr qint64 kMostWait = 1000;
#else
inline constexpr qint64 kMostWait = 200;
#endif

// Nothing moves in a test that does not ask for it.
struct Still {
    Still();
};

struct Window {
    Still still;
    app::MainWindow window;
    int actions = 0;  // as people count them: a click, a shortcut, a word typed, a drag

    explicit Window(const work::Work& work = kites(), std::uint32_t samples = kSamples, QSize size = {960, 640});

    session::Session& session() { return window.session(); }
    const work::Work& work() { return window.session().work(); }
    const work::Piece& piece() { return work().pieces.items.at(work().pieces.order.at(0)); }  // the first
    app::PictureView& picture() { return *window.picture(); }

    template <class T = QWidget>
    T* find(const QString& name)
    {
        T* found = window.findChild<T*>(name);
        if (!found)
            qWarning("There is no %s", qPrintable(name));
        return found;
    }
    bool settle();
    void openSection(const QString& id);
    void click(const QString& name);
    void type(const QString& field, const QString& text);                     // into a field: all of it, then Return
    void choose(const QString& list, const QString& label);                   // in a list of names
    void key(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier);  // in the picture
    bool trigger(const QString& action);
    // Until the newest final is in this state.
    bool waitForFinal(session::FinalStatus::State state);

    // In the picture, at places of the widget.
    void clickAt(QPointF place, Qt::KeyboardModifiers modifiers = Qt::NoModifier);
    void drag(QPointF from, QPointF to, Qt::MouseButton button = Qt::LeftButton, Qt::KeyboardModifiers modifiers = Qt::NoModifier);
    void wheel(QPointF place, int notches);
    // A place where this letter (counted from 0) is seen; or the ground.
    QPointF letterPlace(int letter, int piece = 0);
    QPointF groundPlace();
    QPointF lug(app::Lug::Kind kind, const std::string& light = {});
    bool hasLug(app::Lug::Kind kind);
};

void dragIn(QWidget* widget, QPointF from, QPointF to, Qt::MouseButton button = Qt::LeftButton,
            Qt::KeyboardModifiers modifiers = Qt::NoModifier);

// Beats on the window's thread.
class Heart {
public:
    Heart();
    // The third longest wait from beat to beat, ms: what the window itself does comes again and again.
    qint64 stop();
    qint64 worst() const { return m_waits.back(); }

private:
    QTimer m_timer;
    QElapsedTimer m_beat;
    std::vector<qint64> m_waits;  // sorted by stop()
};

// WCAG 2.2, relative luminance and contrast ratio.
double contrast(QColor a, QColor b);
// The strongest contrast of two pixels in a part of a picture: that of its text with its ground.
double contrastIn(const QImage& image, const QRect& part);
// What is cut off in a window as it stands: controls smaller than what they say.
QStringList cutOff(QWidget* window);

// Makes home and application, then runs the test.
int runTest(int argc, char** argv, QObject& test);

}  // namespace driver

#define OPEN_GLOW_WINDOW_TEST(Class)                                                                                                       \
    static const support::Registered s_registered(__FILE__, [](int n, char** v) {                                                          \
        Class test;                                                                                                                        \
        return driver::runTest(n, v, test);                                                                                                \
    });
