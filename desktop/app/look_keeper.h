// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/app/desktop_settings.h"

#include <QObject>

class QApplication;

namespace rope {
/// Keeps the application's look and the size of code to what is wanted: first what the command line asked for,
/// then the person's preference, then the desktop's settings, then the palette that the program was started
/// with. What changes counts at once. Interface thread.
class LookKeeper final : public QObject
{
    Q_OBJECT
public:
    /// `asked`: a name of lookNamed(), or empty.
    LookKeeper(QApplication& application, const QString& asked, const QDBusConnection& bus);

    /// To be called when preferences have changed.
    void takePreferences();

private:
    [[nodiscard]] Look wanted() const;

    QApplication& m_application;
    QString m_asked;
    Look m_ofPalette;
    Look m_look;
    DesktopSettings m_desktop;
};
}  // namespace rope
