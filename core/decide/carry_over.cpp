// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_carry_over.cpp.
#include "core/decide/carry_over.h"

#include <algorithm>
#include <map>
#include <set>
#include <unordered_set>

namespace rope {
namespace {
/// The key without the count that tells equal regions of one file from each other.
std::string bareKey(const std::string& key)
{
    return key.substr(0, key.find('#'));
}

/// How many lines of `a` stand in `b`.
std::size_t commonLines(std::string_view a, std::string_view b)
{
    const auto lines = splitLines(b);
    const std::unordered_set<std::string_view> known(lines.begin(), lines.end());
    std::size_t common = 0;
    for (const std::string_view line : splitLines(a)) {
        common += known.contains(line) ? 1U : 0U;
    }
    return common;
}

class Carrier
{
public:
    explicit Carrier(const DecidedJoin& onto)
        : m_onto(onto)
    {
        for (std::size_t i = 0; i < onto.files().size(); ++i) {
            const FileOutcome& outcome = *onto.files()[i].outcome;
            for (const RepoPath& path :
                 {outcome.path, outcome.oursPath, outcome.theirsPath, outcome.basePath}) {
                if (!path.empty()) {
                    m_fileAt.try_emplace({onto.files()[i].leg, path}, i);
                }
            }
            const SplicedText* const text = onto.files()[i].text.get();
            for (std::size_t slot = 0; text && slot < text->slotCount(); ++slot) {
                if (text->isRegion(slot)) {
                    m_regions[{onto.files()[i].leg, bareKey(text->key(slot))}].push_back({i, slot});
                }
            }
        }
    }

    void carry(const Decision& decision)
    {
        if (decision.state == SlotState{}) {
            return;
        }
        const auto file = m_fileAt.find({decision.leg, decision.path});
        std::optional<std::size_t> index;
        if (file != m_fileAt.end()) {
            index = file->second;
        }
        if (decision.slot == kQuestionSlot) {
            carryAnswer(decision, index);
        } else if (decision.slot.starts_with("text-")) {
            carryJoinedText(decision, index);
        } else {
            carryRegion(decision, index);
        }
    }

    CarriedOver take() { return std::move(m_result); }

private:
    void lose(const Decision& decision, NoPlace reason)
    {
        m_result.lost.push_back({decision, reason});
    }

    void place(SlotPlace place, SlotState state)
    {
        m_taken.insert({place.file, place.slot});
        m_result.placed.push_back({place, std::move(state)});
    }

    [[nodiscard]] bool isTaken(SlotPlace place) const
    {
        return m_taken.contains({place.file, place.slot});
    }

    void carryAnswer(const Decision& decision, std::optional<std::size_t> file)
    {
        if (!file) {
            lose(decision, NoPlace::fileGone);
            return;
        }
        const auto choice = fileChoiceNamed(decision.state.choice);
        const auto& question = m_onto.files()[*file].outcome->question;
        const bool isLeftOpen = question && !decision.state.isDecided;
        if (isLeftOpen || (question && choice && question->answerOf(*choice))) {
            place({*file, SlotPlace::kQuestion}, decision.state);
        } else {
            lose(decision, question ? NoPlace::answerNotOffered : NoPlace::regionGone);
        }
    }

    void carryRegion(const Decision& decision, std::optional<std::size_t> file)
    {
        const SplicedText* const text = file ? m_onto.files()[*file].text.get() : nullptr;
        if (const auto slot = text ? text->slotWithKey(decision.slot) : std::nullopt) {
            place({*file, *slot}, decision.state);
            return;
        }
        const auto elsewhere = m_regions.find({decision.leg, bareKey(decision.slot)});
        if (elsewhere != m_regions.end() && elsewhere->second.size() == 1
            && !isTaken(elsewhere->second.front())) {
            place(elsewhere->second.front(), decision.state);
            return;
        }
        if (text && decision.state.text) {
            offer(decision, *file, *text);
        }
        lose(decision, text ? NoPlace::regionGone : NoPlace::fileGone);
    }

    /// A region that looks most like the one that a text was decided for gets it as a candidate.
    void offer(const Decision& decision, std::size_t file, const SplicedText& text)
    {
        std::optional<std::size_t> best;
        std::size_t most = 0;
        for (std::size_t slot = 0; slot < text.slotCount(); ++slot) {
            if (!text.isRegion(slot) || isTaken({file, slot})) {
                continue;
            }
            const RegionTexts texts = text.join().regionTexts(text.regionOf(slot));
            const std::size_t common = commonLines(decision.writtenOn, texts.base)
                                       + commonLines(*decision.state.text, texts.ours)
                                       + commonLines(*decision.state.text, texts.theirs);
            if (common > most) {
                most = common;
                best = slot;
            }
        }
        if (best) {
            m_result.offered.push_back({{file, *best}, *decision.state.text});
        }
    }

    /// A text that was written over joined lines, outside of regions.
    void carryJoinedText(const Decision& decision, std::optional<std::size_t> file)
    {
        const SplicedText* const text = file ? m_onto.files()[*file].text.get() : nullptr;
        if (!text || !decision.state.text) {
            lose(decision, text ? NoPlace::regionGone : NoPlace::fileGone);
            return;
        }
        if (const auto slot = text->slotWithKey(decision.slot)) {
            place({*file, *slot}, decision.state);
            return;
        }
        std::optional<std::size_t> best;
        std::size_t most = 0;
        for (std::size_t slot = 0; slot < text->slotCount(); ++slot) {
            const std::size_t common =
                text->isRegion(slot) || isTaken({*file, slot})
                    ? 0
                    : commonLines(decision.writtenOn, text->joinedText(slot));
            if (common > most) {
                most = common;
                best = slot;
            }
        }
        if (!best) {
            lose(decision, NoPlace::regionGone);
            return;
        }
        const std::string now(text->joinedText(*best));
        const auto joined = joinTexts(decision.writtenOn, *decision.state.text, now);
        if (!joined || !joined->isClean()) {
            lose(decision, NoPlace::clashes);
            return;
        }
        SlotState state = decision.state;
        state.text = joined->cleanText();
        place({*file, *best}, std::move(state));
    }

    const DecidedJoin& m_onto;
    std::map<std::pair<std::size_t, RepoPath>, std::size_t> m_fileAt;  ///< By leg and path.
    /// By leg and key, over all files of the leg.
    std::map<std::pair<std::size_t, std::string>, std::vector<SlotPlace>> m_regions;
    std::set<std::pair<std::size_t, std::size_t>> m_taken;
    CarriedOver m_result;
};
}  // namespace

CarriedOver carryOver(const std::vector<Decision>& earlier, const DecidedJoin& onto)
{
    Carrier carrier(onto);
    for (const Decision& decision : earlier) {
        carrier.carry(decision);
    }
    return carrier.take();
}

void offerFromEarlierLegs(DecidedJoin& decided)
{
    struct Known
    {
        std::size_t leg = 0;
        std::string text;
    };
    std::map<std::string, Known> known;  // By key; legs come in order.
    for (std::size_t i = 0; i < decided.files().size(); ++i) {
        const SpliceFile& file = decided.files()[i];
        for (std::size_t slot = 0; file.text && slot < file.text->slotCount(); ++slot) {
            if (!file.text->isRegion(slot)) {
                continue;
            }
            const std::string key = bareKey(file.text->key(slot));
            if (!file.text->isOpen(slot)) {
                known[key] = {file.leg, std::string(file.text->text(slot))};
            } else if (const auto before = known.find(key);
                       before != known.end() && before->second.leg < file.leg) {
                decided.offerEarlier({i, slot}, before->second.text);
            }
        }
    }
}

namespace {
/// Where the very same region is decided in the same leg.
std::optional<SlotPlace> sameRegionDecided(const DecidedJoin& decided, SlotPlace place)
{
    const SpliceFile& own = decided.files()[place.file];
    const std::string key = bareKey(own.text->key(place.slot));
    std::optional<SlotPlace> nearest;
    for (std::size_t i = 0; i < decided.files().size(); ++i) {
        const SpliceFile& file = decided.files()[i];
        if (!file.text || file.leg != own.leg) {
            continue;
        }
        for (std::size_t slot = 0; slot < file.text->slotCount(); ++slot) {
            const bool isDecided = file.text->isRegion(slot) && !file.text->isOpen(slot);
            const bool isBefore = std::pair(i, slot) < std::pair(place.file, place.slot);
            if (isDecided && SlotPlace{i, slot} != place && (isBefore || !nearest)
                && bareKey(file.text->key(slot)) == key) {
                nearest = {i, slot};
            }
        }
    }
    return nearest;
}
}  // namespace

bool offerFromSameRegion(DecidedJoin& decided, SlotPlace place)
{
    const SplicedText& own = *decided.files()[place.file].text;
    const auto source = own.earlierSource(place.slot);
    const auto same = sameRegionDecided(decided, place);
    if (!same) {
        const bool isTakenBack = source && !source->here.empty();
        if (isTakenBack) {
            decided.withdrawEarlier(place);
        }
        return isTakenBack;
    }
    const SpliceFile& there = decided.files()[same->file];
    const EarlierSource here{{}, {}, 0, there.outcome->path};
    const std::string text(there.text->text(same->slot));
    if (source == here && own.earlierText(place.slot) == text) {
        return false;
    }
    decided.offerEarlier(place, text, here);
    return true;
}
}  // namespace rope
