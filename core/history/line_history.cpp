// SPDX-License-Identifier: GPL-3.0-or-later
// Lines are followed from the tip towards the base. At each commit the file is compared with its
// parent's; a range that meets a change was touched here, any other is shifted to where it stood
// before. Tested by tst_divergence.cpp.
#include "core/history/line_history.h"

#include "core/diff/diff_tokens.h"
#include "core/text/text.h"

#include <algorithm>
#include <unordered_map>

namespace rope {
Result<ObjectId> fileAt(Place& repository, const ObjectId& commit, const RepoPath& path)
{
    const ObjectId ids[] = {commit};
    TRY_ASSIGN(const auto commits, repository.readCommits(ids));
    ObjectId at = commits.front().tree;
    for (std::size_t from = 0; from <= path.size();) {
        const std::size_t slash = std::min(path.find('/', from), path.size());
        const ObjectId trees[] = {at};
        TRY_ASSIGN(const auto entries, repository.readTrees(trees));
        const auto& list = *entries.front();
        const std::string name = path.substr(from, slash - from);
        const auto found = std::find_if(
            list.begin(), list.end(), [&](const TreeEntry& e) { return e.name == name; });
        const bool isLast = slash == path.size();
        if (found == list.end() || isLast != isRegular(found->kind)) {
            return ObjectId{};
        }
        at = found->id;
        from = slash + 1;
    }
    return at;
}

namespace {
using Links = std::unordered_map<ObjectId, const CommitLink*>;

bool meets(LineRange change, LineRange range)
{
    if (change.isEmpty() || range.isEmpty()) {
        return change.begin <= range.end && range.begin <= change.end;
    }
    return change.begin < range.end && range.begin < change.end;
}

LineRange shiftedBack(LineRange range, const std::vector<Hunk>& hunks)
{
    std::int64_t shift = 0;
    for (const Hunk& hunk : hunks) {
        if (hunk.after.end <= range.begin) {
            shift = static_cast<std::int64_t>(hunk.before.end) - hunk.after.end;
        }
    }
    return {static_cast<LineNumber>(range.begin + shift),
            static_cast<LineNumber>(range.end + shift)};
}

Result<std::vector<Hunk>> changes(Place& repository, const ObjectId& before, const ObjectId& after)
{
    const ObjectId ids[] = {before, after};
    TRY_ASSIGN(const auto blobs, repository.readBlobs(ids, kAnySize));
    if (isBinary(*blobs[0]) || isBinary(*blobs[1])) {
        return std::vector<Hunk>{{{0, 1}, {0, ~LineNumber{0}}}};  // one change of everything
    }
    const Text a(*blobs[0]);
    const Text b(*blobs[1]);
    LineInterner interner(a.lineCount());
    const auto aIds = interner.internLines(a);
    const auto bIds = interner.internLines(b);
    return diffTokens(aIds, bIds, interner.idCount());
}

/// The commits whose file is still being compared, and the answers found so far.
class Follower
{
public:
    Follower(Place& repository,
             const RepoPath& path,
             const Links& links,
             std::vector<LineRange> ranges)
        : m_repository(repository)
        , m_path(path)
        , m_links(links)
        , m_ranges(std::move(ranges))
        , m_found(m_ranges.size())
    {
    }

    /// Looks at one commit; gives the parent to go on with, or a null id when there is no more to find.
    Result<ObjectId> step(const ObjectId& at)
    {
        const auto link = m_links.find(at);
        if (link == m_links.end()) {
            return ObjectId{};
        }
        TRY_ASSIGN(const ObjectId own, fileAt(m_repository, at, m_path));
        ObjectId next;
        ObjectId nextBlob;
        for (const ObjectId& parent : link->second->parents) {
            TRY_ASSIGN(const ObjectId blob, fileAt(m_repository, parent, m_path));
            if (next.isNull() || (blob == own && nextBlob != own)) {
                next = parent;
                nextBlob = blob;
            }
        }
        if (nextBlob == own) {
            return next;
        }
        if (nextBlob.isNull() || own.isNull()) {
            settle(at, {{{0, 1}, {0, ~LineNumber{0}}}});
            return ObjectId{};
        }
        TRY_ASSIGN(const auto hunks, changes(m_repository, nextBlob, own));
        return settle(at, hunks) ? ObjectId{} : next;
    }

    [[nodiscard]] std::vector<ObjectId> take() { return std::move(m_found); }

private:
    /// Notes `commit` for every open range that a hunk meets; true when no range is open any more.
    bool settle(const ObjectId& commit, const std::vector<Hunk>& hunks)
    {
        bool isDone = true;
        for (std::size_t i = 0; i < m_ranges.size(); ++i) {
            if (!m_found[i].isNull()) {
                continue;
            }
            const auto touches = [&](const Hunk& hunk) {
                return meets(hunk.after, m_ranges[i]);
            };
            if (std::any_of(hunks.begin(), hunks.end(), touches)) {
                m_found[i] = commit;
            } else {
                m_ranges[i] = shiftedBack(m_ranges[i], hunks);
                isDone = false;
            }
        }
        return isDone;
    }

    Place& m_repository;
    const RepoPath& m_path;
    const Links& m_links;
    std::vector<LineRange> m_ranges;
    std::vector<ObjectId> m_found;
};
}  // namespace

Result<std::vector<ObjectId>> lastTouching(Place& repository,
                                           const RepoPath& path,
                                           const ObjectId& tip,
                                           const std::vector<CommitLink>& commits,
                                           std::vector<LineRange> ranges,
                                           const std::stop_token& stop)
{
    Links links;
    for (const CommitLink& commit : commits) {
        links.insert({commit.id, &commit});
    }
    Follower follower(repository, path, links, std::move(ranges));
    for (ObjectId at = tip; !at.isNull();) {
        if (stop.stop_requested()) {
            return Error{ErrorCode::cancelled, path, {}};
        }
        TRY_ASSIGN(at, follower.step(at));
    }
    return follower.take();
}
}  // namespace rope
