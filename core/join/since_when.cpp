// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_since_when.cpp.
#include "core/join/since_when.h"

#include "core/history/line_history.h"

#include <unordered_map>

namespace rope {
namespace {
enum class Whose { ours, theirs };

/// A side's commits from its tip back by first parents, newest first, as far as they are its own.
std::vector<ObjectId> lineOf(const ObjectId& tip, const std::vector<CommitLink>& own)
{
    std::unordered_map<ObjectId, ObjectId> firstParents;
    for (const CommitLink& link : own) {
        firstParents[link.id] = link.parents.empty() ? ObjectId{} : link.parents.front();
    }
    std::vector<ObjectId> line;
    for (auto at = firstParents.find(tip); at != firstParents.end();
         at = firstParents.find(at->second)) {
        line.push_back(at->first);
    }
    return line;
}

class Searcher
{
public:
    Searcher(Place& place, const FileOutcome& file, std::size_t region, const std::stop_token& stop)
        : m_place(place)
        , m_file(file)
        , m_range(file.text->region(region).base)
        , m_stop(stop)
    {
    }

    Result<std::optional<Commit>>
    find(Whose side, const ObjectId& tip, const std::vector<CommitLink>& own)
    {
        const std::vector<ObjectId> line = lineOf(tip, own);
        if (line.empty()) {
            return std::optional<Commit>{};
        }
        // With the newest one the region is there, before the oldest it is not.
        std::size_t there = 0;
        std::size_t notThere = line.size();
        while (notThere - there > 1) {
            if (m_stop.stop_requested()) {
                return Error{ErrorCode::cancelled, {}, {}};
            }
            const std::size_t middle = there + (notThere - there) / 2;
            TRY_ASSIGN(const bool isThere, hasRegion(side, line[middle]));
            (isThere ? there : notThere) = middle;
        }
        TRY_ASSIGN(auto commits, m_place.readCommits({&line[there], 1}));
        return std::optional(std::move(commits.front()));
    }

private:
    /// Whether the region would be there if that side ended in this commit.
    Result<bool> hasRegion(Whose side, const ObjectId& commit)
    {
        const RepoPath& path = side == Whose::ours ? m_file.oursPath : m_file.theirsPath;
        TRY_ASSIGN(ObjectId id, fileAt(m_place, commit, path));
        if (id.isNull() && !m_file.basePath.empty()) {
            TRY_ASSIGN(id, fileAt(m_place, commit, m_file.basePath));
        }
        if (id.isNull()) {
            return false;
        }
        TRY_ASSIGN(const auto blobs, m_place.readBlobs({&id, 1}, Text::kMaxBytes));
        const auto text = blobs.front() ? decodedFor(*m_file.text, *blobs.front()) : std::nullopt;
        if (!text) {
            return false;
        }
        const auto bytesOf = [](const Text& version) {
            return std::string(version.bytes());
        };
        TRY_ASSIGN(const TextJoin join,
                   joinTexts(bytesOf(m_file.text->base()),
                             side == Whose::ours ? *text : bytesOf(m_file.text->ours()),
                             side == Whose::theirs ? *text : bytesOf(m_file.text->theirs())));
        for (std::size_t i = 0; i < join.regionCount(); ++i) {
            const LineRange& range = join.region(i).base;
            if (range.begin <= m_range.end && m_range.begin <= range.end) {
                return true;
            }
        }
        return false;
    }

    Place& m_place;
    const FileOutcome& m_file;
    LineRange m_range;  ///< Of the region, in the base.
    const std::stop_token& m_stop;
};
}  // namespace

Result<SinceWhen> findSinceWhen(Place& place,
                                const Forecast& forecast,
                                const FileOutcome& file,
                                std::size_t region,
                                const std::stop_token& stop)
{
    Searcher searcher(place, file, region, stop);
    SinceWhen since;
    TRY_ASSIGN(since.ours,
               searcher.find(Whose::ours, forecast.ours.id, forecast.divergence.oursOnly));
    TRY_ASSIGN(since.theirs,
               searcher.find(Whose::theirs, forecast.theirs.id, forecast.divergence.theirsOnly));
    return since;
}

Result<std::optional<Commit>> findSinceWhenLaid(Place& place,
                                                const Forecast& forecast,
                                                const FileOutcome& file,
                                                std::size_t region,
                                                const std::stop_token& stop)
{
    TRY_ASSIGN(const ObjectId atTip, fileAt(place, forecast.theirs.id, file.theirsPath));
    if (!file.theirs || atTip != file.theirs->id) {
        return std::optional<Commit>{};
    }
    return Searcher(place, file, region, stop)
        .find(Whose::theirs, forecast.theirs.id, forecast.divergence.theirsOnly);
}
}  // namespace rope
