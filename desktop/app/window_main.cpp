// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/app/file_window.h"
#include "desktop/app/look_keeper.h"
#include "desktop/app/window.h"
#include "desktop/command/exit_codes.h"
#include "desktop/course/log.h"
#include "desktop/widgets/theme.h"

#include <QApplication>

#include <array>
#include <cstdio>
#include <getopt.h>
#include <map>
#include <optional>
#include <string>
#include <unistd.h>

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
                         ? "is not text: it cannot be merged by lines."
                         : ("could not be read: " + error.detail + ".").c_str());
        return rope::kExitError;
    }
    (*window)->show();
    QApplication::exec();
    return (*window)->exitCode();
}

/// Qt ends the program where it finds no display, and advises to install it again.
void sayWhyThereIsNoWindow(QtMsgType type, const QMessageLogContext&, const QString&)
{
    if (type == QtFatalMsg) {
        std::fputs("rope-splice: There is no display here to open a window on. The commands work "
                   "without one: rope-splice --help lists them.\n",
                   stderr);
        ::_exit(rope::kExitError);
    }
}

/// What rope-splice asks of the window.
struct Request
{
    std::string path;  ///< The repository to open.
    std::string look;  ///< light, dark or contrast; empty: the person's, or the desktop's.
    std::string demo;  ///< The demo's folder: adds a menu to play the teammate.
    rope::FileRequest file;
};

/// Paths are bytes, so the options are read before Qt makes text of them.
std::optional<Request> readRequest(int argc, char** argv)
{
    constexpr std::array options{option{"theme", required_argument, nullptr, 't'},
                                 option{"demo", required_argument, nullptr, 'd'},
                                 option{"resolve-base", required_argument, nullptr, 'B'},
                                 option{"resolve-ours", required_argument, nullptr, 'O'},
                                 option{"resolve-theirs", required_argument, nullptr, 'T'},
                                 option{"resolve-result", required_argument, nullptr, 'R'},
                                 option{"resolve-label", required_argument, nullptr, 'L'},
                                 option{}};
    Request request;
    std::map<int, std::string*> values{{'t', &request.look},
                                       {'d', &request.demo},
                                       {'B', &request.file.base},
                                       {'O', &request.file.ours},
                                       {'T', &request.file.theirs},
                                       {'R', &request.file.result}};
    int sign = 0;
    while ((sign = ::getopt_long(argc, argv, "", options.data(), nullptr)) != -1) {
        if (sign == 'L') {
            request.file.labels.emplace_back(optarg);
        } else if (const auto value = values.find(sign); value != values.end()) {
            *value->second = optarg;
        } else {
            return std::nullopt;
        }
    }
    if (!request.look.empty() && !rope::lookNamed(QString::fromStdString(request.look))) {
        std::fputs("rope-splice-window: --theme is light, dark or contrast.\n", stderr);
        return std::nullopt;
    }
    if (optind < argc) {
        request.path = argv[optind];
    }
    return request;
}
}  // namespace

int main(int argc, char** argv)
{
    const auto request = readRequest(argc, argv);
    if (!request) {
        return rope::kExitError;
    }
    qInstallMessageHandler(sayWhyThereIsNoWindow);
    QApplication application(argc, argv);
    qInstallMessageHandler(nullptr);
    QApplication::setOrganizationName(QStringLiteral("rope-splice"));
    QApplication::setApplicationName(QStringLiteral("rope-splice"));
    QApplication::setApplicationDisplayName(QStringLiteral("Rope Splice"));
    rope::startLog();
    rope::LookKeeper looks(
        application, QString::fromStdString(request->look), rope::DesktopSettings::sessionBus());
    if (!request->file.result.empty()) {
        return resolveFile(request->file);
    }
    rope::Window window;
    QObject::connect(
        &window, &rope::Window::preferencesChanged, &looks, &rope::LookKeeper::takePreferences);
    if (!request->demo.empty()) {
        window.addDemoMenu(QString::fromStdString(request->demo));
    }
    if (!request->path.empty()) {
        window.openRepository(QString::fromLocal8Bit(request->path.data(),
                                                     static_cast<qsizetype>(request->path.size())));
    }
    window.show();
    return QApplication::exec();
}
