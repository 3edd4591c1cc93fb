// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/wording/describe_error.h"

#include <QCoreApplication>

namespace rope {
namespace {
QString tr(const char* text)
{
    return QCoreApplication::translate("describe", text);
}

ErrorText describeNotFound(const QString& subject, const QString& details)
{
    if (details.contains(QLatin1String("not a git repository"))) {
        return {tr("%1 is not in a git repository.").arg(subject),
                tr("Choose a folder that was cloned or initialised with git."),
                details};
    }
    if (details.contains(QLatin1String("no such folder"))) {
        return {tr("There is no folder %1.").arg(subject),
                tr("Check the path, or choose a folder."),
                details};
    }
    return {tr("%1 was not found in this repository.").arg(subject),
            tr("Fetch, or check the name. If an object is missing, the repository may be damaged: "
               "git fsck tells more."),
            details};
}

ErrorText describeStale(const QString& subject, const QString& details)
{
    if (details == QLatin1String("uncommitted")) {
        return {tr("There is work that is not committed yet: %1.").arg(subject),
                tr("Commit it or set it aside on the command line, then record again. Nothing was "
                   "changed."),
                {}};
    }
    if (details == QLatin1String("changed since")) {
        return {tr("%1 was edited after the interrupted recording.").arg(subject),
                tr("Save that edit elsewhere and start again. Nothing was overwritten."),
                {}};
    }
    if (details.startsWith(QLatin1String("now at"))) {
        return {
            tr("%1 has moved since this splice began.").arg(subject),
            tr("Nothing was overwritten. Go to Survey and start from where the branch stands now."),
            details};
    }
    return {tr("%1 changed in the meantime, so nothing was overwritten.").arg(subject),
            tr("Look at what changed, then try again."),
            details};
}

ErrorText describeRefused(const QString& subject, const QString& details)
{
    if (subject == QLatin1String("commit-tree")) {
        return {tr("The commit could not be signed, so nothing was recorded."),
                tr("Check the signing key, or turn commit.gpgSign off."),
                details};
    }
    return {tr("The repository's %1 hook refused, so nothing was recorded.").arg(subject),
            tr("Read what it says under Details, mend that, and record again. Your decisions are "
               "kept."),
            details};
}

ErrorText describeGitFailed(const QString& subject, const QString& details)
{
    if (subject == QLatin1String("fetch")) {
        return {tr("The remote could not be asked."),
                tr("Check the network and the address of the remote."),
                details};
    }
    if (details.contains(QLatin1String("dubious ownership"))) {
        return {tr("git does not open %1, because it belongs to another user.").arg(subject),
                tr("If you trust it, add it to git's safe.directory setting."),
                details};
    }
    return {tr("%1 failed.").arg(subject), tr("The details show what git said."), details};
}
}  // namespace

ErrorText describe(const Error& error)
{
    const QString subject = QString::fromStdString(error.subject);
    const QString details = QString::fromStdString(error.detail).trimmed();
    switch (error.code) {
    case ErrorCode::cancelled:
        return {tr("Stopped."), {}, details};
    case ErrorCode::notFound:
        return describeNotFound(subject, details);
    case ErrorCode::invalidInput:
        if (subject == QLatin1String("message")) {
            return {tr("The commit message is empty."), tr("Write at least one line."), details};
        }
        if (details == QLatin1String("unencodable")) {
            return {tr("%1 holds a character that its encoding lacks.").arg(subject),
                    tr("Take the character out, or write it in another way."),
                    {}};
        }
        return {
            tr("“%1” cannot be used here.").arg(subject), tr("Check how it is written."), details};
    case ErrorCode::unsupported:
        if (details == QLatin1String("history cut off")) {
            return {tr("This clone holds only the newest part of the history, and the common base "
                       "is not in it."),
                    tr("Fetch the rest with git fetch --unshallow, then try again."),
                    {}};
        }
        return {tr("%1 is not supported.").arg(subject), {}, details};
    case ErrorCode::corrupt:
        return {tr("%1 cannot be read: it is missing or damaged.").arg(subject),
                tr("Nothing was changed. git fsck tells what is wrong with the repository."),
                details};
    case ErrorCode::stale:
        return describeStale(subject, details);
    case ErrorCode::busy:
        return {tr("Another program is working in this repository right now."),
                tr("Let it finish, then try again. If none is running, a lock file was left "
                   "behind: the details name it."),
                details};
    case ErrorCode::refused:
        return describeRefused(subject, details);
    case ErrorCode::noIdentity:
        return {tr("git does not know who you are."),
                tr("Give your name and e-mail address."),
                details};
    case ErrorCode::io:
        return {tr("%1 could not be read or written.").arg(subject),
                tr("Check free space and permissions. Nothing is lost: what was decided is kept."),
                details};
    case ErrorCode::gitFailed:
        return describeGitFailed(subject, details);
    }
    return {};
}

QString describeInLine(const Error& error)
{
    const ErrorText text = describe(error);
    return text.nextStep.isEmpty() ? text.sentence
                                   : text.sentence + QLatin1Char(' ') + text.nextStep;
}
}  // namespace rope
