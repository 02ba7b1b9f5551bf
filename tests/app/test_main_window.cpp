// The real window, driven by real events.
#include <QDoubleSpinBox>
#include <QLabel>
#include <QPlainTextEdit>
#include <QtTest>

#include "app/main_window.h"
#include "app/picture_view.h"

using app::MainWindow;

namespace {

work::Work kites(const std::string& text)
{
    work::FontChoice font;
    font.style = "Bold";
    return work::newWork(text, font, {320, 180, work::Unit::Px, 72});
}

}  // namespace

class TestMainWindow : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void initTestCase() { qRegisterMetaType<session::LiveFrame>(); }

    void aTypedLetterAndADepthChangeThePicture()
    {
        MainWindow window(kites("KIT"), "kites");
        window.setLiveStop({8, 0, 0});
        window.resize(700, 420);
        QSignalSpy settled(&window, &MainWindow::settled);
        window.show();
        QVERIFY(QTest::qWaitForWindowExposed(&window));
        QVERIFY(settled.wait(120000));
        const QImage before = window.picture()->image().copy();
        QCOMPARE(before.width() * 180, before.height() * 320);

        auto* text = window.findChild<QPlainTextEdit*>("text");
        QTest::keyClick(text, Qt::Key_End, Qt::ControlModifier);
        QTest::keyClicks(text, "E");
        QCOMPARE(window.work().pieces.items.at("p1").lettering.text, "KITE");
        QCOMPARE(window.work().pieces.items.at("p1").lettering.letterIds.size(), std::size_t{4});
        settled.clear();
        QVERIFY(settled.wait(120000));
        QVERIFY(window.picture()->image() != before);
        QVERIFY(window.findChild<QLabel*>("state")->text().contains("samples"));

        auto* depth = window.findChild<QDoubleSpinBox*>("depth");
        depth->selectAll();
        QTest::keyClicks(depth, "3");
        QTest::keyClick(depth, Qt::Key_Return);
        QCOMPARE(window.work().pieces.items.at("p1").form.depthPt, 3.0);
    }

    void whatIsMissingIsSaid()
    {
        MainWindow window(kites("K"), "kites");
        window.show();
        auto* text = window.findChild<QPlainTextEdit*>("text");
        text->setPlainText(QString::fromUtf8("\U0001F6A9"));
        auto* notes = window.findChild<QLabel*>("notes");
        QTRY_VERIFY_WITH_TIMEOUT(notes->text().contains("U+1F6A9"), 60000);
    }
};

QTEST_MAIN(TestMainWindow)
#include "test_main_window.moc"
