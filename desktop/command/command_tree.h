// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/command/audit_command.h"
#include "desktop/command/collisions_command.h"
#include "desktop/command/demo_command.h"
#include "desktop/command/forecast_command.h"
#include "desktop/command/join_command.h"
#include "desktop/command/merge_file_command.h"
#include "desktop/command/setup_git_command.h"

#include <CLI/CLI.hpp>
#include <string>
#include <vector>

namespace rope {
/// Values of options and arguments, as help, manual pages and completion name them.
namespace value_name {
inline constexpr const char* kFolder = "FOLDER";
inline constexpr const char* kFile = "FILE";
inline constexpr const char* kBranch = "BRANCH";  ///< A branch or a commit.
}  // namespace value_name

struct ResolveRequest
{
    std::string base;
    std::string ours;
    std::string theirs;
    std::string result;
    std::vector<std::string> labels;
};

/// What opens the window.
struct WindowRequest
{
    std::string path;
    std::string theme;
    std::string demo;
};

/// All commands with their options, and what is asked of each once `app` has parsed. The one place where
/// commands are described: help, manual pages and completion are made from it and from command_texts.h.
struct CommandTree
{
    CommandTree();
    CommandTree(const CommandTree&) = delete;
    CommandTree& operator=(const CommandTree&) = delete;

    CLI::App app;
    WindowRequest window;
    ForecastRequest forecast;
    CollisionsRequest collisions;
    JoinRequest join;
    AuditRequest audit;
    MergeFileRequest mergeFile;
    ResolveRequest resolve;
    SetupGitRequest setupGit;
    DemoRequest demo;
    bool demoStaysClosed = false;

    /// Whether that command was called. REQUIRES: app has parsed
    [[nodiscard]] bool isCalled(const char* command) const;

private:
    void addForecast();
    void addCollisions();
    void addMerge();
    void addAudit();
    void addMergeFile();
    void addResolve();
    void addSetupGit();
    void addDemo();
    CLI::App* add(const char* name, const char* purpose);
    static void addRepository(CLI::App& command, std::string& folder);
};
}  // namespace rope
