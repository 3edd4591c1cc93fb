// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_rebase_round.cpp, tst_resolve_station.cpp.
#include "desktop/resolve/side_names.h"

#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

namespace rope {
namespace {
/// Of a commit that is picked or reverted upon those before it.
SideNames namesOfNext(const Splice& splice, std::size_t leg)
{
    const LegStanding& standing = splice.standings()[leg];
    const QString commit = shown(standing.commit.id.brief());
    const QString ours = shown(splice.plan().oursName);
    return {tr("%1 + %2").arg(ours).arg(leg),
            standing.as == LaidAs::picked ? tr("the picked commit") : tr("before %1").arg(commit)};
}
}  // namespace

SideNames namesOf(const Splice& splice, const SpliceFile& file)
{
    if (file.leg == splice.workLeg()) {
        return {tr("your uncommitted work"), tr("the result")};
    }
    if (splice.laysCommits() && splice.standings()[file.leg].as != LaidAs::rewritten) {
        return namesOfNext(splice, file.leg);
    }
    if (splice.plan().kind == SpliceKind::revert) {
        const bool isOfMerge = splice.forecast().base->parents.size() > 1;
        const QString before = isOfMerge ? tr("before %1 was merged") : tr("before %1");
        return {shown(splice.plan().oursName), before.arg(shown(splice.plan().theirsName))};
    }
    const bool isOfWhatFollows =
        splice.laysCommits()
        && (splice.plan().isCorrection() ? splice.standings()[file.leg].isCarried
                                         : !splice.plan().laysOwnCommits() && file.leg > 0);
    if (isOfWhatFollows) {
        return {tr("what follows it"), tr("as decided here")};
    }
    if (splice.plan().laysOwnCommits()) {
        return {tr("your commit"),
                file.leg == 0
                    ? shown(splice.plan().theirsName)
                    : tr("%1 + %2 of yours").arg(shown(splice.plan().theirsName)).arg(file.leg)};
    }
    return {shown(splice.plan().oursName),
            splice.plan().kind == SpliceKind::pick ? tr("the picked commit")
                                                   : shown(splice.plan().theirsName)};
}
}  // namespace rope
