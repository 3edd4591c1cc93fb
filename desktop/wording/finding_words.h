// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/finding.h"
#include "core/join/place_authors.h"

#include <QString>

namespace rope {
/// A finding in a few words: "Name is gone: free_slots".
[[nodiscard]] QString findingTitle(const Finding& finding);
/// What either side did, for a list: "ours renamed it to passage_slots; theirs uses it in a new line".
[[nodiscard]] QString findingInWords(const Finding& finding);
/// The same with the commits behind it, as far as they are known.
[[nodiscard]] QString findingInWords(const Finding& finding, const PlaceAuthors& authors);
/// Where it is: "locks/report.py:28", "locks/model.py:64-65".
[[nodiscard]] QString findingPlace(const Finding& finding);
/// What taking its mend does: "Write passage_slots here". Empty where there is none.
[[nodiscard]] QString mendInWords(const Finding& finding);
/// Why a file was not looked at.
[[nodiscard]] QString notCheckedInWords(const NotChecked& notChecked);
}  // namespace rope
