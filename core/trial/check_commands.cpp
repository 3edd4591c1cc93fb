// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_trial.cpp.
#include "core/trial/check_commands.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <sstream>
#include <toml++/toml.h>
#include <utility>

namespace rope {
namespace {
constexpr std::array<std::string_view, 11> kShellSigns{
    "|", "||", "&", "&&", ";", ">", ">>", "<", "2>", "2>&1", "&>"};

Error unreadable(std::string detail)
{
    return {
        ErrorCode::invalidInput, kSharedChecksFile, std::move(detail), Reason::sharedUnreadable};
}

/// A word that stood without quotes and means something to a shell alone.
bool needsShell(std::string_view word)
{
    const bool isSign =
        std::find(kShellSigns.begin(), kShellSigns.end(), word) != kShellSigns.end();
    const std::size_t dollar = word.find('$');
    const bool namesVariable = dollar + 1 < word.size() && dollar != std::string_view::npos
                               && (std::isalpha(static_cast<unsigned char>(word[dollar + 1])) != 0
                                   || word[dollar + 1] == '{' || word[dollar + 1] == '(');
    return isSign || namesVariable || (word.size() > 1 && word.ends_with(';'))
           || word.find('`') != std::string_view::npos;
}

/// Whether a first word sets a variable, as a shell would: NAME=value.
bool setsVariable(std::string_view word)
{
    const std::size_t sign = word.find('=');
    return sign != std::string_view::npos && sign > 0
           && std::all_of(
               word.begin(), word.begin() + static_cast<std::ptrdiff_t>(sign), [](char c) {
                   return std::isalnum(static_cast<unsigned char>(c)) != 0 || c == '_';
               });
}
}  // namespace

Result<std::vector<std::string>> sharedCommands(std::string_view bytes)
{
    toml::table table;
    try {
        table = toml::parse(bytes);
    } catch (const toml::parse_error& error) {
        std::ostringstream words;
        words << error.description() << ", line " << error.source().begin.line;
        return unreadable(words.str());
    }
    std::vector<std::string> commands;
    const toml::node_view<toml::node> list = table["check"];
    const toml::array* const checks = list.as_array();
    if (list && checks == nullptr) {
        return unreadable("\"check\" is no list: write [[check]]");
    }
    for (std::size_t i = 0; checks != nullptr && i < checks->size(); ++i) {
        const toml::table* const check = checks->get(i)->as_table();
        const auto run = check == nullptr ? std::nullopt : (*check)["run"].value<std::string>();
        if (!run || run->find_first_not_of(' ') == std::string::npos
            || run->find_first_of(std::string_view("\n\r\0", 3)) != std::string::npos) {
            return unreadable("check " + std::to_string(i + 1)
                              + " has no \"run\" with a command in one line");
        }
        commands.push_back(*run);
    }
    return commands;
}

Result<std::vector<std::string>> sharedCommandsOf(Snapshots& snapshots,
                                                  const ResultSnapshot& result)
{
    constexpr std::uint64_t kMostBytes = 100'000;
    std::optional<FileVersion> file;
    const ObjectId roots[] = {result.from};
    TRY_ASSIGN(const auto entries, snapshots.readTrees(roots));
    for (const TreeEntry& entry : *entries.front()) {
        if (entry.name == kSharedChecksFile && isRegular(entry.kind)) {
            file = FileVersion{entry.kind, entry.id};
        }
    }
    BlobBytes bytes;
    for (const ResultEdit& edit : result.edits) {
        if (edit.path == kSharedChecksFile) {
            file = edit.version;
            bytes = edit.bytes;
        }
    }
    if (!file) {
        return std::vector<std::string>{};
    }
    if (!bytes) {
        const ObjectId ids[] = {file->id};
        TRY_ASSIGN(const auto blobs, snapshots.readBlobs(ids, kMostBytes));
        bytes = blobs.front();
    }
    if (!bytes || bytes->size() > kMostBytes) {
        return unreadable("it is too large");
    }
    return sharedCommands(*bytes);
}

Result<std::vector<std::string>> wordsOf(const std::string& command)
{
    std::vector<std::string> words;
    std::string word;
    char quote = 0;
    bool isWord = false;
    bool isQuoted = false;
    std::string sign;
    const auto end = [&] {
        if (isWord && !isQuoted && sign.empty() && needsShell(word)) {
            sign = word;
        }
        if (isWord) {
            words.push_back(std::exchange(word, {}));
        }
        isWord = isQuoted = false;
    };
    for (std::size_t i = 0; i < command.size(); ++i) {
        const char c = command[i];
        if (quote != 0 && c == quote) {
            quote = 0;
        } else if (quote == 0 && (c == '"' || c == '\'')) {
            quote = c;
            isWord = isQuoted = true;
        } else if (c == '\\' && quote != '\'' && i + 1 < command.size()
                   && (quote == 0 || command[i + 1] == '"' || command[i + 1] == '\\')) {
            word += command[++i];
            isWord = true;
        } else if (quote == 0 && (c == ' ' || c == '\t')) {
            end();
        } else {
            word += c;
            isWord = true;
        }
    }
    end();
    if (quote != 0 || words.empty() || words.front().empty()) {
        return Error{ErrorCode::invalidInput, command, {}, Reason::commandUnclear};
    }
    if (sign.empty() && setsVariable(words.front())) {
        sign = words.front();
    }
    if (!sign.empty()) {
        return Error{ErrorCode::invalidInput, sign, command, Reason::needsShell};
    }
    return words;
}
}  // namespace rope
