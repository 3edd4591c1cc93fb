// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/system/types.h"

#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <stop_token>

namespace rope {
/// No limit on what is read.
inline constexpr std::uint64_t kAnySize = ~std::uint64_t{0};

/// The bytes of a blob, shared between whoever reads them.
using BlobBytes = std::shared_ptr<const std::string>;

/// The entries of a folder, shared between whoever reads them; never null.
using TreeEntries = std::shared_ptr<const std::vector<TreeEntry>>;

/// How the repository wants a file to be joined.
struct MergeRule
{
    enum class How {
        lines,         ///< By lines, as any text.
        whole,         ///< Not by lines: a person picks a side.
        unionOfLines,  ///< By lines; where the sides clash, the lines of both.
        program,       ///< By a program that has been set up.
    };
    How how = How::lines;
    std::string program;           ///< The command as set up.
    bool isAllowed = true;         ///< A program that nobody has allowed to run is not run.
    std::size_t markerLength = 7;  ///< Of conflict markers in such a file.
};

/// How far renames are looked for, as the person or the repository has set it.
struct RenameRules
{
    bool isOff = false;  ///< No renames at all.
    /// Renamed and edited files are not looked for where there are more deleted times added files than
    /// the square of this. 0: no limit.
    std::size_t mostFiles = 0;
    enum class Folders {
        ask,     ///< Whether a new file follows a folder that the other side renamed is asked.
        follow,  ///< It follows.
        stay,    ///< It stays where it was put.
    };
    Folders folders = Folders::ask;
};

/// What a merge program made of three versions.
struct ProgramOutcome
{
    bool isClean = false;
    std::string bytes;
};

/// Part of the port: trees and bytes by opaque id. Equal ids mean equal bytes; from different ids
/// nothing follows. One thread at a time.
class Snapshots
{
public:
    virtual ~Snapshots() = default;

    /// One list per id, entries in entryOrder(). A null id reads as an empty folder.
    /// Errors: `corrupt` for an entry whose name no tree may hold (`..`, one with a slash, …).
    virtual Result<std::vector<TreeEntries>> readTrees(std::span<const ObjectId> ids) = 0;
    /// Told one folder; what it adds to `more` is read as well.
    using TreeSink = std::function<Status(
        const ObjectId& id, const TreeEntries& entries, std::vector<ObjectId>& more)>;
    /// As readTrees(), in any order, each folder told as it comes while others are read. `take` must not
    /// ask this place for anything else; an error of it ends the reading.
    virtual Status eachTree(std::span<const ObjectId> ids, const TreeSink& take);
    /// Tells which blobs will be read soon, so that a partial copy can ask for all of them at once.
    virtual Status expectBlobs(std::span<const ObjectId> ids) = 0;
    /// Bytes of each blob, in the order asked; null for one of more than `mostBytes`.
    /// Errors: `notFound`; `unsupported` with Reason::objectsMissing for bytes that a partial copy lacks.
    virtual Result<std::vector<BlobBytes>> readBlobs(std::span<const ObjectId> ids,
                                                     std::uint64_t mostBytes) = 0;
    /// Told the bytes of the blob that stands at `place` of those asked.
    using BlobSink = std::function<Status(std::size_t place, const BlobBytes& bytes)>;
    /// As readBlobs(), each told in the order asked while those behind it are read, so that never all are
    /// held. `take` is bound as with eachTree().
    virtual Status
    eachBlob(std::span<const ObjectId> ids, std::uint64_t mostBytes, const BlobSink& take);
    /// eachBlob() where the bytes of some are there already, at their places in `known`: those that are not
    /// are read by `read`, which is eachBlob() of them.
    static Status eachOther(
        std::vector<std::optional<BlobBytes>> known,
        std::span<const ObjectId> ids,
        const std::function<Status(std::span<const ObjectId> unknown, const BlobSink& take)>& read,
        const BlobSink& take);
    /// Sizes in bytes, in the order asked. Errors: as readBlobs().
    virtual Result<std::vector<std::uint64_t>> blobSizes(std::span<const ObjectId> ids) = 0;

    /// The id that such bytes or such a folder would have if they were stored; where ids say more
    /// than the content, an id that nothing else has. No bytes have the id of all empty blobs.
    [[nodiscard]] virtual ObjectId idOfBlob(std::string_view bytes) const = 0;
    [[nodiscard]] virtual ObjectId idOfTree(std::span<const TreeEntry> entries) const = 0;

    /// Whether an object is the system's own, not one that is only held in memory.
    [[nodiscard]] virtual bool isStored(const ObjectId& /*id*/) const { return true; }

    /// Whether the system would put a file of that name into a working tree here.
    [[nodiscard]] virtual bool canCheckOut(const RepoPath& path) const = 0;

    /// One rule for each path.
    virtual Result<std::vector<MergeRule>> mergeRules(std::span<const RepoPath> paths) = 0;
    /// The same for every path.
    [[nodiscard]] virtual RenameRules renameRules() const { return {}; }
    /// What of the place, besides commits, decides how files are joined, as an opaque text: while it is
    /// equal, joining two commits gives the same again. Files with such rules that nobody tracks count
    /// only at the root.
    virtual Result<std::string> rulesStamp() = 0;
    /// Runs the program of a rule as the system's own tools would. Errors: `io`; `systemFailed` when
    /// it fails rather than finding a clash, with the command as subject.
    virtual Result<ProgramOutcome> runMergeProgram(const MergeRule& rule,
                                                   const RepoPath& path,
                                                   const std::string& base,
                                                   const std::string& ours,
                                                   const std::string& theirs) = 0;
};
}  // namespace rope
