// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_check_round.cpp.
#include "core/findings/finding_authors.h"

#include "core/history/line_history.h"

#include <algorithm>

namespace rope {
namespace {
/// Lines of one side's version of a file, and where that stands.
struct SidePlace
{
    RepoPath path;
    LineRange lines;
};

const CheckedFile*
fileWith(const std::vector<CheckedFile>& files, const RepoPath& path, RepoPath CheckedFile::*where)
{
    const auto found = std::find_if(
        files.begin(), files.end(), [&](const CheckedFile& file) { return file.*where == path; });
    return found == files.end() ? nullptr : &*found;
}

const SharedText& textOf(const CheckedFile& file, FindingSide side)
{
    return side == FindingSide::ours ? file.ours : file.theirs;
}

const RepoPath& pathOf(const CheckedFile& file, FindingSide side)
{
    return side == FindingSide::ours ? file.oursPath : file.theirsPath;
}

/// What a side made of a line of the base.
std::optional<SidePlace> madeOf(const CheckedFile& file, FindingSide side, LineNumber baseLine)
{
    const SharedText& text = textOf(file, side);
    if (!file.base || !text) {
        return std::nullopt;
    }
    const auto partners = lineUp(*file.base, *text);
    LineRange lines{0, static_cast<LineNumber>(partners.size())};
    for (LineNumber line = 0; line < partners.size(); ++line) {
        if (partners[line] == baseLine) {
            return std::nullopt;  // it is as it was
        }
        if (partners[line] != kNoLine && partners[line] < baseLine) {
            lines.begin = line + 1;
        } else if (partners[line] != kNoLine) {
            lines.end = std::min(lines.end, line);
        }
    }
    return SidePlace{pathOf(file, side), {lines.begin, std::max(lines.begin, lines.end)}};
}

/// The lines of a side that stand among some of the result.
std::optional<SidePlace>
standingIn(const CheckedFile& file, FindingSide side, const CheckedResult& result, LineRange lines)
{
    const SharedText& text = textOf(file, side);
    if (!text || !result.text) {
        return std::nullopt;
    }
    const LineOrigin own = side == FindingSide::ours ? LineOrigin::ours : LineOrigin::theirs;
    const auto partners = lineUp(*text, *result.text);
    std::optional<LineRange> found;
    for (LineNumber line = lines.begin; line < std::min<std::size_t>(lines.end, partners.size());
         ++line) {
        const bool isOwn =
            line < result.origins.size()
            && (result.origins[line] == own || result.origins[line] == LineOrigin::both);
        if (isOwn && partners[line] != kNoLine) {
            found = found ? LineRange{std::min(found->begin, partners[line]),
                                      std::max(found->end, partners[line] + 1)}
                          : LineRange{partners[line], partners[line] + 1};
        }
    }
    return found ? std::optional(SidePlace{pathOf(file, side), *found}) : std::nullopt;
}

std::optional<SidePlace> placeOf(const std::vector<CheckedFile>& files,
                                 const CheckedResult& result,
                                 const Finding& finding,
                                 FindingSide side)
{
    if (finding.side == side && !finding.otherPath.empty()) {
        const CheckedFile* const cause = fileWith(files, finding.otherPath, &CheckedFile::basePath);
        return cause == nullptr ? std::nullopt : madeOf(*cause, side, finding.otherLine);
    }
    const CheckedFile* const own = fileWith(files, finding.path, &CheckedFile::path);
    return own == nullptr ? std::nullopt : standingIn(*own, side, result, finding.lines);
}
}  // namespace

Result<PlaceAuthors> findFindingAuthors(Place& place,
                                        const Forecast& forecast,
                                        const std::vector<CheckedFile>& files,
                                        const CheckedResult& result,
                                        const Finding& finding,
                                        const std::stop_token& stop)
{
    PlaceAuthors authors;
    const auto find = [&](FindingSide side, std::optional<Commit>& commit) -> Status {
        const bool isOurs = side == FindingSide::ours;
        const auto where = placeOf(files, result, finding, side);
        if (!where || where->path.empty()) {
            return ok();
        }
        TRY_ASSIGN(
            const auto ids,
            lastTouching(place,
                         where->path,
                         isOurs ? forecast.ours.id : forecast.theirs.id,
                         isOurs ? forecast.divergence.oursOnly : forecast.divergence.theirsOnly,
                         {where->lines},
                         stop));
        if (!ids.front().isNull()) {
            const ObjectId wanted[] = {ids.front()};
            TRY_ASSIGN(auto commits, place.readCommits(wanted));
            commit = std::move(commits.front());
        }
        return ok();
    };
    TRY(find(FindingSide::ours, authors.ours));
    TRY(find(FindingSide::theirs, authors.theirs));
    return authors;
}
}  // namespace rope
