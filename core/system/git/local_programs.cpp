// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_local_programs.cpp.
#include "core/system/git/local_programs.h"

namespace rope {
namespace {
std::optional<std::string> takeField(std::string_view& bytes)
{
    const std::size_t end = bytes.find('\0');
    if (end == std::string_view::npos) {
        return std::nullopt;
    }
    std::string field(bytes.substr(0, end));
    bytes.remove_prefix(end + 1);
    return field;
}

/// `filter.NAME.VARIABLE` in its parts; a name may hold dots.
std::optional<std::pair<std::string, std::string>> filterKey(const std::string& key)
{
    constexpr std::string_view kSection = "filter.";
    const std::size_t dot = key.rfind('.');
    if (!key.starts_with(kSection) || dot < kSection.size()) {
        return std::nullopt;
    }
    return std::pair(key.substr(kSection.size(), dot - kSection.size()), key.substr(dot + 1));
}
}  // namespace

std::optional<LocalPrograms> LocalPrograms::parse(std::string_view listed, ProgramTrust trust)
{
    LocalPrograms programs;
    programs.m_trust = std::move(trust);
    while (!listed.empty()) {
        const auto scope = takeField(listed);
        const auto entry = scope ? takeField(listed) : std::nullopt;
        if (!entry) {
            return std::nullopt;
        }
        const std::size_t line = entry->find('\n');
        // A key without a value stands for "true".
        programs.m_values[entry->substr(0, line)] = {
            line == std::string::npos ? "true" : entry->substr(line + 1),
            *scope == "local" || *scope == "worktree"};
    }
    return programs;
}

const LocalPrograms::Value* LocalPrograms::value(const std::string& key) const
{
    const auto found = m_values.find(key);
    return found == m_values.end() ? nullptr : &found->second;
}

std::string LocalPrograms::inOneText() const
{
    std::string text = m_trust.allowsAll ? "all\n" : "some\n";
    for (const std::string& command : m_trust.allowed) {
        text += command + '\0';
    }
    for (const auto& [key, value] : m_values) {
        text += key + '\0' + value.value + '\0' + (value.isLocal ? '1' : '0');
    }
    return text;
}

bool LocalPrograms::isAllowed(const Value& command) const
{
    return !command.isLocal || m_trust.allowsAll || m_trust.allowed.contains(command.value);
}

std::map<std::string, std::string> LocalPrograms::lockedFilters() const
{
    std::map<std::string, std::string> filters;
    for (const auto& [key, value] : m_values) {
        const auto parts = filterKey(key);
        const bool isCommand = parts
                               && (parts->second == "clean" || parts->second == "smudge"
                                   || parts->second == "process");
        if (isCommand && !isAllowed(value)) {
            // The clean command is the one that comparing would run.
            std::string& command = filters[parts->first];
            command = parts->second == "smudge" && !command.empty() ? command : value.value;
        }
    }
    return filters;
}

Environment LocalPrograms::overrides() const
{
    Environment overrides;
    if (const Value* const monitor = value("core.fsmonitor"); monitor && monitor->isLocal) {
        overrides.emplace_back("core.fsmonitor", "false");
    }
    for (const auto& [name, command] : lockedFilters()) {
        for (const char* variable : {"clean", "smudge", "process"}) {
            overrides.emplace_back("filter." + name + "." + variable, "");
        }
        overrides.emplace_back("filter." + name + ".required", "false");
    }
    return overrides;
}

std::string LocalPrograms::promisorRemote() const
{
    if (const Value* const remote = value("extensions.partialclone")) {
        return remote->value;
    }
    constexpr std::string_view kPrefix = "remote.";
    constexpr std::string_view kSuffix = ".promisor";
    for (const auto& [key, value] : m_values) {
        if (key.starts_with(kPrefix) && key.ends_with(kSuffix) && value.value == "true"
            && key.size() > kPrefix.size() + kSuffix.size()) {
            return key.substr(kPrefix.size(), key.size() - kPrefix.size() - kSuffix.size());
        }
    }
    return {};
}
}  // namespace rope
