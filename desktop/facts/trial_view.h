// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/types.h"

#include <QString>

#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace rope {
/// On which files a command runs.
enum class TrialSide { result, theirs, ours, base };
inline constexpr std::array kTrialSides{
    TrialSide::result, TrialSide::theirs, TrialSide::ours, TrialSide::base};

enum class TrialState {
    never,    ///< Not on these files.
    waiting,  ///< Its turn comes.
    running,
    passed,
    failed,
    notStarted,  ///< It could not be: see the words.
    stopped,     ///< By the person.
};

/// A command on some files: how it went, in words.
struct TrialItem
{
    TrialState state = TrialState::never;
    QString words;
    std::string outputFile;  ///< What it said; empty: it is not there any more.
};

/// A check command.
struct CommandItem
{
    std::string command;
    bool isShared = false;                         ///< From the committed file.
    std::array<TrialItem, kTrialSides.size()> on;  ///< By TrialSide.
    QString verdict;  ///< Of a failure: whether it is an old one, as far as that is known.

    [[nodiscard]] const TrialItem& result() const { return on.front(); }
};

/// What is known of the check commands. A value.
struct TrialView
{
    std::vector<CommandItem> commands;
    std::array<QString, kTrialSides.size()> sideNames;  ///< By TrialSide; empty: there is no such.
    std::vector<std::string> asked;  ///< Brought along, and nobody has said anything of them yet.
    bool hasLeftOut = false;         ///< Some were refused in this sitting; they can be asked about again.
    QString sharedProblem;           ///< Why the shared ones cannot be read.
    QString obstacle;                ///< Why nothing can be run now.
    bool isLooking = false;  ///< Which files the result has is found out yet; it can be asked for.
    QString progress;        ///< What is being done; empty: nothing runs.
    QString note;            ///< Of submodules in the copy.
    std::string folder;      ///< In which commands run on the result.
    std::optional<std::size_t> running;  ///< Which command; nothing: none of these.
    std::string runningFile;             ///< What it says, as a file.
    TrialSide runningOn = TrialSide::result;
    bool isRequired = false;
    bool withSubmodules = false;
    bool isEditable = true;

    [[nodiscard]] bool isRunning() const { return !progress.isEmpty(); }
    /// All have passed on the result as it stands; nothing: not all have run on it.
    [[nodiscard]] std::optional<bool> hasPassed() const;
};

/// A part of what a command says, as it comes.
struct SaidPart
{
    std::string command;
    TrialSide side = TrialSide::result;
    std::uint64_t offset =
        0;  ///< Of its first byte, in all that the command has said. 0: it begins.
    std::string bytes;
};
}  // namespace rope
