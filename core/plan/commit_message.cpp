// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice.cpp.
#include "core/plan/commit_message.h"

#include <algorithm>
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

/// "12" or "12-15".
std::string linesInWords(LineNumber first, LineNumber count)
{
    return std::to_string(first)
           + (count > 1 ? "-" + std::to_string(first + count - 1) : std::string());
}

/// Some lines of a file, and what was made of them.
struct DecidedLines
{
    std::string lines;
    std::string choice;
};

/// What was edited in a stretch that had joined by itself. `first`: its first line in the file.
DecidedLines editedLines(std::string_view joined, std::string_view now, LineNumber first)
{
    const auto before = splitLines(joined);
    const auto after = splitLines(now);
    const auto [own, other] =
        std::mismatch(after.begin(), after.end(), before.begin(), before.end());
    auto ownEnd = after.end();
    auto otherEnd = before.end();
    while (ownEnd != own && otherEnd != other && *std::prev(ownEnd) == *std::prev(otherEnd)) {
        --ownEnd;
        --otherEnd;
    }
    return {linesInWords(first + static_cast<LineNumber>(own - after.begin()),
                         static_cast<LineNumber>(ownEnd - own)),
            ownEnd == own ? "lines taken out" : "edited besides"};
}

/// Tells what a person made of the slots of one file.
class FileInWords
{
public:
    /// `corrected`: what is as it was in what is corrected is not told.
    FileInWords(const SpliceFile& file,
                const SplicePlan& plan,
                const std::vector<Decision>& corrected)
        : m_file(file)
        , m_plan(plan)
        , m_corrected(corrected)
    {
    }

    /// A few places each in a line, many as counts by what was chosen.
    [[nodiscard]] std::string lines() const
    {
        constexpr std::size_t kMostInLines = 6;
        const std::string path = "  " + inOneLine(m_file.outcome->path);
        std::string lines;
        if (m_file.outcome->question && m_file.answer.isDecided
            && !isAsBefore(std::string(kQuestionSlot), m_file.answer)) {
            lines += path + ": " + choiceInWords(m_file.answer.choice, m_plan) + "\n";
        }
        const auto places = decidedLines();
        if (places.size() <= kMostInLines) {
            for (const DecidedLines& place : places) {
                lines += path + ":" + place.lines + ": " + place.choice + "\n";
            }
            return lines;
        }
        std::map<std::string, std::size_t> counts;
        for (const DecidedLines& place : places) {
            ++counts[place.choice];
        }
        std::string words;
        for (const auto& [choice, count] : counts) {
            words += (words.empty() ? "" : ", ") + std::to_string(count) + " " + choice;
        }
        return lines + path + ": " + std::to_string(places.size()) + " regions: " + words + "\n";
    }

private:
    [[nodiscard]] bool isAsBefore(const std::string& slot, const SlotState& state) const
    {
        return std::any_of(m_corrected.begin(), m_corrected.end(), [&](const Decision& before) {
            return before.leg == m_file.leg && before.slot == slot
                   && before.path == m_file.outcome->path && before.state == state;
        });
    }

    [[nodiscard]] std::vector<DecidedLines> decidedLines() const
    {
        std::vector<DecidedLines> decided;
        LineNumber line = 1;
        for (std::size_t slot = 0; m_file.text && slot < m_file.text->slotCount(); ++slot) {
            const SplicedText& text = *m_file.text;
            const auto count = static_cast<LineNumber>(splitLines(text.text(slot)).size());
            const SlotState& state = text.state(slot);
            const bool isEdited =
                !text.isRegion(slot) && state.text && *state.text != text.joinedText(slot);
            const bool isTold = (text.isRegion(slot) && state.isDecided) || isEdited;
            if (isTold && !isAsBefore(text.key(slot), state)) {
                decided.push_back(isEdited ? editedLines(text.joinedText(slot), *state.text, line)
                                           : DecidedLines{linesInWords(line, count),
                                                          choiceInWords(state.choice, m_plan)});
            }
            line += count;
        }
        return decided;
    }

    const SpliceFile& m_file;
    const SplicePlan& m_plan;
    const std::vector<Decision>& m_corrected;
};

std::string allDecisions(const Splice& splice, const std::vector<Decision>& corrected)
{
    constexpr std::size_t kMostFiles = 30;
    std::string decided;
    std::size_t files = 0;
    std::size_t more = 0;
    for (const SpliceFile& file : splice.files()) {
        const bool isOfCommit =
            file.leg == 0 || (splice.plan().isCorrection() && file.leg < splice.workLeg());
        if (!isOfCommit) {
            continue;
        }
        const std::string lines = FileInWords(file, splice.plan(), corrected).lines();
        if (!lines.empty() && files < kMostFiles) {
            decided += lines;
            ++files;
        } else if (!lines.empty()) {
            ++more;
        }
    }
    return more == 0 ? decided
                     : decided + "  and in " + std::to_string(more)
                           + (more == 1 ? " more file\n" : " more files\n");
}

/// As git-fmt-merge-msg(1) lays it out where merge.log is set.
std::string listedSubjects(const Splice& splice, const MessageParts& parts)
{
    std::string list;
    const std::size_t most = parts.conventions.mostListed;
    for (std::size_t i = 0; i < std::min(most, parts.joinedSubjects.size()); ++i) {
        list += "  " + inOneLine(parts.joinedSubjects[i]) + "\n";
    }
    if (list.empty()) {
        return {};
    }
    const bool isCut = splice.forecast().divergence.theirsOnly.size() > most;
    return "\n* " + splice.plan().theirsName + ":\n" + list + (isCut ? "  ...\n" : "");
}

/// What is made, and of what.
std::string beginningOf(const Splice& splice)
{
    const SplicePlan& plan = splice.plan();
    const std::string join = plan.theirsName + " into " + plan.oursName;
    switch (plan.kind) {
    case SpliceKind::correction:
        return "Correct the merge of " + join + "\n\nIt was recorded as " + plan.replaced.hex()
               + ".\n";
    case SpliceKind::rebaseCorrection:
        return "Correct the rebase of " + plan.oursName + " onto " + plan.theirsName
               + "\n\nIts last commit is " + plan.replaced.hex() + ".\n";
    case SpliceKind::revert:
        if (splice.forecast().base->parents.size() == 1) {
            return revertMessage(*splice.forecast().base);
        }
        return "Revert \"" + splice.forecast().base->subject() + "\"\n\nThis reverts what "
               + plan.theirs.hex() + " brought in.\nMerging " + plan.theirsName
               + " again does not bring it back by itself.\n";
    default:
        return "Merge " + join + "\n";
    }
}
}  // namespace

std::string revertMessage(const Commit& reverted)
{
    return "Revert \"" + reverted.subject() + "\"\n\nThis reverts commit " + reverted.id.hex()
           + ".\n";
}

std::string proposedMessage(const Splice& splice, const MessageParts& parts)
{
    if (splice.plan().kind == SpliceKind::pick) {
        return splice.forecast().theirs.message;  // it is that commit, made anew
    }
    std::string message = beginningOf(splice);
    if (const std::string decided = allDecisions(splice, parts.corrected); !decided.empty()) {
        message += (splice.plan().isCorrection() ? "\nDecisions that changed:\n"
                                                 : "\nConflicts resolved:\n")
                   + decided;
    }
    message += listedSubjects(splice, parts);
    if (!parts.conventions.beginning.empty()) {
        message += "\n" + parts.conventions.beginning;
        message += message.back() == '\n' ? "" : "\n";
    }
    if (parts.signedOffBy) {
        message +=
            "\nSigned-off-by: " + parts.signedOffBy->name + " <" + parts.signedOffBy->email + ">\n";
    }
    return message;
}
}  // namespace rope
