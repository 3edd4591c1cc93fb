// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_forecast.cpp.
#include "core/join/place_authors.h"

#include "core/history/line_history.h"
#include "core/merge/line_origin.h"

#include <algorithm>

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

namespace {
/// Where lines of one text stand in an older one that it came from; what is new there stands where the
/// line before it does.
LineRange inOlder(LineRange range, const std::vector<LineNumber>& olderLines)
{
    const auto olderBefore = [&](LineNumber line) {
        while (line > 0) {
            if (olderLines[--line] != kNoLine) {
                return olderLines[line] + 1;
            }
        }
        return LineNumber{0};
    };
    const LineNumber begin = olderBefore(std::min(range.begin, LineNumber(olderLines.size())));
    const LineNumber end = olderBefore(std::min(range.end, LineNumber(olderLines.size())));
    return {begin, std::max(begin, end)};
}
}  // namespace

namespace {
/// The side that a leg's ground belongs to: where its lines come from.
struct GroundSide
{
    bool isOurs = false;
    const std::optional<FileVersion>& version;
    const RepoPath& path;
    const ObjectId& tip;
    const std::vector<CommitLink>& own;

    GroundSide(const Forecast& forecast, const LegStanding& laid, const FileOutcome& file)
        : isOurs(laid.as != LaidAs::rewritten)
        , version(isOurs ? file.ours : file.theirs)
        , path(!version ? file.path
               : isOurs ? file.oursPath
                        : file.theirsPath)
        , tip(isOurs ? forecast.ours.id : forecast.theirs.id)
        , own(isOurs ? forecast.divergence.oursOnly : forecast.divergence.theirsOnly)
    {
    }

    [[nodiscard]] PlaceAuthors with(const Commit& commit, std::optional<Commit> ground) const
    {
        return isOurs ? PlaceAuthors{std::move(ground), commit}
                      : PlaceAuthors{commit, std::move(ground)};
    }
};
}  // namespace

Result<std::vector<PlaceAuthors>> findLegAuthors(Place& repository,
                                                 const Forecast& forecast,
                                                 const Join& leg,
                                                 const LegStanding& laid,
                                                 const FileOutcome& file,
                                                 const std::stop_token& stop)
{
    const std::vector<Chunk>& chunks = file.text->chunks();
    const GroundSide ground(forecast, laid, file);
    std::vector<PlaceAuthors> authors(chunks.size(), ground.with(laid.commit, {}));
    TRY_ASSIGN(const ObjectId known, fileAt(repository, ground.tip, ground.path));
    if (known.isNull() || !ground.version) {
        return authors;
    }
    Overlay snapshots(repository, *leg.held);
    const ObjectId ids[] = {known, ground.version->id};
    TRY_ASSIGN(const auto texts, snapshots.readBlobs(ids, kAnySize));
    const std::vector<LineNumber> older = lineUp(*texts[0], *texts[1]);
    std::vector<LineRange> ranges;
    std::vector<std::size_t> asked;
    for (std::size_t i = 0; i < chunks.size(); ++i) {
        if (chunks[i].kind != ChunkKind::unchanged) {
            ranges.push_back(inOlder(ground.isOurs ? chunks[i].ours : chunks[i].theirs, older));
            asked.push_back(i);
        }
    }
    TRY_ASSIGN(auto found,
               commitsOfSide(repository, ground.path, ground.tip, ground.own, ranges, stop));
    for (std::size_t i = 0; i < asked.size(); ++i) {
        authors[asked[i]] = ground.with(laid.commit, std::move(found[i]));
    }
    return authors;
}

Result<PlaceAuthors> findLegFileAuthors(Place& repository,
                                        const Forecast& forecast,
                                        const LegStanding& laid,
                                        const FileOutcome& file,
                                        const std::stop_token& stop)
{
    const std::vector<LineRange> everything{{0, ~LineNumber{0}}};
    const GroundSide ground(forecast, laid, file);
    TRY_ASSIGN(auto found,
               commitsOfSide(repository, ground.path, ground.tip, ground.own, everything, stop));
    return ground.with(laid.commit, std::move(found.front()));
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
