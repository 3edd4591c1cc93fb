// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_rebase.cpp.
#include "core/join/rebase_scope.h"

#include "core/snapshot/equal_changes.h"

#include <algorithm>
#include <unordered_map>
#include <unordered_set>

namespace rope {
std::vector<CommitLink> parentsFirst(const std::vector<CommitLink>& links)
{
    std::unordered_map<ObjectId, std::size_t> places;
    for (std::size_t i = 0; i < links.size(); ++i) {
        places[links[i].id] = i;
    }
    std::vector<std::size_t> childrenLeft(links.size(), 0);
    for (const CommitLink& link : links) {
        for (const ObjectId& parent : link.parents) {
            if (const auto known = places.find(parent); known != places.end()) {
                ++childrenLeft[known->second];
            }
        }
    }
    std::vector<std::size_t> ready;
    for (std::size_t i = links.size(); i-- > 0;) {
        if (childrenLeft[i] == 0) {
            ready.push_back(i);
        }
    }
    std::vector<CommitLink> ordered;
    while (!ready.empty()) {
        const std::size_t next = ready.back();
        ready.pop_back();
        ordered.push_back(links[next]);
        for (const ObjectId& parent : links[next].parents) {
            const auto known = places.find(parent);
            if (known != places.end() && --childrenLeft[known->second] == 0) {
                ready.push_back(known->second);
            }
        }
    }
    std::reverse(ordered.begin(), ordered.end());
    return ordered;
}

namespace {
/// By halving, as if a line never lost what it had.
Result<std::optional<std::int64_t>>
heldSince(Place& place, const std::string& ref, const ObjectId& commit, const std::stop_token& stop)
{
    TRY_ASSIGN(const auto moves, place.movesOf(ref));
    std::size_t without = 0;  // So many of the first moves led to where the commit is not.
    std::size_t held = moves.size();
    while (without < held) {
        const std::size_t middle = without + (held - without) / 2;
        const auto apart = findDivergence(place, moves[middle].tip, commit, stop);
        if (!apart && apart.error().code == ErrorCode::cancelled) {
            return apart.error();
        }
        // A tip of long ago may be gone from the store: then it is not known to have held anything.
        const bool holds =
            apart && (apart->relation == Relation::same || apart->relation == Relation::oursAhead);
        (holds ? held : without) = holds ? middle : middle + 1;
    }
    return held < moves.size() ? std::optional(moves[held].at) : std::nullopt;
}
}  // namespace

Result<std::vector<SharedCommits>> sharedCommits(Place& place,
                                                 const RebaseScope& scope,
                                                 const ObjectId& ours,
                                                 const std::vector<Branch>& branches,
                                                 const std::stop_token& stop)
{
    std::vector<Branch> others;
    std::vector<ObjectId> tips{ours};
    for (const Branch& branch : branches) {
        if (branch.isShared && branch.tip != scope.onto.id) {
            others.push_back(branch);
            tips.push_back(branch.tip);
        }
    }
    std::vector<SharedCommits> shared;
    if (others.empty()) {
        return shared;
    }
    // One walk serves all of them, however many there are.
    TRY_ASSIGN(auto stream, place.commitsFrom(tips));
    CommitGraph graph(std::move(stream));
    for (const Branch& branch : others) {
        TRY_ASSIGN(const Divergence apart, findDivergence(graph, ours, branch.tip, stop));
        std::unordered_set<ObjectId> missing;
        for (const CommitLink& link : apart.oursOnly) {
            missing.insert(link.id);
        }
        SharedCommits of{branch, {}, {}, {}};
        for (const CommitToRewrite& rewritten : scope.commits) {
            if (!missing.contains(rewritten.commit.id)) {
                of.commits.push_back(rewritten.commit);
            }
        }
        if (!of.commits.empty()) {
            TRY_ASSIGN(auto tip, place.readCommits({&branch.tip, 1}));
            of.tip = std::move(tip.front());
            TRY_ASSIGN(of.since, heldSince(place, branch.ref, of.commits.front().id, stop));
            shared.push_back(std::move(of));
        }
    }
    return shared;
}

namespace {
Result<ObjectId> parentTree(Place& place, const Commit& commit)
{
    if (commit.parents.empty()) {
        return ObjectId{};
    }
    TRY_ASSIGN(const auto parents, place.readCommits({&commit.parents.front(), 1}));
    return parents.front().tree;
}
}  // namespace

Result<RebaseScope> takingOutScope(Place& place,
                                   const ObjectId& newest,
                                   const ObjectId& onto,
                                   const std::stop_token& stop)
{
    RebaseScope scope;
    for (ObjectId id = newest; id != onto;) {
        if (stop.stop_requested()) {
            return Error{ErrorCode::cancelled, {}, {}};
        }
        TRY_ASSIGN(auto read, place.readCommits({&id, 1}));
        Commit& commit = read.front();
        if (commit.parents.size() != 1) {
            return Error{ErrorCode::invalidInput, commit.id.brief(), {}};
        }
        const ObjectId below = commit.parents.front();
        if (id == newest) {
            scope.onto = std::move(commit);
        } else {
            TRY_ASSIGN(const ObjectId baseTree, parentTree(place, commit));
            scope.commits.push_back({std::move(commit), baseTree, LaidAs::reverted});
        }
        id = below;
    }
    scope.carried = scope.commits.size();
    return scope;
}

Result<RebaseScope> rebaseScope(Place& place,
                                const Divergence& divergence,
                                const ObjectId& onto,
                                const std::stop_token& stop)
{
    RebaseScope scope;
    TRY_ASSIGN(auto ontoRead, place.readCommits({&onto, 1}));
    scope.onto = std::move(ontoRead.front());
    TRY_ASSIGN(const auto already,
               equalChanges(
                   place, divergence.theirsOnly, divergence.oursOnly, ChangeLikeness::patch, stop));
    std::vector<ObjectId> ids;
    for (const CommitLink& link : parentsFirst(divergence.oursOnly)) {
        ids.push_back(link.id);
    }
    TRY_ASSIGN(auto commits, place.readCommits(ids));
    for (Commit& commit : commits) {
        if (stop.stop_requested()) {
            return Error{ErrorCode::cancelled, {}, {}};
        }
        if (commit.parents.size() > 1) {
            scope.merges.push_back(std::move(commit));
        } else if (const auto known = already.find(commit.id); known != already.end()) {
            scope.leftOut.push_back({std::move(commit), known->second});
        } else {
            TRY_ASSIGN(const ObjectId baseTree, parentTree(place, commit));
            scope.commits.push_back({std::move(commit), baseTree});
        }
    }
    return scope;
}
}  // namespace rope
