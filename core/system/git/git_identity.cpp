// SPDX-License-Identifier: GPL-3.0-or-later
// Who commits, and how messages are written here. Tested by tst_git_place.cpp, tst_recorder.cpp.
#include "core/system/git/git_errors.h"
#include "core/system/git/git_parsers.h"
#include "core/system/git/git_place.h"

#include <QDir>
#include <QFile>

#include <algorithm>

namespace rope {
Result<std::optional<Signature>> GitPlace::identity()
{
    // user.useConfigOnly: a name guessed from the machine is nobody's identity.
    TRY_ASSIGN(const GitOutput asked,
               m_git.run({"-c", "user.useConfigOnly=true", "var", "GIT_COMMITTER_IDENT"}));
    if (asked.exitCode != 0) {
        return std::optional<Signature>{};
    }
    return parseSignature(asked.out);
}

Status GitPlace::setIdentity(const std::string& name, const std::string& email)
{
    const auto hasControl = [](const std::string& text) {
        return text.empty() || std::any_of(text.begin(), text.end(), [](char c) {
                   return static_cast<unsigned char>(c) < ' ' || c == '<' || c == '>';
               });
    };
    if (hasControl(name) || hasControl(email)) {
        return Error{ErrorCode::invalidInput, hasControl(name) ? name : email, {}};
    }
    for (const auto& [key, value] :
         {std::pair("user.name", name), std::pair("user.email", email)}) {
        TRY_ASSIGN(const GitOutput set, m_git.run({"config", "--local", key, value}));
        if (set.exitCode != 0) {
            return writingError(key, set.err);
        }
    }
    return ok();
}

Result<MessageConventions> GitPlace::messageConventions()
{
    constexpr qint64 kMostBytes = 20'000;
    constexpr std::size_t kListedUnlessSaid = 20;
    const auto told = [](PipedProcess& asked) -> Result<std::string> {
        TRY_ASSIGN(const GitOutput value, GitProcess::finish(asked));
        return value.exitCode == 0 ? withoutNewline(value.out) : std::string();
    };
    // Beside each other: each takes git a few milliseconds, and a person waits for the repository to open.
    TRY_ASSIGN(const auto askedLog,
               m_git.startPiped({"config", "--type=bool-or-int", "--get", "merge.log"}));
    TRY_ASSIGN(const auto askedComment, m_git.startPiped({"config", "--get", "core.commentChar"}));
    TRY_ASSIGN(const auto askedTemplate,
               m_git.startPiped({"config", "--type=path", "--get", "commit.template"}));
    MessageConventions conventions;
    TRY_ASSIGN(const std::string log, told(*askedLog));
    conventions.mostListed =
        log == "true" ? kListedUnlessSaid
                      : static_cast<std::size_t>(std::max(0, QString::fromStdString(log).toInt()));
    TRY_ASSIGN(const std::string comment, told(*askedComment));
    if (!comment.empty() && comment != "auto") {
        conventions.commentStart = comment;
    }
    TRY_ASSIGN(const std::string beginning, told(*askedTemplate));
    if (!beginning.empty()) {
        QFile file(QDir(QString::fromStdString(m_git.folder()))
                       .absoluteFilePath(QString::fromStdString(beginning)));
        if (file.open(QIODevice::ReadOnly)) {
            conventions.beginning = file.read(kMostBytes).toStdString();
        }
    }
    return conventions;
}
}  // namespace rope
