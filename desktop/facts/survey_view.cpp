// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/facts/survey_view.h"

#include "desktop/wording/forecast_words.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/obstacles.h"
#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

#include <algorithm>
#include <set>

namespace rope {
namespace {
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

/// What stands first in each of a file's regions, each label once.
QString bestInWords(const FileOutcome& file, std::size_t index, const Effort& effort)
{
    QStringList labels;
    for (const FirstCandidate& first : effort.regions) {
        if (first.file == index) {
            Candidate candidate;
            candidate.kind = first.kind;
            candidate.text = first.text;
            labels << labelOf(candidate, file.text->regionTexts(first.region));
        }
    }
    labels.removeDuplicates();
    for (qsizetype i = 1; i < labels.size(); ++i) {
        labels[i] = labels[i].left(1).toLower() + labels[i].mid(1);
    }
    return labels.isEmpty() && file.needsDecision() ? tr("Yours to decide")
                                                    : labels.join(QStringLiteral("; "));
}

ChartCommit chartCommit(const Commit& commit, std::int64_t now)
{
    return {shown(commit.id.brief()),
            shownSubject(commit),
            shown(commit.author.name),
            relativeTime(commit.author.time, now),
            commit.parents.size() > 1,
            {}};
}

/// Names of branches by where they stand, but for those that the chart's titles name.
std::map<QString, QStringList> branchesByTip(const std::vector<Branch>& branches,
                                             const QString& oursName,
                                             const QString& theirsName)
{
    std::map<QString, QStringList> names;
    for (const Branch& branch : branches) {
        const QString name = shown(branch.name);
        if (name != oursName && name != theirsName) {
            names[shown(branch.tip.brief())] << name;
        }
    }
    return names;
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

std::size_t SurveyFacts::uncommittedCount() const
{
    return static_cast<std::size_t>(
        std::count_if(uncommitted.begin(), uncommitted.end(), [](const UncommittedFile& file) {
            return !file.isUntracked;
        }));
}

std::string SurveyFacts::remoteOf(const Branch& shared) const
{
    std::string found = shared.name.substr(0, shared.name.find('/'));
    for (const std::string& remote : remotes) {
        if (remote.size() > found.size() && shared.name.starts_with(remote + "/")) {
            found = remote;
        }
    }
    return found;
}

bool SurveyFacts::isOwnCopy(const Branch& shared) const
{
    return shared.isShared && shared.name == remoteOf(shared) + "/" + into.name;
}

std::string SurveyFacts::teamsMain(const std::string& remote) const
{
    for (const Branch& shared : branches) {
        if (shared.isShared && shared.isFirst && (remote.empty() || remoteOf(shared) == remote)) {
            return shared.ref;
        }
    }
    // What a remote begins new copies with is not always known here; its name mostly tells.
    for (const char* name : {"main", "master", "trunk"}) {
        for (const Branch& shared : branches) {
            const std::string own = remoteOf(shared);
            if (shared.isShared && (remote.empty() || own == remote)
                && shared.name == own + "/" + name) {
                return shared.ref;
            }
        }
    }
    return {};
}

std::string SurveyFacts::proposedTheirs() const
{
    if (branch(always) != nullptr) {
        return always;
    }
    const Branch* const own = branch(into.ref);
    const Branch* const followed = own == nullptr ? nullptr : branch(own->upstreamRef);
    if (followed == nullptr) {
        return {};
    }
    const std::string main =
        isOwnCopy(*followed) && !hasNews ? teamsMain(remoteOf(*followed)) : std::string();
    return main.empty() ? followed->ref : main;
}

std::vector<OverlapRow> overlapRows(const SurveyForecast& survey, const Effort* effort)
{
    const Forecast& forecast = survey.forecast;
    std::vector<OverlapRow> rows;
    for (std::size_t i = 0; i < forecast.join.files.size(); ++i) {
        const FileOutcome& file = forecast.join.files[i];
        OverlapRow row;
        row.file = i;
        row.path = shownPath(file.path);
        row.forecast = forecastInWords(file);
        row.isOpen = file.needsDecision();
        row.best = effort == nullptr ? QString() : bestInWords(file, i, *effort);
        row.isOwn = survey.ownFiles.contains(file.oursPath);
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
    // Where all are one's own a mark tells nothing.
    if (std::all_of(rows.begin(), rows.end(), [](const OverlapRow& row) { return row.isOwn; })) {
        for (OverlapRow& row : rows) {
            row.isOwn = false;
        }
    }
    std::stable_sort(rows.begin(), rows.end(), [](const OverlapRow& a, const OverlapRow& b) {
        return std::pair(a.isOpen, a.isOwn) > std::pair(b.isOpen, b.isOwn);
    });
    return rows;
}

std::vector<RepoPath> uncommittedAlsoIn(const Forecast& forecast, const SurveyFacts& facts)
{
    std::set<std::string_view> incoming;
    for (const FileChange& change : forecast.join.theirsChanges) {
        incoming.insert(change.path);
    }
    std::vector<RepoPath> both;
    for (const UncommittedFile& file : facts.uncommitted) {
        if (!file.isUntracked && incoming.contains(file.path)) {
            both.push_back(file.path);
        }
    }
    return both;
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
                          const std::vector<Branch>& branches,
                          SpliceKind method,
                          const SurveyRebase* rebase,
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
    model.oursCount = forecast.divergence.oursOnly.size();
    model.theirsCount = forecast.divergence.theirsOnly.size();
    const auto names = branchesByTip(branches, oursName, theirsName);
    for (auto* strand : {&model.ours, &model.theirs}) {
        for (ChartCommit& commit : *strand) {
            if (const auto here = names.find(commit.id); here != names.end()) {
                commit.branches = here->second;
            }
        }
    }
    const auto title =
        [](const QString& side, const QString& branch, std::size_t commits, std::size_t people) {
            const QString count = countOf(commits, "commit", "commits");
            const QString text = branch.isEmpty() ? tr("%1 · %2").arg(side, count)
                                                  : tr("%1 · %2 · %3").arg(side, branch, count);
            return people > 1 ? text + tr(" by %1 people").arg(people) : text;
        };
    model.oursTitle = title(
        tr("ours"), oursName, forecast.divergence.oursOnly.size(), peopleIn(survey.oursCommits));
    model.theirsTitle = title(tr("theirs"),
                              theirsName,
                              forecast.divergence.theirsOnly.size(),
                              peopleIn(survey.theirsCommits));
    const bool isForward = model.shape == RopeChartModel::Shape::fastForward;
    if (isForward && method == SpliceKind::fastForward) {
        model.movesTo = tr("%1 moves here").arg(oursName);
    } else if (method == SpliceKind::rebase && rebase != nullptr) {
        model.rewritten = rebase->forecast.laid.size() - rebase->forecast.emptiedCount();
        if (model.rewritten > 0) {
            model.outcomeTitle =
                tr("%1, rewritten").arg(countOf(model.rewritten, "commit", "commits"));
        } else {
            model.movesTo = tr("%1 moves here").arg(oursName);
        }
    } else if (isForward || model.shape == RopeChartModel::Shape::diverged) {
        model.outcomeTitle = tr("merge commit");
    }
    return model;
}

QString startObstacle(const SurveyFacts& facts, const Forecast* forecast)
{
    QString obstacle =
        facts.isElsewhere() ? QString() : obstacleToRecording(facts.standing, facts.begun);
    if (!obstacle.isEmpty()) {
        return obstacle;
    }
    if (forecast == nullptr) {
        return {};  // either nothing is picked, or it is being looked at
    }
    return obstacleToSplicing(*forecast);
}

namespace {
constexpr std::int64_t kHour = 3'600;

/// The one that was asked longest ago is the one that this knowledge is as old as.
std::optional<std::int64_t> oldestAsked(const SurveyFacts& facts)
{
    std::optional<std::int64_t> oldest;
    for (const std::string& remote : facts.remotes) {
        const auto asked = facts.lastAsked.find(remote);
        if (asked != facts.lastAsked.end()) {
            oldest = std::min(oldest.value_or(asked->second), asked->second);
        }
    }
    return oldest;
}
}  // namespace

QString asOfInWords(const SurveyFacts& facts, std::int64_t now)
{
    const auto oldest = oldestAsked(facts);
    return oldest && now - *oldest >= kHour ? tr("as of %1").arg(relativeTime(*oldest, now))
                                            : QString();
}

QString askedInWords(const SurveyFacts& facts, std::int64_t now)
{
    if (facts.remotes.empty()) {
        return tr("no remote: this repository is only here");
    }
    for (const std::string& remote : facts.remotes) {
        if (!facts.lastAsked.contains(remote)) {
            return tr("%1 was never fetched").arg(shown(remote));
        }
    }
    const auto oldest = oldestAsked(facts);
    const QString who =
        facts.remotes.size() == 1 ? shown(facts.remotes.front()) : tr("the remotes");
    const QString when = relativeTime(*oldest, now);
    if (now - *oldest < kHour) {
        return tr("%1 last fetched %2").arg(who, when);
    }
    return now - *oldest < 24 * kHour
               ? tr("%1 last fetched %2 — may be out of date").arg(who, when)
               : tr("%1 last fetched %2 — probably out of date").arg(who, when);
}

QString exactAskedInWords(const SurveyFacts& facts)
{
    QStringList lines;
    for (const auto& [remote, at] : facts.lastAsked) {
        lines << tr("%1: %2").arg(shown(remote), exactTime(at));
    }
    return lines.join(QLatin1Char('\n'));
}

QString arrivalsInWords(const std::vector<Arrival>& arrivals)
{
    constexpr std::size_t kMostNamed = 3;
    if (arrivals.empty()) {
        return tr("Nothing new arrived.");
    }
    QStringList sentences;
    for (std::size_t i = 0; i < std::min(arrivals.size(), kMostNamed); ++i) {
        const Arrival& arrival = arrivals[i];
        QStringList people;
        for (std::size_t p = 0; p < std::min(arrival.people.size(), kMostNamed); ++p) {
            people << shown(arrival.people[p]);
        }
        const QString last = people.isEmpty() ? QString() : people.takeLast();
        const QString who =
            people.isEmpty() ? last : tr("%1 and %2").arg(people.join(QStringLiteral(", ")), last);
        const QString count = countOf(arrival.commits, "commit", "commits");
        const QString branch = shown(arrival.branch);
        if (arrival.isGone) {
            sentences << tr("%1 is gone: it was deleted there.").arg(branch);
            continue;
        }
        QString sentence;
        if (arrival.gone > 0) {
            sentence = tr("%1 was rewritten: %2 that you had %3 gone from it")
                           .arg(branch,
                                countOf(arrival.gone, "commit", "commits"),
                                arrival.gone == 1 ? tr("is") : tr("are"));
            if (arrival.commits > 0) {
                sentence +=
                    tr(", and it has %1").arg(countOf(arrival.commits, "new one", "new ones"));
            }
        } else {
            sentence = arrival.isNewBranch ? tr("%1 is new: %2").arg(branch, count)
                                           : tr("%1: %2").arg(branch, count);
        }
        if (!who.isEmpty()) {
            sentence += tr(" by %1").arg(who);
        }
        sentences << sentence + QLatin1Char('.');
    }
    if (arrivals.size() > kMostNamed) {
        sentences << tr("%1 more branches changed.").arg(arrivals.size() - kMostNamed);
    }
    return sentences.join(QLatin1Char(' '));
}
}  // namespace rope
