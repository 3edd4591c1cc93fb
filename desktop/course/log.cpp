// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/course/log.h"

#include "desktop/wording/describe_error.h"

#include <QDir>
#include <QFile>

#include <cstdio>
#include <cstdlib>
#include <exception>
#include <spdlog/sinks/rotating_file_sink.h>
#include <spdlog/spdlog.h>
#include <sys/stat.h>

namespace rope {
namespace {
constexpr std::size_t kMostBytes = 1'000'000;
constexpr std::size_t kMostFiles = 3;
constexpr std::size_t kMostDetail = 4000;

/// What is logged is for this user alone, wherever the log is.
spdlog::file_event_handlers ownFiles()
{
    spdlog::file_event_handlers handlers;
    handlers.after_open = [](const spdlog::filename_t&, std::FILE* file) {
        ::fchmod(::fileno(file), S_IRUSR | S_IWUSR);
    };
    return handlers;
}

[[noreturn]] void endInWords()
{
    std::string why = "an error that was not caught";
    if (const auto error = std::current_exception()) {
        try {
            std::rethrow_exception(error);
        } catch (const std::exception& known) {
            why = known.what();
        } catch (...) {
            why = "an unknown exception";
        }
    }
    spdlog::critical("ended: {}", why);
    std::abort();
}

/// What Qt says goes to the log as well: its last words before an abort, above all.
void logQt(QtMsgType type, const QMessageLogContext&, const QString& words)
{
    const std::string text = words.toStdString();
    if (type == QtFatalMsg) {
        spdlog::critical("ended: {}", text);
    } else if (type == QtCriticalMsg || type == QtWarningMsg) {
        spdlog::warn("qt: {}", text);
    }
    std::fprintf(stderr, "%s\n", text.c_str());
}
}  // namespace

void startLog()
{
    QString state = qEnvironmentVariable("XDG_STATE_HOME");
    if (state.isEmpty()) {
        state = QDir::homePath() + QStringLiteral("/.local/state");
    }
    const QString folder = state + QStringLiteral("/rope-splice");
    if (!QDir().mkpath(folder)) {
        return;
    }
    QFile::setPermissions(folder, QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
    try {  // spdlog tells of an unwritable file by throwing; a program without a log still runs
        spdlog::set_default_logger(
            spdlog::rotating_logger_mt("rope-splice",
                                       (folder + QStringLiteral("/log")).toStdString(),
                                       kMostBytes,
                                       kMostFiles,
                                       false,
                                       ownFiles()));
        spdlog::flush_on(spdlog::level::info);
        std::set_terminate(&endInWords);
        qInstallMessageHandler(&logQt);
    } catch (const spdlog::spdlog_ex&) {
        spdlog::set_level(spdlog::level::off);
    }
}

void logNote(const std::string& text)
{
    spdlog::info("{}", text);
}

void logError(const Error& error)
{
    spdlog::warn("error {}: {} | {}",
                 static_cast<int>(error.code),
                 withoutPasswords(error.subject),
                 withoutPasswords(error.detail.substr(0, kMostDetail)));
}
}  // namespace rope
