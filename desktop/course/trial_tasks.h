// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/join/join.h"
#include "core/system/copies.h"
#include "core/trial/command_run.h"
#include "core/trial/layout.h"
#include "desktop/course/place_tasks.h"

namespace rope {
// What the trial session runs beside the interface. As place_tasks.h.

/// What a result is, as far as its check commands go.
struct TrialFacts
{
    ObjectId tree;                    ///< The id that it would have.
    std::vector<std::string> shared;  ///< Commands that it shares.
    std::optional<Error> sharedProblem;
};
[[nodiscard]] Result<TrialFacts> trialFacts(const PlaceAddress& address,
                                            const std::shared_ptr<const Join>& join,
                                            const DecidedResult& result);

/// The folder of all scratch copies and outputs: in the user's cache.
[[nodiscard]] std::string trialFolder();
/// Where what a command said on a tree is kept.
[[nodiscard]] std::string outputFileOf(const ObjectId& tree, const std::string& command);

/// The files that commands are to run on.
struct TrialFiles
{
    ObjectId tree;  ///< Stored; or that of `result`, which is stored first.
    std::shared_ptr<const DecidedResult> result;
    ObjectId commit;   ///< That the copy stands on.
    std::string copy;  ///< Name of the scratch copy.
    bool withSubmodules = false;
};

/// How a command went, or why it could not be started.
struct TrialRun
{
    std::string command;
    std::string outputFile;
    Result<RunOutcome> outcome;
};

/// What is told while commands run. Called on the thread that works.
struct TrialSinks
{
    ProgressSink progress;  ///< Of laying out.
    std::function<void(std::size_t command, const std::string& outputFile)> started;
    std::function<void(std::size_t command, std::uint64_t offset, std::string_view bytes)> said;
};

struct TrialOutcome
{
    ObjectId tree;
    LayoutOutcome layout;
    std::vector<TrialRun> runs;  ///< In order; those that a stop left out are missing.
};

/// Lays the files out and runs the commands on them, one after the other; a failure of one does not keep
/// the next from running. Errors: those of layOut() and of taking the copy.
[[nodiscard]] Result<TrialOutcome> runTrial(const PlaceAddress& address,
                                            const TrialFiles& files,
                                            const std::vector<std::string>& commands,
                                            const TrialSinks& sinks,
                                            const std::stop_token& stop);

/// Removes scratch copies and outputs beyond what is kept.
void cleanTrials(const std::stop_token& stop);
/// Removes all that no other window uses.
void removeTrials(const std::stop_token& stop);
}  // namespace rope
