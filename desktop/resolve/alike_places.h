// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/alike.h"
#include "core/decide/splice.h"

#include <map>
#include <memory>
#include <vector>

namespace rope {
/// Which regions of a file are alike, each file looked at once: lists ask after every decision.
class AlikePlaces
{
public:
    /// Nothing in files of so many regions that nobody reads their list.
    [[nodiscard]] const std::vector<AlikeRegions>& of(const SpliceFile& file);

private:
    std::map<std::shared_ptr<const TextJoin>, std::vector<AlikeRegions>> m_known;
};
}  // namespace rope
