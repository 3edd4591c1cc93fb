// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/place.h"

#include <set>

namespace rope {
/// What may be done in a place that is opened.
struct PlacePermissions
{
    bool allowsLocalPrograms = false;  ///< Every command that its own configuration names may run.
    std::set<std::string> allowedPrograms;  ///< Or these alone.
    bool fetchesMissing = false;            ///< What a partial copy lacks is asked of its remote.
    friend bool operator==(const PlacePermissions&, const PlacePermissions&) = default;
};

/// Opens the place that a folder belongs to, with the adapter of its system: the one function that
/// knows the adapters. Errors: `notFound`, `systemFailed`, `unsupported`, `io`; see the adapters.
[[nodiscard]] Result<std::unique_ptr<Place>> openPlace(const std::string& folder,
                                                       const PlacePermissions& permissions = {});
}  // namespace rope
