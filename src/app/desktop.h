// What the desktop wishes of programs: light or dark, and whether things may move. Asked of the settings portal, which tells changes
// too; without one, of the palette. The variable OPEN_GLOW_APPEARANCE ("light", "dark") wins.
// Source: XDG Desktop Portal, org.freedesktop.portal.Settings; key color-scheme of org.freedesktop.appearance (1: dark, 2: light).
#pragma once

#include <QDBusVariant>
#include <QObject>
#include <optional>

#include "app/style.h"

namespace app {

class Desktop : public QObject {
    Q_OBJECT

public:
    explicit Desktop(QObject* parent = nullptr);

    Variant variant() const;
    bool motion() const { return m_motion; }

public Q_SLOTS:
    // As the portal tells it.
    void settingChanged(const QString& group, const QString& key, const QDBusVariant& value);

Q_SIGNALS:
    void changed();

private:
    void ask(const QString& group, const QString& key);

    std::optional<Variant> m_told;
    bool m_motion = true;
    Variant m_palette;  // of the desktop's own colours, before ours
};

}  // namespace app
