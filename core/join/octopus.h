// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/history/commit_graph.h"
#include "core/snapshot/overlay.h"
#include "core/system/place.h"

#include <optional>
#include <span>
#include <stop_token>

namespace rope {
/// The tree that several commits join to, one after the other, each over what it has in common with those
/// before it: how a merge of more than two parents comes about. Nothing where a person would be asked, or
/// where one has nothing in common with the others: no such merge is made by a join alone.
/// `graph`: reads from all of them. Errors: those of reading and joining; `cancelled`.
[[nodiscard]] Result<std::optional<ObjectId>> octopusTree(Place& place,
                                                          Overlay& snapshots,
                                                          CommitGraph& graph,
                                                          std::span<const ObjectId> parents,
                                                          const std::stop_token& stop = {});
}  // namespace rope
