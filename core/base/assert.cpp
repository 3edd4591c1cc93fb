// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/assert.h"

#include <cstdio>
#include <cstdlib>

namespace rope {
void assertionFailed(const char* condition, const char* why, const char* file, int line)
{
    std::fprintf(stderr, "rope-splice: bug at %s:%d: %s (%s)\n", file, line, why, condition);
    std::abort();
}
}  // namespace rope
