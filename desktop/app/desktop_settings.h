// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/widgets/theme.h"

#include <QDBusConnection>
#include <QDBusVariant>
#include <QObject>

#include <optional>

namespace rope {
/// What the desktop's settings say of looks: the portal org.freedesktop.portal.Settings, namespace
/// org.freedesktop.appearance, keys color-scheme and contrast (both 32 bits; XDG Desktop Portal, version 1 of
/// the interface on). Nobody waits for it: until it has answered, and where there is none, nothing is known.
/// Interface thread.
class DesktopSettings final : public QObject
{
    Q_OBJECT
public:
    /// Asks over a bus; one that is not connected is asked nothing.
    DesktopSettings(QDBusConnection bus, QObject* parent);
    /// The bus of the person's session, if there is one: none is started.
    [[nodiscard]] static QDBusConnection sessionBus();

    /// The look that is asked for; nothing where none is, or none is known. More contrast stands before dark.
    [[nodiscard]] std::optional<Look> look() const;

signals:
    void changed();

private slots:
    void onSettingChanged(const QString& space, const QString& key, const QDBusVariant& value);

private:
    void ask(const QString& key);
    void take(const QString& key, const QVariant& value);

    QDBusConnection m_bus;
    std::optional<bool> m_isDark;
    bool m_hasMoreContrast = false;
};
}  // namespace rope
