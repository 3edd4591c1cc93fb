// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_names_and_trees.cpp.
#include "core/system/snapshots.h"

#include <algorithm>
#include <utility>

namespace rope {
Status Snapshots::eachTree(std::span<const ObjectId> ids, const TreeSink& take)
{
    std::vector<ObjectId> level(ids.begin(), ids.end());
    while (!level.empty()) {
        TRY_ASSIGN(const auto trees, readTrees(level));
        std::vector<ObjectId> deeper;
        for (std::size_t i = 0; i < level.size(); ++i) {
            TRY(take(level[i], trees[i], deeper));
        }
        level = std::move(deeper);
    }
    return ok();
}

Status
Snapshots::eachBlob(std::span<const ObjectId> ids, std::uint64_t mostBytes, const BlobSink& take)
{
    constexpr std::size_t kAtOnce = 96;
    for (std::size_t from = 0; from < ids.size(); from += kAtOnce) {
        const auto some = ids.subspan(from, std::min(kAtOnce, ids.size() - from));
        TRY_ASSIGN(const auto blobs, readBlobs(some, mostBytes));
        for (std::size_t i = 0; i < some.size(); ++i) {
            TRY(take(from + i, blobs[i]));
        }
    }
    return ok();
}

Status Snapshots::eachOther(
    std::vector<std::optional<BlobBytes>> known,
    std::span<const ObjectId> ids,
    const std::function<Status(std::span<const ObjectId> unknown, const BlobSink& take)>& read,
    const BlobSink& take)
{
    std::vector<ObjectId> unknown;
    for (std::size_t i = 0; i < ids.size(); ++i) {
        if (!known[i]) {
            unknown.push_back(ids[i]);
        }
    }
    std::size_t place = 0;
    const auto tellKnown = [&]() -> Status {
        for (; place < ids.size() && known[place]; ++place) {
            TRY(take(place, *std::exchange(known[place], std::nullopt)));
        }
        return ok();
    };
    TRY(tellKnown());
    return read(unknown, [&](std::size_t, const BlobBytes& bytes) -> Status {
        TRY(take(place++, bytes));
        return tellKnown();
    });
}
}  // namespace rope
