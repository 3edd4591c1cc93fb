// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/object_id.h"

#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace rope {
/// The choice of a region that was written by hand; any other is a candidate's name.
inline constexpr std::string_view kOwnText = "own";

/// What a person made of one slot: a region, a stretch of joined text between regions, or a
/// question about a whole file. The default is "nothing yet". Small values, journalled as they are.
struct SlotState
{
    bool isDecided = false;  ///< Regions and questions; text between regions is never open.
    std::string choice;      ///< Name of the candidate or answer taken; kOwnText; or empty.
    std::optional<std::string> text;  ///< The slot's bytes where they are not what the join gave.
    friend bool operator==(const SlotState&, const SlotState&) = default;
};

/// Where a text that is offered for a region was decided for one like it.
struct EarlierSource
{
    ObjectId commit;      ///< Null: in a splice that was not recorded.
    std::string by;       ///< Who decided it; empty: the person who works here.
    std::int64_t at = 0;  ///< Seconds since 1970; 0: not known.
    std::string here{};   ///< The file of this very splice where it was; empty: it was elsewhere.
    friend bool operator==(const EarlierSource&, const EarlierSource&) = default;
};

/// Why a slot is decided as it is, in the words of whoever decided it.
struct GivenReason
{
    std::string path;
    std::string slot;  ///< As of a decision.
    std::string text;  ///< One line; empty: nothing is said.
    std::size_t leg = 0;
    friend bool operator==(const GivenReason&, const GivenReason&) = default;
};

/// The slot of the question about a whole file.
inline constexpr std::string_view kQuestionSlot = "question";

/// A slot's state with the place it belongs to.
struct Decision
{
    std::string path;
    std::string slot;  ///< Slot key, see SplicedText; or kQuestionSlot.
    SlotState state;
    std::size_t leg = 0;    ///< Of the splice.
    std::string writtenOn;  ///< What stood in the slot before a text was written into it by hand.
    friend bool operator==(const Decision&, const Decision&) = default;
};
}  // namespace rope
