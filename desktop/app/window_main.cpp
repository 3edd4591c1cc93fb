// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/app/file_window.h"
#include "desktop/app/window.h"
#include "desktop/command/exit_codes.h"
#include "desktop/course/log.h"
#include "desktop/widgets/theme.h"

#include <QApplication>

#include <CLI/CLI.hpp>
#include <cstdio>

namespace {
int resolveFile(const rope::FileRequest& request)
{
    const auto window = rope::FileWindow::open(request);
    if (!window) {
        const rope::Error& error = window.error();
        std::fprintf(stderr,
                     "rope-splice: %s %s\n",
                     error.subject.c_str(),
                     error.code == rope::ErrorCode::invalidInput
                         ? "is not text: it cannot be resolved by lines."
                         : ("could not be read: " + error.detail + ".").c_str());
        return rope::kExitError;
    }
    (*window)->show();
    QApplication::exec();
    return (*window)->exitCode();
}
}  // namespace

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
    rope::FileRequest file;
    commandLine.add_option("--resolve-base", file.base, "one file: its base");
    commandLine.add_option("--resolve-ours", file.ours, "its own version");
    commandLine.add_option("--resolve-theirs", file.theirs, "the version to bring in");
    commandLine.add_option("--resolve-result", file.result, "where its result is saved");
    commandLine.add_option("--resolve-label", file.labels, "what base, ours, theirs are called")
        ->allow_extra_args(false);
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
    if (!file.result.empty()) {
        return resolveFile(file);
    }
    rope::Window window;
    if (!demo.empty()) {
        window.addDemoMenu(QString::fromStdString(demo));
    }
    if (!path.empty()) {
        window.openRepository(
            QString::fromLocal8Bit(path.data(), static_cast<qsizetype>(path.size())));
    }
    window.show();
    return QApplication::exec();
}
