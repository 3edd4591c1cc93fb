// SPDX-License-Identifier: GPL-3.0-or-later
// Which files a commit touched is cheap to tell; contents are read only of commits that touched the same.
// Tested by tst_equal_changes.cpp.
#include "core/snapshot/equal_changes.h"

#include "core/base/digest.h"
#include "core/diff/diff_tokens.h"
#include "core/snapshot/tree_changes.h"
#include "core/text/text.h"

#include <algorithm>

namespace rope {
namespace {
constexpr std::uint64_t kMostComparedBytes = 4'000'000;  // of a file; larger ones by their ids

/// One commit and the files it touched.
struct Change
{
    ObjectId commit;
    std::vector<FileChange> files;
    std::string paths;  ///< Tells the same touched files from others.
};

class ChangeReader
{
public:
    ChangeReader(Place& repository, const std::stop_token& stop)
        : m_repository(repository)
        , m_stop(stop)
    {
    }

    Result<std::vector<Change>> changesOf(std::span<const CommitLink> links)
    {
        std::vector<Change> changes;
        for (const CommitLink& link : links.first(std::min(links.size(), kMostComparedCommits))) {
            if (link.parents.size() != 1) {
                continue;
            }
            if (m_stop.stop_requested()) {
                return Error{ErrorCode::cancelled, {}, {}};
            }
            const ObjectId ids[] = {link.parents.front(), link.id};
            TRY_ASSIGN(const auto commits, m_repository.readCommits(ids));
            TRY_ASSIGN(auto touched,
                       treeChanges(m_repository,
                                   {commits[0].tree, {commits[1].tree, commits[0].tree}},
                                   m_stop));
            Change change{link.id, std::move(touched.ours.files), {}};
            for (const FileChange& file : change.files) {
                change.paths.append(file.path).append(1, '\0');
            }
            if (!change.files.empty()) {
                changes.push_back(std::move(change));
            }
        }
        return changes;
    }

    /// What a commit did to the lines of its files, without where.
    Result<std::string> digest(const Change& change)
    {
        std::string all;
        for (const FileChange& file : change.files) {
            TRY_ASSIGN(const std::string lines, linesOf(file));
            all += digestOfParts({file.path, kindOf(file.before), kindOf(file.after), lines});
        }
        return digestOfParts({all});
    }

private:
    static std::string_view kindOf(const std::optional<FileVersion>& version)
    {
        static constexpr std::string_view kKinds[] = {"f", "x", "l", "d", "s"};
        return version ? kKinds[static_cast<std::size_t>(version->kind)] : std::string_view("-");
    }

    Result<std::string> linesOf(const FileChange& file)
    {
        std::vector<ObjectId> ids;
        for (const auto* version : {&file.before, &file.after}) {
            if (*version && isRegular((*version)->kind)) {
                ids.push_back((*version)->id);
            }
        }
        TRY_ASSIGN(const auto blobs, m_repository.readBlobs(ids, kMostComparedBytes));
        const bool isText = std::all_of(
            blobs.begin(), blobs.end(), [](const BlobBytes& b) { return b && !isBinary(*b); });
        if (!isText || ids.empty()) {
            return (file.before ? file.before->id.hex() : "") + ">"
                   + (file.after ? file.after->id.hex() : "");
        }
        const std::string none;
        const bool hasBefore = file.before && isRegular(file.before->kind);
        const bool hasAfter = file.after && isRegular(file.after->kind);
        const auto before = splitLines(hasBefore ? *blobs.front() : none);
        const auto after = splitLines(hasAfter ? *blobs.back() : none);
        LineInterner interner(before.size() + 16);
        const auto oldIds = interner.internAll(before);
        const auto newIds = interner.internAll(after);
        TRY_ASSIGN(const auto hunks,
                   diffTokens(oldIds, newIds, interner.idCount(), DiffMethod::histogram, m_stop));
        std::string lines;
        for (const Hunk& hunk : hunks) {
            for (LineNumber i = hunk.before.begin; i < hunk.before.end; ++i) {
                lines.append("-").append(before[i]);
            }
            for (LineNumber i = hunk.after.begin; i < hunk.after.end; ++i) {
                lines.append("+").append(after[i]);
            }
        }
        return lines;
    }

    Place& m_repository;
    const std::stop_token& m_stop;
};
}  // namespace

Result<std::map<ObjectId, ObjectId>> equalChanges(Place& repository,
                                                  std::span<const CommitLink> ours,
                                                  std::span<const CommitLink> theirs,
                                                  const std::stop_token& stop)
{
    ChangeReader reader(repository, stop);
    TRY_ASSIGN(const auto oursChanges, reader.changesOf(ours));
    TRY_ASSIGN(const auto theirsChanges, reader.changesOf(theirs));
    std::map<std::string, std::vector<const Change*>> byPaths;
    for (const Change& change : oursChanges) {
        byPaths[change.paths].push_back(&change);
    }
    std::map<ObjectId, ObjectId> equal;
    for (const Change& change : theirsChanges) {
        const auto same = byPaths.find(change.paths);
        if (same == byPaths.end()) {
            continue;
        }
        TRY_ASSIGN(const std::string wanted, reader.digest(change));
        for (const Change* own : same->second) {
            TRY_ASSIGN(const std::string digest, reader.digest(*own));
            if (digest == wanted) {
                equal[change.commit] = own->commit;
                break;
            }
        }
    }
    return equal;
}
}  // namespace rope
