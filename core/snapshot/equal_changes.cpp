// SPDX-License-Identifier: GPL-3.0-or-later
// Which files a commit touched is cheap to tell; contents are read only of commits that touched the same.
// Tested by tst_equal_changes.cpp.
#include "core/snapshot/equal_changes.h"

#include "core/base/digest.h"
#include "core/diff/diff_tokens.h"
#include "core/snapshot/tree_changes.h"
#include "core/text/text.h"

#include <algorithm>
#include <unordered_map>

namespace rope {
namespace {
constexpr std::uint64_t kMostEqualBytes = 4'000'000;  // of a file; larger ones by their ids

constexpr LineNumber kContextLines = 3;   // as git's patches have them
constexpr std::size_t kMostToldOf = 200;  // commits of a side, where it is only told
constexpr std::size_t kCommitsAtOnce = 500;

/// One commit and the files it touched.
struct Change
{
    ObjectId commit;
    std::vector<FileChange> files;
    std::string paths;   ///< Tells the same touched files from others.
    std::string digest;  ///< Of what it did to their lines; empty: not asked for yet.
};

class ChangeReader
{
public:
    ChangeReader(Place& repository, ChangeLikeness likeness, const std::stop_token& stop)
        : m_repository(repository)
        , m_likeness(likeness)
        , m_stop(stop)
    {
    }

    Result<std::vector<Change>> changesOf(std::span<const CommitLink> links)
    {
        const bool isForTelling = m_likeness == ChangeLikeness::lines;
        links = links.first(isForTelling ? std::min(links.size(), kMostToldOf) : links.size());
        std::vector<Change> changes;
        for (std::size_t from = 0; from < links.size(); from += kCommitsAtOnce) {
            const auto some = links.subspan(from, std::min(kCommitsAtOnce, links.size() - from));
            TRY(readTrees(some));
            for (const CommitLink& link : some) {
                TRY(addChange(link, changes));
            }
        }
        return changes;
    }

    /// What a commit did to the lines of its files, without where.
    Result<std::string> digest(Change& change)
    {
        if (change.digest.empty()) {
            std::string all;
            for (const FileChange& file : change.files) {
                TRY_ASSIGN(const std::string lines, linesOf(file));
                all += digestOfParts({file.path, kindOf(file.before), kindOf(file.after), lines});
            }
            change.digest = digestOfParts({all});
        }
        return change.digest;
    }

private:
    /// Of commits that make a change of their own, and of what they were made on: a question for each
    /// would take longer than all the rest.
    Status readTrees(std::span<const CommitLink> links)
    {
        std::vector<ObjectId> ids;
        const auto want = [&](const ObjectId& id) {
            if (m_trees.try_emplace(id).second) {
                ids.push_back(id);
            }
        };
        for (const CommitLink& link : links) {
            if (link.parents.size() == 1) {
                want(link.id);
                want(link.parents.front());
            }
        }
        TRY_ASSIGN(const auto commits, m_repository.readCommits(ids));
        for (const Commit& commit : commits) {
            m_trees[commit.id] = commit.tree;
        }
        return ok();
    }

    Status addChange(const CommitLink& link, std::vector<Change>& changes)
    {
        if (link.parents.size() != 1) {
            return ok();
        }
        if (m_stop.stop_requested()) {
            return Error{ErrorCode::cancelled, {}, {}};
        }
        const ObjectId before = m_trees[link.parents.front()];
        TRY_ASSIGN(auto touched,
                   treeChanges(m_repository, {before, {m_trees[link.id], before}}, m_stop));
        Change change{link.id, std::move(touched.ours.files), {}, {}};
        for (const FileChange& file : change.files) {
            change.paths.append(file.path).append(1, '\0');
        }
        if (!change.files.empty()) {
            changes.push_back(std::move(change));
        }
        return ok();
    }

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
        TRY_ASSIGN(const auto blobs, m_repository.readBlobs(ids, kMostEqualBytes));
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
        const bool asPatch = m_likeness == ChangeLikeness::patch;
        const DiffMethod method = asPatch ? DiffMethod::myers : DiffMethod::histogram;
        TRY_ASSIGN(const auto hunks,
                   diffTokens(oldIds, newIds, interner.idCount(), method, m_stop));
        return asPatch ? patchOf(hunks, before, after) : changedLines(hunks, before, after);
    }

    using Lines = std::vector<std::string_view>;

    static std::string
    changedLines(const std::vector<Hunk>& hunks, const Lines& before, const Lines& after)
    {
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

    /// With the lines around them, each once, and no blanks.
    static std::string
    patchOf(const std::vector<Hunk>& hunks, const Lines& before, const Lines& after)
    {
        std::string patch;
        const auto add = [&patch](char sign, std::string_view line) {
            patch += sign;
            std::copy_if(line.begin(), line.end(), std::back_inserter(patch), [](char c) {
                return c != ' ' && (c < '\t' || c > '\r');
            });
        };
        LineNumber told = 0;  // Lines of `before` that have been told.
        for (std::size_t h = 0; h < hunks.size(); ++h) {
            const Hunk& hunk = hunks[h];
            const LineNumber from =
                hunk.before.begin > kContextLines ? hunk.before.begin - kContextLines : 0;
            for (LineNumber i = std::max(told, from); i < hunk.before.begin; ++i) {
                add(' ', before[i]);
            }
            for (LineNumber i = hunk.before.begin; i < hunk.before.end; ++i) {
                add('-', before[i]);
            }
            for (LineNumber i = hunk.after.begin; i < hunk.after.end; ++i) {
                add('+', after[i]);
            }
            const auto end = static_cast<LineNumber>(
                h + 1 < hunks.size() ? hunks[h + 1].before.begin : before.size());
            told = std::min(end, hunk.before.end + kContextLines);
            for (LineNumber i = hunk.before.end; i < told; ++i) {
                add(' ', before[i]);
            }
        }
        return patch;
    }

    Place& m_repository;
    ChangeLikeness m_likeness;
    const std::stop_token& m_stop;
    std::unordered_map<ObjectId, ObjectId> m_trees;  ///< By commit.
};
}  // namespace

Result<std::map<ObjectId, ObjectId>> equalChanges(Place& repository,
                                                  std::span<const CommitLink> ours,
                                                  std::span<const CommitLink> theirs,
                                                  ChangeLikeness likeness,
                                                  const std::stop_token& stop)
{
    ChangeReader reader(repository, likeness, stop);
    TRY_ASSIGN(auto oursChanges, reader.changesOf(ours));
    TRY_ASSIGN(auto theirsChanges, reader.changesOf(theirs));
    std::map<std::string, std::vector<Change*>> byPaths;
    for (Change& change : oursChanges) {
        byPaths[change.paths].push_back(&change);
    }
    std::map<ObjectId, ObjectId> equal;
    for (Change& change : theirsChanges) {
        const auto same = byPaths.find(change.paths);
        if (same == byPaths.end()) {
            continue;
        }
        TRY_ASSIGN(const std::string wanted, reader.digest(change));
        for (Change* own : same->second) {
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
