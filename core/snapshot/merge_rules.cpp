// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_merge_rules.cpp.
#include "core/snapshot/merge_rules.h"

#include <algorithm>

namespace rope {
Status MergeRules::load(Snapshots& repository, const std::vector<RepoPath>& paths)
{
    std::vector<RepoPath> unknown;
    std::copy_if(paths.begin(), paths.end(), std::back_inserter(unknown), [this](const auto& path) {
        return !m_rules.contains(path);
    });
    TRY_ASSIGN(const auto rules, repository.mergeRules(unknown));
    for (std::size_t i = 0; i < unknown.size(); ++i) {
        m_rules[unknown[i]] = rules[i];
    }
    return ok();
}

MergeRule MergeRules::rule(const RepoPath& path) const
{
    const auto found = m_rules.find(path);
    return found == m_rules.end() ? MergeRule{} : found->second;
}
}  // namespace rope
