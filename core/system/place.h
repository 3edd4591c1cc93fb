// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/checkout.h"
#include "core/system/copies.h"
#include "core/system/history.h"
#include "core/system/notes.h"
#include "core/system/recording.h"
#include "core/system/remotes.h"
#include "core/system/settings.h"
#include "core/system/snapshots.h"

namespace rope {
/// What a system can do. The desktop shows or hides by these, never by the system's name.
struct Abilities
{
    bool hasLocalCommits = true;  ///< Record makes a commit here.
    bool hasOtherLines = true;    ///< Other lines of work can be forecast.
    bool hasSignedCommits = false;
};

/// The port to a version-control system, all its parts together: a folder that belongs to one.
/// Whoever needs only a part takes that part. An instance belongs to one thread at a time; open one
/// per worker. Nothing is cached that another program could change; folders never change, so they
/// are. Every call may fail with `io`, `systemFailed` or `corrupt` besides those named.
class Place : public History,
              public Snapshots,
              public Checkout,
              public Copies,
              public Recording,
              public Notes,
              public Remotes,
              public Settings
{
public:
    [[nodiscard]] virtual const Abilities& abilities() const = 0;
    /// The working tree's root, or the repository itself where there is none. Absolute.
    [[nodiscard]] virtual const std::string& root() const = 0;
    /// A folder outside `root()` that the repository's own configuration leads to; empty if none.
    [[nodiscard]] virtual const std::string& ledFrom() const = 0;
};
}  // namespace rope
