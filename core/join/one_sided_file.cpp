// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_one_sided_file.cpp.
#include "core/join/one_sided_file.h"

#include "core/join/found_file.h"
#include "core/merge/marked_text.h"
#include "core/system/path_finder.h"
#include "core/system/tree_difference.h"

#include <algorithm>

namespace rope {
Result<OwnedOutcome> oneSidedOutcome(Snapshots& snapshots, const Join& join, const RepoPath& path)
{
    const FileChange* const byOurs = changeAt(join.oursChanges, path);
    const FileChange* change = byOurs != nullptr ? byOurs : changeAt(join.theirsChanges, path);
    FileChange unchanged{path, {}, {}};
    if (change == nullptr) {
        TRY_ASSIGN(unchanged.after, PathFinder(snapshots, join.ours.tree).find(path));
        unchanged.before = unchanged.after;
        change = &unchanged;
    }
    if (isOfAnOutcome(join, path) || !change->after || !isRegular(change->after->kind)) {
        return OwnedOutcome();
    }
    const bool hasBase = change->before && isRegular(change->before->kind);
    std::vector<ObjectId> ids{change->after->id};
    if (hasBase) {
        ids.push_back(change->before->id);
    }
    TRY_ASSIGN(const auto blobs, snapshots.readBlobs(ids, Text::kMaxBytes));
    const bool isText = std::all_of(blobs.begin(), blobs.end(), [](const BlobBytes& bytes) {
        return bytes && !isBeyondLines(*bytes);
    });
    if (!isText) {
        return OwnedOutcome();
    }
    const std::string& after = *blobs.front();
    const std::string before = hasBase ? *blobs.back() : std::string();
    auto outcome = std::make_shared<FileOutcome>();
    outcome->path = path;
    outcome->base = change->before;
    outcome->basePath = change->before ? path : RepoPath();
    (byOurs ? outcome->ours : outcome->theirs) = change->after;
    (byOurs ? outcome->oursPath : outcome->theirsPath) = path;
    (byOurs ? outcome->theirs : outcome->ours) = change->before;
    (byOurs ? outcome->theirsPath : outcome->oursPath) = outcome->basePath;
    outcome->joinedKind = change->after->kind;
    TRY_ASSIGN(TextJoin text, joinTexts(before, byOurs ? after : before, byOurs ? before : after));
    outcome->text = std::make_shared<const TextJoin>(std::move(text));
    for (const std::string_view line : splitLines(after)) {
        if (looksLikeMarker(line)) {
            outcome->ownMarkers.emplace(line);
        }
    }
    return OwnedOutcome(std::move(outcome));
}
}  // namespace rope
