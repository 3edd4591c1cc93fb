// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_recorder.cpp and tst_rebase.cpp.
#include "core/system/git/git_hooks.h"

#include "core/system/git/git_errors.h"

#include <QDir>
#include <QFileInfo>

namespace rope {
namespace {
constexpr std::size_t kMostHookOutput = 1'000'000;  // of one hook; of more, the end
}  // namespace

std::vector<std::string> GitHooks::arguments(HookPoint point, const std::string& messageFile) const
{
    switch (point) {
    case HookPoint::beforeRebase:
        return m_plan.keepsFiles
                   ? std::vector<std::string>{"pre-rebase", "--", m_plan.onto, m_plan.lineName}
                   : std::vector<std::string>{"pre-rebase", "--", m_plan.onto};
    case HookPoint::beforeCommit:
        return {"pre-commit"};
    case HookPoint::beforeMergeCommit:
        return {"pre-merge-commit"};
    case HookPoint::prepareMessage:
        return {"prepare-commit-msg", "--", messageFile, "message"};
    case HookPoint::prepareMergeMessage:
        return {"prepare-commit-msg", "--", messageFile, "merge"};
    case HookPoint::checkMessage:
        return {"commit-msg", "--", messageFile};
    case HookPoint::afterCommit:
        return {"post-commit"};
    case HookPoint::afterMerge:
        return {"post-merge", "--", "0"};  // not a squash
    case HookPoint::afterSwitch:
        return {"post-checkout", "--", m_plan.expected.hex(), m_plan.target.hex(), "1"};
    }
    return {};
}

GitRunOptions GitHooks::options() const
{
    GitRunOptions options;
    options.purpose = RunFor::ownTongue;
    options.mostKeptBytes = kMostHookOutput;
    options.stop = m_stop;
    // What git tells its hooks: no editor will follow, and which index holds the result.
    options.environment = {{"GIT_EDITOR", ":"},
                           {"GIT_INDEX_FILE", m_place.gitFolder() + "/index"},
                           {"GIT_DIR", m_place.gitFolder()}};
    if (!m_place.ledFrom().empty()) {
        options.environment.emplace_back("GIT_WORK_TREE", m_place.root());
    }
    return options;
}

Status GitHooks::run(HookPoint point, const std::string& messageFile)
{
    std::vector<std::string> command{"hook", "run", "--ignore-missing"};
    const auto own = arguments(point, messageFile);
    command.insert(command.end(), own.begin(), own.end());
    const auto ran = m_place.git().run(command, options());
    if (!ran) {
        noteStop(own.front(), ran.error());
        return ran.error();
    }
    m_output += ran->err + ran->out;
    if (ran->exitCode != 0) {
        return Error{ErrorCode::refused, own.front(), ran->err + ran->out, Reason::hookRefused};
    }
    return ok();
}

void GitHooks::noteStop(const std::string& hook, const Error& error)
{
    if (error.code == ErrorCode::cancelled) {
        m_output += hook + " was stopped.\n";
    }
}

void GitHooks::tellRewritten(const std::vector<RewrittenCommit>& rewritten)
{
    std::string list;
    for (const RewrittenCommit& commit : rewritten) {
        list += commit.before.hex() + ' ' + commit.after.hex() + '\n';
    }
    GitRunOptions copying;
    copying.input = list;
    copying.purpose = RunFor::acting;
    (void)m_place.git().run({"notes", "copy", "--for-rewrite=rebase"}, copying);
    // `git hook run` gives hooks no standard input, and this one is told there.
    const auto found = m_place.git().output({"rev-parse", "--git-path", "hooks/post-rewrite"});
    if (!found) {
        return;
    }
    const QString program = QDir(QString::fromStdString(m_place.git().folder()))
                                .absoluteFilePath(QString::fromStdString(withoutNewline(*found)));
    if (!QFileInfo(program).isExecutable()) {
        return;
    }
    GitRunOptions telling = options();
    telling.input = list;
    const auto ran = m_place.git().runProgram(program.toStdString(), {"rebase"}, telling);
    if (ran) {
        m_output += ran->err + ran->out;
    } else {
        noteStop("post-rewrite", ran.error());
    }
}
}  // namespace rope
