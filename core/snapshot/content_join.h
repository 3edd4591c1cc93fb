// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/snapshot/file_outcome.h"
#include "core/snapshot/join_entries.h"
#include "core/snapshot/merge_rules.h"
#include "core/snapshot/names_beside.h"

namespace rope {
/// An outcome in the making.
struct OpenFile
{
    FileOutcome outcome;
    RepoPath entryPath;
    PerSide<std::optional<JoinEntry::Origin>> origins;
};

/// Reads and joins the contents of every file that needs it: two regular versions that nothing has
/// settled, or a version that is to be joined with where it came from. Sets text, settled or
/// question, as the rules of the file say. Errors: those of reading; those of merge programs;
/// `cancelled`.
[[nodiscard]] Status joinContents(Snapshots& repository,
                                  std::vector<OpenFile>& files,
                                  MergeRules& rules,
                                  NamesBeside& names,
                                  const ProgressSink& progress,
                                  const std::stop_token& stop);
}  // namespace rope
