// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_look_keeper.cpp.
#include "desktop/app/look_keeper.h"

#include "desktop/app/preferences.h"

#include <QApplication>

#include <utility>

namespace rope {
LookKeeper::LookKeeper(QApplication& application, const QString& asked, const QDBusConnection& bus)
    : m_application(application)
    , m_asked(asked)
    , m_ofPalette(desktopLook())
    , m_look(m_ofPalette)
    , m_desktop(bus, this)
{
    connect(&m_desktop, &DesktopSettings::changed, this, &LookKeeper::takePreferences);
    m_look = wanted();
    applyLook(m_application, m_look);
    takePreferences();
}

Look LookKeeper::wanted() const
{
    for (const QString& name : {m_asked, Preferences::read().look}) {
        if (const auto look = lookNamed(name)) {
            return *look;
        }
    }
    return m_desktop.look().value_or(m_ofPalette);
}

void LookKeeper::takePreferences()
{
    const double points = Preferences::read().codeSize;
    setCodeSize(points > 0 ? std::optional(points) : std::nullopt);
    const Look look = wanted();
    if (std::exchange(m_look, look) != look) {
        applyLook(m_application, look);
    }
}
}  // namespace rope
