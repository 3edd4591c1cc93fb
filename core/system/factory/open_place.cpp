// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_git_place.cpp.
#include "core/system/factory/open_place.h"

#include "core/system/git/git_place.h"

namespace rope {
Result<std::unique_ptr<Place>> openPlace(const std::string& folder,
                                         const PlacePermissions& permissions)
{
    TRY_ASSIGN(
        auto place,
        GitPlace::open(folder, {permissions.allowsLocalPrograms, permissions.allowedPrograms}));
    place->setMissingBytes({permissions.fetchesMissing, {}, {}});
    return std::unique_ptr<Place>(std::move(place));
}
}  // namespace rope
