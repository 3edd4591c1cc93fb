// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"

#include <cstdint>
#include <functional>
#include <map>
#include <stop_token>
#include <string>
#include <vector>

namespace rope {
/// Part of the port: other people's copies.
class Remotes
{
public:
    virtual ~Remotes() = default;

    virtual Result<std::vector<std::string>> remotes() = 0;
    /// When each remote last answered, as far as the system's own traces tell, in seconds since 1970.
    virtual Result<std::map<std::string, std::int64_t>> lastAsked() = 0;
    /// Asks every remote what it has. `answered` is told the name of each as soon as it has answered.
    /// Errors: `systemFailed` (Reason::remoteFailed) with the remote as subject; `cancelled`.
    virtual Status fetch(const std::function<void(const std::string&)>& answered,
                         const ProgressSink& progress,
                         const std::stop_token& stop) = 0;
    /// Whether bytes that a partial copy lacks may be asked of the remote when they are needed.
    /// Off at first: looking must not reach out by itself.
    virtual void setFetchesMissing(bool fetches) = 0;
};
}  // namespace rope
