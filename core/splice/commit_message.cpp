// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice.cpp.
#include "core/splice/commit_message.h"

#include <map>

namespace rope {
namespace {
/// What was chosen, in words for whoever reads the message next year: people's branches by name.
std::string choiceInWords(const std::string& choice, const SplicePlan& plan)
{
    if (choice == nameOf(CandidateKind::ours)) {
        return "as in " + plan.oursName;
    }
    if (choice == nameOf(CandidateKind::theirs)) {
        return "as in " + plan.theirsName;
    }
    if (choice == nameOf(CandidateKind::base)) {
        return "as before both";
    }
    if (choice == nameOf(CandidateKind::oursTheirs)) {
        return plan.oursName + ", then " + plan.theirsName;
    }
    if (choice == nameOf(CandidateKind::theirsOurs)) {
        return plan.theirsName + ", then " + plan.oursName;
    }
    if (const auto kind = candidateKindNamed(choice)) {
        std::string words = labelInEnglish(*kind);
        words.front() = static_cast<char>(words.front() - 'A' + 'a');
        return words;
    }
    static const std::map<std::string, std::string> kAnswers{
        {std::string(kOwnText), "by hand"},
        {"keep-both", "both kept"},
        {"aside", "kept under a second name"},
        {"follow", "moved with its folder"},
        {"follow-other", "moved with its folder"},
        {"stay", "left in its place"}};
    const auto found = kAnswers.find(choice);
    return found == kAnswers.end() ? choice : found->second;
}

/// A path in one line, so that it cannot be taken for lines of the message.
std::string inOneLine(const RepoPath& path)
{
    std::string line = path;
    for (char& c : line) {
        c = c == '\n' || c == '\r' ? '?' : c;
    }
    return line;
}

/// One line for each region and question of a file, in the file's order.
std::string decisionsOf(const SpliceFile& file, const SplicePlan& plan)
{
    const std::string path = "  " + inOneLine(file.outcome->path);
    std::string lines;
    if (file.outcome->question && file.answer.isDecided) {
        lines += path + ": " + choiceInWords(file.answer.choice, plan) + "\n";
    }
    LineNumber line = 1;
    for (std::size_t slot = 0; file.text && slot < file.text->slotCount(); ++slot) {
        const auto count = static_cast<LineNumber>(splitLines(file.text->text(slot)).size());
        if (file.text->isRegion(slot) && file.text->state(slot).isDecided) {
            lines += path + ":" + std::to_string(line)
                     + (count > 1 ? "-" + std::to_string(line + count - 1) : std::string()) + ": "
                     + choiceInWords(file.text->state(slot).choice, plan) + "\n";
        }
        line += count;
    }
    return lines;
}
}  // namespace

std::string proposedMessage(const Splice& splice)
{
    std::string message =
        "Merge " + splice.plan().theirsName + " into " + splice.plan().oursName + "\n";
    std::string decided;
    for (const SpliceFile& file : splice.files()) {
        decided += decisionsOf(file, splice.plan());
    }
    return decided.empty() ? message : message + "\nDecided while joining:\n" + decided;
}
}  // namespace rope
