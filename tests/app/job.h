// What jobs as a whole have in common: how they begin, what is done in one go, how they end. Actions are counted.
#pragma once

#include <QComboBox>
#include <QImage>
#include <QListWidget>
#include <QMenu>

#include "app/driver.h"

namespace job {

using driver::path;
using driver::Window;

inline const work::SheetSize kSheet{320, 180, work::Unit::Px, 72};

// The empty window, and a word typed into it.
inline void begin(Window& w, const char* word)
{
    w.window.files()->newWork(kSheet);
    work::Work now = work::emptyWork(kSheet);  // of the first pair of colours, whichever the new one has
    now.output().stop = {4, 0, 0};
    w.window.session().open(now, {});
    QTest::qWait(20);
    w.actions = 1;
    for (const char* c = word; *c; ++c)
        if (*c == '\n')
            QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
        else
            QTest::keyClick(QApplication::focusWidget(), *c);
}

// A list's entry: a click that opens it and one that takes it.
inline void choose(Window& w, const char* field, int index)
{
    w.actions += 2;
    auto* list = w.find<QComboBox>(field);
    list->setCurrentIndex(index);
    Q_EMIT list->activated(index);
}

inline void shortcut(Window& w, const char* action)
{
    QVERIFY(w.trigger(action));
}

// From the sample book, which is open.
inline void take(Window& w, const QString& sample)
{
    ++w.actions;
    auto* list = w.find<QListWidget>("book.list");
    const auto found = list->findItems(sample, Qt::MatchExactly);
    QVERIFY2(found.size() == 1, qPrintable(sample));
    Q_EMIT list->itemClicked(found.front());
}

inline void addLight(Window& w, int kind)
{
    w.actions += 2;  // Add, its kind
    w.window.findChild<QMenu*>("light.addMenu")->actions()[kind]->trigger();
}

// Export..., a name, Render.
inline QImage exported(Window& w, const char* name)
{
    w.trigger("file.export");
    w.type("export.path", path(name));
    w.click("export.render");
    if (!w.waitForFinal(session::FinalStatus::State::Finished))
        return {};
    (void)QTest::qWaitFor([&] { return QFile::exists(path(name)); }, 60000);
    return QImage(path(name));
}

}  // namespace job
