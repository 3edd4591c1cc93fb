// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_logbook_round.cpp.
#include "desktop/course/logged_decisions.h"

#include "core/merge/candidates.h"
#include "core/text/text.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

namespace rope {
namespace {
/// A choice as it begins a line.
QString heading(std::string_view choice)
{
    QString label = labelOfChoice(std::string(choice));
    if (!label.isEmpty()) {
        label[0] = label[0].toUpper();
    }
    return label;
}

/// What had been offered for a region and was not taken.
std::vector<OfferedThen> othersOf(const SplicedText& text, std::size_t slot)
{
    std::vector<OfferedThen> others;
    for (const Candidate& candidate : candidatesFor(
             text.join().regionTexts(text.regionOf(slot)), text.habits(), text.earlierText(slot))) {
        const bool isTaken = !text.isOpen(slot) && candidate.text == text.text(slot);
        if (!isTaken) {
            others.push_back(
                {heading(nameOf(candidate.kind)), consequencesInWords(candidate.consequences)});
        }
    }
    return others;
}

LoggedDecision decisionOf(const SpliceFile& file, std::size_t slot, int firstLine)
{
    constexpr std::size_t kMostShownLines = 60;
    LoggedDecision decision;
    decision.path = file.outcome->path;
    decision.line = firstLine + 1;
    const SlotState& state = file.text->state(slot);
    decision.isByHand = state.choice == kOwnText || file.text->isEditedByHand(slot);
    const QString choice = labelOfChoice(state.choice).toLower();
    decision.choice = !file.text->isRegion(slot) ? tr("written by hand")
                      : !state.isDecided         ? QString()
                      : decision.isByHand && state.choice != kOwnText
                          ? tr("%1, by hand").arg(choice)
                          : choice;
    decision.origins = file.text->origins(slot);
    for (const std::string_view line : splitLines(file.text->text(slot))) {
        if (decision.lines.size() == kMostShownLines) {
            break;
        }
        decision.lines.push_back(shown(std::string(withoutLineEnd(line))));
    }
    return decision;
}

}  // namespace

void addDecisionsOf(const SpliceFile& file, const DecisionContext& context, LoggedDetails& details)
{
    const auto reasonAt = [&context](std::size_t slot) {
        return context.reasonAt ? shown(context.reasonAt(slot)) : QString();
    };
    if (file.outcome->question) {
        LoggedDecision decision;
        decision.path = file.outcome->path;
        decision.commit = context.commit;
        decision.choice =
            file.answer.isDecided ? labelOfChoice(file.answer.choice).toLower() : QString();
        decision.reason = reasonAt(SlotPlace::kQuestion);
        for (const Answer& answer : file.outcome->question->answers) {
            if (nameOf(answer.choice) != file.answer.choice) {
                decision.others.push_back({heading(nameOf(answer.choice)), QString()});
            }
        }
        details.decisions.push_back(std::move(decision));
    }
    int line = 0;
    for (std::size_t slot = 0; file.text && slot < file.text->slotCount(); ++slot) {
        if (file.text->isRegion(slot) || file.text->state(slot).text) {
            LoggedDecision decision = decisionOf(file, slot, line);
            decision.commit = context.commit;
            if (file.text->isRegion(slot)) {
                decision.others = othersOf(*file.text, slot);
                decision.reason = reasonAt(slot);
            }
            details.decisions.push_back(std::move(decision));
        }
        line += static_cast<int>(splitLines(file.text->text(slot)).size());
    }
}
}  // namespace rope
