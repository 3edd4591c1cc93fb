// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/wording/question_words.h"

#include "core/snapshot/repo_paths.h"
#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

#include <QStringList>

#include <algorithm>

namespace rope {
namespace {
/// Of a file that was put there by hand, or taken away.
bool isGoneByHand(const FileQuestion& question)
{
    const Answer* const found = question.answerOf(FileChoice::found);
    return found != nullptr && found->puts.empty();
}
}  // namespace

QString questionInShort(const FileQuestion& question)
{
    switch (question.kind) {
    case QuestionKind::deletedByOurs:
        return tr("deleted by ours, edited by theirs");
    case QuestionKind::deletedByTheirs:
        return tr("deleted by theirs, edited by ours");
    case QuestionKind::renamedDeletedByOurs:
        return tr("deleted by ours, renamed by theirs");
    case QuestionKind::renamedDeletedByTheirs:
        return tr("deleted by theirs, renamed by ours");
    case QuestionKind::renamedTwice:
        return tr("two new names for one file");
    case QuestionKind::renamedOnto:
        return tr("renamed onto another file");
    case QuestionKind::inRenamedFolder:
        return tr("new in a folder that was renamed");
    case QuestionKind::inSplitFolder:
        return tr("new in a folder that was split");
    case QuestionKind::blockedByFile:
        return tr("its folder was renamed, its name is taken there");
    case QuestionKind::binary:
        return tr("changed on both sides");
    case QuestionKind::tooLarge:
        return tr("too large to merge by lines");
    case QuestionKind::notByLines:
    case QuestionKind::programLeftOut:
        return tr("not to be merged by lines");
    case QuestionKind::modes:
        return tr("executable on one side only");
    case QuestionKind::symlink:
        return tr("link changed on both sides");
    case QuestionKind::submodule:
        return tr("submodule moved on both sides");
    case QuestionKind::differentKinds:
        return tr("not the same kind of file");
    case QuestionKind::fileAgainstFolder:
        return tr("a file against a folder");
    case QuestionKind::nameRefused:
        return tr("a name that git does not check out");
    case QuestionKind::putByHand:
        return isGoneByHand(question) ? tr("removed by hand") : tr("put there by hand");
    }
    return {};
}

namespace {
/// Where an answer puts the file; empty if nowhere.
QString placeOf(const FileOutcome& outcome, FileChoice choice)
{
    const Answer* const answer = outcome.question ? outcome.question->answerOf(choice) : nullptr;
    return answer && !answer->puts.empty() ? shownPath(answer->puts.back().path) : QString();
}

QString changedByBoth(const SideNames& names, const QString& why)
{
    return tr("Both %1 and %2 changed this file, and %3. Which version do you want?")
        .arg(names.ours, names.theirs, why);
}

QString questionAboutNames(const FileOutcome& outcome, const SideNames& names)
{
    const QString oldPath = shownPath(outcome.basePath);
    const bool isOursNew = outcome.ours.has_value();
    const QString& adder = isOursNew ? names.ours : names.theirs;
    const QString& mover = isOursNew ? names.theirs : names.ours;
    switch (outcome.question->kind) {
    case QuestionKind::renamedDeletedByOurs:
        return tr("%1 renamed %2 to this name, %3 deleted it. Keep the renamed file, or delete it?")
            .arg(names.theirs, oldPath, names.ours);
    case QuestionKind::renamedDeletedByTheirs:
        return tr("%1 renamed %2 to this name, %3 deleted it. Keep the renamed file, or delete it?")
            .arg(names.ours, oldPath, names.theirs);
    case QuestionKind::renamedTwice:
        return outcome.ours && outcome.theirs && outcome.base
                   ? tr("%1 renamed %2 to %3, %4 renamed it to %5. Which name do you want?")
                         .arg(names.ours,
                              oldPath,
                              placeOf(outcome, FileChoice::ours),
                              names.theirs,
                              placeOf(outcome, FileChoice::theirs))
                   : tr("Each side gave the file another name, and this is one of them. Do you "
                        "want it here?");
    case QuestionKind::renamedOnto:
        return tr("One side renamed a file to this name; the other deleted that file but added "
                  "another one of this name. Which one do you want?");
    case QuestionKind::inRenamedFolder:
        return tr("%1 added this file in a folder that %2 renamed. Where does it belong?")
            .arg(adder, mover);
    case QuestionKind::inSplitFolder:
        return tr("%1 added this file in a folder whose files %2 moved to several others. Where "
                  "does it belong?")
            .arg(adder, mover);
    case QuestionKind::blockedByFile:
        return tr("%1 added this file in a folder that %2 renamed, but in the new folder its name "
                  "is taken. Where does it belong?")
            .arg(adder, mover);
    default:
        return {};
    }
}
}  // namespace

QString asidesInWords(const TreeJoin& join, const FileOutcome& outcome)
{
    QStringList lines;
    for (const auto& [path, aside] : join.asides) {
        const auto isNear = [&p = path](const Placement& put) {
            return put.path == p || liesIn(put.path, p) || liesIn(p, put.path);
        };
        const bool isAsked =
            outcome.question
            && std::any_of(outcome.question->answers.begin(),
                           outcome.question->answers.end(),
                           [&](const Answer& answer) {
                               return std::any_of(answer.puts.begin(), answer.puts.end(), isNear);
                           });
        if (isAsked) {
            lines << tr("If %1 cannot stay where it is, it is kept as %2.")
                         .arg(shownPath(path), shownPath(aside));
        }
    }
    return lines.join(QLatin1Char('\n'));
}

QString questionInWords(const FileOutcome& outcome, const SideNames& names)
{
    ROPE_ASSERT(outcome.question.has_value(), "no question to put in words");
    switch (outcome.question->kind) {
    case QuestionKind::deletedByOurs:
        return tr("%1 deleted this file, %2 edited it. Keep the edited file, or delete it?")
            .arg(names.ours, names.theirs);
    case QuestionKind::deletedByTheirs:
        return tr("%1 deleted this file, %2 edited it. Keep the edited file, or delete it?")
            .arg(names.theirs, names.ours);
    case QuestionKind::renamedDeletedByOurs:
    case QuestionKind::renamedDeletedByTheirs:
    case QuestionKind::renamedTwice:
    case QuestionKind::renamedOnto:
    case QuestionKind::inRenamedFolder:
    case QuestionKind::inSplitFolder:
    case QuestionKind::blockedByFile:
        return questionAboutNames(outcome, names);
    case QuestionKind::binary:
        return changedByBoth(names, tr("it is binary and cannot be merged line by line"));
    case QuestionKind::tooLarge:
        return changedByBoth(names, tr("it is too large to be merged line by line"));
    case QuestionKind::notByLines:
        return changedByBoth(names,
                             tr("the repository's attributes say that it is not merged by lines"));
    case QuestionKind::programLeftOut:
        return changedByBoth(
            names,
            tr("the merge program that the repository's own configuration names for "
               "it was not run"));
    case QuestionKind::modes:
        return tr("Both %1 and %2 added this file, but only one of them made it executable. Which "
                  "one do you want?")
            .arg(names.ours, names.theirs);
    case QuestionKind::symlink:
        return tr("Both %1 and %2 changed where this link points. Which one do you want?")
            .arg(names.ours, names.theirs);
    case QuestionKind::submodule:
        return tr("Both %1 and %2 moved this submodule to another commit. Which one do you want?")
            .arg(names.ours, names.theirs);
    case QuestionKind::differentKinds:
        return tr("%1 and %2 have different kinds of file here. Which one do you want?")
            .arg(names.ours, names.theirs);
    case QuestionKind::fileAgainstFolder:
        return tr("One side has a file here, the other a folder. The folder stays; the file can be "
                  "kept as %1.")
            .arg(placeOf(outcome, FileChoice::aside));
    case QuestionKind::nameRefused:
        return tr("%1 added a file under a name that git cannot check out here. It can only be "
                  "left out.")
            .arg(names.theirs);
    case QuestionKind::putByHand:
        return isGoneByHand(*outcome.question) ? tr(
                   "Somebody removed this file by hand after the merge had begun. Keep it removed?")
               : !outcome.base && !outcome.ours && !outcome.theirs
                   ? tr("Neither side has this file: somebody added it by hand after the merge had "
                        "begun. Keep it?")
                   : tr("This is neither side's version nor a merge of them: somebody put it there "
                        "by hand after the merge had begun. Keep it?");
    }
    return {};
}

namespace {
QString sideInWords(const FileOutcome& outcome, FileChoice choice, const SideNames& names)
{
    const bool isOurs = choice == FileChoice::ours;
    const QString& side = isOurs ? names.ours : names.theirs;
    const QuestionKind kind = outcome.question ? outcome.question->kind : QuestionKind::binary;
    const QString place = placeOf(outcome, choice);
    if (place.isEmpty() && kind == QuestionKind::putByHand && !outcome.base) {
        return tr("Leave it out, as %1 does").arg(side);
    }
    if (place.isEmpty()) {
        return kind == QuestionKind::fileAgainstFolder ? tr("Delete the file")
                                                       : tr("Delete it, as %1 did").arg(side);
    }
    if (kind == QuestionKind::renamedTwice || kind == QuestionKind::renamedDeletedByOurs
        || kind == QuestionKind::renamedDeletedByTheirs) {
        return tr("Call it %1, as %2 did").arg(place, side);
    }
    return isOurs ? tr("Keep it as %1 has it").arg(side) : tr("Take it as %1 has it").arg(side);
}
}  // namespace

QString answerInWords(const FileOutcome& outcome, FileChoice choice, const SideNames& names)
{
    const QString place = placeOf(outcome, choice);
    switch (choice) {
    case FileChoice::ours:
    case FileChoice::theirs:
        return sideInWords(outcome, choice, names);
    case FileChoice::base:
        return place.isEmpty() ? tr("Leave it out") : tr("Restore the base version");
    case FileChoice::keepBoth:
        return outcome.question && outcome.question->kind == QuestionKind::renamedTwice
                   ? tr("Keep it under both names")
                   : tr("Keep both: the second as %1").arg(place);
    case FileChoice::aside:
        return tr("Keep the file as %1").arg(place);
    case FileChoice::follow:
    case FileChoice::followOther:
        return tr("Move it to %1").arg(place);
    case FileChoice::stay:
        return tr("Keep it at %1").arg(place);
    case FileChoice::found:
        return isGoneByHand(*outcome.question) ? tr("Keep it removed") : tr("Keep it as it is");
    }
    return {};
}

QString chunkInWords(ChunkKind kind, const SideNames& names)
{
    switch (kind) {
    case ChunkKind::ours:
        return tr("%1 changed this, %2 left it as in the base: merged automatically.")
            .arg(names.ours, names.theirs);
    case ChunkKind::theirs:
        return tr("%1 changed this, %2 left it as in the base: merged automatically.")
            .arg(names.theirs, names.ours);
    case ChunkKind::alike:
        return tr("Both sides made the same change: merged automatically.");
    case ChunkKind::unchanged:
    case ChunkKind::region:
        break;
    }
    return {};
}

QString fileRemarkInWords(const FileOutcome& outcome, bool isOurs)
{
    const auto& side = isOurs ? outcome.ours : outcome.theirs;
    const RepoPath& path = isOurs ? outcome.oursPath : outcome.theirsPath;
    QStringList parts;
    if (side && outcome.base) {
        if (path != outcome.basePath) {
            parts << tr("Renamed from %1 to %2.").arg(shownPath(outcome.basePath), shownPath(path));
        }
        if (side->kind != outcome.base->kind) {
            parts << (side->kind == EntryKind::executable ? tr("Made executable.")
                      : side->kind == EntryKind::file && outcome.base->kind == EntryKind::executable
                          ? tr("No longer executable.")
                          : tr("Made another kind of entry."));
        }
    }
    return parts.join(QLatin1Char(' '));
}
}  // namespace rope
