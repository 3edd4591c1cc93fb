// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/wording/describe_error.h"

#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

#include <algorithm>
#include <string_view>

namespace rope {
namespace {
/// The sentence and the next step of a reason; empty for Reason::none. A table: as long as there are
/// reasons.
// NOLINTNEXTLINE(readability-function-size)
ErrorText describeReason(const Error& error, const QString& subject)
{
    switch (error.reason) {
    case Reason::none:
        return {};
    case Reason::notARepository:
        return {tr("%1 is not in a git repository.").arg(subject),
                tr("Choose a folder that was cloned or initialised with git."),
                {}};
    case Reason::noSuchFolder:
        return {tr("There is no folder %1.").arg(subject),
                tr("Check the path, or choose a folder."),
                {}};
    case Reason::ownedByOther:
        return {tr("git does not open %1, because it belongs to another user.").arg(subject),
                tr("If you trust it, add it to git's safe.directory setting."),
                {}};
    case Reason::historyCutOff:
        return {tr("This clone holds only the newest part of the history, and the common base "
                   "is not in it."),
                tr("Fetch the rest with git fetch --unshallow, then try again."),
                {}};
    case Reason::objectsMissing:
        return {tr("This clone lacks some of the files that this needs; %1 has them.").arg(subject),
                tr("Pick the branch, and they are fetched."),
                {}};
    case Reason::emptyMessage:
        return {tr("The commit message is empty."), tr("Write at least one line."), {}};
    case Reason::unencodable:
        return {tr("%1 holds a character that its encoding lacks.").arg(subject),
                tr("Take the character out, or write it in another way."),
                {}};
    case Reason::pathTwice:
        return {tr("Two files would be at %1.").arg(subject),
                tr("Choose another answer for one of them. Nothing was changed."),
                {}};
    case Reason::pathLost:
        return {
            tr("The result would lose %1, although nobody was asked about that file.").arg(subject),
            tr("Nothing was recorded. Choose another answer that concerns that path. This is a bug "
               "in this program: please report it."),
            {}};
    case Reason::nothingToRewrite:
        return {tr("Every commit of %1 is there already.").arg(subject),
                tr("There is nothing to rebase. Plan again in Survey."),
                {}};
    case Reason::changesNothing:
        return {tr("That would change nothing on %1: it is all there already.").arg(subject),
                tr("Change a decision, or put it away. Nothing was recorded."),
                {}};
    case Reason::markersLeft:
        return {tr("%1 has a conflict marker that neither side has.").arg(subject),
                tr("Resolve that place, or remove the marker. Nothing was recorded."),
                {}};
    case Reason::uncommitted:
        return {tr("There is work that is not committed yet: %1.").arg(subject),
                tr("Commit it or set it aside on the command line, then record again. Nothing was "
                   "changed."),
                {}};
    case Reason::begunChanged:
        return {tr("What is under way on the command line is not what this splice was to finish: "
                   "somebody went on with it, or began something else."),
                tr("Nothing was recorded. Read it again; what you decided here is kept."),
                {}};
    case Reason::mergeAbove:
        return {tr("The merge commit %1 is on top of it and cannot be carried along.").arg(subject),
                tr("Reopen that one, or reopen this from the list of merges: what you change is "
                   "recorded on top then. Nothing was changed."),
                {}};
    case Reason::inTheWay:
        return {tr("Recording would overwrite what git does not keep: %1.").arg(subject),
                tr("Move it elsewhere or remove it, then record again. Nothing was changed."),
                {}};
    case Reason::lineMoved:
        return {tr("%1 has moved since this splice began.").arg(subject),
                tr("Nothing was overwritten. Carry on from where it stands now; your decisions are "
                   "kept."),
                {}};
    case Reason::switched:
        return {tr("%1 was checked out in the meantime.").arg(subject),
                tr("Nothing was recorded. Check out the branch of this splice again, then record."),
                {}};
    case Reason::checkedOut:
        return {tr("%1 is checked out in %2.").arg(subject, shownWords(error.detail)),
                tr("Merge into it there, or switch that folder to another branch first. Nothing "
                   "was changed."),
                {}};
    case Reason::changedSince:
        return {tr("An interrupted recording is to be undone, but %1 holds something that neither "
                   "the recording nor your branch has put there.")
                    .arg(subject),
                tr("Nothing was touched. Move it elsewhere if you need it, then try again."),
                {}};
    case Reason::hookRefused:
        return {tr("The repository's %1 hook refused, so nothing was recorded.").arg(subject),
                tr("Read what it said, fix that, and record again. Everything is as before."),
                {}};
    case Reason::hookChangedResult:
        return {
            subject.isEmpty()
                ? tr("What is staged is no longer the merged result: a hook or somebody else "
                     "changed it. Nothing was recorded.")
                : tr("While hooks ran, the merged text in %1 was changed, so nothing was recorded.")
                      .arg(subject),
            tr("Everything is as before. Look at what the hook does, then record again."),
            {}};
    case Reason::signingFailed:
        return {tr("The commit could not be signed, so nothing was recorded."),
                tr("Check the signing key, or turn commit.gpgSign off."),
                {}};
    case Reason::notUndone:
        return {tr("Nothing was recorded, but not everything could be brought back yet: %1.")
                    .arg(subject),
                tr("The details say why. Fix that and open the repository again; the rest is then "
                   "restored. No decision is lost."),
                {}};
    case Reason::copyInUse:
        return {tr("Another window is running a command in the scratch copy of this repository."),
                tr("Let it finish, or stop it there, then run it again."),
                {}};
    case Reason::commandNotFound:
        return {tr("There is no program %1 here.").arg(subject),
                tr("Look at its spelling, and whether it is installed and in the PATH that this "
                   "program was started with. One that belongs to the repository is written as "
                   "./name."),
                {}};
    case Reason::commandUnclear:
        return {tr("This cannot be run as a command: %1").arg(subject),
                tr("Write a program and its arguments; every quotation mark that begins has to "
                   "end."),
                {}};
    case Reason::needsShell:
        return {
            tr("Only a shell would understand %1, and commands are run without one.").arg(subject),
            tr("Write two commands, or one that starts a shell: sh -c \"…\""),
            {}};
    case Reason::sharedUnreadable:
        return {tr("The shared commands in %1 cannot be read.").arg(subject),
                tr("The details say why. A command of your own can be written instead."),
                {}};
    case Reason::recordingElsewhere:
        return {subject.isEmpty()
                    ? tr("Another Rope Splice is recording in this repository right now.")
                    : tr("Another Rope Splice is recording in this repository right now (process "
                         "%1, or a program that it started).")
                          .arg(subject),
                tr("Let it finish, then try again."),
                {}};
    case Reason::foreignWorkingTree:
        return {tr("The configuration of this repository names %1 as its working tree, and that is "
                   "another repository's. Nothing was recorded.")
                    .arg(subject),
                tr("Look at core.worktree in its configuration, and whether you trust it."),
                {}};
    case Reason::remoteFailed:
        return {tr("The remote %1 could not be reached.").arg(subject),
                tr("Check the network and the address of the remote."),
                {}};
    case Reason::remoteUnreachable:
        return {tr("%1 does not answer.").arg(subject),
                tr("Check the network and the address of the remote, then try again. What is known "
                   "of it stays as it was."),
                {}};
    case Reason::remoteAccess:
        return {tr("%1 answers, but it does not let you in.").arg(subject),
                tr("Check the name, password or key that is used for it, and whether you may do "
                   "this there."),
                {}};
    case Reason::remoteMissing:
        return {tr("%1 answers, but what was asked for is not there.").arg(subject),
                tr("It may have moved, or been deleted; some servers say the same when they do not "
                   "let you in. Check the address."),
                {}};
    case Reason::remoteUnsafe:
        return {tr("%1 was not contacted, because it is not trusted.").arg(subject),
                tr("The details say what was wrong: a host or certificate that is not known, or a "
                   "kind of address that is not allowed."),
                {}};
    case Reason::remoteMovedOn:
        return {tr("%1 refused the push: it has commits that you do not have.").arg(subject),
                tr("Nothing was pushed and nothing is lost. Fetch them and merge them."),
                {}};
    case Reason::remoteRefused:
        return {tr("%1 refused the push.").arg(subject),
                tr("Nothing was pushed. The details have its answer."),
                {}};
    case Reason::remoteTooLarge:
        return {tr("%1 does not take so much at once.").arg(subject),
                tr("Nothing was pushed. A very large file may be in one of the commits; the "
                   "details have the remote's answer."),
                {}};
    case Reason::diskFull:
        return {tr("There is no space left for what %1 needs.").arg(subject),
                tr("Make room, then try again. Nothing is lost."),
                {}};
    case Reason::targetExists:
        return {tr("%1 is there already, and not empty.").arg(subject),
                tr("Choose a folder that is not there yet."),
                {}};
    case Reason::programMissing:
        return {tr("%1 was not found on this machine.").arg(subject),
                tr("Install it, or see that it is in PATH, and try again. Nothing was changed."),
                {}};
    case Reason::missingPart:
        return {tr("A part of this program is missing: %1.").arg(subject),
                tr("Build or install it again."),
                {}};
    case Reason::invalidAddress:
        return {tr("“%1” is not an address that can be cloned from.").arg(subject),
                tr("It looks like ssh://host/path, https://host/path, host:path, or a folder."),
                {}};
    case Reason::workChanged:
        return {subject.isEmpty()
                    ? tr("What is staged has changed since your uncommitted work was merged.")
                    : tr("Your uncommitted work has changed since it was merged: %1.").arg(subject),
                tr("It is being merged again; look at it, then record. Nothing was changed."),
                {}};
    case Reason::workClashes:
        return {tr("Your uncommitted work conflicts with what comes in: %1.").arg(subject),
                tr("Commit it first, or set it aside and decide when it comes back. Nothing was "
                   "changed."),
                {}};
    case Reason::workInTheWay:
        return {tr("There is other uncommitted work on %1.").arg(subject),
                tr("Commit that first; then the work that was set aside can come back."),
                {}};
    case Reason::workNotBack:
        return {tr("It is recorded, but your uncommitted work could not be put back yet: %1.")
                    .arg(subject),
                tr("It is safe. Fix what the details say and open the repository again; then it "
                   "comes back."),
                {}};
    case Reason::readerKilled:
        return {tr("git was ended from outside while it read %1, as happens when memory runs out.")
                    .arg(subject),
                tr("Nothing was changed. Try again."),
                {}};
    case Reason::programFailed:
        return {tr("The merge program failed: %1").arg(subject),
                tr("The details show what it said. Check how it is set up."),
                {}};
    case Reason::spliceOpen:
        return {tr("A splice is open on this branch."),
                tr("Record it or put it away in the window."),
                {}};
    case Reason::journalUnreadable:
        return {tr("The journal of this program could not be read: %1.").arg(subject),
                tr("Move that file elsewhere to begin a new one. Work that it had set aside stays "
                   "in the repository: the logbook lists it."),
                {}};
    case Reason::begunElsewhere:
        return {tr("This repository came with a journal of Rope Splice that your account does not "
                   "know: it was made by an earlier version, copied, restored or handed over."),
                tr("Nothing in it is used or run until you say that it is yours."),
                {}};
    case Reason::outOfMemory:
        return {
            tr("There is not enough memory for %1.").arg(subject), tr("Nothing was written."), {}};
    case Reason::journalNewer:
        return {
            tr("The journal %1 was written by a later version of this program.").arg(subject),
            tr("Use that version to go on with what is open there. Looking works all the same."),
            {}};
    }
    return {};
}

}  // namespace

std::string withoutPasswords(std::string text)
{
    constexpr std::string_view kScheme = "://";
    for (std::size_t at = text.find(kScheme); at != std::string::npos;
         at = text.find(kScheme, at + 1)) {
        const std::size_t host = at + kScheme.size();
        const std::size_t end = std::min(text.find_first_of("/ \t\r\n'\"", host), text.size());
        const std::size_t sign = text.substr(0, end).rfind('@');
        const std::size_t colon = text.find(':', host);
        if (sign != std::string::npos && sign > host && colon < sign) {
            text.replace(colon + 1, sign - colon - 1, "…");
        }
    }
    return text;
}

ErrorText describe(const Error& error)
{
    const QString subject = shownPath(withoutPasswords(error.subject));
    const QString details = shownWords(withoutPasswords(error.detail)).trimmed();
    if (ErrorText text = describeReason(error, subject); !text.sentence.isEmpty()) {
        text.details = details;
        return text;
    }
    switch (error.code) {
    case ErrorCode::cancelled:
        return {tr("Stopped."), {}, details};
    case ErrorCode::notFound:
        return {tr("%1 was not found in this repository.").arg(subject),
                tr("Fetch, or check the name. If an object is missing, the repository may be "
                   "damaged: git fsck tells more."),
                details};
    case ErrorCode::invalidInput:
        return {
            tr("“%1” cannot be used here.").arg(subject), tr("Check how it is written."), details};
    case ErrorCode::unsupported:
        return {tr("%1 is not supported.").arg(subject), {}, details};
    case ErrorCode::corrupt:
        return {tr("%1 cannot be read: it is missing or damaged.").arg(subject),
                tr("Nothing was changed. git fsck tells what is wrong with the repository."),
                details};
    case ErrorCode::stale:
        return {tr("%1 changed in the meantime, so nothing was overwritten.").arg(subject),
                tr("Look at what changed, then try again."),
                details};
    case ErrorCode::busy:
        return {tr("Another program is working in this repository right now."),
                tr("Let it finish, then try again. If none is running, a lock file was left "
                   "behind: the details name it."),
                details};
    case ErrorCode::refused:
        return {tr("%1 refused, so nothing was recorded.").arg(subject),
                tr("Everything is as before."),
                details};
    case ErrorCode::noIdentity:
        return {tr("git does not know who you are."),
                tr("Give your name and e-mail address."),
                details};
    case ErrorCode::io:
        return {tr("%1 could not be read or written.").arg(subject),
                tr("Check free space and permissions. Nothing is lost: what was decided is kept."),
                details};
    case ErrorCode::systemFailed:
        return {tr("%1 failed.").arg(subject), tr("The details show what git said."), details};
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
