// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/decision.h"
#include "core/merge/candidates.h"

#include <map>
#include <memory>
#include <string>
#include <unordered_map>
#include <vector>

namespace rope {
/// The result text of one file: the join, cut into slots, with what a person made of each.
/// Slots alternate between stretches of joined text (even, perhaps empty) and regions (odd); put
/// together they are the file.
/// Holds no undo history: Splice does. One thread.
class SplicedText
{
public:
    explicit SplicedText(std::shared_ptr<const TextJoin> join);

    [[nodiscard]] const TextJoin& join() const { return *m_join; }
    [[nodiscard]] std::size_t slotCount() const { return m_slots->inOrder.size(); }
    [[nodiscard]] bool isRegion(std::size_t slot) const { return m_slots->inOrder[slot].isRegion; }
    /// What the whole splice says of theirs, see FileHabits. Before habits() is asked.
    void setTakenOver(std::optional<double> share) { m_takenOver = share; }
    [[nodiscard]] std::optional<double> takenOver() const { return m_takenOver; }
    /// What the sides did all over the file; found at first use.
    [[nodiscard]] const FileHabits& habits() const;
    /// Which region of the join a slot is. REQUIRES: isRegion(slot)
    [[nodiscard]] std::size_t regionOf(std::size_t slot) const;
    [[nodiscard]] std::size_t slotOfRegion(std::size_t region) const { return 2 * region + 1; }
    /// What a slot is stored under: digest of its texts, and a count where the file has equals.
    [[nodiscard]] const std::string& key(std::size_t slot) const
    {
        return m_slots->inOrder[slot].key;
    }
    [[nodiscard]] std::optional<std::size_t> slotWithKey(const std::string& key) const;
    /// What was written for a region in an earlier splice and could not be carried over by itself; to
    /// be offered. Nothing where there is none.
    [[nodiscard]] std::optional<std::string> earlierText(std::size_t slot) const;
    /// Where it was decided; nothing where that is this splice, or not known.
    [[nodiscard]] std::optional<EarlierSource> earlierSource(std::size_t slot) const;
    void setEarlierText(std::size_t slot, std::string text, EarlierSource source = {})
    {
        m_earlier[slot] = {std::move(text), std::move(source)};
    }
    void forgetEarlierText(std::size_t slot) { m_earlier.erase(slot); }

    [[nodiscard]] const SlotState& state(std::size_t slot) const { return m_states[slot]; }
    void setState(std::size_t slot, SlotState state);
    [[nodiscard]] bool isOpen(std::size_t slot) const
    {
        return isRegion(slot) && !m_states[slot].isDecided;
    }
    [[nodiscard]] std::size_t openCount() const { return m_openCount; }

    /// What the join gave for the slot; a region's base.
    [[nodiscard]] std::string_view joinedText(std::size_t slot) const
    {
        return m_slots->inOrder[slot].joined;
    }
    /// The slot's bytes as they stand now: what was chosen or written, else what the join gave; an
    /// open region shows its base.
    [[nodiscard]] std::string_view text(std::size_t slot) const;
    /// One origin for each line of text(slot).
    [[nodiscard]] std::vector<LineOrigin> origins(std::size_t slot) const;
    /// The chunk of the join that a line, from 0, of text(slot) came from, or that took lines out right
    /// before it; nothing for one that was written by hand. REQUIRES: !isRegion(slot)
    [[nodiscard]] std::optional<std::size_t> chunkAt(std::size_t slot, LineNumber line) const;
    /// The first line of text(slot) that is not as in the base; 0 if all are. REQUIRES: as chunkAt()
    [[nodiscard]] LineNumber firstChangedLine(std::size_t slot) const;
    /// Where a person took lines out of text(slot); see gapsAfterEdit().
    [[nodiscard]] std::vector<LineNumber> gaps(std::size_t slot) const;
    /// Whether somebody typed in it: the text is neither what the join nor what a candidate gave.
    [[nodiscard]] bool isEditedByHand(std::size_t slot) const;
    /// All slots put together.
    [[nodiscard]] std::string wholeText() const;

private:
    struct Slot
    {
        bool isRegion = false;
        std::size_t firstChunk = 0;
        std::size_t endChunk = 0;
        std::string key;
        std::string joined;  ///< What the join gave; a region's base.
    };
    struct Slots
    {
        std::vector<Slot> inOrder;
        std::unordered_map<std::string, std::size_t> byKey;
    };
    [[nodiscard]] std::vector<LineOrigin> joinedOrigins(const Slot& slot) const;

    /// The text of the candidate that a region's state names; nothing if it names none.
    [[nodiscard]] std::optional<std::string> takenText(std::size_t slot) const;

    std::shared_ptr<const TextJoin> m_join;
    std::optional<double> m_takenOver;
    mutable std::optional<FileHabits> m_habits;
    std::shared_ptr<const Slots> m_slots;  ///< Of all copies.
    std::vector<SlotState> m_states;
    std::size_t m_openCount = 0;
    struct Earlier
    {
        std::string text;
        EarlierSource source;
    };
    std::map<std::size_t, Earlier> m_earlier;  ///< By slot.
};
}  // namespace rope
