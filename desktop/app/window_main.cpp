// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/app/log.h"
#include "desktop/app/window.h"
#include "desktop/widgets/theme.h"

#include <QApplication>

#include <CLI/CLI.hpp>

// Only a fault in the table of options below could throw; it is to end the program.
// NOLINTNEXTLINE(bugprone-exception-escape)
int main(int argc, char** argv)
{
    CLI::App commandLine("The window of Rope Splice; started by rope-splice.",
                         "rope-splice-window");
    std::string path;
    std::string look;
    commandLine.add_option("path", path, "the repository to open");
    commandLine.add_option("--theme", look, "light or dark; else the desktop's")
        ->check(CLI::IsMember({"light", "dark"}));
    std::string demo;
    commandLine.add_option("--demo", demo, "the demo's folder: adds a menu to play the teammate");
    CLI11_PARSE(commandLine, argc, argv);

    QApplication application(argc, argv);
    QApplication::setOrganizationName(QStringLiteral("rope-splice"));
    QApplication::setApplicationName(QStringLiteral("rope-splice"));
    QApplication::setApplicationDisplayName(QStringLiteral("Rope Splice"));
    rope::startLog();
    const rope::Look asked = look.empty()     ? rope::desktopLook()
                             : look == "dark" ? rope::Look::dark
                                              : rope::Look::light;
    rope::applyLook(application, asked);
    rope::Window window;
    if (!demo.empty()) {
        window.addDemoMenu(QString::fromStdString(demo));
    }
    window.show();
    if (!path.empty()) {
        window.openRepository(
            QString::fromLocal8Bit(path.data(), static_cast<qsizetype>(path.size())));
    }
    return QApplication::exec();
}
