// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp, tst_logbook_round.cpp.
#include "desktop/wording/done_words.h"

#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

namespace rope {
namespace {
/// The sentence for a kind: %1 is the branch, %2 the commit's short id, %3 its subject, %4 what was brought in.
QString sentenceFor(const SplicePlan& plan)
{
    switch (plan.kind) {
    case SpliceKind::rollBack:
        return tr(
            "%1 is at %2 “%3” again, as before merging %4. The logbook can bring the merge back.");
    case SpliceKind::rollForward:
        return tr("%1 is at %2 “%3” again, with %4 merged.");
    case SpliceKind::rebase:
        return tr("Every commit of %1 was on %4 already: it is at %2 “%3” now.");
    default:
        break;
    }
    if (plan.workChoice == WorkChoice::filesStay) {
        return tr("%1 moved on to %2 “%3”. Your files stay as they are.");
    }
    return plan.kind == SpliceKind::ownCommit
               ? tr("Committed %2 “%3” on %1. Go on from here.")
               : tr("%1 moved on to %2 “%3”. Your working tree is updated.");
}
}  // namespace

QString doneInWords(const SplicePlan& plan, const Commit& standsAt, const QString& asked)
{
    const QString id = shown(standsAt.id.brief());
    if (plan.kind == SpliceKind::switchLine) {
        return tr("You are on %1 now, at %2 “%3”. %4")
            .arg(shown(plan.theirsName), id, shownSubject(standsAt), asked);
    }
    QString sentence = sentenceFor(plan);
    sentence =
        sentence.contains(QLatin1String("%4"))
            ? sentence.arg(shown(plan.oursName), id, shownSubject(standsAt), shown(plan.theirsName))
            : sentence.arg(shown(plan.oursName), id, shownSubject(standsAt));
    return sentence;
}

QString
deletedInWords(const std::string& branch, const std::string& remote, const ObjectId& tip)
{
    const QString at = shown(tip.brief());
    return remote.empty()
               ? tr("Your branch %1 is deleted here. It was at %2; its commits stay.")
                     .arg(shown(branch), at)
               : tr("%1 is deleted on %2. It was at %3; its commits stay.")
                     .arg(shown(branch), shown(remote), at);
}

QString setAsideInWords()
{
    return tr("your work set aside");
}
}  // namespace rope
