// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/wording/obstacles.h"

#include "desktop/wording/merge_words.h"

#include <QCoreApplication>
#include <QStringList>

namespace rope {
namespace {
constexpr int kMostNamedFiles = 3;

QString tr(const char* text)
{
    return QCoreApplication::translate("obstacles", text);
}
}  // namespace

QString obstacleToRecording(const Standing& standing, UnfinishedWork unfinished)
{
    if (!standing.hasWorkingTree) {
        return tr("This repository is bare: it has no working tree to join branches in. Open a "
                  "clone of it.");
    }
    if (standing.tip.isNull()) {
        return tr("This repository has no commit yet. Make the first one, or fetch a branch and "
                  "switch to it.");
    }
    if (standing.ref.empty()) {
        return tr("You are on no branch, so a merge commit would belong to none. Switch to a "
                  "branch first: git switch NAME.");
    }
    if (unfinished != UnfinishedWork::none) {
        return tr("A join that was begun on the command line is not finished. Finish or abort it "
                  "there first.");
    }
    return {};
}

QString obstacleToSplicing(const Forecast& forecast)
{
    switch (forecast.divergence.relation) {
    case Relation::same:
        return tr("Both branches stand at the same commit. There is nothing to do.");
    case Relation::oursAhead:
        return tr("All of it is already in your branch. There is nothing to do.");
    case Relation::unrelated:
        return tr("These branches have no commit in common, so there is no base to join over.");
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
        return tr("%1 holds a conflict marker in line %2 that no side has. Take it out first.")
            .arg(shownPath(left.front().path))
            .arg(left.front().line + 1);
    }
    return {};
}
}  // namespace rope
