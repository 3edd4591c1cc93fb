// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/effort.h"
#include "core/plan/laid_commits.h"
#include "desktop/facts/rope_chart_layout.h"

#include <QString>

#include <map>
#include <memory>
#include <optional>
#include <set>
#include <vector>

namespace rope {
/// A splice that was left before it was recorded and can be brought back.
struct PutAwaySplice
{
    std::string id;
    std::string oursRef;
    std::string oursName;
    std::string theirsName;
    std::int64_t putAwayAt = 0;
    friend bool operator==(const PutAwaySplice&, const PutAwaySplice&) = default;
};

/// Where a repository stands, as the survey shows it. A value, read in one go.
struct SurveyFacts
{
    QString repositoryName;
    Standing standing;
    /// The own branch that others are joined into: the one checked out, unless a person picked another.
    Standing into;
    std::vector<Branch> branches;
    std::vector<std::string> remotes;
    std::map<std::string, std::int64_t>
        lastAsked;  ///< By remote; those that never answered are not in it.
    std::vector<UncommittedFile> uncommitted;
    std::optional<BegunJoin> begun;       ///< By another program, and not finished.
    std::vector<PutAwaySplice> putAway;   ///< Newest first.
    std::vector<PutAwaySplice> setAside;  ///< Splices whose uncommitted work waits, newest first.
    std::vector<std::string> programsLeftOut;  ///< Of the repository's own configuration, not run.
    std::string ledTo;  ///< Where its configuration leads the working tree; empty if nowhere else.
    std::int64_t readAt = 0;  ///< Now, in seconds since 1970, when this was read.
    /// Full name of the branch that the person has set to be brought into `into` always; empty: none.
    std::string always;
    bool hasNews = false;  ///< What `into` follows has commits that it has not.

    /// Whether what is joined into is not checked out: then the files have nothing to do with it.
    [[nodiscard]] bool isElsewhere() const { return into.ref != standing.ref; }
    /// Whether what was begun here can be gone on with in a splice.
    [[nodiscard]] bool canTakeBegun() const
    {
        return begun && begun->obstacle == BegunObstacle::none && !isElsewhere();
    }
    /// Uncommitted files that are tracked: what a recording has to look after.
    [[nodiscard]] std::size_t uncommittedCount() const;
    [[nodiscard]] const Branch* branch(const std::string& ref) const;
    /// The branch to bring in unless a person picks another: the one that is set to be brought in always;
    /// else what ours follows; where that is its own copy on the remote and has nothing new, the team's
    /// main. Never any other: empty where there is none of these.
    [[nodiscard]] std::string proposedTheirs() const;
    /// The first branch of a remote, as it says itself, or else as its name tells. Empty: not known.
    [[nodiscard]] std::string teamsMain(const std::string& remote) const;
    /// The remote that a shared branch is on; a remote's own name may hold slashes.
    [[nodiscard]] std::string remoteOf(const Branch& shared) const;
    /// Whether a shared branch is `into`'s own copy on a remote.
    [[nodiscard]] bool isOwnCopy(const Branch& shared) const;
};

/// A forecast with the commits of both sides, for show.
struct SurveyForecast
{
    Forecast forecast;
    std::vector<Commit> oursCommits;  ///< Newest first, at most kMostListedCommits.
    std::vector<Commit> theirsCommits;
    std::set<RepoPath> ownFiles;  ///< Those that the person's own commits of ours changed.
    std::vector<std::string> programsLeftOut;  ///< Of the repository's own configuration, not run.
    std::map<ObjectId, ObjectId>
        equalInOurs;  ///< Theirs' commits whose change ours has, and where.
};
inline constexpr std::size_t kMostListedCommits = 500;

/// What a rebase in the place of the merge commit would mean.
struct SurveyRebase
{
    RebaseForecast forecast;
    std::vector<SharedCommits> shared;
    /// Whether it ends in the files that the merge commit would hold; nothing: that is decided by hand.
    std::optional<bool> isAsMerge;
};

/// One row of the overlap table.
struct OverlapRow
{
    std::size_t file = 0;  ///< Among the files of the forecast's join.
    QString path;
    int oursLines = 0;  ///< Lines that side changed; -1 where that is no number.
    int theirsLines = 0;
    QString oursWord;  ///< In place of a number: "deleted", "binary".
    QString theirsWord;
    QString forecast;
    QString best;  ///< What stands first among the candidates; empty: nothing to decide, or not known yet.
    bool isOpen = false;
    bool isOwn = false;  ///< The person's own commits changed it.
};

/// What is to be decided first, then what is one's own. `effort`: null where it is not known.
[[nodiscard]] std::vector<OverlapRow> overlapRows(const SurveyForecast& survey,
                                                  const Effort* effort = nullptr);
/// `branches`: whose names are told where they end on the strands; `method`: what will be made;
/// `rebase`: null where it is not known.
[[nodiscard]] RopeChartModel chartModel(const SurveyForecast& survey,
                                        const QString& oursName,
                                        const QString& theirsName,
                                        const std::vector<Branch>& branches,
                                        SpliceKind method,
                                        const SurveyRebase* rebase,
                                        std::int64_t now);
/// Uncommitted files that what comes in changes too, by path: where they conflict, a person decides.
[[nodiscard]] std::vector<RepoPath> uncommittedAlsoIn(const Forecast& forecast,
                                                      const SurveyFacts& facts);
/// How many files either side touched in all.
[[nodiscard]] std::size_t touchedFileCount(const Forecast& forecast);

/// How old what is known of the remotes is: "origin last asked 2 hours ago".
[[nodiscard]] QString askedInWords(const SurveyFacts& facts, std::int64_t now);

/// How old it is where that matters: "as of 2 hours ago"; empty while it is fresh.
[[nodiscard]] QString asOfInWords(const SurveyFacts& facts, std::int64_t now);

/// When each remote was last heard of, exactly, for a tooltip.
[[nodiscard]] QString exactAskedInWords(const SurveyFacts& facts);

/// What came with a fetch on one branch.
struct Arrival
{
    std::string branch{};
    std::size_t commits = 0;
    std::vector<std::string> people{};  ///< Who made them, each once.
    bool isNewBranch = false;
    bool isGone = false;   ///< It is not known any more.
    std::size_t gone = 0;  ///< Commits that it had and has not any more: it was rewritten.
};
/// "origin/main: 3 commits by Priya and Jonas." Who sent what, in sentences.
[[nodiscard]] QString arrivalsInWords(const std::vector<Arrival>& arrivals);

/// What stops a splice from starting, as a sentence; empty if nothing does.
[[nodiscard]] QString startObstacle(const SurveyFacts& facts, const Forecast* forecast);
}  // namespace rope
