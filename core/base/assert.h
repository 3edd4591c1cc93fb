// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace rope {
/// Says on standard error which assumption broke where, and aborts. The journal makes that safe.
[[noreturn]] void
assertionFailed(const char* condition, const char* why, const char* file, int line);
}  // namespace rope

/// A bug in our own code if false; checked in every build.
#define ROPE_ASSERT(condition, why)                                                                \
    ((condition) ? static_cast<void>(0)                                                            \
                 : ::rope::assertionFailed(#condition, why, __FILE__, __LINE__))
