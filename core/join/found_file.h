// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/join/join.h"

#include <map>
#include <optional>
#include <set>
#include <string>
#include <string_view>

namespace rope {
/// What stands at some paths; nothing: no file.
using FoundFiles = std::map<RepoPath, std::optional<FileVersion>>;

/// All paths that an outcome is about.
[[nodiscard]] std::set<RepoPath> pathsOf(const FileOutcome& outcome);

/// What was found, as a decision keeps it in SlotState::text: for each path `mode id TAB path NUL`, with mode 0
/// and no id where no file stands; and read back. Nothing where it is no such text.
[[nodiscard]] std::string foundText(const FoundFiles& found);
[[nodiscard]] std::optional<FoundFiles> foundIn(std::string_view text);

/// The outcome of a file of which somebody made by hand what no side and no join gives: added, removed, put
/// in the place of another, or made executable. It asks whether that is to stay (FileChoice::found) or a
/// side's own is to be there; of a file that the join asks about already, its answers are among them.
/// `path`: of the join's own outcome, where it has one. Errors: those of reading.
[[nodiscard]] Result<OwnedOutcome>
foundOutcome(Snapshots& snapshots, const Join& join, const RepoPath& path, const FoundFiles& found);
}  // namespace rope
