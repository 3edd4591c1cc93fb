// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>

namespace rope {
/// One edit of a text: bytes put in or taken out.
struct TextEdited
{
    std::size_t position = 0;
    std::string inserted;     ///< Empty: something was taken out.
    std::size_t removed = 0;  ///< Bytes.
    std::int64_t at = 0;      ///< Milliseconds, of any clock that only goes forward.
};

/// Cuts typing into the steps that undo takes back: a word, a line, a pasted piece, a run of deletions;
/// what was typed after a pause or elsewhere is a step of its own.
class TypingSteps
{
public:
    /// Whether an edit begins a new step. To be asked of every edit, in order.
    [[nodiscard]] bool beginsStep(const TextEdited& edit);
    /// The next edit begins one.
    void reset() { m_last.reset(); }

private:
    std::optional<TextEdited> m_last;
};
}  // namespace rope
