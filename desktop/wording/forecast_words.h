// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/effort.h"
#include "core/join/collisions.h"

#include <QString>

namespace rope {
/// What the forecast says of a file: "3 regions", "joins cleanly", "deleted against edited".
[[nodiscard]] QString forecastInWords(const FileOutcome& outcome);
/// What the forecast says of a branch: "5 in · 7 regions in 4 files", "all of it is already here".
[[nodiscard]] QString forecastInWords(const Forecast& forecast);
/// The same for a pair that was only counted.
[[nodiscard]] QString forecastInWords(const PairOutcome& outcome);
/// And in two words, for the end of a row: "5 incoming"; of a branch that is here already, nothing.
[[nodiscard]] QString forecastInShort(const PairOutcome& outcome);
/// What joining the first into the second would be, where `outcome` is of the second into the first:
/// "Into origin/main, yours would join cleanly: 3 commits." Empty where there is nothing to say.
[[nodiscard]] QString
otherWayInWords(const PairOutcome& outcome, const QString& first, const QString& second);
/// How much a person has to think about: "In 6 of 9 conflicts a candidate keeps both edits. …" Empty where
/// nothing is to be decided.
[[nodiscard]] QString effortInWords(const Effort& effort);
/// "src/Log.txt and src/log.txt differ only in case or normalisation: …"
[[nodiscard]] QString nameClashInWords(const NameClash& clash);
}  // namespace rope
