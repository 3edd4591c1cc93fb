// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_trial.cpp.
#include "core/trial/output_links.h"

#include <algorithm>
#include <charconv>
#include <optional>

namespace rope {
namespace {
constexpr std::size_t kMostLine = 5'000;  // longer ones are data, not messages
constexpr std::string_view kNotInPath = " \t\"'`()[]{}<>,;=|";
constexpr std::string_view kWordLine = ", line ";

/// The digits at a place; nothing where there are none.
std::optional<std::size_t> numberAt(std::string_view line, std::size_t at, std::size_t& end)
{
    std::size_t number = 0;
    const char* const begin = line.data() + std::min(at, line.size());
    const auto [stop, error] = std::from_chars(begin, line.data() + line.size(), number);
    end = static_cast<std::size_t>(stop - line.data());
    return error == std::errc() && number > 0 && number < 100'000'000 ? std::optional(number)
                                                                      : std::nullopt;
}

/// The path as the result has it; empty where it has none.
RepoPath pathFrom(std::string_view text,
                  std::string_view folder,
                  const std::function<bool(const RepoPath&)>& isFile)
{
    if (text.size() > folder.size() + 1 && text.starts_with(folder) && text[folder.size()] == '/') {
        text.remove_prefix(folder.size() + 1);
    }
    while (text.starts_with("./")) {
        text.remove_prefix(2);
    }
    while (!text.empty()) {
        RepoPath path(text);
        if (isFile(path)) {
            return path;
        }
        const std::size_t slash = text.find('/');
        if (slash == std::string_view::npos) {
            return {};
        }
        text.remove_prefix(slash + 1);
    }
    return {};
}

/// Where a path that ends at `end` begins.
std::size_t beginOfPath(std::string_view line, std::size_t end)
{
    if (end > 0 && line[end - 1] == '"') {
        return end;
    }
    std::size_t begin = end;
    while (begin > 0 && kNotInPath.find(line[begin - 1]) == std::string_view::npos) {
        --begin;
    }
    return begin;
}
}  // namespace

std::vector<OutputLink> findOutputLinks(std::string_view line,
                                        std::string_view folder,
                                        const std::function<bool(const RepoPath&)>& isFile)
{
    std::vector<OutputLink> links;
    if (line.size() > kMostLine) {
        return links;
    }
    std::size_t after = 0;  // links do not overlap
    const auto add =
        [&](std::size_t begin, std::size_t pathEnd, std::size_t end, std::size_t number) {
            if (begin < after || begin >= pathEnd) {
                return;
            }
            RepoPath path = pathFrom(line.substr(begin, pathEnd - begin), folder, isFile);
            if (!path.empty()) {
                links.push_back({begin, end - begin, std::move(path), number});
                after = end;
            }
        };
    for (std::size_t i = 1; i < line.size(); ++i) {
        std::size_t end = 0;
        if (line[i] == ':' || line[i] == '(') {
            const auto number = numberAt(line, i + 1, end);
            const bool isClosed =
                line[i] == ':' || (end < line.size() && (line[end] == ')' || line[end] == ','));
            if (number && isClosed) {
                add(beginOfPath(line, i),
                    i,
                    line[i] == '(' && line[end] == ')' ? end + 1 : end,
                    *number);
            }
        } else if (line[i] == '"' && line.substr(i + 1).starts_with(kWordLine)) {
            const std::size_t open = line.rfind('"', i - 1);
            const auto number = numberAt(line, i + 1 + kWordLine.size(), end);
            if (number && open != std::string_view::npos) {
                add(open + 1, i, end, *number);
            }
        }
    }
    return links;
}
}  // namespace rope
