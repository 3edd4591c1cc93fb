// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp, tst_rebase_round.cpp, tst_logbook_round.cpp.
#include "desktop/wording/record_words.h"

#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

#include <algorithm>

namespace rope {
RecordWords::RecordWords(const Splice& splice,
                         const std::vector<CommitLeftOut>& leftOut,
                         std::optional<bool> hasCheckPassed)
    : m_splice(splice)
    , m_leftOut(leftOut)
    , m_hasCheckPassed(hasCheckPassed)
{
}

/// What becomes of the files.
QString RecordWords::files() const
{
    return m_splice.plan().workChoice == WorkChoice::filesStay
               ? tr("Your files stay as they are, on the branch where you are")
               : tr("Your working tree is updated");
}

/// What moves where.
QString RecordWords::move() const
{
    const Forecast& forecast = m_splice.forecast();
    return tr("%1 moves forward to where %2 is. No commit is made, and nothing is pushed.\n\nfrom "
              "%3 %4\nto %5 %6\n\n%7. %8.")
        .arg(shown(m_splice.plan().oursName),
             shown(m_splice.plan().theirsName),
             shown(forecast.ours.id.brief()),
             shownSubject(forecast.ours),
             shown(forecast.theirs.id.brief()),
             shownSubject(forecast.theirs),
             countOf(forecast.divergence.theirsOnly.size(), "commit comes in", "commits come in"),
             files());
}

QString RecordWords::contents() const
{
    const SplicePlan& plan = m_splice.plan();
    if (plan.kind == SpliceKind::bringBack) {
        return tr("No commit is made: the work that was set aside comes back to your files on %1, "
                  "uncommitted, as decided here.")
            .arg(shown(plan.theirsName));
    }
    if (plan.kind == SpliceKind::fastForward) {
        return move();
    }
    if (m_splice.plan().kind == SpliceKind::rebase) {
        return rebase() + finishes() + check();
    }
    if (factsOf(plan.kind).isOnTop) {
        return onTop() + carried() + finishes() + check();
    }
    const Forecast& forecast = m_splice.forecast();
    QString text = tr("One commit on %1, with two parents in this order:\n%2 %3\n%4 %5\n\n%6 "
                      "decided by you. %7; nothing is pushed.")
                       .arg(shown(plan.oursName),
                            shown(forecast.ours.id.brief()),
                            shownSubject(forecast.ours),
                            shown(forecast.theirs.id.brief()),
                            shownSubject(forecast.theirs))
                       .arg(m_splice.decidedCount() == 0 ? tr("Nothing had to be")
                                                         : QString::number(m_splice.decidedCount()))
                       .arg(files());
    if (!plan.replaced.isNull()) {
        text += tr("\n\nIt takes the place of %1, which was not pushed. The logbook still has that "
                   "one.")
                    .arg(shown(plan.replaced.brief()))
                + carried();
    }
    return text + finishes() + check();
}

QString RecordWords::finishes() const
{
    return m_splice.plan().begun.empty()
               ? QString()
               : tr("\n\nIt finishes what was begun on the command line.");
}

/// One commit upon what was sent already.
QString RecordWords::onTop() const
{
    const SplicePlan& plan = m_splice.plan();
    const QString ours = shown(plan.oursName);
    if (plan.kind == SpliceKind::pick) {
        return tr("One commit on top of %1: %2 “%3” applied again, with its author and date. "
                  "Nothing is pushed.")
            .arg(ours, shown(plan.theirs.brief()), shownSubject(m_splice.forecast().theirs));
    }
    const bool takesOutMerge =
        plan.kind == SpliceKind::revert && m_splice.forecast().base->parents.size() > 1;
    if (plan.kind == SpliceKind::revert && !takesOutMerge) {
        return tr("One commit on top of %1 that reverts what %2 “%3” brought in. Others may have "
                  "that, so it stays in the history; reverting this commit brings it back. Nothing "
                  "is pushed.")
            .arg(ours, shown(plan.theirs.brief()), shownSubject(*m_splice.forecast().base));
    }
    if (plan.kind == SpliceKind::rebaseCorrection) {
        return tr("One commit on top of %1. The commits of the rebase stay where they are; the new "
                  "one holds the decisions that you changed in the rebase of %3 onto %2. Nothing "
                  "is pushed.")
            .arg(shown(plan.expected().brief()), shown(plan.theirsName), ours);
    }
    return plan.kind == SpliceKind::correction
               ? tr("One commit on top of %1. %2 stays where it is; the new one holds the "
                    "decisions that you changed in the merge of %3 into %4. Nothing is pushed.")
                     .arg(shown(plan.expected().brief()),
                          shown(plan.replaced.brief()),
                          shown(plan.theirsName),
                          ours)
               : tr("One commit on top of %1 that reverts what %2 brought in. Others may have "
                    "that, so it stays in the history: merging %3 again does not bring it back by "
                    "itself; reverting this commit does. Nothing is pushed.")
                     .arg(ours, shown(plan.theirs.brief()), shown(plan.theirsName));
}

QString RecordWords::check() const
{
    return tr("\n\nCheck found nothing. ")
           + (!m_hasCheckPassed   ? tr("The check command has not run on this result: F5 runs it.")
              : *m_hasCheckPassed ? tr("The check command passed on this result.")
                                  : tr("The check command fails on this result."));
}

/// What follows a commit that takes the place of another one.
QString RecordWords::carried() const
{
    const bool isCorrection = m_splice.plan().isCorrection();
    if (!m_splice.laysCommits() || isCorrection) {
        return {};
    }
    std::size_t written = 0;
    const QStringList lines = writtenAnew(1, written);
    if (m_splice.plan().kind == SpliceKind::revert) {
        return tr("\n\n%1 more that revert what these brought in:\n%2")
            .arg(countOf(written, "commit", "commits"), lines.join(QLatin1Char('\n')));
    }
    return tr("\n\n%1 on top of it, carried along with their messages, authors and dates:\n%2")
        .arg(countOf(written, "commit", "commits"), lines.join(QLatin1Char('\n')));
}

/// The commits that are written anew, from one on, and how many these are.
QStringList RecordWords::writtenAnew(std::size_t first, std::size_t& written) const
{
    const SplicePlan& plan = m_splice.plan();
    QStringList lines;
    for (std::size_t i = first; i < m_splice.standings().size(); ++i) {
        const LegStanding& standing = m_splice.standings()[i];
        const bool isSkipped = plan.skips(standing);
        written += isSkipped ? 0U : 1U;
        lines << tr("%1 %2%3").arg(shown(standing.commit.id.brief()),
                                   shownSubject(standing.commit),
                                   isSkipped            ? emptied(i)
                                   : standing.isEmptied ? tr(" · empty, kept")
                                                        : QString());
    }
    return lines;
}

/// Why nothing is left of a commit: because of what was decided in it, or because it is there already.
QString RecordWords::emptied(std::size_t leg) const
{
    const auto& files = m_splice.files();
    const bool isDecided = std::any_of(files.begin(), files.end(), [leg](const SpliceFile& file) {
        return file.leg == leg && file.decidedCount() > 0;
    });
    return isDecided ? tr(" · left out: with your decisions nothing of it remains")
                     : tr(" · left out: its change is there already");
}

QStringList RecordWords::leftOutBefore() const
{
    QStringList lines;
    for (const CommitLeftOut& commit : m_leftOut) {
        lines << tr("%1 %2 · left out: its change is there already, as %3")
                     .arg(shown(commit.commit.id.brief()),
                          shownSubject(commit.commit),
                          shown(commit.as.brief()));
    }
    return lines;
}

/// Which commits will be there in the place of which.
QString RecordWords::rebase() const
{
    const SplicePlan& plan = m_splice.plan();
    std::size_t written = 0;
    const QStringList lines = writtenAnew(0, written) + leftOutBefore();
    return tr("%1 of %2 on top of %3, with their messages, authors and dates:\n%4\n\nThe branch "
              "moves once, when all are written; the logbook keeps the old ones. %5 decided by "
              "you. %6; nothing is pushed.")
        .arg(countOf(written, "commit", "commits"),
             shown(plan.oursName),
             shown(plan.theirsName),
             lines.join(QLatin1Char('\n')),
             m_splice.decidedCount() == 0 ? tr("Nothing had to be")
                                          : QString::number(m_splice.decidedCount()),
             files());
}

/// Commits that are not written, and why.
QStringList RecordWords::leftOut() const
{
    QStringList lines;
    const SplicePlan& plan = m_splice.plan();
    for (std::size_t leg = 0; leg < m_splice.standings().size(); ++leg) {
        const LegStanding& standing = m_splice.standings()[leg];
        if (plan.skips(standing) && !plan.isCorrection()) {
            lines << shown(standing.commit.id.brief()) + QLatin1Char(' ')
                         + shownSubject(standing.commit) + emptied(leg);
        }
    }
    if (m_splice.plan().kind == SpliceKind::rebase) {
        lines << leftOutBefore();
    }
    return lines;
}

QString workInWords(const SplicePlan& plan, const std::vector<UncommittedFile>& uncommitted)
{
    const auto count = static_cast<std::size_t>(
        std::count_if(uncommitted.begin(), uncommitted.end(), [](const auto& file) {
            return !file.isUntracked;
        }));
    if (count == 0) {
        return {};
    }
    const QString files = countOf(count, "uncommitted file", "uncommitted files");
    switch (plan.workChoice) {
    case WorkChoice::carry:
        return tr("%1: carried across, and uncommitted afterwards.").arg(files);
    case WorkChoice::setAside:
        return tr("%1: set aside when this is recorded, to be brought back later.").arg(files);
    case WorkChoice::filesStay:
    case WorkChoice::none:
    case WorkChoice::broughtBack:
        break;
    }
    return {};
}
}  // namespace rope
