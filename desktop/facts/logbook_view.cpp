// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_logbook_round.cpp.
#include "desktop/facts/logbook_view.h"

#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

#include <QStringList>

#include <algorithm>

namespace rope {
namespace {
/// What was recorded after a splice, by name.
QString afterInWords(const LoggedSplice& splice)
{
    constexpr std::size_t kMostNamed = 3;
    QStringList names;
    for (std::size_t i = 0; i < std::min(splice.after.size(), kMostNamed); ++i) {
        names << QStringLiteral("%1 “%2”").arg(shown(splice.after[i].id.brief()),
                                               shownSubject(splice.after[i]));
    }
    const QString more = splice.afterCount > kMostNamed ? tr(" and more") : QString();
    return tr("%1 came after it on %2: %3%4.")
        .arg(countOf(splice.afterCount, "commit", "commits"),
             shown(splice.entry.plan.oursName),
             names.join(QStringLiteral(", ")),
             more);
}

QString whyNowhere(const LoggedSplice& splice)
{
    const QString branch = shown(splice.entry.plan.oursName);
    if (splice.isBranchGone) {
        return tr("%1 was deleted since.").arg(branch);
    }
    return splice.afterCount > 0 ? afterInWords(splice)
                                 : tr("%1 does not contain it any more.").arg(branch);
}

/// Where what is recorded anew will stand.
QString whereInWords(const LoggedSplice& splice)
{
    const QString onTop = tr("so what you change is recorded on top, as a separate commit.");
    if (splice.isSent || splice.entry.plan.isCorrection()) {
        return tr("It was pushed, %1").arg(onTop);
    }
    if (splice.isMergeAfter) {
        return tr("A merge commit came after it, %1").arg(onTop);
    }
    return splice.isAtTip ? tr("It was not pushed, so what you record takes its place.")
                          : tr("It was not pushed, so what you record takes its place, and what "
                               "came after is carried along. %1")
                                .arg(afterInWords(splice));
}

void addReopening(const LoggedSplice& splice, LogActions& actions)
{
    const SplicePlan& plan = splice.entry.plan;
    if (!factsOf(plan.kind).isReopened || splice.state == LogState::replaced
        || splice.state == LogState::rolledBack) {
        return;
    }
    const QString decisions = splice.decided == 0 ? tr("as it was")
                              : splice.decided == 1
                                  ? tr("with its decision in place")
                                  : tr("with all %1 decisions in place").arg(splice.decided);
    if (splice.isBranchGone || (!splice.isAtTip && splice.afterCount == 0)) {
        actions.reopenWords = tr("It cannot be reopened here. %1").arg(whyNowhere(splice));
    } else {
        actions.canReopen = true;
        actions.reopensOnTop = splice.isSent || splice.isMergeAfter || plan.isCorrection();
        actions.reopenLabel =
            splice.decided == 0
                ? tr("Reopen")
                : tr("Reopen with %1").arg(countOf(splice.decided, "decision", "decisions"));
        actions.reopenWords =
            tr("Reopen brings it back %1. %2").arg(decisions, whereInWords(splice));
    }
}

/// What taking it out means, once others may have it.
QString takingOutInWords(const SplicePlan& plan)
{
    switch (plan.kind) {
    case SpliceKind::merge:
        return tr("It was pushed, so others may have it: a new commit reverts what it brought in. "
                  "Merging %1 later will not bring that back by itself.")
            .arg(shown(plan.theirsName));
    case SpliceKind::rebase:
        return tr(
            "It was pushed, so others may have it: each of its commits is undone by a new commit.");
    default:
        return tr("It was pushed, so others may have it: a new commit reverts what it changed.");
    }
}

void addWayBack(const LoggedSplice& splice, LogActions& actions)
{
    const SplicePlan& plan = splice.entry.plan;
    const QString branch = shown(plan.oursName);
    if (plan.kind == SpliceKind::ownCommit) {
        return;  // one's own work would leave the files, though nobody else has it
    }
    if (splice.state == LogState::rolledBack) {
        actions.back = LogActions::Back::rollForward;
        actions.backLabel = tr("Bring back");
        actions.backWords =
            tr("Bring back moves %1 to %2 again, as long as it stands where it was rolled back to.")
                .arg(branch, shown(splice.entry.recorded.brief()));
        return;
    }
    const bool isMove = plan.kind == SpliceKind::fastForward;
    // A checkout, or a roll forward, ends at a commit that something else has made.
    const bool madeCommits = factsOf(plan.kind).makesCommits;
    if (splice.isSent && !isMove) {
        if (!splice.next.isNull()) {
            actions.backWords = tr("%1 has reverted it already.").arg(shown(splice.next.brief()));
        } else if (!madeCommits || splice.isBranchGone) {
            return;
        } else if (!splice.isCheckedOut) {
            actions.backWords = tr("To revert it, switch to %1 first.").arg(branch);
        } else {
            actions.back = LogActions::Back::takeOut;
            actions.backLabel = tr("Revert…");
            actions.backWords = takingOutInWords(plan);
        }
        return;
    }
    if (!splice.isAtTip) {
        actions.backWords = tr("It cannot be rolled back. %1").arg(whyNowhere(splice));
        return;
    }
    actions.back = LogActions::Back::rollBack;
    actions.backLabel = tr("Roll back");
    actions.backWords =
        tr("Roll back moves %1 to %2, where it stood before. It can be brought back.")
            .arg(branch, shown(plan.expected().brief()));
}
}  // namespace

LogActions actionsOf(const LoggedSplice& splice)
{
    LogActions actions;
    switch (splice.state) {
    case LogState::open:
        actions.back = LogActions::Back::goOn;
        actions.backLabel = tr("Go on");
        actions.backWords = tr("It is under way. Nothing has changed yet.");
        return actions;
    case LogState::putAway:
    case LogState::abandoned:
        actions.back = LogActions::Back::bringBack;
        actions.backLabel = tr("Bring back");
        actions.backWords = tr("Bring back goes on with it; what is open now is put away first.");
        return actions;
    case LogState::replaced:
        actions.backWords = tr("%1 took its place.").arg(shown(splice.next.brief()));
        return actions;
    case LogState::recorded:
    case LogState::sent:
    case LogState::rolledBack:
        break;
    }
    addReopening(splice, actions);
    addWayBack(splice, actions);
    return actions;
}

QString whatIntoWhat(const SplicePlan& plan)
{
    const QString ours = shown(plan.oursName);
    const QString theirs = shown(plan.theirsName);
    switch (plan.kind) {
    case SpliceKind::rebase:
        return tr("%1 onto %2").arg(ours, theirs);
    case SpliceKind::ownCommit:
        return tr("your work on %1").arg(ours);
    case SpliceKind::switchLine:
        return tr("from %1 to %2").arg(ours, theirs);
    case SpliceKind::bringBack:
        return tr("%1, to %2").arg(ours, theirs);
    default:
        return tr("%1 into %2").arg(theirs, ours);
    }
}

QString methodInWords(const JournalEntry& entry)
{
    const QString commit =
        entry.recorded.isNull() ? QString() : QLatin1Char(' ') + shown(entry.recorded.brief());
    switch (entry.plan.kind) {
    case SpliceKind::merge:
        return tr("merge commit") + commit;
    case SpliceKind::rebase:
        return tr("rebase") + commit;
    case SpliceKind::fastForward:
        return tr("fast-forward") + commit;
    case SpliceKind::bringBack:
        return tr("work brought back");
    case SpliceKind::ownCommit:
        return tr("own commit") + commit;
    case SpliceKind::switchLine:
        return tr("checked out");
    case SpliceKind::correction:
    case SpliceKind::rebaseCorrection:
        return tr("correction") + commit;
    case SpliceKind::revert:
        return tr("reverted") + commit;
    case SpliceKind::pick:
        return tr("cherry-pick") + commit;
    case SpliceKind::rollBack:
        return tr("rolled back");
    case SpliceKind::rollForward:
        return tr("rolled forward");
    }
    return {};
}

QString stateInWords(const LoggedSplice& splice)
{
    switch (splice.state) {
    case LogState::open:
        return tr("open");
    case LogState::putAway:
        return tr("put away");
    case LogState::abandoned:
        return tr("abandoned");
    case LogState::recorded:
        return tr("recorded");
    case LogState::sent:
        return splice.next.isNull() ? tr("pushed")
                                    : tr("pushed, reverted by %1").arg(shown(splice.next.brief()));
    case LogState::replaced:
        return tr("replaced by %1").arg(shown(splice.next.brief()));
    case LogState::rolledBack:
        return tr("rolled back");
    }
    return {};
}

QString decidedInWords(const LoggedSplice& splice)
{
    if (splice.decided == 0) {
        return factsOf(splice.entry.plan.kind).isReopened && splice.state != LogState::open
                       && !canBeBroughtBack(splice.entry.state)
                   ? tr("merged cleanly")
                   : tr("nothing decided");
    }
    return splice.byHand == 0 ? tr("%1 decided").arg(splice.decided)
                              : tr("%1 decided, %2 by hand").arg(splice.decided).arg(splice.byHand);
}

bool matches(const LoggedSplice& splice, const QString& filter)
{
    const SplicePlan& plan = splice.entry.plan;
    QStringList all{whatIntoWhat(plan),
                    methodInWords(splice.entry),
                    stateInWords(splice),
                    shown(splice.person),
                    shown(splice.entry.recorded.hex()),
                    shown(plan.ours.hex()),
                    shown(plan.theirs.hex())};
    for (const RepoPath& file : splice.files) {
        all << shownPath(file);
    }
    const QStringList words = filter.split(QLatin1Char(' '), Qt::SkipEmptyParts);
    return std::all_of(words.begin(), words.end(), [&](const QString& word) {
        return std::any_of(all.begin(), all.end(), [&](const QString& text) {
            return text.contains(word, Qt::CaseInsensitive);
        });
    });
}

QString asText(const LoggedSplice& splice, const LoggedDetails& details)
{
    QString text = QStringLiteral("%1\n%2, %3\n%4\n")
                       .arg(whatIntoWhat(splice.entry.plan),
                            methodInWords(splice.entry),
                            stateInWords(splice),
                            exactTime(splice.entry.startedAt));
    for (const LoggedDecision& decision : details.decisions) {
        text += QStringLiteral("\n%1%2: %3\n")
                    .arg(shownPath(decision.path),
                         decision.line > 0 ? tr(", line %1").arg(decision.line) : QString(),
                         decision.choice.isEmpty() ? tr("open") : decision.choice);
        if (!decision.reason.isEmpty()) {
            text += tr("    because: %1\n").arg(decision.reason);
        }
        for (const QString& line : decision.lines) {
            text += QStringLiteral("    %1\n").arg(line);
        }
    }
    return text;
}
}  // namespace rope
