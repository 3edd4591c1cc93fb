// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_survey_view.cpp.
#include "desktop/survey/survey_view.h"

#include "desktop/wording/merge_words.h"
#include "desktop/wording/relative_time.h"

#include <QCoreApplication>

#include <algorithm>
#include <set>

namespace rope {
namespace {
QString tr(const char* text)
{
    return QCoreApplication::translate("Survey", text);
}

constexpr int kMostNamedFiles = 3;

/// Lines a side changed: the longer of what it took away and what it put there, over its chunks.
int changedLines(const TextJoin& join, ChunkKind own, LineRange Chunk::*side)
{
    LineNumber lines = 0;
    for (const Chunk& chunk : join.chunks()) {
        if (chunk.kind == own || chunk.kind == ChunkKind::alike
            || chunk.kind == ChunkKind::region) {
            lines += std::max(chunk.base.size(), (chunk.*side).size());
        }
    }
    return static_cast<int>(lines);
}

QString versionWord(const FileOutcome& file, const std::optional<FileVersion>& version)
{
    if (!version) {
        return tr("deleted");
    }
    if (file.kind == OutcomeKind::binary) {
        return tr("binary");
    }
    return file.base ? tr("edited") : tr("added");
}

ChartCommit chartCommit(const Commit& commit, std::int64_t now)
{
    return {shown(commit.id.brief()),
            shown(commit.subject()),
            shown(commit.author.name),
            relativeTime(commit.author.time, now)};
}

std::vector<ChartCommit> oldestFirst(const std::vector<Commit>& commits, std::int64_t now)
{
    std::vector<ChartCommit> strand;
    std::transform(commits.rbegin(),
                   commits.rend(),
                   std::back_inserter(strand),
                   [now](const Commit& c) { return chartCommit(c, now); });
    return strand;
}

std::size_t peopleIn(const std::vector<Commit>& commits)
{
    std::set<std::string> people;
    for (const Commit& commit : commits) {
        people.insert(commit.author.email);
    }
    return people.size();
}

RopeChartModel::Shape shapeOf(Relation relation)
{
    switch (relation) {
    case Relation::same:
        return RopeChartModel::Shape::same;
    case Relation::oursAhead:
        return RopeChartModel::Shape::oursAhead;
    case Relation::theirsAhead:
        return RopeChartModel::Shape::fastForward;
    case Relation::diverged:
        return RopeChartModel::Shape::diverged;
    case Relation::unrelated:
        return RopeChartModel::Shape::unrelated;
    }
    return RopeChartModel::Shape::same;
}
}  // namespace

const Branch* SurveyFacts::branch(const std::string& ref) const
{
    const auto found = std::find_if(
        branches.begin(), branches.end(), [&](const Branch& b) { return b.ref == ref; });
    return found == branches.end() ? nullptr : &*found;
}

std::string SurveyFacts::proposedTheirs() const
{
    const Branch* own = branch(standing.ref);
    if (own != nullptr && branch(own->upstreamRef) != nullptr
        && branch(own->upstreamRef)->tip != own->tip) {
        return own->upstreamRef;
    }
    for (const bool shared : {true, false}) {
        for (const Branch& candidate : branches) {
            if (candidate.isShared == shared && candidate.ref != standing.ref
                && candidate.tip != standing.tip) {
                return candidate.ref;
            }
        }
    }
    return own != nullptr ? own->upstreamRef : std::string();
}

std::vector<OverlapRow> overlapRows(const Forecast& forecast)
{
    std::vector<OverlapRow> rows;
    for (const FileOutcome& file : forecast.join.files) {
        OverlapRow row;
        row.path = shownPath(file.path);
        row.forecast = forecastInWords(file);
        row.isOpen = file.needsDecision();
        if (file.text) {
            row.oursLines = changedLines(*file.text, ChunkKind::ours, &Chunk::ours);
            row.theirsLines = changedLines(*file.text, ChunkKind::theirs, &Chunk::theirs);
        } else {
            row.oursLines = row.theirsLines = -1;
            row.oursWord = versionWord(file, file.ours);
            row.theirsWord = versionWord(file, file.theirs);
        }
        rows.push_back(std::move(row));
    }
    std::stable_partition(
        rows.begin(), rows.end(), [](const OverlapRow& row) { return row.isOpen; });
    return rows;
}

std::size_t touchedFileCount(const Forecast& forecast)
{
    std::set<std::string_view> paths;
    for (const auto* changes : {&forecast.join.oursChanges, &forecast.join.theirsChanges}) {
        for (const FileChange& change : *changes) {
            paths.insert(change.path);
        }
    }
    return paths.size();
}

RopeChartModel chartModel(const SurveyForecast& survey,
                          const QString& oursName,
                          const QString& theirsName,
                          std::int64_t now)
{
    const Forecast& forecast = survey.forecast;
    RopeChartModel model;
    model.shape = shapeOf(forecast.divergence.relation);
    if (forecast.base) {
        model.base = chartCommit(*forecast.base, now);
    }
    model.ours = oldestFirst(survey.oursCommits, now);
    model.theirs = oldestFirst(survey.theirsCommits, now);
    const auto title =
        [](const QString& side, const QString& branch, std::size_t commits, std::size_t people) {
            QString text =
                tr("%1 · %2 · %3").arg(side, branch, countOf(commits, "commit", "commits"));
            return people > 1 ? text + tr(" by %1 people").arg(people) : text;
        };
    model.oursTitle = title(
        tr("ours"), oursName, forecast.divergence.oursOnly.size(), peopleIn(survey.oursCommits));
    model.theirsTitle = title(tr("theirs"),
                              theirsName,
                              forecast.divergence.theirsOnly.size(),
                              peopleIn(survey.theirsCommits));
    if (model.shape == RopeChartModel::Shape::diverged) {
        model.outcomeTitle = tr("merge commit");
    }
    return model;
}

QString startObstacle(const SurveyFacts& facts, const Forecast* forecast)
{
    if (!facts.standing.hasWorkingTree) {
        return tr("This repository is bare: it has no working tree to join branches in. Open a "
                  "clone of it.");
    }
    if (facts.standing.tip.isNull()) {
        return tr("This repository has no commit yet. Make the first one, or fetch a branch and "
                  "switch to it.");
    }
    if (facts.standing.ref.empty()) {
        return tr("You are on no branch, so a merge commit would belong to none. Switch to a "
                  "branch first: git switch NAME.");
    }
    if (facts.unfinished != UnfinishedWork::none) {
        return tr("A join that was begun on the command line is not finished. Finish or abort it "
                  "there first.");
    }
    QStringList names;
    int more = 0;
    for (const UncommittedFile& file : facts.uncommitted) {
        if (!file.isUntracked) {
            names.size() < kMostNamedFiles ? names << shownPath(file.path) : (++more, names);
        }
    }
    if (!names.isEmpty()) {
        return tr("Not committed yet: %1%2. Commit this work or set it aside first; nothing starts "
                  "before, so that nothing is lost.")
            .arg(names.join(QStringLiteral(", ")),
                 more > 0 ? tr(" and %1 more").arg(more) : QString());
    }
    if (forecast == nullptr) {
        return tr("Pick a branch to bring in.");
    }
    switch (forecast->divergence.relation) {
    case Relation::same:
        return tr("Both branches stand at the same commit. There is nothing to do.");
    case Relation::oursAhead:
        return tr("All of it is already in your branch. There is nothing to do.");
    case Relation::theirsAhead:
        return tr("Your branch has nothing of its own, so it can simply move forward, without a "
                  "merge commit: git merge --ff-only.");
    case Relation::unrelated:
        return tr("These branches have no commit in common, so there is no base to join over.");
    case Relation::diverged:
        break;
    }
    return {};
}
}  // namespace rope
