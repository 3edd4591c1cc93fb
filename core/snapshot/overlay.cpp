// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_virtual_base.cpp.
#include "core/snapshot/overlay.h"

#include <algorithm>

namespace rope {
ObjectId Overlay::holdBlob(std::string bytes)
{
    const ObjectId id = m_below.idOfBlob(bytes);
    m_held.blobs.try_emplace(id, std::make_shared<const std::string>(std::move(bytes)));
    return id;
}

ObjectId Overlay::holdTree(std::vector<TreeEntry> entries)
{
    const ObjectId id = m_below.idOfTree(entries);
    m_held.trees.try_emplace(id,
                             std::make_shared<const std::vector<TreeEntry>>(std::move(entries)));
    return id;
}

Result<ObjectId> Overlay::holdEditedTree(const ObjectId& tree, std::span<const TreeEdit> edits)
{
    return editedTree(*this, tree, edits, [this](std::vector<TreeEntry> entries) {
        return Result<ObjectId>(holdTree(std::move(entries)));
    });
}

Result<ObjectId> Overlay::holdResult(const ResultSnapshot& result)
{
    std::vector<TreeEdit> edits;
    for (const ResultEdit& edit : result.edits) {
        TreeEdit change{edit.path, edit.version};
        if (edit.version && edit.bytes) {
            change.version->id = holdBlob(*edit.bytes);
        }
        edits.push_back(std::move(change));
    }
    return holdEditedTree(result.from, edits);
}

std::vector<ObjectId> Overlay::notHeld(std::span<const ObjectId> ids) const
{
    std::vector<ObjectId> wanted;
    std::copy_if(ids.begin(), ids.end(), std::back_inserter(wanted), [this](const ObjectId& id) {
        return !m_held.has(id);
    });
    return wanted;
}

Result<std::vector<TreeEntries>> Overlay::readTrees(std::span<const ObjectId> ids)
{
    if (m_held.isEmpty()) {
        return m_below.readTrees(ids);
    }
    TRY_ASSIGN(const auto below, m_below.readTrees(notHeld(ids)));
    std::vector<TreeEntries> trees;
    trees.reserve(ids.size());
    std::size_t next = 0;
    for (const ObjectId& id : ids) {
        const auto held = m_held.trees.find(id);
        if (held != m_held.trees.end()) {
            trees.push_back(held->second);
        } else if (m_held.has(id)) {
            return Error{ErrorCode::corrupt, id.hex(), "a folder's content is a file's"};
        } else {
            trees.push_back(below[next++]);
        }
    }
    return trees;
}

Status
Overlay::tellHeld(std::vector<ObjectId> ids, const TreeSink& take, std::vector<ObjectId>& below)
{
    while (!ids.empty()) {
        std::vector<ObjectId> more;
        for (const ObjectId& id : ids) {
            const auto held = m_held.trees.find(id);
            if (held != m_held.trees.end()) {
                TRY(take(id, held->second, more));
            } else if (m_held.has(id)) {
                return Error{ErrorCode::corrupt, id.hex(), "a folder's content is a file's"};
            } else {
                below.push_back(id);
            }
        }
        ids = std::move(more);
    }
    return ok();
}

Status Overlay::eachTree(std::span<const ObjectId> ids, const TreeSink& take)
{
    if (m_held.isEmpty()) {
        return m_below.eachTree(ids, take);
    }
    std::vector<ObjectId> below;
    TRY(tellHeld({ids.begin(), ids.end()}, take, below));
    return m_below.eachTree(
        below,
        [&](const ObjectId& id, const TreeEntries& entries, std::vector<ObjectId>& more) -> Status {
            std::vector<ObjectId> next;
            TRY(take(id, entries, next));
            return tellHeld(std::move(next), take, more);
        });
}

Status
Overlay::eachBlob(std::span<const ObjectId> ids, std::uint64_t mostBytes, const BlobSink& take)
{
    if (m_held.isEmpty()) {
        return m_below.eachBlob(ids, mostBytes, take);
    }
    std::vector<std::optional<BlobBytes>> held(ids.size());
    for (std::size_t i = 0; i < ids.size(); ++i) {
        const auto found = m_held.blobs.find(ids[i]);
        if (found != m_held.blobs.end()) {
            held[i] = found->second->size() > mostBytes ? nullptr : found->second;
        } else if (m_held.has(ids[i])) {
            return Error{ErrorCode::corrupt, ids[i].hex(), "a file's content is a tree"};
        }
    }
    const auto read = [&](std::span<const ObjectId> others, const BlobSink& takeNext) {
        return m_below.eachBlob(others, mostBytes, takeNext);
    };
    return eachOther(std::move(held), ids, read, take);
}

Status Overlay::expectBlobs(std::span<const ObjectId> ids)
{
    return m_below.expectBlobs(notHeld(ids));
}

Result<std::vector<BlobBytes>> Overlay::readBlobs(std::span<const ObjectId> ids,
                                                  std::uint64_t mostBytes)
{
    if (m_held.isEmpty()) {
        return m_below.readBlobs(ids, mostBytes);
    }
    TRY_ASSIGN(const auto below, m_below.readBlobs(notHeld(ids), mostBytes));
    std::vector<BlobBytes> blobs;
    blobs.reserve(ids.size());
    std::size_t next = 0;
    for (const ObjectId& id : ids) {
        const auto held = m_held.blobs.find(id);
        if (held != m_held.blobs.end()) {
            blobs.push_back(held->second->size() > mostBytes ? nullptr : held->second);
        } else if (m_held.has(id)) {
            return Error{ErrorCode::corrupt, id.hex(), "a file's content is a tree"};
        } else {
            blobs.push_back(below[next++]);
        }
    }
    return blobs;
}

Result<std::vector<std::uint64_t>> Overlay::blobSizes(std::span<const ObjectId> ids)
{
    TRY_ASSIGN(const auto below, m_below.blobSizes(notHeld(ids)));
    std::vector<std::uint64_t> sizes;
    sizes.reserve(ids.size());
    std::size_t next = 0;
    for (const ObjectId& id : ids) {
        const auto held = m_held.blobs.find(id);
        sizes.push_back(m_held.has(id) ? (held == m_held.blobs.end() ? 0 : held->second->size())
                                       : below[next++]);
    }
    return sizes;
}

ObjectId Overlay::idOfBlob(std::string_view bytes) const
{
    return m_below.idOfBlob(bytes);
}

ObjectId Overlay::idOfTree(std::span<const TreeEntry> entries) const
{
    return m_below.idOfTree(entries);
}

bool Overlay::canCheckOut(const RepoPath& path) const
{
    return m_below.canCheckOut(path);
}

Result<std::vector<MergeRule>> Overlay::mergeRules(std::span<const RepoPath> paths)
{
    return m_below.mergeRules(paths);
}

Result<ProgramOutcome> Overlay::runMergeProgram(const MergeRule& rule,
                                                const RepoPath& path,
                                                const std::string& base,
                                                const std::string& ours,
                                                const std::string& theirs)
{
    return m_below.runMergeProgram(rule, path, base, ours, theirs);
}
}  // namespace rope
