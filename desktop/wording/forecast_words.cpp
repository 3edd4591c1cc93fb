// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/wording/forecast_words.h"

#include "desktop/wording/question_words.h"
#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

#include <QStringList>

#include <algorithm>

namespace rope {
QString forecastInWords(const FileOutcome& outcome)
{
    QStringList words;
    if (outcome.regionCount() > 0) {
        words << countOf(outcome.regionCount(), "region", "regions");
    }
    if (outcome.question) {
        words << questionInShort(*outcome.question);
    }
    if (!words.isEmpty()) {
        return inARow(words);
    }
    if (outcome.text && outcome.text->hasConvertedForm()) {
        return tr("merges cleanly, encoding converted");
    }
    if (outcome.text && outcome.text->hasConvertedLineEnds()) {
        return tr("merges cleanly, line ends converted");
    }
    if (outcome.isRenamed() && outcome.base) {
        return tr("merges cleanly, was %1").arg(shownPath(outcome.basePath));
    }
    return outcome.settled == outcome.ours && outcome.ours == outcome.theirs
               ? tr("the same on both sides")
               : tr("merges cleanly");
}

namespace {
/// What joining gives, as numbers.
struct ForecastCounts
{
    Relation relation = Relation::same;
    std::size_t incoming = 0;
    std::size_t regions = 0;
    std::size_t questions = 0;
    std::size_t openFiles = 0;
};

QString openInWords(const ForecastCounts& counts)
{
    return tr("%1 in %2")
        .arg(countOf(counts.regions + counts.questions, "conflict", "conflicts"),
             countOf(counts.openFiles, "file", "files"));
}

QString forecastInWords(const ForecastCounts& counts)
{
    switch (counts.relation) {
    case Relation::same:
        return tr("the same commit");
    case Relation::oursAhead:
        return tr("all of it is already here");
    case Relation::theirsAhead:
        return tr("%1 incoming · fast-forward").arg(counts.incoming);
    case Relation::unrelated:
        return tr("no commit in common");
    case Relation::diverged:
        break;
    }
    return counts.openFiles == 0
               ? tr("%1 incoming · merges cleanly").arg(counts.incoming)
               : tr("%1 incoming · %2").arg(counts.incoming).arg(openInWords(counts));
}

ForecastCounts countsOf(const PairOutcome& outcome)
{
    ForecastCounts counts{outcome.relation, outcome.secondCommits, 0, 0, 0};
    for (const PairFile& file : outcome.files) {
        counts.regions += file.regions;
        counts.questions += file.isQuestion ? 1U : 0U;
        counts.openFiles += file.isOpen() ? 1U : 0U;
    }
    return counts;
}
}  // namespace

QString forecastInWords(const Forecast& forecast)
{
    return forecastInWords(ForecastCounts{forecast.divergence.relation,
                                          forecast.divergence.theirsOnly.size(),
                                          forecast.regionCount(),
                                          forecast.questionCount(),
                                          forecast.openFileCount()});
}

QString forecastInWords(const PairOutcome& outcome)
{
    return outcome.kind == PairOutcome::Kind::unknown && outcome.relation != Relation::unrelated
               ? tr("no forecast")
               : forecastInWords(countsOf(outcome));
}

QString forecastInShort(const PairOutcome& outcome)
{
    switch (outcome.relation) {
    case Relation::same:
    case Relation::unrelated:
        return forecastInWords(outcome);
    case Relation::oursAhead:
        return {};
    case Relation::theirsAhead:
    case Relation::diverged:
        break;
    }
    return outcome.kind == PairOutcome::Kind::unknown
               ? tr("no forecast")
               : tr("%1 incoming").arg(outcome.secondCommits);
}

QString otherWayInWords(const PairOutcome& outcome, const QString& first, const QString& second)
{
    const QString commits = countOf(outcome.firstCommits, "commit", "commits");
    switch (outcome.relation) {
    case Relation::same:
    case Relation::unrelated:
        return {};
    case Relation::oursAhead:
        return tr("Merging the other way, %1 into %2, is a fast-forward: %3.")
            .arg(first, second, commits);
    case Relation::theirsAhead:
        return tr("There is nothing to merge the other way: %2 has all of %1.").arg(first, second);
    case Relation::diverged:
        break;
    }
    return outcome.open == 0
               ? tr("Merging the other way, %1 into %2, is clean too: %3.")
                     .arg(first, second, commits)
               : tr("Merging the other way, %1 into %2, gives the same conflicts: %3.")
                     .arg(first, second, openInWords(countsOf(outcome)));
}

QString effortInWords(const Effort& effort)
{
    if (effort.total() == 0) {
        return {};
    }
    QStringList sentences;
    if (effort.keepingAll > 0) {
        sentences << (effort.keepingAll == effort.total()
                          ? tr("In each conflict, a candidate keeps the edits of both sides.")
                          : tr("In %1 of %2 conflicts, a candidate keeps the edits of both sides.")
                                .arg(effort.keepingAll)
                                .arg(effort.total()));
    }
    if (effort.greater > 0) {
        sentences << tr("In %1, the greater or later of two values is proposed.")
                         .arg(effort.greater);
    }
    if (effort.yours > 0) {
        sentences << (effort.yours == effort.total()
                          ? tr("In each conflict, one side's edit gives way: yours to decide.")
                          : tr("In %1, one side's edit gives way: yours to decide.")
                                .arg(effort.yours));
    }
    return sentences.join(QLatin1Char(' '));
}

QString nameClashInWords(const NameClash& clash)
{
    return tr("%1 and %2 differ only in case or normalisation: on some file systems one would "
              "replace the other.")
        .arg(shownPath(clash.first), shownPath(clash.second));
}
}  // namespace rope
