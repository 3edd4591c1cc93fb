// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/repository/repository.h"

#include <span>
#include <string>
#include <unordered_map>
#include <vector>

namespace rope {
/// Files and folders that exist in memory only, known by the ids git would give them.
class HeldObjects
{
public:
    explicit HeldObjects(bool usesSha256 = false)
        : m_usesSha256(usesSha256)
    {
    }

    ObjectId holdBlob(const std::string& bytes);
    ObjectId holdTree(std::span<const TreeEntry> entries);

    [[nodiscard]] bool has(const ObjectId& id) const
    {
        return m_blobs.contains(id) || m_trees.contains(id);
    }
    /// Null where no such object is held.
    [[nodiscard]] BlobBytes blob(const ObjectId& id) const;
    [[nodiscard]] TreeEntries tree(const ObjectId& id) const;

private:
    [[nodiscard]] ObjectId idOf(std::string_view type, std::string_view bytes) const;

    bool m_usesSha256;
    std::unordered_map<ObjectId, BlobBytes> m_blobs;
    std::unordered_map<ObjectId, TreeEntries> m_trees;
};
}  // namespace rope
