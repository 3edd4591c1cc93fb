// SPDX-License-Identifier: GPL-3.0-or-later
// First the text is read as a row of slots, each as it joined or as a candidate gives it; where it is
// no such row, because something was written by hand between regions, lines that joined by themselves
// are found again, and what stands between them belongs to the region between them.
// Tested by tst_inferred_decisions.cpp.
#include "core/decide/inferred_decisions.h"

#include "core/snapshot/tree_changes.h"
#include "core/system/path_finder.h"
#include "core/text/text_form.h"

#include <algorithm>
#include <map>

namespace rope {
namespace {
using Lines = std::vector<std::string_view>;

constexpr int kOwnTextCost = 1;
constexpr std::size_t kMostEnds = 50;  // of a text of one's own that are followed up

bool standsAt(const Lines& lines, std::size_t at, const Lines& wanted)
{
    return at + wanted.size() <= lines.size()
           && std::equal(
               wanted.begin(), wanted.end(), lines.begin() + static_cast<std::ptrdiff_t>(at));
}

std::string together(const Lines& lines, std::size_t begin, std::size_t end)
{
    std::string text;
    for (std::size_t i = begin; i < end; ++i) {
        text += lines[i];
    }
    return text;
}

/// A text that a region may have, with its name.
struct Offered
{
    CandidateKind kind = CandidateKind::ours;
    std::string text;
};

enum class Offers { plain, all };

/// The candidates of a region, best first. `plain`: those that cost nothing to make.
std::vector<Offered>
offersOf(const SplicedText& text, std::size_t slot, Offers which, const std::stop_token& stop)
{
    const RegionTexts texts = text.join().regionTexts(text.regionOf(slot));
    std::vector<Offered> offers;
    if (which == Offers::plain) {
        for (const CandidateKind kind : {CandidateKind::ours,
                                         CandidateKind::theirs,
                                         CandidateKind::oursTheirs,
                                         CandidateKind::theirsOurs,
                                         CandidateKind::base,
                                         CandidateKind::neither}) {
            if (auto plain = candidateText(kind, texts)) {
                offers.push_back({kind, std::move(*plain)});
            }
        }
        return offers;
    }
    for (CandidateText& candidate : candidateTexts(texts, text.habits(), {}, stop)) {
        offers.push_back({candidate.kind, std::move(candidate.text)});
    }
    return offers;
}

/// Reads a text as a row of slots, at the least cost.
class RowReader
{
public:
    RowReader(const SplicedText& text,
              const Lines& lines,
              Offers which,
              const std::stop_token& stop)
        : m_text(text)
        , m_lines(lines)
        , m_reached(text.slotCount() + 1)
    {
        for (std::size_t slot = 0; slot < text.slotCount(); ++slot) {
            m_joined.push_back(text.isRegion(slot) ? Lines() : splitLines(text.joinedText(slot)));
            m_offers.push_back(text.isRegion(slot) ? offersOf(text, slot, which, stop)
                                                   : std::vector<Offered>());
        }
        m_reached[0][0] = {0, 0, std::nullopt};
        for (std::size_t slot = 0; slot < text.slotCount(); ++slot) {
            for (const auto& [at, reached] : m_reached[slot]) {
                goOn(slot, at, reached.cost);
            }
        }
    }

    /// What it cost; nothing where the text is no such row.
    [[nodiscard]] std::optional<int> cost() const
    {
        const auto end = m_reached.back().find(m_lines.size());
        return end == m_reached.back().end() ? std::nullopt : std::optional(end->second.cost);
    }

    /// REQUIRES: cost()
    [[nodiscard]] std::vector<SlotState> states() const
    {
        std::vector<SlotState> states(m_text.slotCount());
        std::size_t at = m_lines.size();
        for (std::size_t slot = m_text.slotCount(); slot-- > 0;) {
            const Reached& reached = m_reached[slot + 1].at(at);
            if (m_text.isRegion(slot)) {
                states[slot] = {true,
                                reached.kind ? std::string(nameOf(*reached.kind))
                                             : std::string(kOwnText),
                                together(m_lines, reached.from, at)};
            }
            at = reached.from;
        }
        return states;
    }

private:
    struct Reached
    {
        int cost = 0;
        std::size_t from = 0;               ///< Line at which the slot before this border began.
        std::optional<CandidateKind> kind;  ///< What that slot, a region, was read as.
    };

    void reach(std::size_t border, std::size_t at, const Reached& how)
    {
        const auto [known, isNew] = m_reached[border].try_emplace(at, how);
        if (!isNew && how.cost < known->second.cost) {
            known->second = how;
        }
    }

    void goOn(std::size_t slot, std::size_t at, int cost)
    {
        if (!m_text.isRegion(slot)) {
            if (standsAt(m_lines, at, m_joined[slot])) {
                reach(slot + 1, at + m_joined[slot].size(), {cost, at, std::nullopt});
            }
            return;
        }
        for (const Offered& offered : m_offers[slot]) {
            const Lines wanted = splitLines(offered.text);
            if (standsAt(m_lines, at, wanted)) {
                reach(slot + 1, at + wanted.size(), {cost, at, offered.kind});
            }
        }
        reachByOwnText(slot, at, cost);
    }

    /// Up to wherever what follows the region stands.
    void reachByOwnText(std::size_t slot, std::size_t at, int cost)
    {
        const Lines& next = m_joined[slot + 1];
        const bool isLast = slot + 2 == m_text.slotCount();
        if (next.empty() && isLast) {
            reach(slot + 1, m_lines.size(), {cost + kOwnTextCost, at, std::nullopt});
            return;
        }
        std::size_t ends = 0;
        for (std::size_t end = at; end <= m_lines.size() && ends < kMostEnds; ++end) {
            if (standsAt(m_lines, end, next)) {
                ++ends;
                reach(slot + 1, end, {cost + kOwnTextCost, at, std::nullopt});
            }
        }
    }

    const SplicedText& m_text;
    const Lines& m_lines;
    std::vector<Lines> m_joined;                            ///< By slot.
    std::vector<std::vector<Offered>> m_offers;             ///< By slot.
    std::vector<std::map<std::size_t, Reached>> m_reached;  ///< By the border before a slot.
};

/// Where each slot begins in the text, by the lines of joined slots that are found again.
std::vector<std::size_t> bordersByLines(const SplicedText& text, std::string_view result)
{
    std::string joined;
    std::vector<std::size_t> slotOfLine;
    for (std::size_t slot = 0; slot < text.slotCount(); ++slot) {
        if (!text.isRegion(slot)) {
            joined += text.joinedText(slot);
            slotOfLine.resize(slotOfLine.size() + splitLines(text.joinedText(slot)).size(), slot);
        }
    }
    const std::vector<LineNumber> known = lineUp(joined, result);
    std::vector<std::size_t> borders(text.slotCount() + 1, known.size());
    borders[0] = borders[1] = 0;  // nothing of the first slot is found so far
    std::size_t slot = 0;
    for (std::size_t line = 0; line < known.size(); ++line) {
        if (known[line] == kNoLine) {
            continue;
        }
        const std::size_t here = slotOfLine[known[line]];
        if (here > slot) {
            // The region after what was found last has all up to this line; what else is on the way is gone.
            borders[here] = line;
            for (std::size_t between = here; --between > slot + 1;) {
                borders[between] = line;
            }
            slot = here;
        }
        if (slot + 1 < borders.size()) {
            borders[slot + 1] = line + 1;  // so far
        }
    }
    for (std::size_t later = slot + 2; later < borders.size(); ++later) {
        borders[later] = known.size();
    }
    borders.back() = known.size();
    return borders;
}

std::vector<SlotState> statesByLines(const SplicedText& text,
                                     const Lines& lines,
                                     std::string_view result,
                                     const std::stop_token& stop)
{
    const std::vector<std::size_t> borders = bordersByLines(text, result);
    std::vector<SlotState> states(text.slotCount());
    for (std::size_t slot = 0; slot < text.slotCount(); ++slot) {
        std::string own = together(lines, borders[slot], borders[slot + 1]);
        if (!text.isRegion(slot)) {
            if (own != text.joinedText(slot)) {
                states[slot].text = std::move(own);
            }
            continue;
        }
        const auto offers = offersOf(text, slot, Offers::all, stop);
        const auto taken = std::find_if(
            offers.begin(), offers.end(), [&](const Offered& offer) { return offer.text == own; });
        states[slot] = {true,
                        std::string(taken == offers.end() ? kOwnText : nameOf(taken->kind)),
                        std::move(own)};
    }
    return states;
}
}  // namespace

std::vector<SlotState>
inferredStates(const SplicedText& text, std::string_view result, const std::stop_token& stop)
{
    const Lines lines = splitLines(result);
    const RowReader plain(text, lines, Offers::plain, stop);
    if (plain.cost() == 0) {
        return plain.states();
    }
    const RowReader whole(text, lines, Offers::all, stop);
    return whole.cost() ? whole.states() : statesByLines(text, lines, result, stop);
}

namespace {
class Inferrer
{
public:
    Inferrer(DecidedJoin& decided,
             Snapshots& snapshots,
             const ObjectId& tree,
             const std::stop_token& stop)
        : m_decided(decided)
        , m_snapshots(snapshots)
        , m_finder(snapshots, tree)
        , m_stop(stop)
    {
    }

    Status all()
    {
        for (std::size_t i = 0; i < m_decided.files().size(); ++i) {
            if (m_stop.stop_requested()) {
                return Error{ErrorCode::cancelled, {}, {}};
            }
            TRY(one(i));
        }
        return ok();
    }

private:
    Status one(std::size_t index)
    {
        const SpliceFile& file = m_decided.files()[index];
        std::optional<FileChoice> choice;
        if (file.outcome->question) {
            TRY_ASSIGN(choice, answerOf(*file.outcome));
            if (!choice) {
                return ok();
            }
            m_decided.put({{{index, SlotPlace::kQuestion},
                            {true, std::string(nameOf(*choice)), std::nullopt}}});
        }
        for (const Placement& put : file.outcome->placements(choice)) {
            if (put.isJoinedText && file.text) {
                TRY_ASSIGN(const auto there, m_finder.find(put.path));
                return there ? readText(index, *there) : ok();
            }
        }
        return ok();
    }

    /// The answer that gives what stands there.
    Result<std::optional<FileChoice>> answerOf(const FileOutcome& outcome)
    {
        std::map<RepoPath, std::optional<FileVersion>> there{{outcome.path, {}}};
        for (const Answer& answer : outcome.question->answers) {
            for (const Placement& put : answer.puts) {
                there[put.path] = {};
            }
        }
        for (auto& [path, version] : there) {
            TRY_ASSIGN(version, m_finder.find(path));
        }
        for (const Answer& answer : outcome.question->answers) {
            if (gives(answer, there)) {
                return std::optional(answer.choice);
            }
        }
        return std::optional<FileChoice>{};
    }

    static bool gives(const Answer& answer,
                      const std::map<RepoPath, std::optional<FileVersion>>& there)
    {
        std::optional<ObjectId> joined;  // one text, wherever the answer puts it
        return std::all_of(there.begin(), there.end(), [&](const auto& place) {
            const auto put =
                std::find_if(answer.puts.begin(), answer.puts.end(), [&](const Placement& one) {
                    return one.path == place.first;
                });
            if (put == answer.puts.end() || !place.second) {
                return put == answer.puts.end() && !place.second;
            }
            if (put->isJoinedText) {
                const bool isSame = !joined || *joined == place.second->id;
                joined = place.second->id;
                return isSame;
            }
            return put->version == *place.second;
        });
    }

    Status readText(std::size_t index, const FileVersion& version)
    {
        if (!isRegular(version.kind)) {
            return ok();
        }
        TRY_ASSIGN(const auto blobs, m_snapshots.readBlobs({&version.id, 1}, kAnySize));
        const SplicedText& text = *m_decided.files()[index].text;
        const auto result = decodedFor(text.join(), *blobs.front());
        if (!result) {
            return ok();
        }
        const auto states = inferredStates(text, *result, m_stop);
        std::vector<SlotChange> changes;
        for (std::size_t slot = 0; slot < states.size(); ++slot) {
            if (states[slot] != SlotState{}) {
                changes.push_back({{index, slot}, states[slot]});
            }
        }
        m_decided.put(changes);
        return ok();
    }

    DecidedJoin& m_decided;
    Snapshots& m_snapshots;
    PathFinder m_finder;
    const std::stop_token& m_stop;
};
}  // namespace

Status putInferred(DecidedJoin& decided,
                   Snapshots& snapshots,
                   const ObjectId& tree,
                   const std::stop_token& stop)
{
    return Inferrer(decided, snapshots, tree, stop).all();
}
}  // namespace rope
