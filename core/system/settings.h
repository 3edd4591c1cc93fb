// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"

#include <set>
#include <string>
#include <vector>

namespace rope {
/// What is set up in a repository about running commands on a result.
struct CheckSettings
{
    std::vector<std::string> commands;  ///< As they were written, in order.
    /// Those of them that the place itself says, which somebody else may have written.
    std::set<std::string> ofPlace{};
    bool isRequired = false;      ///< Nothing is recorded before all of them have passed.
    bool withSubmodules = false;  ///< The copy holds submodules as they are checked out here.
    friend bool operator==(const CheckSettings&, const CheckSettings&) = default;
};

/// Part of the port: what this program keeps in the repository's own configuration, for everybody who
/// works in this copy of it. One thread at a time.
class Settings
{
public:
    virtual ~Settings() = default;

    virtual Result<CheckSettings> checkSettings() = 0;
    /// Errors: `busy`, `io`.
    virtual Status setCheckSettings(const CheckSettings& settings) = 0;
};
}  // namespace rope
