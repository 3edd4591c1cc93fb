// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/snapshots.h"

#include <map>

namespace rope {
/// The rules of the paths of one forecast, each asked for once, however often trees are joined for it.
class MergeRules
{
public:
    /// Asks for the rules that are not known yet. Errors: those of Snapshots::mergeRules.
    Status load(Snapshots& repository, const std::vector<RepoPath>& paths);
    /// By lines where nobody asked.
    [[nodiscard]] MergeRule rule(const RepoPath& path) const;

private:
    std::map<RepoPath, MergeRule> m_rules;
};
}  // namespace rope
