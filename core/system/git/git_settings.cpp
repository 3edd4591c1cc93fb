// SPDX-License-Identifier: GPL-3.0-or-later
// Our section of git's configuration, see docs/check-command.md.
// Tested by tst_trial.cpp.
#include "core/system/git/git_errors.h"
#include "core/system/git/git_parsers.h"
#include "core/system/git/git_place.h"

#include <algorithm>

namespace rope {
namespace {
constexpr const char* kCommand = "rope-splice.check";
constexpr const char* kRequired = "rope-splice.checkRequired";
constexpr const char* kSubmodules = "rope-splice.checkSubmodules";
constexpr int kNotThere = 5;  // git-config(1): what is to be unset is not set

/// As git reads it: git-config(1), "boolean". A key without a value is true.
bool isTrue(const std::optional<std::string>& value)
{
    if (!value) {
        return true;
    }
    return boolOf(*value).value_or(false);
}

/// Takes one entry of what `git config -z` lists: a key, and behind a line end its value.
std::pair<std::string, std::optional<std::string>> takeEntry(std::string_view& listed)
{
    const std::string_view entry = listed.substr(0, listed.find('\0'));
    listed.remove_prefix(std::min(entry.size() + 1, listed.size()));
    const std::size_t line = entry.find('\n');
    if (line == std::string_view::npos) {
        return {std::string(entry), std::nullopt};
    }
    return {std::string(entry.substr(0, line)), std::string(entry.substr(line + 1))};
}
}  // namespace

Result<CheckSettings> GitPlace::checkSettings()
{
    TRY_ASSIGN(const GitOutput listed,
               m_git.run({"config", "--show-scope", "-z", "--get-regexp", "^rope-splice\\.check"}));
    if (listed.exitCode > 1) {
        return Error{ErrorCode::systemFailed, "git config", listed.err};
    }
    CheckSettings settings;
    std::string_view left = listed.out;
    while (!left.empty()) {
        const std::string_view scope = left.substr(0, left.find('\0'));
        left.remove_prefix(std::min(scope.size() + 1, left.size()));
        const auto [key, value] = takeEntry(left);
        // Git gives the variable's name in small letters.
        if (key == "rope-splice.check" && value && !value->empty()) {
            settings.commands.push_back(*value);
            if (scope == "local" || scope == "worktree") {
                settings.ofPlace.insert(*value);
            }
        } else if (key == "rope-splice.checkrequired") {
            settings.isRequired = isTrue(value);
        } else if (key == "rope-splice.checksubmodules") {
            settings.withSubmodules = isTrue(value);
        }
    }
    return settings;
}

Status GitPlace::setCheckSettings(const CheckSettings& settings)
{
    TRY_ASSIGN(const CheckSettings now, checkSettings());
    std::vector<std::vector<std::string>> steps;
    if (now.commands != settings.commands) {
        steps.push_back({"config", "--local", "--unset-all", kCommand});
        for (const std::string& command : settings.commands) {
            steps.push_back({"config", "--local", "--add", "--", kCommand, command});
        }
    }
    const auto addSwitch = [&steps](const char* key, bool before, bool after) {
        if (before != after) {
            steps.push_back({"config", "--local", key, after ? "true" : "false"});
        }
    };
    addSwitch(kRequired, now.isRequired, settings.isRequired);
    addSwitch(kSubmodules, now.withSubmodules, settings.withSubmodules);
    for (const auto& step : steps) {
        TRY_ASSIGN(const GitOutput set, m_git.run(step));
        if (set.exitCode != 0 && set.exitCode != kNotThere) {
            return writingError(kCommand, set.err);
        }
    }
    return ok();
}
}  // namespace rope
