// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace rope {
/// How a commit is laid on the ground that those before it made.
enum class LaidAs {
    rewritten,  ///< It is ours, written anew; the ground is theirs.
    picked,     ///< It is theirs, made anew upon ours: the ground.
    reverted,  ///< What it changed is taken out of ours, the ground: it is the base, and theirs what it was made on.
};
}  // namespace rope
