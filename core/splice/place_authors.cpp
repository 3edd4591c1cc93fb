// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_forecast.cpp.
#include "core/splice/place_authors.h"

#include "core/history/line_history.h"

namespace rope {
namespace {
/// One commit per range on one side.
Result<std::vector<std::optional<Commit>>> commitsOfSide(Place& repository,
                                                         const RepoPath& path,
                                                         const ObjectId& tip,
                                                         const std::vector<CommitLink>& own,
                                                         const std::vector<LineRange>& ranges,
                                                         const std::stop_token& stop)
{
    TRY_ASSIGN(const auto ids, lastTouching(repository, path, tip, own, ranges, stop));
    std::vector<std::optional<Commit>> commits(ids.size());
    for (std::size_t i = 0; i < ids.size(); ++i) {
        if (!ids[i].isNull()) {
            const ObjectId wanted[] = {ids[i]};
            TRY_ASSIGN(auto read, repository.readCommits(wanted));
            commits[i] = std::move(read.front());
        }
    }
    return commits;
}

Result<std::vector<PlaceAuthors>> authorsOf(Place& repository,
                                            const Forecast& forecast,
                                            const FileOutcome& file,
                                            const std::vector<LineRange>& oursRanges,
                                            const std::vector<LineRange>& theirsRanges,
                                            const std::stop_token& stop)
{
    const Divergence& divergence = forecast.divergence;
    const RepoPath& lastKnown = file.base ? file.basePath : file.path;
    const RepoPath& oursPath = file.ours ? file.oursPath : lastKnown;
    const RepoPath& theirsPath = file.theirs ? file.theirsPath : lastKnown;
    TRY_ASSIGN(auto ours,
               commitsOfSide(
                   repository, oursPath, forecast.ours.id, divergence.oursOnly, oursRanges, stop));
    TRY_ASSIGN(
        auto theirs,
        commitsOfSide(
            repository, theirsPath, forecast.theirs.id, divergence.theirsOnly, theirsRanges, stop));
    std::vector<PlaceAuthors> authors(ours.size());
    for (std::size_t i = 0; i < authors.size(); ++i) {
        authors[i] = {std::move(ours[i]), std::move(theirs[i])};
    }
    return authors;
}
}  // namespace

Result<std::vector<PlaceAuthors>> findChunkAuthors(Place& repository,
                                                   const Forecast& forecast,
                                                   const FileOutcome& file,
                                                   const std::stop_token& stop)
{
    std::vector<LineRange> ours;
    std::vector<LineRange> theirs;
    std::vector<std::size_t> asked;
    const std::vector<Chunk>& chunks = file.text->chunks();
    for (std::size_t i = 0; i < chunks.size(); ++i) {
        if (chunks[i].kind != ChunkKind::unchanged) {
            ours.push_back(chunks[i].ours);
            theirs.push_back(chunks[i].theirs);
            asked.push_back(i);
        }
    }
    TRY_ASSIGN(auto found, authorsOf(repository, forecast, file, ours, theirs, stop));
    std::vector<PlaceAuthors> authors(chunks.size());
    for (std::size_t i = 0; i < asked.size(); ++i) {
        authors[asked[i]] = std::move(found[i]);
    }
    return authors;
}

Result<PlaceAuthors> findFileAuthors(Place& repository,
                                     const Forecast& forecast,
                                     const FileOutcome& file,
                                     const std::stop_token& stop)
{
    const std::vector<LineRange> everything{{0, ~LineNumber{0}}};
    TRY_ASSIGN(auto authors, authorsOf(repository, forecast, file, everything, everything, stop));
    return std::move(authors.front());
}
}  // namespace rope
