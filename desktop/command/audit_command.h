// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace rope {
struct AuditRequest
{
    std::string folder = ".";
    std::string
        range;  ///< "A..B": merges of B that A has not; a name: all of its history; empty: HEAD's.
    bool asJson = false;
};

/// Reads the merges of a range again and prints what is odd about them. Returns the exit code: kExitClean
/// where nothing is, kExitMustDecide where something is to be looked at (docs/command-line.md).
int runAudit(const AuditRequest& request);
}  // namespace rope
