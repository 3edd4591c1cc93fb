// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_trial.cpp.
#include "core/trial/command_run.h"

#include <QDir>
#include <QElapsedTimer>
#include <QFile>
#include <QProcess>
#include <QProcessEnvironment>

#include <cerrno>
#include <cstring>

namespace rope {
namespace {
constexpr int kPollMs = 40;           // how late a stop may be noticed
constexpr int kEndMs = 15'000;        // the runner has its own, shorter limits
constexpr qint64 kPartBytes = 65536;  // of what is taken at once

/// Keeps the beginning of what is said in a file, and the end of it in memory until all is said.
class KeptOutput
{
public:
    explicit KeptOutput(const std::string& name)
        : m_file(QString::fromStdString(name))
    {
    }

    bool open() { return m_file.open(QIODevice::WriteOnly | QIODevice::Truncate); }

    bool add(std::string_view bytes)
    {
        m_said += bytes.size();
        const std::uint64_t room = kMostOutputBytes - std::min(kMostOutputBytes, m_kept);
        const std::string_view first = bytes.substr(0, std::min<std::uint64_t>(room, bytes.size()));
        m_kept += first.size();
        m_last.append(bytes.substr(first.size()));
        if (m_last.size() > 2 * kLastOutputBytes) {
            m_last.erase(0, m_last.size() - kLastOutputBytes);
        }
        return write(first);
    }

    /// What was left out is said where it is missing.
    bool finish(RunOutcome& outcome)
    {
        if (m_last.size() > kLastOutputBytes) {
            m_last.erase(0, m_last.size() - kLastOutputBytes);
        }
        outcome.outputBytes = m_said;
        outcome.droppedBytes = m_said - m_kept - m_last.size();
        if (outcome.droppedBytes > 0
            && !write("\n[... " + std::to_string(outcome.droppedBytes)
                      + " bytes are left out ...]\n")) {
            return false;
        }
        return write(m_last) && m_file.flush();
    }

    [[nodiscard]] Error problem() const
    {
        const bool isFull = m_file.error() == QFile::ResourceError || errno == ENOSPC;
        return {ErrorCode::io,
                m_file.fileName().toStdString(),
                m_file.errorString().toStdString(),
                isFull ? Reason::diskFull : Reason::none};
    }

private:
    bool write(std::string_view bytes)
    {
        const auto size = static_cast<qint64>(bytes.size());
        return m_file.write(bytes.data(), size) == size && m_file.flush();
    }

    QFile m_file;
    std::string m_last;
    std::uint64_t m_said = 0;
    std::uint64_t m_kept = 0;
};

void prepare(QProcess& process, const RunRequest& request)
{
    QStringList words;
    for (const std::string& word : request.words) {
        words << QString::fromStdString(word);
    }
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    for (const std::string& name : request.unset) {
        environment.remove(QString::fromStdString(name));
    }
    // Where it runs, whatever the folder is reached by: programs ask the one or the other.
    environment.insert(QStringLiteral("PWD"), QString::fromStdString(request.folder));
    process.setProgram(QString::fromStdString(request.runner));
    process.setArguments(words);
    process.setWorkingDirectory(QString::fromStdString(request.folder));
    process.setProcessEnvironment(environment);
}

/// Reads what the runner told of the end. Errors: `notFound`; `io` where it told nothing.
Status takeReport(const QByteArray& report, const RunRequest& request, RunOutcome& outcome)
{
    bool hasEnd = false;
    for (const QByteArray& line : report.split('\n')) {
        const int number = line.mid(line.indexOf(' ') + 1).toInt();
        if (line.startsWith("missing ")) {
            const bool isThere = number != ENOENT;
            return Error{isThere ? ErrorCode::io : ErrorCode::notFound,
                         request.words.front(),
                         std::strerror(number),
                         isThere ? Reason::none : Reason::commandNotFound};
        }
        if (line.startsWith("exit ")) {
            outcome.exitCode = number;
        } else if (line.startsWith("signal ")) {
            outcome.signal = number;
        } else if (line.startsWith("stopped ")) {
            outcome.isStopped = true;
        } else if (line.startsWith("left ")) {
            outcome.leftBehind = static_cast<std::size_t>(number);
            continue;
        } else {
            continue;
        }
        hasEnd = true;
    }
    if (!hasEnd) {
        return Error{ErrorCode::io, request.runner, report.toStdString()};
    }
    return ok();
}
}  // namespace

Result<RunOutcome>
runCommand(const RunRequest& request, const OutputSink& sink, const std::stop_token& stop)
{
    KeptOutput kept(request.outputFile);
    if (!kept.open()) {
        return kept.problem();
    }
    QProcess process;
    prepare(process, request);
    QElapsedTimer clock;
    clock.start();
    process.start();
    if (!process.waitForStarted(-1)) {
        return Error{ErrorCode::io, request.runner, process.errorString().toStdString()};
    }
    RunOutcome outcome;
    QByteArray report;
    bool isKept = true;
    bool isAsked = false;
    QElapsedTimer sinceAsked;
    for (bool isRunning = true; isRunning;) {
        isRunning =
            process.state() != QProcess::NotRunning
            && (process.waitForReadyRead(kPollMs) || process.state() != QProcess::NotRunning);
        process.setReadChannel(QProcess::StandardOutput);
        while (process.bytesAvailable() > 0) {
            const QByteArray part = process.read(kPartBytes);
            const std::string_view bytes(part.constData(), static_cast<std::size_t>(part.size()));
            isKept = isKept && kept.add(bytes);
            sink(bytes);
        }
        report += process.readAllStandardError();
        if (isRunning && !isAsked && (stop.stop_requested() || !isKept)) {
            process.closeWriteChannel();
            isAsked = true;
            sinceAsked.start();
        }
        if (isAsked && sinceAsked.elapsed() > kEndMs) {
            process.kill();
        }
    }
    outcome.durationMs = clock.elapsed();
    TRY(takeReport(report, request, outcome));
    if (!isKept || !kept.finish(outcome)) {
        return kept.problem();
    }
    return outcome;
}
}  // namespace rope
