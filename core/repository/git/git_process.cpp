// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/repository/git/git_process.h"

#include <QProcessEnvironment>

namespace rope {
namespace {
constexpr int kPollMs = 40;  // how late a cancellation may be noticed

QProcessEnvironment fixedEnvironment(const GitRunOptions& options)
{
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    // What an outer git has set for its own hook or alias must not lead us to another repository.
    for (const char* name : {"GIT_DIR",
                             "GIT_WORK_TREE",
                             "GIT_INDEX_FILE",
                             "GIT_OBJECT_DIRECTORY",
                             "GIT_COMMON_DIR",
                             "GIT_ALTERNATE_OBJECT_DIRECTORIES",
                             "GIT_NAMESPACE",
                             "GIT_PREFIX"}) {
        environment.remove(QString::fromLatin1(name));
    }
    if (!options.keepsLocale) {
        environment.insert(QStringLiteral("LC_ALL"), QStringLiteral("C"));
    }
    environment.insert(QStringLiteral("GIT_TERMINAL_PROMPT"), QStringLiteral("0"));
    environment.insert(QStringLiteral("GIT_OPTIONAL_LOCKS"), QStringLiteral("0"));
    environment.insert(QStringLiteral("GIT_FLUSH"), QStringLiteral("0"));  // rev-list, line by line
    for (const auto& [name, value] : options.environment) {
        environment.insert(QString::fromStdString(name), QString::fromStdString(value));
    }
    return environment;
}

std::string bytesOf(const QByteArray& array)
{
    return array.toStdString();
}

Error startError(const QProcess& process)
{
    return {ErrorCode::io, "git", process.errorString().toStdString()};
}
}  // namespace

void GitProcess::prepare(QProcess& process,
                         const std::vector<std::string>& arguments,
                         const GitRunOptions& options) const
{
    QStringList list;
    for (const std::string& argument : arguments) {
        list << QString::fromStdString(argument);
    }
    process.setProgram(QStringLiteral("git"));
    process.setArguments(list);
    process.setWorkingDirectory(QString::fromStdString(m_folder));
    process.setProcessEnvironment(fixedEnvironment(options));
}

Result<GitOutput> GitProcess::run(const std::vector<std::string>& arguments,
                                  const GitRunOptions& options) const
{
    QProcess process;
    prepare(process, arguments, options);
    process.start();
    if (!process.waitForStarted(-1)) {
        return startError(process);
    }
    if (!options.input.empty()) {
        process.write(options.input.data(), static_cast<qint64>(options.input.size()));
    }
    process.closeWriteChannel();
    GitOutput output;
    for (bool isRunning = true; isRunning;) {
        isRunning = !process.waitForFinished(kPollMs) && process.state() != QProcess::NotRunning;
        output.out += bytesOf(process.readAllStandardOutput());
        const std::string errorText = bytesOf(process.readAllStandardError());
        if (options.onErrorText && !errorText.empty()) {
            options.onErrorText(errorText);
        }
        output.err += errorText;
        if (isRunning && options.stop.stop_requested()) {
            process.terminate();
            process.waitForFinished(2000);
            return Error{ErrorCode::cancelled, arguments.front(), {}};
        }
    }
    output.exitCode = process.exitStatus() == QProcess::NormalExit ? process.exitCode() : -1;
    return output;
}

Result<std::string> GitProcess::output(const std::vector<std::string>& arguments,
                                       const GitRunOptions& options) const
{
    TRY_ASSIGN(GitOutput result, run(arguments, options));
    if (result.exitCode != 0) {
        return Error{ErrorCode::gitFailed, "git " + arguments.front(), std::move(result.err)};
    }
    return std::move(result.out);
}

Result<std::unique_ptr<QProcess>> GitProcess::start(const std::vector<std::string>& arguments) const
{
    auto process = std::make_unique<QProcess>();
    prepare(*process, arguments, {});
    process->start();
    if (!process->waitForStarted(-1)) {
        return startError(*process);
    }
    return process;
}
}  // namespace rope
