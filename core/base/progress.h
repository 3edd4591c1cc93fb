// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <array>
#include <cstdint>
#include <functional>
#include <string>

namespace rope {
/// What a long task does just now. Words for it: desktop/wording/progress_words.h.
enum class ProgressStep {
    findingBase,   ///< Where two histories parted.
    joiningBases,  ///< Several bases become one.
    findingRenames,
    joiningFile,     ///< `subject`: its path.
    layingCommits,   ///< A rebase is worked out.
    layingOutCopy,   ///< Files are written into a scratch copy.
    takingOff,       ///< Recording: uncommitted work is taken off the files.
    bringing,        ///< Recording: the files go to the result.
    committing,      ///< Recording: hooks run, the first commit is written.
    writingCommits,  ///< Recording: of several commits.
    moving,          ///< Recording: the branch moves.
    finishing,       ///< Recording: it has moved.
    carrying,        ///< Recording: uncommitted work is put into the files.
    handingBack,     ///< Decisions are written into the files of a begun join.
    undoing,         ///< Recording was refused: all goes back to what it was.
    askingRemote,    ///< `subject`: its name.
    remoteWorks,     ///< `subject`: what the system says that it does.
};

/// A name for tests and logs, as the enum has it.
[[nodiscard]] constexpr const char* nameOf(ProgressStep step)
{
    constexpr std::array kNames{"findingBase",
                                "joiningBases",
                                "findingRenames",
                                "joiningFile",
                                "layingCommits",
                                "layingOutCopy",
                                "takingOff",
                                "bringing",
                                "committing",
                                "writingCommits",
                                "moving",
                                "finishing",
                                "carrying",
                                "handingBack",
                                "undoing",
                                "askingRemote",
                                "remoteWorks"};
    return kNames[static_cast<std::size_t>(step)];
}

/// How far a long task is. `total` 0: unknown.
struct Progress
{
    ProgressStep step = ProgressStep::finishing;
    std::string subject;
    std::uint64_t done = 0;
    std::uint64_t total = 0;
};

/// Takes progress. Called on the thread that works; may be empty.
using ProgressSink = std::function<void(const Progress&)>;
}  // namespace rope
