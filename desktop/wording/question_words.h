// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/text_join.h"
#include "core/snapshot/tree_join.h"

#include <QString>

namespace rope {
/// Who the two sides are, for sentences that name them.
struct SideNames
{
    QString ours;
    QString theirs;
};

/// What happened to a file, in a short phrase for lists: "deleted by theirs, edited by ours".
[[nodiscard]] QString questionInShort(const FileQuestion& question);
/// The same as a sentence with the branches' names, and what is asked.
[[nodiscard]] QString questionInWords(const FileOutcome& outcome, const SideNames& names);
/// Which files may have to make room for an answer, and under which name each is kept then; empty: none.
[[nodiscard]] QString asidesInWords(const TreeJoin& join, const FileOutcome& outcome);
/// What an answer would do: "Keep the file as ours has it".
[[nodiscard]] QString
answerInWords(const FileOutcome& outcome, FileChoice choice, const SideNames& names);

/// Why a stretch joined by itself. REQUIRES: it is not a region
[[nodiscard]] QString chunkInWords(ChunkKind kind, const SideNames& names);
/// What a side did to a file besides its text: a new name, mode or kind, as a sentence; empty if nothing.
[[nodiscard]] QString fileRemarkInWords(const FileOutcome& outcome, bool isOurs);
}  // namespace rope
