// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_resolve_station.cpp.
#include "desktop/result/typing_steps.h"

namespace rope {
namespace {
constexpr std::int64_t kPauseMs = 1000;
constexpr std::size_t kMostTypedBytes = 4;  // of one character in UTF-8; more at once was pasted

bool isBlank(const std::string& text)
{
    return text == " " || text == "\t";
}

bool endsLine(const std::string& text)
{
    return text.ends_with('\n') || text.ends_with('\r');
}
}  // namespace

bool TypingSteps::beginsStep(const TextEdited& edit)
{
    const std::optional<TextEdited> last = std::move(m_last);
    m_last = edit;
    if (!last || edit.at - last->at > kPauseMs || edit.inserted.size() > kMostTypedBytes
        || last->inserted.size() > kMostTypedBytes
        || edit.inserted.empty() != last->inserted.empty()) {
        return true;
    }
    if (edit.inserted.empty()) {
        const bool isBackwards = edit.position + edit.removed == last->position;
        const bool isForwards = edit.position == last->position;
        return !isBackwards && !isForwards;
    }
    if (edit.position != last->position + last->inserted.size()) {
        return true;
    }
    // A line end closes its step, and so do blanks before the next word.
    return endsLine(last->inserted) || (isBlank(last->inserted) && !isBlank(edit.inserted));
}
}  // namespace rope
