// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_collisions.cpp.
#include "core/join/pair_reading.h"

#include "core/join/place_authors.h"

#include <algorithm>

namespace rope {
const Commit* PairReading::since() const
{
    if (!firstCommit || !secondCommit) {
        return firstCommit ? &*firstCommit : secondCommit ? &*secondCommit : nullptr;
    }
    return firstCommit->committer.time > secondCommit->committer.time ? &*firstCommit
                                                                      : &*secondCommit;
}

namespace {
/// Who last touched the first region of a file, or the file where it is asked about as a whole.
Result<PlaceAuthors> authorsOf(Place& place,
                               const Forecast& forecast,
                               const FileOutcome& file,
                               const std::stop_token& stop)
{
    if (file.question || !file.text) {
        return findFileAuthors(place, forecast, file, stop);
    }
    TRY_ASSIGN(const auto authors, findChunkAuthors(place, forecast, file, stop));
    const auto& chunks = file.text->chunks();
    for (std::size_t i = 0; i < chunks.size() && i < authors.size(); ++i) {
        if (chunks[i].kind == ChunkKind::region) {
            return authors[i];
        }
    }
    return PlaceAuthors{};
}
}  // namespace

Result<PairReading>
readPair(Place& place, const CommitPair& pair, const RepoPath& path, const std::stop_token& stop)
{
    TRY_ASSIGN(const Forecast forecast, forecastJoin(place, pair.first, pair.second, {}, {}, stop));
    const auto& files = forecast.join.files;
    const auto file = std::find_if(files.begin(), files.end(), [&](const FileOutcome& outcome) {
        return outcome.path == path;
    });
    if (file == files.end()) {
        return Error{ErrorCode::notFound, path, {}};
    }
    PairReading reading;
    reading.path = path;
    Overlay snapshots(place, *forecast.join.held);
    TRY_ASSIGN(reading.first,
               readChange(snapshots, {file->oursPath, file->base, file->ours}, stop));
    TRY_ASSIGN(reading.second,
               readChange(snapshots, {file->theirsPath, file->base, file->theirs}, stop));
    TRY_ASSIGN(PlaceAuthors authors, authorsOf(place, forecast, *file, stop));
    reading.firstCommit = std::move(authors.ours);
    reading.secondCommit = std::move(authors.theirs);
    return reading;
}
}  // namespace rope
