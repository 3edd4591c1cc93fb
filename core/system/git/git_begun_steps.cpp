// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_begun_rebase.cpp.
#include "core/system/git/git_begun_steps.h"

#include "core/system/git/git_errors.h"
#include "core/text/text.h"

#include <QFile>
#include <QFileInfo>

#include <algorithm>
#include <array>
#include <charconv>
#include <filesystem>

namespace rope {
namespace {
constexpr qint64 kMostTodoBytes = 2'000'000;
constexpr int kMostPatches = 10'000;

/// Reads files of a folder, and remembers what it has read.
class StateFolder
{
public:
    StateFolder(std::string folder, std::string& raw)
        : m_folder(std::move(folder))
        , m_raw(raw)
    {
    }
    [[nodiscard]] bool has(const char* name) const
    {
        return QFileInfo::exists(QString::fromStdString(m_folder + "/" + name));
    }
    [[nodiscard]] std::string read(const std::string& name) const
    {
        QFile file(QString::fromStdString(m_folder + "/" + name));
        std::string bytes = file.open(QIODevice::ReadOnly) ? file.read(kMostTodoBytes).toStdString()
                                                           : std::string();
        m_raw.append(name).append(1, '\0').append(bytes).append(1, '\0');
        return bytes;
    }
    [[nodiscard]] std::string line(const std::string& name) const
    {
        return withoutNewline(read(name));
    }

private:
    std::string m_folder;
    std::string& m_raw;
};

/// The words of a line, at most `most`; the last one holds the rest.
std::vector<std::string> wordsOf(std::string_view line, std::size_t most)
{
    std::vector<std::string> words;
    while (words.size() < most) {
        const std::size_t begin = line.find_first_not_of(" \t\r\n");
        if (begin == std::string_view::npos) {
            break;
        }
        line.remove_prefix(begin);
        const std::size_t end = std::min(line.find_first_of(" \t\r\n"), line.size());
        words.emplace_back(line.substr(0, end));
        line.remove_prefix(end);
    }
    return words;
}

/// Reads a list of steps; `step` is the one that lays a commit.
void readSteps(const std::string& list, std::string_view step, BegunSteps& steps)
{
    for (const std::string_view line : splitLines(list)) {
        const auto words = wordsOf(line, 2);
        if (words.empty() || words.front().starts_with('#') || words.front() == "noop"
            || words.front() == "drop" || words.front() == "d") {
            continue;
        }
        const bool isStep =
            words.size() == 2 && (words.front() == step || words.front() == step.substr(0, 1));
        if (isStep) {
            steps.next.push_back(words[1]);
        } else {
            steps.hasOtherSteps = true;
        }
    }
}

void readRewritten(const std::string& list, BegunSteps& steps)
{
    for (const std::string_view line : splitLines(list)) {
        const auto words = wordsOf(line, 2);
        const auto before = words.size() == 2 ? ObjectId::fromHex(words[0]) : std::nullopt;
        const auto after = words.size() == 2 ? ObjectId::fromHex(words[1]) : std::nullopt;
        if (before && after) {
            steps.rewritten.push_back({*before, *after});
        }
    }
}

BegunSteps rebaseOfMergeBackend(const std::string& folder)
{
    BegunSteps steps;
    const StateFolder state(folder, steps.raw);
    steps.line = state.line("head-name");
    steps.lineTip = state.line("orig-head");
    steps.onto = state.line("onto");
    steps.stopped = state.line("stopped-sha");
    readSteps(state.read("git-rebase-todo"), "pick", steps);
    readRewritten(state.read("rewritten-list"), steps);
    steps.keepsOwnWork = state.has("autostash");
    for (const char* name : {"amend",
                             "current-fixups",
                             "squash_onto",
                             "signoff",
                             "ignore_date",
                             "cdate_is_adate",
                             "strategy"}) {
        steps.hasOtherSteps = steps.hasOtherSteps || state.has(name);
    }
    return steps;
}

int numberIn(const std::string& text)
{
    int number = 0;
    (void)std::from_chars(text.data(), text.data() + text.size(), number);
    return number;
}

/// The commit that a patch was made of: its first line is "From <id> <a fixed date>".
std::string commitOfPatch(const StateFolder& state, int number)
{
    std::string name = std::to_string(number);
    name.insert(0, name.size() < 4 ? 4 - name.size() : 0, '0');
    const std::string patch = state.read(name);
    const auto words = wordsOf(patch.substr(0, patch.find('\n')), 2);
    return words.size() == 2 && words.front() == "From" ? words[1] : std::string();
}

BegunSteps rebaseOfApplyBackend(const std::string& folder)
{
    BegunSteps steps;
    const StateFolder state(folder, steps.raw);
    steps.line = state.line("head-name");
    steps.lineTip = state.line("orig-head");
    steps.onto = state.line("onto");
    steps.keepsOwnWork = state.has("autostash");
    steps.hasOtherSteps = !state.has("rebasing") || state.line("sign") == "t";
    const int first = numberIn(state.line("next"));
    const int last = std::min(numberIn(state.line("last")), kMostPatches);
    for (int number = first; number > 0 && number <= last; ++number) {
        const std::string commit = commitOfPatch(state, number);
        steps.hasOtherSteps = steps.hasOtherSteps || commit.empty();
        if (number == first) {
            steps.stopped = commit;
        } else {
            steps.next.push_back(commit);
        }
    }
    readRewritten(state.read("rewritten"), steps);
    return steps;
}

/// Whether an option of a sequence makes its commits other than they would be.
bool changesCommits(const std::string& options)
{
    constexpr std::array kHarmless{"edit", "allow-ff", "allow-rerere-auto", "default-msg-cleanup"};
    const auto lines = splitLines(options);
    return std::any_of(lines.begin(), lines.end(), [&](std::string_view line) {
        const bool isOption = line.find('=') != std::string_view::npos;
        const auto words = wordsOf(line, 2);
        return isOption
               && std::find(kHarmless.begin(), kHarmless.end(), words.front()) == kHarmless.end();
    });
}
}  // namespace

BegunSteps begunRebase(const std::string& gitFolder)
{
    const std::string merging = gitFolder + "/rebase-merge";
    BegunSteps steps = QFileInfo::exists(QString::fromStdString(merging))
                           ? rebaseOfMergeBackend(merging)
                           : rebaseOfApplyBackend(gitFolder + "/rebase-apply");
    if (!steps.line.starts_with("refs/")) {
        steps.line.clear();  // "detached HEAD"
    }
    return steps;
}

BegunSteps begunSequence(const std::string& gitFolder, const std::string& head)
{
    BegunSteps steps;
    const StateFolder state(gitFolder, steps.raw);
    steps.stopped = state.line(head);
    const bool reverts = head == "REVERT_HEAD";
    readSteps(state.read("sequencer/todo"), reverts ? "revert" : "pick", steps);
    // The list begins with the one it has stopped at.
    if (!steps.next.empty()
        && (steps.stopped.starts_with(steps.next.front())
            || steps.next.front().starts_with(steps.stopped))) {
        steps.next.erase(steps.next.begin());
    }
    const std::string options = state.read("sequencer/opts");
    steps.hasOtherSteps = steps.hasOtherSteps || options.find("no-commit") != std::string::npos
                          || (!steps.next.empty() && changesCommits(options));
    return steps;
}

Status forgetBegunSteps(const std::string& gitFolder)
{
    namespace fs = std::filesystem;
    std::error_code error;
    // git looks at these folders to say what is under way: each goes in one step, then what it held.
    for (const char* name : {"rebase-merge", "rebase-apply", "sequencer"}) {
        const std::string folder = gitFolder + "/" + name;
        const std::string ended = gitFolder + "/rope-splice/ended-" + name;
        if (fs::exists(folder, error)) {
            fs::remove_all(ended, error);
            fs::create_directories(gitFolder + "/rope-splice", error);
            fs::rename(folder, ended, error);
            if (error) {
                return Error{ErrorCode::io, folder, error.message()};
            }
            fs::remove_all(ended, error);
        }
    }
    for (const char* name : {"REBASE_HEAD", "CHERRY_PICK_HEAD", "REVERT_HEAD"}) {
        fs::remove(gitFolder + "/" + name, error);
        if (error) {
            return Error{ErrorCode::io, gitFolder + "/" + name, error.message()};
        }
    }
    return ok();
}
}  // namespace rope
