// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_resolve_station.cpp.
#include "desktop/resolve/alike_places.h"

namespace rope {
const std::vector<AlikeRegions>& AlikePlaces::of(const SpliceFile& file)
{
    constexpr std::size_t kMostRegions = 2000;
    static const std::vector<AlikeRegions> kNone;
    const auto& join = file.outcome->text;
    if (!join || join->regionCount() > kMostRegions) {
        return kNone;
    }
    const auto known = m_known.find(join);
    return known != m_known.end() ? known->second
                                  : m_known.emplace(join, alikeRegions(*join)).first->second;
}
}  // namespace rope
