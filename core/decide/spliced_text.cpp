// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice.cpp.
#include "core/decide/spliced_text.h"

#include "core/base/digest.h"

#include <unordered_map>

namespace rope {
SplicedText::SplicedText(std::shared_ptr<const TextJoin> join)
    : m_join(std::move(join))
{
    Slots made;
    std::vector<Slot>& inOrder = made.inOrder;
    const auto& chunks = m_join->chunks();
    const auto startText = [&](std::size_t chunk) {
        inOrder.push_back({false, chunk, chunk, {}, {}});
    };
    startText(0);
    for (std::size_t i = 0; i < chunks.size(); ++i) {
        if (chunks[i].kind == ChunkKind::region) {
            const std::string base(m_join->base().lines(chunks[i].base));
            inOrder.push_back({true, i, i + 1, m_join->regionKey(inOrder.size() / 2), base});
            startText(i + 1);
        } else {
            inOrder.back().joined += m_join->joinedText(chunks[i]);
            inOrder.back().endChunk = i + 1;
        }
    }
    std::unordered_map<std::string, int> seen;
    for (Slot& slot : inOrder) {
        if (!slot.isRegion) {
            slot.key = "text-" + digestOfParts({slot.joined});
        }
        const int count = ++seen[slot.key];
        if (count > 1) {
            slot.key += "#" + std::to_string(count);
        }
        made.byKey[slot.key] = static_cast<std::size_t>(&slot - inOrder.data());
    }
    m_states.resize(inOrder.size());
    m_slots = std::make_shared<const Slots>(std::move(made));
    m_openCount = m_join->regionCount();
}

std::size_t SplicedText::regionOf(std::size_t slot) const
{
    ROPE_ASSERT(isRegion(slot), "this slot is no region");
    return slot / 2;
}

std::optional<std::size_t> SplicedText::slotWithKey(const std::string& key) const
{
    const auto found = m_slots->byKey.find(key);
    return found == m_slots->byKey.end() ? std::nullopt : std::optional(found->second);
}

std::optional<std::string> SplicedText::earlierText(std::size_t slot) const
{
    const auto found = m_earlier.find(slot);
    return found == m_earlier.end() ? std::nullopt : std::optional(found->second.text);
}

std::optional<EarlierSource> SplicedText::earlierSource(std::size_t slot) const
{
    const auto found = m_earlier.find(slot);
    return found == m_earlier.end() || found->second.source == EarlierSource{}
               ? std::nullopt
               : std::optional(found->second.source);
}

void SplicedText::setState(std::size_t slot, SlotState state)
{
    m_openCount -= isOpen(slot) ? 1U : 0U;
    m_states[slot] = std::move(state);
    m_openCount += isOpen(slot) ? 1U : 0U;
}

std::string_view SplicedText::text(std::size_t slot) const
{
    return m_states[slot].text ? std::string_view(*m_states[slot].text)
                               : std::string_view(m_slots->inOrder[slot].joined);
}

std::vector<LineOrigin> SplicedText::joinedOrigins(const Slot& slot) const
{
    std::vector<LineOrigin> origins;
    for (std::size_t i = slot.firstChunk; i < slot.endChunk; ++i) {
        const auto own = originsOfChunk(m_join->chunks()[i]);
        origins.insert(origins.end(), own.begin(), own.end());
    }
    return origins;
}

const FileHabits& SplicedText::habits() const
{
    if (!m_habits) {
        m_habits = habitsOf(*m_join);
        m_habits->takenOver = m_takenOver;
    }
    return *m_habits;
}

std::optional<std::string> SplicedText::takenText(std::size_t slot) const
{
    const auto kind = candidateKindNamed(m_states[slot].choice);
    if (!kind) {
        return std::nullopt;
    }
    if (isKeptAsText(*kind)) {
        return m_states[slot].text;
    }
    const RegionTexts texts = m_join->regionTexts(regionOf(slot));
    return *kind == CandidateKind::rewrite ? candidateText(*kind, texts, habits())
                                           : candidateText(*kind, texts);
}

std::vector<LineOrigin> SplicedText::origins(std::size_t slot) const
{
    const SlotState& state = m_states[slot];
    if (!isRegion(slot)) {
        const auto joined = joinedOrigins(m_slots->inOrder[slot]);
        return state.text ? originsAfterEdit(m_slots->inOrder[slot].joined, joined, *state.text)
                          : joined;
    }
    const RegionTexts texts = m_join->regionTexts(regionOf(slot));
    if (const auto taken = takenText(slot)) {
        const auto fromCandidate = originsOfLines(*taken, texts, LineOrigin::both);
        return originsAfterEdit(*taken, fromCandidate, text(slot));
    }
    return originsOfLines(text(slot), texts, LineOrigin::hand);
}

std::optional<std::size_t> SplicedText::chunkAt(std::size_t slot, LineNumber line) const
{
    const Slot& own = m_slots->inOrder[slot];
    LineNumber joinedLine = line;
    if (m_states[slot].text) {
        const auto partner = lineUp(own.joined, *m_states[slot].text);
        if (line >= partner.size() || partner[line] == kNoLine) {
            return std::nullopt;
        }
        joinedLine = partner[line];
    }
    LineNumber begin = 0;
    std::optional<std::size_t> takenOut;  // right before the line that is looked for
    for (std::size_t i = own.firstChunk; i < own.endChunk; ++i) {
        const Chunk& chunk = m_join->chunks()[i];
        const auto count = static_cast<LineNumber>(originsOfChunk(chunk).size());
        if (count == 0 && begin == joinedLine) {
            takenOut = i;
        } else if (joinedLine < begin + count) {
            return chunk.kind == ChunkKind::unchanged && takenOut ? takenOut : i;
        }
        begin += count;
    }
    return takenOut;
}

LineNumber SplicedText::firstChangedLine(std::size_t slot) const
{
    LineNumber begin = 0;
    for (std::size_t i = m_slots->inOrder[slot].firstChunk; i < m_slots->inOrder[slot].endChunk;
         ++i) {
        const Chunk& chunk = m_join->chunks()[i];
        if (chunk.kind != ChunkKind::unchanged) {
            return begin;
        }
        begin += static_cast<LineNumber>(originsOfChunk(chunk).size());
    }
    return 0;
}

std::vector<LineNumber> SplicedText::gaps(std::size_t slot) const
{
    if (!isEditedByHand(slot)) {
        return {};
    }
    if (!isRegion(slot)) {
        return gapsAfterEdit(m_slots->inOrder[slot].joined, text(slot));
    }
    const auto taken = takenText(slot);
    return taken ? gapsAfterEdit(*taken, text(slot)) : std::vector<LineNumber>();
}

bool SplicedText::isEditedByHand(std::size_t slot) const
{
    const SlotState& state = m_states[slot];
    if (!isRegion(slot)) {
        return state.text.has_value();
    }
    return state.text && takenText(slot) != state.text;
}

std::string SplicedText::wholeText() const
{
    std::string whole;
    for (std::size_t slot = 0; slot < slotCount(); ++slot) {
        whole += text(slot);
    }
    return whole;
}
}  // namespace rope
