// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/diff/hunk.h"

#include <span>
#include <vector>

namespace rope {
enum class ChunkKind {
    unchanged,  ///< Base, ours and theirs agree.
    ours,       ///< Only ours changed it.
    theirs,     ///< Only theirs changed it.
    alike,      ///< Both made the same of it.
    region,     ///< Both changed it, differently: a person decides.
};

/// A run of tokens of three texts that belong together. Chunks follow each other without gaps.
struct Chunk
{
    ChunkKind kind = ChunkKind::unchanged;
    LineRange base;
    LineRange ours;
    LineRange theirs;
    friend bool operator==(const Chunk&, const Chunk&) = default;
};

/// Three texts as tokens that were interned together.
struct ThreeTokens
{
    Tokens base;
    Tokens ours;
    Tokens theirs;
};

/// Returns the chunks of a three-way join. Changes that overlap or touch in the base are one chunk;
/// a region is trimmed of what its ours and theirs have in common at either end.
/// Swapping ours and theirs (texts and hunks) swaps the outcome and nothing else.
/// Source: S. Khanna, K. Kunal, B. Pierce, "A Formal Investigation of Diff3", FSTTCS 2007, section 3.
[[nodiscard]] std::vector<Chunk> joinHunks(const ThreeTokens& tokens,
                                           std::span<const Hunk> oursHunks,
                                           std::span<const Hunk> theirsHunks);
}  // namespace rope
