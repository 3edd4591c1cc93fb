// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"

#include <stop_token>
#include <string>
#include <vector>

namespace rope {
/// What is odd about a place of a recorded merge. The names (nameOf) are part of the command line's JSON.
enum class OddKind {
    neitherSide,    ///< Text, or a file, that stands in neither side and in no join of them.
    changeDropped,  ///< A change of one side that nothing stood against is not in the result.
    takenWhole,     ///< Both sides changed the file, and it is as one side has it.
    markersLeft,    ///< A conflict marker that no side has.
};
[[nodiscard]] std::string_view nameOf(OddKind kind);

/// Which side an odd place is about.
enum class OddSide { none, ours, theirs };

struct OddPlace
{
    OddKind kind = OddKind::neitherSide;
    RepoPath path;
    int line = 0;      ///< From 1, in the result; 0: the file as a whole.
    std::string text;  ///< That line, or the first one that is missing; bytes, without its end.
    OddSide side = OddSide::none;  ///< Whose change is dropped; whose file was taken.
};

/// How one region or question of a recorded merge was decided.
struct ReadDecision
{
    RepoPath path;
    int line = 0;  ///< From 1, in the result; 0: a question about the whole file.
    std::string
        choice;       ///< A candidate's or answer's name; kOwnText; empty: none of them gives it.
    std::string key;  ///< Of a region: TextJoin::regionKey(); else empty.
    std::string looseKey;  ///< As key, blanks aside.
    std::string text;      ///< Of a region: what stands there, in the form of the join's texts.
};

/// A recorded merge, read again: what its sides join to, and what of that was recorded. A value.
struct MergeReading
{
    Commit merge;
    std::vector<ReadDecision> decisions;
    std::vector<OddPlace> odd;
    /// It has more than two parents, and they do not join by themselves: it is not read.
    bool isUnreadable = false;
};

/// Joins the two parents of a merge again and compares with what was recorded, anywhere in the tree. Of a
/// merge with more parents, which are joined one after the other, nothing was decided; files are told that
/// are not as they joined.
/// `history`: reads from a commit that contains the merge; null: it is read anew.
/// Errors: those of reading and joining; `invalidInput` for a commit with fewer than two parents;
/// `cancelled`.
[[nodiscard]] Result<MergeReading> readMerge(Place& place,
                                             const ObjectId& merge,
                                             CommitGraph* history = nullptr,
                                             const std::stop_token& stop = {});
}  // namespace rope
