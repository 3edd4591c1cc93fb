// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_look_keeper.cpp.
#include "desktop/app/desktop_settings.h"

#include <QDBusMessage>
#include <QDBusPendingCallWatcher>
#include <QDBusPendingReply>
#include <QFileInfo>

#include <utility>

namespace rope {
namespace {
const QString kService = QStringLiteral("org.freedesktop.portal.Desktop");
const QString kPath = QStringLiteral("/org/freedesktop/portal/desktop");
const QString kInterface = QStringLiteral("org.freedesktop.portal.Settings");
const QString kAppearance = QStringLiteral("org.freedesktop.appearance");
const QString kScheme = QStringLiteral("color-scheme");
const QString kContrast = QStringLiteral("contrast");
constexpr uint kDark = 1;  // of the colour scheme; 2 is light, 0 no wish
constexpr uint kLight = 2;
constexpr uint kMore = 1;  // of the contrast
}  // namespace

DesktopSettings::DesktopSettings(QDBusConnection bus, QObject* parent)
    : QObject(parent)
    , m_bus(std::move(bus))
{
    if (!m_bus.isConnected()) {
        return;
    }
    qRegisterMetaType<QDBusVariant>();  // by its name, or connecting to a slot that takes one fails
    m_bus.connect(kService,
                  kPath,
                  kInterface,
                  QStringLiteral("SettingChanged"),
                  this,
                  SLOT(onSettingChanged(QString, QString, QDBusVariant)));
    ask(kScheme);
    ask(kContrast);
}

QDBusConnection DesktopSettings::sessionBus()
{
    // Qt would start a bus where it finds none.
    const bool isThere =
        qEnvironmentVariableIsSet("DBUS_SESSION_BUS_ADDRESS")
        || QFileInfo::exists(qEnvironmentVariable("XDG_RUNTIME_DIR") + QStringLiteral("/bus"));
    return isThere ? QDBusConnection::sessionBus() : QDBusConnection(QStringLiteral("none"));
}

void DesktopSettings::ask(const QString& key)
{
    QDBusMessage question =
        QDBusMessage::createMethodCall(kService, kPath, kInterface, QStringLiteral("Read"));
    question.setArguments({kAppearance, key});
    auto* const answer = new QDBusPendingCallWatcher(m_bus.asyncCall(question), this);
    connect(answer, &QDBusPendingCallWatcher::finished, this, [this, answer, key] {
        answer->deleteLater();
        const QDBusPendingReply<QDBusVariant> reply = *answer;
        if (reply.isValid()) {
            take(key, reply.value().variant());
        }
    });
}

void DesktopSettings::onSettingChanged(const QString& space,
                                       const QString& key,
                                       const QDBusVariant& value)
{
    if (space == kAppearance) {
        take(key, value.variant());
    }
}

void DesktopSettings::take(const QString& key, const QVariant& value)
{
    const auto before = look();
    // Read() wraps what it tells once more.
    const bool isWrapped = value.userType() == qMetaTypeId<QDBusVariant>();
    const uint number = (isWrapped ? value.value<QDBusVariant>().variant() : value).toUInt();
    if (key == kScheme) {
        m_isDark = number == kDark    ? std::optional(true)
                   : number == kLight ? std::optional(false)
                                      : std::nullopt;
    } else if (key == kContrast) {
        m_hasMoreContrast = number == kMore;
    }
    if (look() != before) {
        emit changed();
    }
}

std::optional<Look> DesktopSettings::look() const
{
    if (m_hasMoreContrast) {
        return Look::contrast;
    }
    return m_isDark ? std::optional(*m_isDark ? Look::dark : Look::light) : std::nullopt;
}
}  // namespace rope
