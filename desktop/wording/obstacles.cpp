// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/wording/obstacles.h"

#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

#include <QStringList>

namespace rope {
namespace {
constexpr int kMostNamedFiles = 3;

}  // namespace

namespace {
QString nameOfKind(const BegunJoin& begun)
{
    switch (begun.kind) {
    case UnfinishedWork::rebase:
        return begun.lineName.empty() ? tr("A rebase")
                                      : tr("A rebase of %1").arg(shown(begun.lineName));
    case UnfinishedWork::cherryPick:
        return begun.theirs.isNull() ? tr("A cherry-pick")
                                     : tr("A cherry-pick of %1").arg(shown(begun.theirs.brief()));
    case UnfinishedWork::revert:
        return begun.theirs.isNull() ? tr("A revert")
                                     : tr("A revert of %1").arg(shown(begun.theirs.brief()));
    case UnfinishedWork::merge:
        return begun.theirsName.empty() || begun.lineName.empty()
                   ? tr("A merge")
                   : tr("A merge of %1 into %2")
                         .arg(shown(begun.theirsName), shown(begun.lineName));
    case UnfinishedWork::patches:
        return tr("A series of mailed patches");
    case UnfinishedWork::none:
    case UnfinishedWork::unknown:
        break;
    }
    return tr("Something");
}

/// What can be done about one that is not taken over here.
QString adviceFor(const BegunJoin& begun)
{
    switch (begun.obstacle) {
    case BegunObstacle::manyTips:
        return tr("It merges more than one branch at once, so it cannot be taken over: finish or "
                  "abort it there.");
    case BegunObstacle::ownWorkKept:
        return tr("git has put your uncommitted work away for it and will put it back, so it "
                  "cannot be taken over: finish or abort it there.");
    case BegunObstacle::damaged:
        return tr("What it left names no commit that is here, so it cannot be taken over: abort "
                  "it there.");
    case BegunObstacle::otherKind:
        return tr("Nothing tells which command left these conflicts, so it cannot be taken over: "
                  "finish or abort it there first.");
    case BegunObstacle::noCommits:
        return tr("Patches are no commits of this repository, so they cannot be taken over: finish "
                  "or abort it there (git am --continue, git am --abort).");
    case BegunObstacle::otherSteps:
        return tr("It does more on its way than laying one commit upon the other, so it cannot be "
                  "taken over: finish or abort it there.");
    case BegunObstacle::noLine:
        return tr("It began on no branch, so nothing could be moved in the end: finish or abort it "
                  "there.");
    case BegunObstacle::none:
        break;
    }
    return tr("Take it over in the window, or finish or abort it there first.");
}
}  // namespace

QString begunInWords(const BegunJoin& begun)
{
    const QString what =
        begun.next.empty()
            ? tr("%1 was begun on the command line").arg(nameOfKind(begun))
            : tr("%1 was begun on the command line, with %2 to follow")
                  .arg(nameOfKind(begun), countOf(begun.next.size(), "commit", "commits"));
    return begun.open.empty()
               ? tr("%1 and is not finished.").arg(what)
               : tr("%1; %2 still in conflict.")
                     .arg(what,
                          begun.open.size() == 1 ? tr("1 file is")
                                                 : tr("%1 files are").arg(begun.open.size()));
}

QString begunName(const BegunJoin& begun)
{
    return shown(begun.theirsName.empty() ? begun.theirs.brief() : begun.theirsName);
}

QString finishingInWords(const BegunJoin& begun)
{
    const QString line = shown(begun.lineName);
    const QString theirs = begunName(begun);
    switch (begun.kind) {
    case UnfinishedWork::rebase:
        return tr("Finish the rebase of %1 onto %2").arg(line, theirs);
    case UnfinishedWork::cherryPick:
        return tr("Finish the cherry-pick of %1 onto %2").arg(theirs, line);
    case UnfinishedWork::revert:
        return tr("Finish the revert of %1 on %2").arg(theirs, line);
    case UnfinishedWork::merge:
    case UnfinishedWork::none:
    case UnfinishedWork::patches:
    case UnfinishedWork::unknown:
        break;
    }
    return tr("Finish the merge of %1 into %2").arg(theirs, line);
}

QString obstacleToRecording(const Standing& standing, const std::optional<BegunJoin>& begun)
{
    if (!standing.hasWorkingTree) {
        return tr(
            "This repository is bare: it has no working tree to merge in. Open a clone of it.");
    }
    if (standing.tip.isNull()) {
        return tr("This repository has no commit yet. Make the first one, or fetch a branch and "
                  "switch to it.");
    }
    if (standing.ref.empty() && !begun) {
        return tr("You are on no branch, so a merge commit would belong to none. Switch to a "
                  "branch first: git switch NAME.");
    }
    return begun ? begunInWords(*begun) + QLatin1Char(' ') + adviceFor(*begun) : QString();
}

QString obstacleToSplicing(const Forecast& forecast)
{
    switch (forecast.divergence.relation) {
    case Relation::same:
        return tr("Both branches are at the same commit. There is nothing to do.");
    case Relation::oursAhead:
        return tr("All of it is already in your branch. There is nothing to do.");
    case Relation::unrelated:
        return tr("These branches have no commit in common, so there is no base to merge over.");
    case Relation::theirsAhead:
    case Relation::diverged:
        break;
    }
    return {};
}

QString obstacleOfUncommitted(const std::vector<UncommittedFile>& files)
{
    QStringList names;
    int more = 0;
    for (const UncommittedFile& file : files) {
        if (file.isUntracked) {
            continue;
        }
        if (names.size() < kMostNamedFiles) {
            names << shownPath(file.path);
        } else {
            ++more;
        }
    }
    if (names.isEmpty()) {
        return {};
    }
    return tr("Not committed yet: %1%2. Commit this work or set it aside before you record, so "
              "that nothing is lost.")
        .arg(names.join(QStringLiteral(", ")), more > 0 ? tr(" and %1 more").arg(more) : QString());
}

QString obstacleInSplice(const Splice& splice)
{
    if (splice.openCount() > 0) {
        return tr("%1 still open. Go to Resolve and decide the rest.").arg(splice.openCount());
    }
    if (const auto left = splice.markersLeft(); !left.empty()) {
        return tr("%1 has a conflict marker in line %2 that neither side has. Remove it first.")
            .arg(shownPath(left.front().path))
            .arg(left.front().line + 1);
    }
    return {};
}
}  // namespace rope
