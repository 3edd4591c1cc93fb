// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/git/git_place.h"

namespace rope {
/// A moment of recording at which the repository's own hooks may run, see githooks(5).
enum class HookPoint {
    beforeRebase,
    beforeCommit,
    beforeMergeCommit,
    prepareMessage,
    prepareMergeMessage,
    checkMessage,
    afterCommit,
    afterMerge,
    afterSwitch,
};

/// Runs the hooks of one recording, as git itself would while it does the same work, and keeps what they
/// print.
class GitHooks
{
public:
    GitHooks(GitPlace& place, const RecordingPlan& plan, const std::stop_token& stop)
        : m_place(place)
        , m_plan(plan)
        , m_stop(stop)
    {
    }

    /// A stop ends the hook; of one that runs when all is done, what it was told of stands all the same.
    /// Errors: `refused` (Reason::hookRefused) with the hook's name as subject and what it printed;
    /// `cancelled`.
    Status run(HookPoint point, const std::string& messageFile = {});
    /// Tells what was written anew: notes follow where that is set up, then the hook for it runs. What
    /// either answers changes nothing any more.
    void tellRewritten(const std::vector<RewrittenCommit>& rewritten);
    /// What they printed, in order.
    [[nodiscard]] const std::string& output() const { return m_output; }

private:
    [[nodiscard]] GitRunOptions options() const;
    void noteStop(const std::string& hook, const Error& error);
    [[nodiscard]] std::vector<std::string> arguments(HookPoint point,
                                                     const std::string& messageFile) const;

    GitPlace& m_place;
    const RecordingPlan& m_plan;
    const std::stop_token& m_stop;
    std::string m_output;
};
}  // namespace rope
