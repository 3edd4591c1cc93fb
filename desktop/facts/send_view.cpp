// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_push_round.cpp.
#include "desktop/facts/send_view.h"

#include "desktop/wording/describe_error.h"
#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

#include <QStringList>

#include <algorithm>
#include <map>

namespace rope {
namespace {
constexpr qsizetype kMostNamedFiles = 3;

QString listed(const std::vector<std::string>& paths)
{
    QStringList names;
    for (const std::string& path : paths) {
        if (names.size() < kMostNamedFiles) {
            names << shownPath(path);
        }
    }
    const auto more = static_cast<qsizetype>(paths.size()) - names.size();
    return names.join(QStringLiteral(", ")) + (more > 0 ? tr(" and %1 more").arg(more) : QString());
}
}  // namespace

QString proofInWords(const Proof& proof)
{
    const QString remote = shown(proof.remote);
    const QString line = shown(proof.name);
    if (proof.there == proof.sent) {
        return tr("%1/%3 is at %2 now, the same as yours.")
            .arg(remote, shown(proof.sent.brief()), line);
    }
    if (proof.there.isNull()) {
        return tr("%1 accepted the push, but now it has no %2.").arg(remote, line);
    }
    return tr("%1 accepted the push, but %3 is at %2 now: somebody has pushed since. Fetch to see "
              "it.")
        .arg(remote, shown(proof.there.brief()), line);
}

QString sentInWords(const Proof& proof)
{
    const QString commits = countOf(proof.commitCount, "commit", "commits");
    const QString sent = proof.noteCount == 0
                             ? tr("%1 pushed.").arg(commits)
                             : tr("%1 pushed, with %2 of decisions.")
                                   .arg(commits, countOf(proof.noteCount, "note", "notes"));
    return proof.notesTrouble
               ? tr("%1 The notes with decisions were not pushed: %2 The next push tries again.")
                     .arg(sent, describe(*proof.notesTrouble).sentence)
               : sent;
}

QString intoMainInWords(const AfterPush& after, const SendFacts& sent)
{
    if (!after.intoMain) {
        return {};
    }
    const QString branch = shown(sent.targetName());
    const QString main = shown(after.mainName);
    switch (after.intoMain->relation) {
    case Relation::same:
    case Relation::oursAhead:
        return tr("%1 has all of %2.").arg(main, branch);
    case Relation::unrelated:
        return {};
    case Relation::theirsAhead:
    case Relation::diverged:
        break;
    }
    return after.intoMain->open == 0
               ? tr("%1 now merges cleanly into %2.").arg(branch, main)
               : tr("Merging %1 into %2 still gives %3.")
                     .arg(branch, main, countOf(after.intoMain->open, "conflict", "conflicts"));
}

QString arrivedInWords(const Refusal& refusal)
{
    if (refusal.arrived.empty()) {
        return {};
    }
    const Commit& newest = refusal.arrived.front();
    const QString one = tr("%1 pushed %2 “%3” %4.")
                            .arg(shown(newest.author.name),
                                 shown(newest.id.brief()),
                                 shownSubject(newest),
                                 relativeTime(newest.committer.time, refusal.readAt));
    QString text = refusal.arrivedCount == 1
                       ? one
                       : tr("%1 arrived there, the last one: %2")
                             .arg(countOf(refusal.arrivedCount, "commit", "commits"), one);
    if (refusal.isRewritten) {
        text += tr(" It was also rewritten: commits that were on it are gone from it.");
    }
    return text + tr(" Nothing was pushed and nothing is lost.");
}

QString roundInWords(const SecondRound& round)
{
    QString text;
    if (!round.replaced.isNull()) {
        text = round.carried == 1 ? tr("Your 1 decision carries over")
                                  : tr("Your %1 decisions carry over").arg(round.carried);
        if (!round.lost.empty()) {
            text += tr(", %1 no longer apply").arg(round.lost.size());
        }
    } else {
        text = tr("Your decisions stay in the commit that you have");
    }
    if (round.open == 0) {
        return text + tr("; the rest merges cleanly.");
    }
    return text
           + (round.open == 1 ? tr("; 1 new place to decide in %1.").arg(listed(round.openFiles))
                              : tr("; %1 new places to decide in %2.")
                                    .arg(round.open)
                                    .arg(listed(round.openFiles)));
}

QString whatIsSentInWords(const SendFacts& facts)
{
    if (!facts.hasRemote()) {
        return tr("Push");
    }
    const QString target = shown(facts.targetName());
    if (!facts.hasSomethingToSend()) {
        return tr("Push to %1").arg(target);
    }
    return facts.target.known.isNull()
               ? tr("What will be pushed to %1, a new branch there").arg(target)
               : tr("What will be pushed to %1").arg(target);
}

QString obstacleToSending(const SendFacts& facts)
{
    if (facts.line.empty()) {
        return tr("You are on no branch. Switch to one, then push it.");
    }
    if (!facts.hasRemote()) {
        return tr("This repository has no remote to push to. Add one first: git remote add origin "
                  "ADDRESS.");
    }
    if (facts.tip.isNull()) {
        return tr("There is no commit on this branch yet.");
    }
    if (facts.tip == facts.target.known) {
        return tr("Nothing to push to %1 (as of the last fetch).").arg(shown(facts.target.remote));
    }
    if (facts.commitCount == 0 && !facts.target.known.isNull()) {
        return tr("%1 has all of yours, and %2 more. Merge them from Survey.")
            .arg(shown(facts.targetName()), countOf(facts.lackingCount, "commit", "commits"));
    }
    return {};
}

QString replacedInWords(const SendFacts& facts)
{
    std::map<std::string, std::size_t> byPerson;
    QStringList subjects;
    constexpr qsizetype kMostNamed = 3;
    for (const Commit& commit : facts.lacking) {
        ++byPerson[commit.author.name];
        if (subjects.size() < kMostNamed) {
            subjects << QStringLiteral("“%1”").arg(shownSubject(commit));
        }
    }
    QStringList people;
    for (const auto& [name, count] : byPerson) {
        people << tr("%1 by %2").arg(countOf(count, "commit", "commits"), shown(name));
    }
    return tr("Your branch was rewritten since it was pushed. Pushing replaces what %1 has; these "
              "will be gone from it: %2 (%3%4). Nothing is pushed if it has moved on in the "
              "meantime.")
        .arg(shown(facts.targetName()),
             people.join(QStringLiteral(", ")),
             subjects.join(QStringLiteral(", ")),
             facts.lackingCount > static_cast<std::size_t>(subjects.size()) ? tr(" and more")
                                                                            : QString());
}

namespace {
/// Whether the remote has what a splice of the branch has made, as of when it was last asked.
bool isPushed(const JournalEntry& entry, const SendFacts& facts)
{
    const bool areAllListed = facts.commits.size() == facts.commitCount;
    return entry.plan.oursRef == facts.line && facts.hasRemote() && !facts.target.known.isNull()
           && areAllListed
           && std::none_of(facts.commits.begin(),
                           facts.commits.end(),
                           [&entry](const Commit& commit) { return commit.id == entry.recorded; });
}

QString stateInWords(const JournalEntry& entry, const SendFacts& facts)
{
    switch (entry.state) {
    case SpliceState::open:
        return tr("open");
    case SpliceState::recording:
        return tr("being recorded");
    case SpliceState::recorded:
        return isPushed(entry, facts) ? tr("pushed") : tr("recorded");
    case SpliceState::abandoned:
        return tr("put away");
    case SpliceState::givenUp:
        return tr("abandoned");
    }
    return {};
}
}  // namespace

QString logbookLine(const JournalEntry& entry, const SendFacts& facts)
{
    QString what;
    switch (entry.plan.kind) {
    case SpliceKind::merge:
        what = tr("merge commit");
        break;
    case SpliceKind::rebase:
        what = tr("rebase");
        break;
    case SpliceKind::fastForward:
        what = tr("fast-forward");
        break;
    case SpliceKind::bringBack:
        what = tr("work brought back");
        break;
    case SpliceKind::ownCommit:
        what = tr("own commit");
        break;
    case SpliceKind::switchLine:
        what = tr("checked out");
        break;
    case SpliceKind::correction:
    case SpliceKind::rebaseCorrection:
        what = tr("correction");
        break;
    case SpliceKind::revert:
        what = tr("reverted");
        break;
    case SpliceKind::pick:
        what = tr("cherry-pick");
        break;
    case SpliceKind::rollBack:
        what = tr("rolled back");
        break;
    case SpliceKind::rollForward:
        what = tr("rolled forward");
        break;
    }
    const QString commit =
        entry.recorded.isNull() ? QString() : QLatin1Char(' ') + shown(entry.recorded.brief());
    const QString round = entry.round > 1 ? tr(" · round %1").arg(entry.round) : QString();
    const QString aside = entry.plan.workChoice == WorkChoice::setAside && !entry.plan.work.isNull()
                              ? tr(" · your work is set aside")
                              : QString();
    return what + commit + QStringLiteral(" · ") + stateInWords(entry, facts) + round + aside;
}
}  // namespace rope
