// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "core/system/recording.h"

#include <string>

namespace rope {
/// What a merge commit's message is made of besides the splice.
struct MessageParts
{
    MessageConventions conventions{};
    std::vector<std::string> joinedSubjects{};  ///< Of the commits that come in, newest first.
    std::optional<Signature> signedOffBy{};     ///< Adds the trailer that says so.
    /// Of a correction: what had been decided in what it corrects. Only what differs is listed.
    std::vector<Decision> corrected{};
};

/// The message of a commit that takes out what another one changed, as git words it.
[[nodiscard]] std::string revertMessage(const Commit& reverted);

/// Returns the message a merge commit is offered with: what was joined into what, by file what had to
/// be decided and what was edited besides, and what is usual here. As long as it needs to be: many decisions of a file are counted,
/// many files as well. Ends in a line end.
[[nodiscard]] std::string proposedMessage(const Splice& splice, const MessageParts& parts = {});
}  // namespace rope
