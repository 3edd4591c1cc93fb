// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_rebase_round.cpp.
#include "desktop/survey/rebase_words.h"

#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

namespace rope {
namespace {
QString toDecide(const RebaseForecast& forecast)
{
    const std::size_t open = forecast.openCount();
    return open == 0            ? tr("merges cleanly")
           : forecast.isAbout() ? tr("about %1 to decide").arg(open)
                                : tr("%1 to decide").arg(open);
}

/// Whether it ends in the files that the merge commit would hold.
QString comparedWithMerge(const SurveyRebase& rebase, const Forecast& forecast)
{
    if (rebase.isAsMerge) {
        return *rebase.isAsMerge ? tr("It ends in the same files as the merge commit.")
                                 : tr("It ends in other files than the merge commit.");
    }
    return forecast.openCount() == 0
               ? tr("As a merge commit it merges cleanly.")
               : tr("As a merge it is %1 to decide, all at once.").arg(forecast.openCount());
}

QString warningOf(const SharedCommits& shared, const QString& ours, std::int64_t now)
{
    const QString count = countOf(shared.commits.size(), "commit is", "commits are");
    const bool isNewestThere = shared.tip.id == shared.commits.back().id;
    const QString branch = shown(shared.branch.name);
    QString words =
        shared.since
            ? tr("%1 on %2 already; the first was pushed %3.")
                  .arg(count, branch, relativeTime(*shared.since, now))
            : tr("%1 on %2 already, the oldest made %3.")
                  .arg(count, branch, relativeTime(shared.commits.front().committer.time, now));
    if (!isNewestThere && shared.tip.author.email != shared.commits.back().author.email) {
        words += tr(" %1 has work on top of it.").arg(shown(shared.tip.author.name));
    }
    return words
           + tr(" Anyone who has them keeps the old commits; %1 will have to replace them on the "
                "remote.")
                 .arg(ours);
}
}  // namespace

QString rebaseInWords(const SurveyRebase& rebase, const Forecast& forecast, const QString& ours)
{
    const RebaseForecast& told = rebase.forecast;
    const std::size_t count = told.laid.size();
    QStringList sentences;
    sentences << (count == 0
                      ? tr("None of your commits is left: %1 moves to their newest one.").arg(ours)
                      : tr("Rewrites your %1 on top of theirs, one by one: %2.")
                            .arg(countOf(count, "commit", "commits"), toDecide(told)));
    if (const std::size_t emptied = told.emptiedCount(); emptied > 0) {
        sentences << (emptied == 1 ? tr("1 becomes empty and is skipped.")
                                   : tr("%1 become empty and are skipped.").arg(emptied));
    }
    if (!told.scope.leftOut.empty()) {
        sentences << (told.scope.leftOut.size() == 1
                          ? tr("1 is left out: theirs has the same change.")
                          : tr("%1 are left out: theirs has the same changes.")
                                .arg(told.scope.leftOut.size()));
    }
    sentences << comparedWithMerge(rebase, forecast);
    return sentences.join(QLatin1Char(' '));
}

QString rebaseWarning(const SurveyRebase& rebase, const QString& ours, std::int64_t now)
{
    const RebaseForecast& told = rebase.forecast;
    QStringList sentences;
    if (!told.scope.merges.empty()) {
        sentences
            << tr("%1 flattened: conflicts resolved in them are asked again where they come up.")
                   .arg(countOf(told.scope.merges.size(), "merge commit is", "merge commits are"));
    }
    for (const SharedCommits& shared : rebase.shared) {
        sentences << warningOf(shared, ours, now);
    }
    return sentences.join(QLatin1Char(' '));
}

std::map<ObjectId, QString> remarksOf(const SurveyRebase& rebase)
{
    std::map<ObjectId, QString> remarks;
    const RebaseForecast& forecast = rebase.forecast;
    for (std::size_t i = 0; i < forecast.laid.size(); ++i) {
        const LaidCommit& laid = forecast.laid[i];
        const std::size_t open = laid.leg->openCount();
        const QString place = tr("%1 of %2").arg(i + 1).arg(forecast.laid.size());
        const QString what = laid.standing.isEmptied ? tr("becomes empty")
                             : open == 0             ? tr("merges cleanly")
                             : laid.standing.isAbout ? tr("about %1 to decide").arg(open)
                                                     : tr("%1 to decide").arg(open);
        remarks[laid.standing.commit.id] = place + QStringLiteral(", ") + what;
    }
    for (const CommitLeftOut& leftOut : forecast.scope.leftOut) {
        remarks[leftOut.commit.id] =
            tr("left out: already there as %1").arg(shown(leftOut.as.brief()));
    }
    for (const Commit& merge : forecast.scope.merges) {
        remarks[merge.id] = tr("flattened");
    }
    for (const SharedCommits& shared : rebase.shared) {
        for (const Commit& commit : shared.commits) {
            remarks[commit.id] += tr(", on %1 already").arg(shown(shared.branch.name));
        }
    }
    return remarks;
}

QString rebaseStartLabel(const RebaseForecast& forecast)
{
    return forecast.laid.empty() ? tr("Move to theirs") : tr("Start: %1").arg(toDecide(forecast));
}
}  // namespace rope
