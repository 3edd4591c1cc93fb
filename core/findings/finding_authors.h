// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/checked_file.h"
#include "core/findings/finding.h"
#include "core/join/forecast.h"
#include "core/join/place_authors.h"

#include <stop_token>

namespace rope {
/// Returns which commit of either side is behind a finding: the one that last touched the lines which it
/// is about, or where it did what the other side did not know of. `result`: of the finding's own file.
/// Errors: those of reading; `cancelled`.
[[nodiscard]] Result<PlaceAuthors> findFindingAuthors(Place& place,
                                                      const Forecast& forecast,
                                                      const std::vector<CheckedFile>& files,
                                                      const CheckedResult& result,
                                                      const Finding& finding,
                                                      const std::stop_token& stop = {});
}  // namespace rope
