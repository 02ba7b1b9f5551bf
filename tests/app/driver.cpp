#include "app/driver.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QPushButton>

namespace driver {

namespace {

std::unique_ptr<QTemporaryDir> s_folder;
QString s_home;
QtMessageHandler s_told = nullptr;

// The offscreen platform says of every window what it cannot do: hundreds of lines that hide what a test found.
void leaveOutPlatform(QtMsgType type, const QMessageLogContext& context, const QString& text)
{
    if (s_told && !text.startsWith("This plugin does not support"))
        s_told(type, context, text);
}

}  // namespace

QString home()
{
    return s_home;
}

QString path(const QString& name)
{
    return home() + "/" + name;
}

work::Work kites(const std::string& text, int widthPx, int heightPx)
{
    work::FontChoice font;
    font.style = "Bold";
    return work::newWork(text, font, {static_cast<double>(widthPx), static_cast<double>(heightPx), work::Unit::Px, 72});
}

void answerFileDialog(const QString& path)
{
    QTimer::singleShot(0, qApp, [path] {
        for (QWidget* top : QApplication::topLevelWidgets())
            if (auto* dialog = qobject_cast<QFileDialog*>(top)) {
                dialog->selectFile(path);
                QMetaObject::invokeMethod(dialog, "accept", Qt::QueuedConnection);
                return;
            }
        answerFileDialog(path);
    });
}

Still::Still()
{
    if (!QSettings().contains("motion"))
        QSettings().setValue("motion", false);
}

Window::Window(const work::Work& work, std::uint32_t samples, QSize size)
{
    if (!s_told)
        s_told = qInstallMessageHandler(leaveOutPlatform);
    window.resize(size);
    window.setLiveStop({samples, 0, 0});
    window.session().open(work, {});
    window.show();
    window.resize(size);  // larger than the platform's screen, which it would keep to
    if (!QTest::qWaitForWindowExposed(&window))
        qWarning("The window did not come up");
#ifdef OPEN_GLOW_CHECKED
    trigger("view.denoise");  // off: sanitizers are slow, and tests of its own look at it
#endif
    window.activateWindow();
    (void)QTest::qWaitForWindowActive(&window, 2000);  // without a window manager nothing becomes active
}

bool Window::settle()
{
    QElapsedTimer timer;
    timer.start();
    while (!window.isSettled()) {
        if (timer.elapsed() > 180000)
            return false;
        QTest::qWait(10);
    }
    return true;
}

void Window::openSection(const QString& id)
{
    ++actions;
    auto* head = find<QAbstractButton>("section." + id + ".head");
    if (!window.ticket()->section(id)->isOpen())
        QTest::mouseClick(head, Qt::LeftButton, {}, QPoint(20, 8));
    QTest::qWait(20);  // until all of it is laid out
}

void Window::click(const QString& name)
{
    ++actions;
    auto* widget = find<QWidget>(name);
    QTest::mouseClick(widget, Qt::LeftButton, {}, QPoint(std::min(10, widget->width() / 2), widget->height() / 2));
}

void Window::type(const QString& field, const QString& text)
{
    ++actions;
    auto* edit = find<QLineEdit>(field);
    edit->setFocus();
    edit->selectAll();
    QTest::keyClicks(edit, text);
    QTest::keyClick(edit, Qt::Key_Return);
}

void Window::choose(const QString& list, const QString& label)
{
    ++actions;
    auto* field = find<QComboBox>(list);
    const int index = field->findText(label);
    QVERIFY2(index >= 0, qPrintable(label));
    field->setCurrentIndex(index);
    Q_EMIT field->activated(index);
    QApplication::processEvents();  // rows that came are placed
}

void Window::key(Qt::Key key, Qt::KeyboardModifiers modifiers)
{
    ++actions;
    picture().setFocus();
    QTest::keyClick(&picture(), key, modifiers);
}

bool Window::waitForFinal(session::FinalStatus::State state)
{
    return QTest::qWaitFor(
        [&] {
            const auto& entries = window.finals()->entries();
            return !entries.empty() && entries.front().status.state == state;
        },
        180000);
}

bool Window::trigger(const QString& action)
{
    ++actions;
    auto* found = window.findChild<QAction*>(action);
    if (!found || !found->isEnabled())
        return false;
    found->trigger();
    return true;
}

void dragIn(QWidget* widget, QPointF from, QPointF to, Qt::MouseButton button, Qt::KeyboardModifiers modifiers)
{
    QTest::mousePress(widget, button, modifiers, from.toPoint());
    // Moves carry the button, which QTest::mouseMove does not say.
    for (int i = 1; i <= 4; ++i) {
        const QPointF at = (from + (to - from) * (i / 4.0)).toPoint();
        QMouseEvent move(QEvent::MouseMove, at, widget->mapToGlobal(at), Qt::NoButton, button, modifiers);
        QApplication::sendEvent(widget, &move);
    }
    QTest::mouseRelease(widget, button, modifiers, to.toPoint());
}

void Window::clickAt(QPointF place, Qt::KeyboardModifiers modifiers)
{
    ++actions;
    QTest::mouseClick(&picture(), Qt::LeftButton, modifiers, place.toPoint());
}

void Window::drag(QPointF from, QPointF to, Qt::MouseButton button, Qt::KeyboardModifiers modifiers)
{
    ++actions;
    dragIn(&picture(), from, to, button, modifiers);
}

void Window::wheel(QPointF place, int notches)
{
    ++actions;
    QWheelEvent event(place, picture().mapToGlobal(place), {}, QPoint(0, 120 * notches), Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase,
                      false);
    QApplication::sendEvent(&picture(), &event);
}

QPointF Window::letterPlace(int letter, int piece)
{
    const auto& frame = picture().frame();
    // The middle of the longest run of its pixels: well inside a stroke.
    int best = 0;
    QPointF place(-1, -1);
    for (int y = 0; frame.ids && y < frame.ids->height; ++y)
        for (int x = 0, run = 0; x < frame.ids->width; ++x) {
            const auto& id = *frame.ids->at(x, y);
            run = id.piece == piece + 1 && id.letter == letter + 1 ? run + 1 : 0;
            if (run > best) {
                best = run;
                place = picture().fromFrame(
                    {(x - run / 2 + 0.5 + frame.place.x0) / frame.widthPx, (y + 0.5 + frame.place.y0) / frame.heightPx});
            }
        }
    if (best == 0)
        qWarning("Letter %d of piece %d is not seen", letter, piece);
    return place;
}

QPointF Window::groundPlace()
{
    return picture().fromFrame({0.03, 0.05});
}

QPointF Window::lug(app::Lug::Kind kind, const std::string& light)
{
    const auto* hands = picture().hands();
    for (const app::Lug& l : hands->lugs())
        if (l.kind == kind && l.light == light)
            return l.at;
    qWarning("There is no such lug");
    return {-1, -1};
}

bool Window::hasLug(app::Lug::Kind kind)
{
    const auto lugs = picture().hands()->lugs();
    return std::any_of(lugs.begin(), lugs.end(), [&](const app::Lug& l) { return l.kind == kind; });
}

// WCAG 2.2, relative luminance and contrast ratio.
double contrast(QColor a, QColor b)
{
    const auto luminance = [](QColor c) {
        return 0.2126 * picture::decodeSrgb(c.redF()) + 0.7152 * picture::decodeSrgb(c.greenF()) + 0.0722 * picture::decodeSrgb(c.blueF());
    };
    const double x = luminance(a), y = luminance(b);
    return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
}

// What is cut off in a window as it stands: controls smaller than what they say.
double contrastIn(const QImage& image, const QRect& part)
{
    QColor darkest(Qt::white), lightest(Qt::black);
    for (int y = part.top(); y <= part.bottom(); ++y)
        for (int x = part.left(); x <= part.right(); ++x) {
            const QColor c = image.pixelColor(x, y);
            if (c.lightness() < darkest.lightness())
                darkest = c;
            if (c.lightness() > lightest.lightness())
                lightest = c;
        }
    return contrast(darkest, lightest);
}

QStringList cutOff(QWidget* window)
{
    QCoreApplication::sendPostedEvents(nullptr, QEvent::LayoutRequest);  // what has just been said has its room
    QStringList found;
    const auto note = [&](QWidget* w, const QString& why) { found << w->objectName() + " \"" + why + "\""; };
    const auto saysText = [](QAbstractButton* b) {
        const auto* tool = qobject_cast<QToolButton*>(b);
        return !b->text().isEmpty() && !(tool && !tool->icon().isNull() && tool->toolButtonStyle() == Qt::ToolButtonIconOnly);
    };
    for (QAbstractButton* b : window->findChildren<QAbstractButton*>())
        if (b->isVisible() && saysText(b) && b->width() < b->fontMetrics().horizontalAdvance(QString(b->text()).remove('&')) + 4)
            note(b, b->text());
    for (QComboBox* c : window->findChildren<QComboBox*>())
        if (c->isVisible() && c->width() < c->fontMetrics().horizontalAdvance(c->currentText()) + 28)
            note(c, c->currentText());
    for (QLineEdit* e : window->findChildren<QLineEdit*>())
        if (e->isVisible() && e->objectName() != "export.path" && e->width() < e->fontMetrics().horizontalAdvance(e->text()) + 12)
            note(e, e->text());
    for (QLabel* l : window->findChildren<QLabel*>()) {
        // Summaries and the state sentence are shortened on purpose and say all of it in their tooltip.
        if (!l->isVisible() || l->text().isEmpty() || (l->text().endsWith(QChar(0x2026)) && !l->toolTip().isEmpty()))
            continue;
        if (l->wordWrap() ? l->height() < l->heightForWidth(l->width()) : l->width() < l->sizeHint().width())
            note(l, QString("%1 (%2 x %3)").arg(l->text()).arg(l->width()).arg(l->height()));
    }
    return found;
}

Heart::Heart()
{
    QObject::connect(&m_timer, &QTimer::timeout, &m_timer, [this] { m_waits.push_back(m_beat.restart()); });
    m_beat.start();
    m_timer.start(1);
}

qint64 Heart::stop()
{
    m_timer.stop();
    m_waits.push_back(m_beat.elapsed());
    std::sort(m_waits.begin(), m_waits.end());
    return m_waits[m_waits.size() > 2 ? m_waits.size() - 3 : 0];
}

int runTest(int argc, char** argv, QObject& test)
{
    s_home = qEnvironmentVariable("OPEN_GLOW_TEST_HOME");
    if (s_home.isEmpty()) {
        s_folder = std::make_unique<QTemporaryDir>();
        s_home = s_folder->path();
    }
    for (const char* name : {"XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_CACHE_HOME", "XDG_DATA_HOME"})
        qputenv(name, (s_home + "/" + QString(name).section('_', 1, 1).toLower()).toUtf8());
    QApplication application(argc, argv);
    QApplication::setApplicationName("open-glow");
    QApplication::setOrganizationName("open-glow");
    app::applyStyle(application, app::Variant::Light);
    return QTest::qExec(&test, argc, argv);
}

}  // namespace driver
