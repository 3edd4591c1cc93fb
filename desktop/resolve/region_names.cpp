// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/resolve/region_names.h"

namespace rope {
RegionName RegionNames::of(const SpliceFile& file, std::size_t slot)
{
    constexpr std::size_t kMostNamed = 300;
    const auto& join = file.outcome->text;
    if (join->regionCount() > kMostNamed) {
        return {};
    }
    auto& names = m_known[join];
    names.resize(join->regionCount());
    const std::size_t region = file.text->regionOf(slot);
    if (!names[region]) {
        names[region] = regionName(*join, region, file.outcome->path);
    }
    return *names[region];
}
}  // namespace rope
