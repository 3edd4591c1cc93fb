// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/app/log.h"

#include <QDir>

#include <spdlog/sinks/rotating_file_sink.h>
#include <spdlog/spdlog.h>

namespace rope {
namespace {
constexpr std::size_t kMostBytes = 1'000'000;
constexpr std::size_t kMostFiles = 3;
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
    try {  // spdlog tells of an unwritable file by throwing; a program without a log still runs
        spdlog::set_default_logger(
            spdlog::rotating_logger_mt("rope-splice",
                                       (folder + QStringLiteral("/log")).toStdString(),
                                       kMostBytes,
                                       kMostFiles));
        spdlog::flush_on(spdlog::level::info);
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
    spdlog::warn("error {}: {} | {}", static_cast<int>(error.code), error.subject, error.detail);
}
}  // namespace rope
