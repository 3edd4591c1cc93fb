// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/begun_decisions.h"
#include "core/decide/splice.h"
#include "core/join/forecast.h"
#include "core/system/git/git_place.h"
#include "tests/support/scratch_repository.h"

#include <memory>

namespace rope::test {
inline constexpr const char* kFarApart = "1\n2\n3\n4\n5\n6\n7\n8\n9\n10\n11\n12\n13\n14\n15\n";

/// Branches that clash in two lines of plan.txt and one of tide.txt; theirs alone changes fees.txt.
/// The branch `ours` is checked out; own.txt is one's own.
inline void makeClashingBranches(ScratchRepository& scratch)
{
    const auto plan = [](const char* second, const char* twelfth) {
        return QByteArray(kFarApart).replace("\n2\n", second).replace("\n12\n", twelfth);
    };
    scratch.write("plan.txt", kFarApart);
    scratch.write("tide.txt", "low\nhigh\n");
    scratch.write("fees.txt", "fee 15\nfee 20\nfee 25\n");
    scratch.write("own.txt", "own\n");
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    scratch.write("plan.txt", plan("\n2 theirs\n", "\n12 theirs\n"));
    scratch.write("tide.txt", "low\nhigh theirs\n");
    scratch.write("fees.txt", "fee 16\nfee 20\nfee 25\n");
    scratch.commit("theirs");
    scratch.git("switch -q -c ours main");
    scratch.write("plan.txt", plan("\n2 ours\n", "\n12 ours\n"));
    scratch.write("tide.txt", "low\nhigh ours\n");
    scratch.commit("ours");
}

/// Begins a merge of `theirs` with git itself, which stops.
inline void beginMerge(ScratchRepository& scratch, const QStringList& more = {})
{
    int exitCode = 0;
    scratch.tryGit(QStringList{QStringLiteral("merge"), QStringLiteral("-q")} + more
                       + QStringList{QStringLiteral("theirs")},
                   exitCode);
    QCOMPARE(exitCode, 1);
}

/// What git and the disk say of a begun merge: must be the same again after it was handed back.
inline QByteArray begunFingerprint(ScratchRepository& scratch)
{
    QByteArray all = scratch.git("for-each-ref refs/heads") + scratch.git("ls-files -s")
                     + scratch.git("status --porcelain=v2 --untracked-files=all");
    for (const char* name : {".git/MERGE_HEAD", ".git/MERGE_MSG", ".git/MERGE_MODE", ".git/HEAD"}) {
        all += scratch.read(name);
    }
    for (const QByteArray& path : scratch.git("ls-files").split('\n')) {
        all += path + scratch.read(path.constData());
    }
    return all;
}

/// A begun merge taken over: the splice that finishes it, with what its files say was decided.
struct TakenOver
{
    std::unique_ptr<GitPlace> place;
    std::shared_ptr<const Forecast> forecast;
    std::unique_ptr<Splice> splice;
    BegunDecisions begun;

    [[nodiscard]] const SpliceFile& file(const char* path) const
    {
        for (const SpliceFile& file : splice->files()) {
            if (file.outcome->path == path) {
                return file;
            }
        }
        qFatal("no such file in the splice: %s", path);
    }
    void decideAll(FileChoice side) const
    {
        for (std::size_t i = 0; i < splice->files().size(); ++i) {
            splice->decideAllOpen(i, side);
        }
    }
};

inline TakenOver takeOver(const std::string& folder)
{
    TakenOver taken;
    taken.place = std::move(GitPlace::open(folder)).value();
    const auto join = taken.place->begunJoin().value();
    const BegunFiles files = taken.place->begunFiles().value();
    taken.forecast = std::make_shared<const Forecast>(
        std::move(forecastJoin(*taken.place, join->ours, join->theirs)).value());
    SplicePlan plan{
        "splice-1", join->line, join->lineName, join->theirsName, join->ours, join->theirs};
    plan.begun = files.stamp;
    DecidedJoin decided({Leg(taken.forecast, &taken.forecast->join)});
    taken.begun = putBegun(decided, *taken.place, files).value();
    taken.splice = std::make_unique<Splice>(plan, taken.forecast, std::move(decided));
    return taken;
}
}  // namespace rope::test
