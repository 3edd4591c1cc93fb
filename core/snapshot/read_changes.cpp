// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_excerpts.cpp.
#include "core/snapshot/read_changes.h"

#include "core/snapshot/overlay.h"
#include "core/system/tree_difference.h"

namespace rope {
namespace {
/// The bytes of a version; null where it is too large to be read.
Result<BlobBytes> bytesOf(Snapshots& snapshots, const std::optional<FileVersion>& version)
{
    static const BlobBytes kNothing = std::make_shared<const std::string>();
    if (!version) {
        return kNothing;
    }
    if (version->kind == EntryKind::submodule) {
        return std::make_shared<const std::string>(version->id.hex() + "\n");
    }
    const ObjectId ids[] = {version->id};
    TRY_ASSIGN(const auto blobs, snapshots.readBlobs(ids, kMostReadBytes));
    return blobs.front();
}
}  // namespace

Result<FileReading> readChange(Snapshots& snapshots,
                               const FileChange& change,
                               const std::stop_token& stop,
                               LineNumber around)
{
    FileReading reading;
    reading.change = change;
    TRY_ASSIGN(const BlobBytes before, bytesOf(snapshots, change.before));
    TRY_ASSIGN(const BlobBytes after, bytesOf(snapshots, change.after));
    if (before == nullptr || after == nullptr) {
        reading.content = FileReading::Content::tooLarge;
        return reading;
    }
    reading.bytesBefore = before->size();
    reading.bytesAfter = after->size();
    if (isBinary(*before) || isBinary(*after)) {
        reading.content = FileReading::Content::binary;
        return reading;
    }
    TRY_ASSIGN(reading.text, changeBetween(Text(*before), Text(*after), around, stop));
    return reading;
}

Result<ResultReading> readDifference(Snapshots& snapshots,
                                     const ObjectId& before,
                                     const ObjectId& after,
                                     LineNumber around,
                                     const std::stop_token& stop)
{
    TRY_ASSIGN(const auto changes, treeDifference(snapshots, before, after));
    ResultReading reading;
    reading.fileCount = changes.size();
    for (const FileChange& change : changes) {
        if (reading.files.size() == kMostReadFiles) {
            break;
        }
        TRY_ASSIGN(FileReading file, readChange(snapshots, change, stop, around));
        reading.files.push_back(std::move(file));
    }
    return reading;
}

Result<CommitReading> readCommit(Place& place, const ObjectId& commit, const std::stop_token& stop)
{
    const ObjectId ids[] = {commit};
    TRY_ASSIGN(auto commits, place.readCommits(ids));
    CommitReading reading;
    reading.commit = std::move(commits.front());
    ObjectId before;
    if (!reading.commit.parents.empty()) {
        const ObjectId parents[] = {reading.commit.parents.front()};
        TRY_ASSIGN(const auto parent, place.readCommits(parents));
        before = parent.front().tree;
    }
    TRY_ASSIGN(ResultReading changes, readDifference(place, before, reading.commit.tree, 3, stop));
    reading.files = std::move(changes.files);
    reading.fileCount = changes.fileCount;
    return reading;
}

Result<ResultReading> readResult(Place& place,
                                 const ObjectId& before,
                                 const ResultSnapshot& result,
                                 const std::stop_token& stop)
{
    Overlay snapshots(place);
    std::vector<TreeEdit> edits;
    for (const ResultEdit& edit : result.edits) {
        std::optional<FileVersion> version = edit.version;
        if (version && edit.bytes) {
            version->id = snapshots.holdBlob(*edit.bytes);
        }
        edits.push_back({edit.path, version});
    }
    TRY_ASSIGN(const ObjectId tree, snapshots.holdEditedTree(result.from, edits));
    return readDifference(snapshots, before, tree, 3, stop);
}
}  // namespace rope
