// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"

#include <string>

namespace rope {
/// As layOutDemo(), for git: reads the stream that demo/build.py writes (git-fast-import(1)). Its names under
/// refs/demo/ say how your clone stands: `yours` is its branch, `main` its main, `seen` what it knows
/// of the shared one, and the files of `uncommitted` what is edited and not committed.
[[nodiscard]] Status layOutGitDemo(const std::string& folder, const std::string& materials);
}  // namespace rope
