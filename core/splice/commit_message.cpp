// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice.cpp.
#include "core/splice/commit_message.h"

#include <map>

namespace rope {
namespace {
std::string choiceInWords(const std::string& choice)
{
    static const std::map<std::string, std::string> kWords{
        {"word-splice", "word splice"},
        {"ours-theirs", "ours then theirs"},
        {"theirs-ours", "theirs then ours"},
        {"union", "lines of both"},
        {"line-splice", "line splice"},
        {"blind-splice", "line splice"},
        {"rewrite", "splice with new names"},
        {"moved-edit", "theirs with our edit"},
        {"list", "both as one list"},
        {"greater", "the greater value"},
        {"neither", "neither"},
        {std::string(kOwnText), "by hand"},
        {"keep-both", "both kept"},
        {"aside", "kept under a second name"},
        {"follow", "moved with its folder"},
        {"follow-other", "moved with its folder"},
        {"stay", "left in its place"}};
    const auto found = kWords.find(choice);
    return found == kWords.end() ? choice : found->second;
}

std::string decisionsOf(const SpliceFile& file)
{
    std::map<std::string, int> counts;
    if (file.outcome->question && file.answer.isDecided) {
        ++counts[choiceInWords(file.answer.choice)];
    }
    for (std::size_t region = 0; region < file.outcome->regionCount(); ++region) {
        const SlotState& state = file.text->state(file.text->slotOfRegion(region));
        if (state.isDecided) {
            ++counts[choiceInWords(state.choice)];
        }
    }
    std::string words;
    for (const auto& [choice, count] : counts) {
        words += (words.empty() ? "" : ", ") + choice
                 + (count > 1 ? " (" + std::to_string(count) + ")" : "");
    }
    return words;
}
}  // namespace

std::string proposedMessage(const Splice& splice)
{
    std::string message =
        "Merge " + splice.plan().theirsName + " into " + splice.plan().oursName + "\n";
    std::string decided;
    for (const SpliceFile& file : splice.files()) {
        const std::string words = decisionsOf(file);
        if (!words.empty()) {
            decided += "  " + file.outcome->path + ": " + words + "\n";
        }
    }
    return decided.empty() ? message : message + "\nDecided while joining:\n" + decided;
}

std::string tidiedMessage(const std::string& message)
{
    std::string tidy;
    bool hasGap = false;
    for (std::string_view line : splitLines(message)) {
        const std::size_t last = line.find_last_not_of(" \t\r\n");
        if (last == std::string_view::npos) {
            hasGap = true;
            continue;
        }
        if (hasGap && !tidy.empty()) {
            tidy += '\n';
        }
        hasGap = false;
        tidy.append(line.substr(0, last + 1)).append(1, '\n');
    }
    return tidy;
}
}  // namespace rope
