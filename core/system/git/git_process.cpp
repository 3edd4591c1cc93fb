// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_git_place.cpp.
#include "core/system/git/git_process.h"

#include "core/base/process_tree.h"

#include <QFileInfo>
#include <QProcess>
#include <QProcessEnvironment>
#include <QStandardPaths>
#include <QThread>

#include <algorithm>
#include <array>
#include <csignal>
#include <map>
#include <unistd.h>

namespace rope {
namespace {
constexpr int kPollMs = 40;     // how late a cancellation may be noticed
constexpr int kGraceMs = 2000;  // to end by itself what was asked to stop
/// Of what a program says on standard error, which is evidence for people: a remote may say anything.
constexpr std::size_t kMostErrorBytes = 64'000;

/// Set by an outer git for its own hook or alias, or by a person for another command: they must not
/// lead us to another repository, or change what our arguments mean.
constexpr const char* kForeignVariables[] = {"GIT_DIR",
                                             "GIT_WORK_TREE",
                                             "GIT_INDEX_FILE",
                                             "GIT_OBJECT_DIRECTORY",
                                             "GIT_COMMON_DIR",
                                             "GIT_ALTERNATE_OBJECT_DIRECTORIES",
                                             "GIT_NAMESPACE",
                                             "GIT_PREFIX",
                                             "GIT_INTERNAL_SUPER_PREFIX",
                                             "GIT_GRAFT_FILE",
                                             "GIT_SHALLOW_FILE",
                                             "GIT_REPLACE_REF_BASE",
                                             "GIT_LITERAL_PATHSPECS",
                                             "GIT_GLOB_PATHSPECS",
                                             "GIT_NOGLOB_PATHSPECS",
                                             "GIT_ICASE_PATHSPECS",
                                             "GIT_DEFAULT_HASH"};

QString text(const std::string& bytes)
{
    return QString::fromStdString(bytes);
}

void append(std::string& kept, const QByteArray& more, std::size_t most)
{
    kept.append(more.constData(), static_cast<std::size_t>(more.size()));
    if (kept.size() > most) {
        kept.erase(0, kept.size() - most);
    }
}

/// Whether a program that failed was ended by the very key that asks to stop. The key reaches both on their
/// own ways, so the program may be gone a moment before we know of it.
bool isStopping(const GitRunOptions& options)
{
    constexpr int kMostLooks = 20;
    constexpr unsigned long kPauseMs = 10;
    if (options.purpose == RunFor::looking || !options.stop.stop_possible()) {
        return false;
    }
    for (int looks = 0; looks < kMostLooks && !options.stop.stop_requested(); ++looks) {
        QThread::msleep(kPauseMs);
    }
    return options.stop.stop_requested();
}

/// Out of reach of a terminal's keys, which go to a whole group of processes: shells and filters that git
/// starts take back the blocking of signals that they were given. Such a program cannot ask on the terminal,
/// and fails where it tries rather than being held for ever.
void leaveTerminalGroup()
{
    sigset_t asking;
    ::sigemptyset(&asking);
    ::sigaddset(&asking, SIGTTIN);
    ::sigaddset(&asking, SIGTTOU);
    ::pthread_sigmask(SIG_BLOCK, &asking, nullptr);
    ::setpgid(0, 0);
}

Error startError(const QProcess& process)
{
    const QString folder = process.workingDirectory();
    const bool isMissing = process.error() == QProcess::FailedToStart
                           && (folder.isEmpty() || QFileInfo(folder).isDir())
                           && QStandardPaths::findExecutable(process.program()).isEmpty();
    return {isMissing ? ErrorCode::notFound : ErrorCode::io,
            process.program().toStdString(),
            process.errorString().toStdString(),
            isMissing ? Reason::programMissing : Reason::none};
}
}  // namespace

std::vector<std::string> GitProcess::leadingVariables()
{
    return {std::begin(kForeignVariables), std::end(kForeignVariables)};
}

void GitProcess::setPlace(std::string folder, std::string gitFolder, bool hasWorkingTree)
{
    m_folder = std::move(folder);
    m_gitFolder = std::move(gitFolder);
    m_hasWorkingTree = hasWorkingTree;
}

GitProcess::Changes GitProcess::environmentChanges(const GitRunOptions& options) const
{
    Changes changes;
    for (const char* name : kForeignVariables) {
        changes.emplace_back(name, std::nullopt);
    }
    if (options.purpose != RunFor::ownTongue) {
        changes.emplace_back("LC_ALL", "C");
        changes.emplace_back("GIT_TERMINAL_PROMPT", "0");
        changes.emplace_back("GIT_OPTIONAL_LOCKS", "0");
        changes.emplace_back("GIT_FLUSH", "0");  // rev-list, by lines
        // Missing objects are asked for together, by us, or not at all.
        changes.emplace_back("GIT_NO_LAZY_FETCH", "1");
        if (!m_gitFolder.empty()) {
            changes.emplace_back("GIT_DIR", m_gitFolder);
        }
        if (m_hasWorkingTree) {
            changes.emplace_back("GIT_WORK_TREE", m_folder);
        }
    }
    Environment settings = options.settings;
    if (options.purpose == RunFor::looking) {
        settings.insert(settings.end(), m_overrides.begin(), m_overrides.end());
    }
    if (!settings.empty()) {
        int count = qEnvironmentVariableIntValue("GIT_CONFIG_COUNT");
        for (const auto& [key, value] : settings) {
            changes.emplace_back("GIT_CONFIG_KEY_" + std::to_string(count), key);
            changes.emplace_back("GIT_CONFIG_VALUE_" + std::to_string(count), value);
            ++count;
        }
        changes.emplace_back("GIT_CONFIG_COUNT", std::to_string(count));
    }
    changes.insert(changes.end(), options.environment.begin(), options.environment.end());
    return changes;
}

void GitProcess::prepare(QProcess& process,
                         const std::string& program,
                         const std::vector<std::string>& arguments,
                         const GitRunOptions& options) const
{
    QStringList list;
    for (const std::string& argument : arguments) {
        list << text(argument);
    }
    process.setProgram(text(program));
    process.setArguments(list);
    process.setWorkingDirectory(text(m_folder));
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    for (const auto& [name, value] : environmentChanges(options)) {
        if (value) {
            environment.insert(text(name), text(*value));
        } else {
            environment.remove(text(name));
        }
    }
    process.setProcessEnvironment(environment);
}

Result<GitOutput> GitProcess::run(const std::vector<std::string>& arguments,
                                  const GitRunOptions& options) const
{
    return runProgram("git", arguments, options);
}

Result<GitOutput> GitProcess::runOnIndex(const std::vector<std::string>& arguments,
                                         const GitRunOptions& options) const
{
    constexpr int kMostTries = 20;
    constexpr unsigned long kPauseMs = 50;
    for (int tries = 1;; ++tries) {
        TRY_ASSIGN(GitOutput ran, run(arguments, options));
        const bool isLocked = ran.exitCode != 0 && ran.err.find("index.lock") != std::string::npos
                              && ran.err.find("File exists") != std::string::npos;
        if (!isLocked || tries == kMostTries || options.stop.stop_requested()) {
            return ran;
        }
        QThread::msleep(kPauseMs);
    }
}

Result<GitOutput> GitProcess::runProgram(const std::string& program,
                                         const std::vector<std::string>& arguments,
                                         const GitRunOptions& options) const
{
    QProcess process;
    prepare(process, program, arguments, options);
    if (options.purpose == RunFor::acting && !options.stop.stop_possible()) {
        process.setChildProcessModifier(&leaveTerminalGroup);
    }
    process.start();
    if (!process.waitForStarted(-1)) {
        return startError(process);
    }
    TRY_ASSIGN(GitOutput output, finish(process, options));
    if (output.exitCode != 0 && isStopping(options)) {
        return Error{
            ErrorCode::cancelled, arguments.empty() ? program : arguments.front(), output.err};
    }
    return output;
}

Result<GitOutput> GitProcess::finish(QProcess& process, const GitRunOptions& options)
{
    if (!options.input.empty()) {
        process.write(options.input.data(), static_cast<qint64>(options.input.size()));
    }
    process.closeWriteChannel();
    GitOutput output;
    for (bool isRunning = true; isRunning;) {
        isRunning = !process.waitForFinished(kPollMs) && process.state() != QProcess::NotRunning;
        append(output.out, process.readAllStandardOutput(), options.mostKeptBytes);
        const QByteArray errorText = process.readAllStandardError();
        if (options.onErrorText && !errorText.isEmpty()) {
            options.onErrorText(
                {errorText.constData(), static_cast<std::size_t>(errorText.size())});
        }
        append(output.err, errorText, std::min(options.mostKeptBytes, kMostErrorBytes));
        if (isRunning && options.stop.stop_requested()) {
            endProcessTree(static_cast<pid_t>(process.processId()), kGraceMs);
            process.waitForFinished(kGraceMs);
            return Error{
                ErrorCode::cancelled, process.arguments().value(0).toStdString(), output.err};
        }
    }
    output.exitCode = process.exitStatus() == QProcess::NormalExit ? process.exitCode() : -1;
    return output;
}

Result<GitOutput> GitProcess::finish(PipedProcess& process)
{
    constexpr int kAnswerMs = 120'000;
    process.closeInput();
    GitOutput output;
    std::array<char, 4096> part{};
    for (std::size_t got = 1; got > 0;) {
        TRY_ASSIGN(got, process.read(part, kAnswerMs));
        output.out.append(part.data(), got);
    }
    output.exitCode = process.wait();
    output.err = process.errorText();
    return output;
}

Result<std::string> GitProcess::output(const std::vector<std::string>& arguments,
                                       const GitRunOptions& options) const
{
    TRY_ASSIGN(GitOutput result, run(arguments, options));
    if (result.exitCode != 0) {
        return Error{ErrorCode::systemFailed, "git " + arguments.front(), std::move(result.err)};
    }
    return std::move(result.out);
}

Result<std::unique_ptr<PipedProcess>>
GitProcess::startPiped(const std::vector<std::string>& arguments,
                       const GitRunOptions& options) const
{
    std::map<std::string, std::string> variables;
    for (char** variable = environ; variable != nullptr && *variable != nullptr; ++variable) {
        const std::string_view one = *variable;
        const std::size_t name = one.find('=');
        variables[std::string(one.substr(0, name))] = one;
    }
    for (const auto& [name, value] : environmentChanges(options)) {
        if (value) {
            variables[name] = name + "=" + *value;
        } else {
            variables.erase(name);
        }
    }
    std::vector<std::string> environment;
    environment.reserve(variables.size());
    for (auto& [name, variable] : variables) {
        environment.push_back(std::move(variable));
    }
    return PipedProcess::start("git", arguments, environment, m_folder);
}
}  // namespace rope
