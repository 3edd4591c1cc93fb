// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"
#include "core/system/types.h"

#include <string>
#include <string_view>
#include <vector>

namespace rope {
/// One decision as it travels beside the commit that holds it.
struct NotedDecision
{
    RepoPath path;
    int line = 0;        ///< From 1, in what was recorded; 0: a question about the whole file.
    std::string region;  ///< TextJoin::regionKey(); of a question: empty.
    std::string choice;  ///< As SlotState::choice.
    std::string digest;  ///< Of the region's text, see digestOfDecided(); of a question: empty.
    std::string reason;  ///< In the words of whoever decided; empty: none was given.
    friend bool operator==(const NotedDecision&, const NotedDecision&) = default;
};

/// Decisions as the text of a note: JSON, described in docs/decision-notes.md.
[[nodiscard]] std::string noteText(const std::vector<NotedDecision>& decisions);
/// The decisions in a note; what others may have written behind them is passed over.
/// Errors: `corrupt` for what is no such note; `unsupported` for one of a later version.
[[nodiscard]] Result<std::vector<NotedDecision>> parseNote(std::string_view text);
}  // namespace rope
