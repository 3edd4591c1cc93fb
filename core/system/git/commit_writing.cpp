// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_recorder.cpp.
#include "core/system/git/commit_writing.h"

#include "core/system/git/git_errors.h"
#include "core/system/git/git_parsers.h"
#include "core/system/git/scratch_folder.h"
#include "core/text/tidied_message.h"

#include <QFile>
#include <QTemporaryDir>

namespace rope {
Result<std::string>
checkedMessage(GitPlace& place, GitHooks& hooks, const std::string& message, bool isMerge)
{
    TRY_ASSIGN(const std::string folder, place.privateFolder());
    const QTemporaryDir scratch(scratchTemplate(folder, "message"));
    QFile file(scratch.filePath(QStringLiteral("MERGE_MSG")));
    const auto failed = [&file] {
        return Error{
            ErrorCode::io, file.fileName().toStdString(), file.errorString().toStdString()};
    };
    const auto size = static_cast<qint64>(message.size());
    if (!file.open(QIODevice::WriteOnly) || file.write(message.data(), size) != size
        || !file.flush()) {
        return failed();
    }
    file.close();
    TRY(hooks.run(isMerge ? HookPoint::prepareMergeMessage : HookPoint::prepareMessage,
                  file.fileName().toStdString()));
    TRY(hooks.run(HookPoint::checkMessage, file.fileName().toStdString()));
    if (!file.open(QIODevice::ReadOnly)) {
        return failed();
    }
    std::string checked = tidiedMessage(file.readAll().toStdString());
    if (checked.empty()) {
        return Error{
            ErrorCode::invalidInput, "message", "a hook left it empty", Reason::emptyMessage};
    }
    return checked;
}

Result<ObjectId> writeCommit(GitPlace& place,
                             const PlannedCommit& commit,
                             const ObjectId& tree,
                             const std::string& message,
                             const ObjectId& before,
                             const std::stop_token& stop)
{
    std::vector<std::string> arguments;
    if (!commit.encoding.empty()) {
        arguments = {"-c", "i18n.commitEncoding=" + commit.encoding};
    }
    arguments.insert(arguments.end(), {"commit-tree", tree.hex()});
    for (const ObjectId& parent : commit.parents) {
        const ObjectId& id = parent.isNull() ? before : parent;
        arguments.insert(arguments.end(), {"-p", id.hex()});
    }
    // commit-tree leaves the signing preference to its caller.
    TRY_ASSIGN(const GitOutput sign,
               place.git().run({"config", "--type=bool", "--get", "commit.gpgSign"}));
    if (withoutNewline(sign.out) == "true") {
        arguments.emplace_back("-S");
    }
    arguments.insert(arguments.end(), {"-F", "-"});
    GitRunOptions options;
    options.input = message;
    options.purpose = RunFor::acting;
    options.stop = stop;
    if (commit.author) {
        options.environment = {
            {"GIT_AUTHOR_NAME", commit.author->name},
            {"GIT_AUTHOR_EMAIL", commit.author->email},
            {"GIT_AUTHOR_DATE",
             "@" + std::to_string(commit.author->time) + " " + commit.author->zone}};
    }
    TRY_ASSIGN(const GitOutput written, place.git().run(arguments, options));
    const auto id = ObjectId::fromHex(withoutNewline(written.out));
    if (written.exitCode != 0 || !id) {
        return writingError("commit-tree", written.err);
    }
    return *id;
}
}  // namespace rope
