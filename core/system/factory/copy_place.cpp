// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_clone.cpp.
#include "core/system/factory/copy_place.h"

#include "core/system/git/git_clone.h"

namespace rope {
Result<RemoteLines>
askAddress(const std::string& address, const Asking& asking, const std::stop_token& stop)
{
    return askGitAddress(address, asking, stop);
}

Status copyPlace(const CopyRequest& request,
                 const Asking& asking,
                 const ProgressSink& progress,
                 const std::stop_token& stop)
{
    return cloneGit(request, asking, progress, stop);
}
}  // namespace rope
