// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_inferred_decisions.cpp.
#include "core/system/path_finder.h"

#include <algorithm>

namespace rope {
Result<std::optional<FileVersion>> PathFinder::find(const RepoPath& path)
{
    ObjectId at = m_tree;
    for (std::size_t from = 0; from <= path.size();) {
        const std::size_t slash = std::min(path.find('/', from), path.size());
        TRY_ASSIGN(const auto entries, folder(at));
        const auto entry = std::find_if(entries->begin(), entries->end(), [&](const auto& e) {
            return e.name == std::string_view(path).substr(from, slash - from);
        });
        const bool isLast = slash == path.size();
        if (entry == entries->end() || isLast == (entry->kind == EntryKind::folder)) {
            return std::optional<FileVersion>{};
        }
        if (isLast) {
            return std::optional(FileVersion{entry->kind, entry->id});
        }
        at = entry->id;
        from = slash + 1;
    }
    return std::optional<FileVersion>{};
}

Result<TreeEntries> PathFinder::folder(const ObjectId& id)
{
    if (const auto known = m_folders.find(id); known != m_folders.end()) {
        return known->second;
    }
    TRY_ASSIGN(const auto read, m_snapshots.readTrees({&id, 1}));
    return m_folders[id] = read.front();
}
}  // namespace rope
