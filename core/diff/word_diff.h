// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace rope {
/// What happened to a run of words on the way from one text to another.
enum class WordChange { kept, removed, added };

/// A run of words with one fate. Bytes are those of the text they stand in.
struct WordRun
{
    WordChange change = WordChange::kept;
    std::string text;
    friend bool operator==(const WordRun&, const WordRun&) = default;
};

/// Returns how `before` became `after`, word by word (words.h): kept and added runs put together
/// are `after`, kept and removed ones are `before`. A kept gap of blanks between two changes is
/// told as changed, so that a phrase reads as one change.
/// Texts of more than about 200 kB in all are not compared: one removed and one added run.
[[nodiscard]] std::vector<WordRun> diffWords(std::string_view before, std::string_view after);

/// Returns how many separate edits diffWords() tells between two texts.
[[nodiscard]] int countEdits(std::string_view before, std::string_view after);
}  // namespace rope
