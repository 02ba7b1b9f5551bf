// Swatches out of files: added to the work's, or in the place of them.
#pragma once

#include <QObject>

#include "session/session.h"

namespace app {

class SwatchFiles : public QObject {
    Q_OBJECT

public:
    explicit SwatchFiles(session::Session* session, QWidget* parent);

    static bool isSwatchFile(const QString& path);  // by its ending, but for SVG, which is artwork too
    void add(const QString& path);
    void addByDialog();
    // The work in the file's colours.
    void exchange(const QString& path);
    void exchangeByDialog();

Q_SIGNALS:
    void say(const QString& sentence);

private:
    QString ask(const QString& title) const;

    session::Session* m_session;
    QWidget* m_window;
};

}  // namespace app
