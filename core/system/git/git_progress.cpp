// SPDX-License-Identifier: GPL-3.0-or-later
// Progress is what git writes for people: "TITLE: NN% (done/total), more" or "TITLE: done", each line
// ended by a carriage return until the last one (git's progress.c). A remote's comes after "remote: ".
// Tested by tst_git_progress.cpp.
#include "core/system/git/git_progress.h"

#include <charconv>
#include <memory>

namespace rope {
namespace {
constexpr std::string_view kRemote = "remote: ";
constexpr std::string_view kLineEnds = "\r\n";

std::optional<std::uint64_t> numberAt(std::string_view& text)
{
    std::uint64_t number = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), number);
    if (error != std::errc()) {
        return std::nullopt;
    }
    text.remove_prefix(static_cast<std::size_t>(end - text.data()));
    return number;
}

bool skip(std::string_view& text, std::string_view prefix)
{
    if (!text.starts_with(prefix)) {
        return false;
    }
    text.remove_prefix(prefix.size());
    return true;
}

/// Calls `take` with each line that has ended, and gives what is left.
template <typename Take>
std::string_view forEachLine(std::string_view text, const Take& take)
{
    for (std::size_t end = text.find_first_of(kLineEnds); end != std::string_view::npos;
         end = text.find_first_of(kLineEnds)) {
        take(text.substr(0, end));
        text.remove_prefix(end + 1);
    }
    return text;
}
}  // namespace

std::optional<Progress> progressIn(std::string_view line)
{
    (void)skip(line, kRemote);
    const std::size_t colon = line.find(": ");
    if (colon == std::string_view::npos || colon == 0) {
        return std::nullopt;
    }
    Progress progress{ProgressStep::remoteWorks, std::string(line.substr(0, colon)), 0, 0};
    line.remove_prefix(colon + 1);
    line.remove_prefix(std::min(line.find_first_not_of(' '), line.size()));
    const auto first = numberAt(line);
    if (!first) {
        return std::nullopt;
    }
    if (!skip(line, "% (")) {
        const bool isCount = line.empty() || line.starts_with(", ") || line.starts_with(' ');
        progress.done = *first;
        return isCount ? std::optional(progress) : std::nullopt;
    }
    const auto done = numberAt(line);
    if (!done || !skip(line, "/")) {
        return std::nullopt;
    }
    const auto total = numberAt(line);
    if (!total || !skip(line, ")")) {
        return std::nullopt;
    }
    progress.done = *done;
    progress.total = *total;
    return progress;
}

std::function<void(std::string_view)> progressLinesTo(const ProgressSink& progress)
{
    if (!progress) {
        return {};
    }
    return [progress, begun = std::make_shared<std::string>()](std::string_view text) {
        constexpr std::size_t kLongestLine = 4000;  // a longer one is no progress
        *begun += text;
        std::optional<Progress> last;  // of many that come together, one is enough to show
        *begun = std::string(forEachLine(*begun, [&last](std::string_view line) {
            if (auto said = progressIn(line)) {
                last = std::move(said);
            }
        }));
        if (begun->size() > kLongestLine) {
            begun->clear();
        }
        if (last) {
            progress(*last);
        }
    };
}

std::string withoutProgress(std::string_view errorText)
{
    std::string said;
    const auto take = [&said](std::string_view line) {
        // Some remotes wipe what stood in the line before: "\x1b[K", or blanks.
        if (!line.empty() && !progressIn(line) && line != kRemote && line != "remote:") {
            said.append(line).append(1, '\n');
        }
    };
    take(forEachLine(errorText, take));
    return said;
}
}  // namespace rope
