// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"

#include <string>

namespace rope {
/// Makes the demo's repositories in a folder that is not there yet, or empty: `slackwater` is yours, `teammate`
/// another person's, `shared.git` what both push to, `teammate-push` a script that plays the other person.
/// `materials`: the folder that ships with the program. Takes seconds, and needs no network. A failure may
/// leave a part. Errors: `notFound` (Reason::missingPart) where the materials are not there; `invalidInput`
/// (Reason::targetExists); `io`; `systemFailed`. Threads: any.
[[nodiscard]] Status layOutDemo(const std::string& folder, const std::string& materials);

/// Where the materials lie: beside the program that runs, or as it is installed.
[[nodiscard]] std::string demoMaterials();
/// A folder for a demo that is not there yet, in the user's own data folder.
[[nodiscard]] std::string freshDemoFolder();
}  // namespace rope
