// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_merge_rules.cpp.
#include "core/join/name_clashes.h"

#include "core/snapshot/repo_paths.h"

#include <QString>

#include <algorithm>
#include <map>
#include <set>
#include <unordered_map>

namespace rope {
namespace {
/// What names have in common that such a file system takes for one.
std::string folded(std::string_view name)
{
    const auto isAscii = [](char c) {
        return static_cast<unsigned char>(c) < 0x80;
    };
    if (std::all_of(name.begin(), name.end(), isAscii)) {
        std::string lower(name);
        std::transform(lower.begin(), lower.end(), lower.begin(), [](char c) {
            return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
        });
        return lower;
    }
    return QString::fromUtf8(name.data(), static_cast<qsizetype>(name.size()))
        .normalized(QString::NormalizationForm_C)
        .toCaseFolded()
        .toStdString();
}

/// A folder of ours' tree in which theirs puts new names.
struct Arrivals
{
    RepoPath folder;
    ObjectId tree;
    std::vector<RepoPath> rest;  ///< Paths below the folder.
};
}  // namespace

Result<std::vector<NameClash>>
nameClashes(Snapshots& repository, const TreeJoin& join, const ObjectId& oursTree)
{
    std::set<RepoPath> gone;
    Arrivals root{{}, oursTree, {}};
    for (const TreeEdit& edit : join.theirsEdits) {
        if (!edit.version) {
            gone.insert(edit.path);
        }
    }
    for (const FileChange& change : join.theirsChanges) {
        if (!change.before) {
            root.rest.push_back(change.path);
        }
    }
    for (const NewFolder& folder : join.newFolders.theirs) {
        root.rest.push_back(folder.path);
    }
    std::vector<NameClash> clashes;
    std::vector<Arrivals> level{std::move(root)};
    while (!level.empty()) {
        std::vector<ObjectId> ids;
        ids.reserve(level.size());
        for (const Arrivals& folder : level) {
            ids.push_back(folder.tree);
        }
        TRY_ASSIGN(const auto trees, repository.readTrees(ids));
        std::vector<Arrivals> deeper;
        for (std::size_t i = 0; i < level.size(); ++i) {
            std::unordered_map<std::string, std::string> present;
            for (const TreeEntry& entry : *trees[i]) {
                if (!gone.contains(joinPath(level[i].folder, entry.name))) {
                    present[folded(entry.name)] = entry.name;
                }
            }
            std::map<std::string, std::vector<RepoPath>> below;
            for (const RepoPath& path : level[i].rest) {
                const std::size_t slash = path.find('/');
                auto& rest = below[path.substr(0, slash)];
                if (slash != RepoPath::npos) {
                    rest.push_back(path.substr(slash + 1));
                }
            }
            for (auto& [name, rest] : below) {
                const RepoPath path = joinPath(level[i].folder, name);
                const auto other = present.find(folded(name));
                if (other != present.end() && other->second != name) {
                    const RepoPath second = joinPath(level[i].folder, other->second);
                    clashes.emplace_back(std::min(path, second), std::max(path, second));
                }
                const auto own =
                    std::find_if(trees[i]->begin(), trees[i]->end(), [&n = name](const auto& e) {
                        return e.name == n && e.kind == EntryKind::folder;
                    });
                if (!rest.empty() && own != trees[i]->end()) {
                    deeper.push_back({path, own->id, std::move(rest)});
                }
            }
        }
        level = std::move(deeper);
    }
    return clashes;
}
}  // namespace rope
