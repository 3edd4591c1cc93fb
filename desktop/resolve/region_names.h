// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "core/merge/region_name.h"

#include <map>
#include <memory>
#include <optional>
#include <vector>

namespace rope {
/// The names of regions, each found once: lists ask for all of them after every decision.
class RegionNames
{
public:
    /// No name in files of so many regions that nobody reads their list. REQUIRES: the slot is a region
    [[nodiscard]] RegionName of(const SpliceFile& file, std::size_t slot);

private:
    std::map<std::shared_ptr<const TextJoin>, std::vector<std::optional<RegionName>>> m_known;
};
}  // namespace rope
