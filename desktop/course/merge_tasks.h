// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/course/place_tasks.h"
#include "desktop/facts/logbook_view.h"
#include "desktop/facts/merge_view.h"

#include <functional>

namespace rope {
// What is read of the merges of the history, whoever made them. As place_tasks.h.

/// A merge of the history: what is odd about it, then how each region was decided; and whether it can be
/// reopened in the line that others are joined into.
[[nodiscard]] Result<LoggedDetails> readMergeDetails(const PlaceAddress& address,
                                                     const ObjectId& merge,
                                                     const Standing& into,
                                                     const std::stop_token& stop);
/// One merge, as the list shows it. Errors: `notFound`; `invalidInput` for what is no merge.
[[nodiscard]] Result<ReadMergeRow>
readNamedMerge(const PlaceAddress& address, const std::string& name, const std::stop_token& stop);

/// Merges that were read, some at a time, and how many there are in all. Called on a worker.
using MergeSink = std::function<void(std::vector<ReadMergeRow>, std::size_t total)>;
/// At most so many merges of the history are read.
inline constexpr std::size_t kMostReadMerges = 20'000;
/// Reads the merges of the checked-out line's history, newest first, but for the first `known` ones, and
/// keeps what they say was decided. Errors: those of reading; `cancelled`.
[[nodiscard]] Status readMerges(const PlaceAddress& address,
                                std::size_t known,
                                const MergeSink& sink,
                                const std::stop_token& stop);
/// Keeps what the newest merges say was decided that were not read before.
[[nodiscard]] Status learnFromMerges(const PlaceAddress& address, const std::stop_token& stop);
}  // namespace rope
