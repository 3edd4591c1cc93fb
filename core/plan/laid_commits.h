// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/carry_over.h"
#include "core/decide/splice.h"
#include "core/join/rebase_scope.h"

namespace rope {
/// One commit joined to the ground that those before it made.
struct LaidCommit
{
    /// Which side is the commit and which the ground, LaidAs tells. Of a join that commits are laid on: that join.
    Leg leg;
    LegStanding standing;
    ObjectId tree;        ///< What it makes of the ground; stored nowhere yet.
    bool isOpen = false;  ///< Something is open in it.
};
[[nodiscard]] std::vector<LegStanding> standingsOf(const std::vector<LaidCommit>& laid);

/// What laying commits on a ground starts from.
struct LayRequest
{
    RebaseScope scope;
    std::vector<Decision> decisions;  ///< By leg.
    std::vector<Leg> known;           ///< Legs of an earlier call; used again as far as they hold.
    /// The join that all are laid on, which is leg 0 then; `scope.onto` is what it takes the place of.
    /// Null: they are laid on `scope.onto`, and the first of them is leg 0.
    Leg below{};
    std::vector<OwnedOutcome> oneSided{};  ///< Of leg 0: see Splice::takeUp().
    /// Of an earlier call: the legs before the first one that is decided otherwise since. They stay as they
    /// are, and only what follows is laid anew. REQUIRES: `known` has the leg that follows them
    std::vector<LaidCommit> kept{};
};

/// The name of the commit that a leg lays.
[[nodiscard]] const std::string&
laidIn(LaidAs as, const Snapshot& base, const Snapshot& ours, const Snapshot& theirs);

/// Joins each commit of a scope to what those before it give, with the decisions made so far: one entry
/// for each leg. Where something is open in one, its first candidates stand in for those that follow, which
/// are then "about". Nothing is stored. Errors: those of reading; of resultTree(); `cancelled`.
[[nodiscard]] Result<std::vector<LaidCommit>> layCommits(Place& place,
                                                         const LayRequest& request,
                                                         const ProgressSink& progress = {},
                                                         const std::stop_token& stop = {});

/// The first leg that is another one than the splice has; its workLeg() if none is.
[[nodiscard]] std::size_t firstOtherLeg(const Splice& splice, const std::vector<LaidCommit>& laid);
/// Puts commits that were laid anew into their splice. Decisions of legs that are other
/// ones now are carried over, and so are `earlier` ones that had found no place; what finds none is
/// returned. What was decided for one commit is offered where a later one meets the same region.
[[nodiscard]] std::vector<LostDecision>
putLaid(Splice& splice, const std::vector<LaidCommit>& laid, std::vector<Decision> earlier = {});

/// What a rebase gives before anything is decided, to be compared with a merge commit of the same.
struct RebaseForecast
{
    RebaseScope scope;
    std::vector<LaidCommit> laid;
    ObjectId tree;  ///< The last result; the ground's where no commit is left.

    /// Regions and questions of all commits; of those from the first open one on, about as many.
    [[nodiscard]] std::size_t openCount() const;
    [[nodiscard]] bool isAbout() const;
    [[nodiscard]] std::size_t emptiedCount() const;
};
[[nodiscard]] Result<RebaseForecast> forecastRebase(Place& place,
                                                    const Divergence& divergence,
                                                    const ObjectId& onto,
                                                    const ProgressSink& progress = {},
                                                    const std::stop_token& stop = {});
}  // namespace rope
