#include "app/desktop.h"

#include <QDBusConnection>
#include <QDBusMessage>
#include <QDBusPendingCallWatcher>
#include <QDBusPendingReply>
#include <QGuiApplication>
#include <QPalette>

namespace app {

namespace {

const char* const kService = "org.freedesktop.portal.Desktop";
const char* const kPath = "/org/freedesktop/portal/desktop";
const char* const kInterface = "org.freedesktop.portal.Settings";
const char* const kAppearance = "org.freedesktop.appearance";
const char* const kInterfaceSettings = "org.gnome.desktop.interface";

// The palette before a style of ours was set; the first Desktop sees it.
Variant paletteVariant()
{
    static const Variant s_variant = QPalette().color(QPalette::Window).lightness() < 110 ? Variant::Dark : Variant::Light;
    return s_variant;
}

}  // namespace

Desktop::Desktop(QObject* parent) : QObject(parent), m_palette(paletteVariant())
{
    QDBusConnection bus = QDBusConnection::sessionBus();
    if (!bus.isConnected())
        return;
    bus.connect(kService, kPath, kInterface, "SettingChanged", this, SLOT(settingChanged(QString, QString, QDBusVariant)));
    ask(kAppearance, "color-scheme");
    ask(kInterfaceSettings, "enable-animations");
}

void Desktop::ask(const QString& group, const QString& key)
{
    QDBusMessage call = QDBusMessage::createMethodCall(kService, kPath, kInterface, "Read");
    call.setArguments({group, key});
    call.setAutoStartService(false);
    auto* watcher = new QDBusPendingCallWatcher(QDBusConnection::sessionBus().asyncCall(call), this);
    connect(watcher, &QDBusPendingCallWatcher::finished, this, [this, group, key, watcher] {
        const QDBusPendingReply<QDBusVariant> reply = *watcher;
        if (reply.isValid())
            settingChanged(group, key, reply.value());
        watcher->deleteLater();
    });
}

void Desktop::settingChanged(const QString& group, const QString& key, const QDBusVariant& value)
{
    QVariant v = value.variant();
    if (v.canConvert<QDBusVariant>())  // Read wraps twice
        v = v.value<QDBusVariant>().variant();
    if (group == kAppearance && key == "color-scheme") {
        const uint scheme = v.toUInt();
        m_told = scheme == 1 ? std::optional(Variant::Dark) : scheme == 2 ? std::optional(Variant::Light) : std::nullopt;
    } else if (group == kInterfaceSettings && key == "enable-animations") {
        m_motion = v.toBool();
    } else {
        return;
    }
    Q_EMIT changed();
}

Variant Desktop::variant() const
{
    const QByteArray forced = qgetenv("OPEN_GLOW_APPEARANCE");
    if (!forced.isEmpty())
        return forced == "dark" ? Variant::Dark : Variant::Light;
    return m_told.value_or(m_palette);
}

}  // namespace app
