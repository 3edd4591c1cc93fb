// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_together.cpp.
#include "core/decide/together.h"

#include <unordered_map>

namespace rope {
namespace {
CandidateKind kindFor(TogetherChoice choice)
{
    switch (choice) {
    case TogetherChoice::theirs:
        return CandidateKind::theirs;
    case TogetherChoice::oursTheirs:
        return CandidateKind::oursTheirs;
    case TogetherChoice::theirsOurs:
        return CandidateKind::theirsOurs;
    case TogetherChoice::ours:
    case TogetherChoice::leaveOpen:
        break;
    }
    return CandidateKind::ours;
}

RegionTexts textsAt(const SpliceFile& file, std::size_t slot)
{
    return file.text->join().regionTexts(file.text->regionOf(slot));
}

/// What the choice makes of one place; nothing where it means nothing.
std::optional<SlotState> stateFor(const SpliceFile& file, std::size_t slot, TogetherChoice choice)
{
    // What was put there by hand stays known, whatever is answered.
    const auto kept = slot == SlotPlace::kQuestion ? file.answer.text : std::nullopt;
    if (choice == TogetherChoice::leaveOpen) {
        return SlotState{false, {}, kept};
    }
    if (slot != SlotPlace::kQuestion) {
        const CandidateKind kind = kindFor(choice);
        auto text = candidateText(kind, textsAt(file, slot));
        return text ? std::optional(SlotState{true, std::string(nameOf(kind)), std::move(text)})
                    : std::nullopt;
    }
    if (choice != TogetherChoice::ours && choice != TogetherChoice::theirs) {
        return std::nullopt;
    }
    const FileChoice side = choice == TogetherChoice::ours ? FileChoice::ours : FileChoice::theirs;
    return SlotState{true, std::string(nameOf(file.outcome->question->choiceFor(side))), kept};
}

/// How many of the lines that a side added to the base are not in a text.
std::size_t
addedLinesMissing(std::string_view base, std::string_view side, std::string_view outcome)
{
    std::unordered_map<std::string_view, int> there;
    for (const std::string_view text : {base, outcome}) {
        for (const std::string_view line : splitLines(text)) {
            ++there[line];
        }
    }
    std::size_t missing = 0;
    for (const std::string_view line : splitLines(side)) {
        missing += there[line]-- <= 0 ? 1U : 0U;
    }
    return missing;
}
}  // namespace

std::vector<SlotPlace> openPlacesOf(const DecidedJoin& decided, std::size_t file)
{
    std::vector<SlotPlace> places;
    const SpliceFile& work = decided.files()[file];
    if (work.outcome->question && !work.answer.isDecided) {
        places.push_back({file, SlotPlace::kQuestion});
    }
    for (std::size_t slot = 0; work.text && slot < work.text->slotCount(); ++slot) {
        if (work.text->isOpen(slot)) {
            places.push_back({file, slot});
        }
    }
    return places;
}

std::vector<SlotChange> changesTogether(const DecidedJoin& decided,
                                        const std::vector<SlotPlace>& places,
                                        TogetherChoice choice)
{
    std::vector<SlotChange> changes;
    for (const SlotPlace place : places) {
        if (auto state = stateFor(decided.files()[place.file], place.slot, choice)) {
            changes.push_back({place, std::move(*state)});
        }
    }
    return changes;
}

TogetherLoss lossTogether(const DecidedJoin& decided,
                          const std::vector<SlotPlace>& places,
                          TogetherChoice choice)
{
    TogetherLoss loss;
    for (const SlotPlace place : places) {
        const SpliceFile& file = decided.files()[place.file];
        const auto state = stateFor(file, place.slot, choice);
        if (!state) {
            ++loss.leftOut;
            continue;
        }
        if (place.slot == SlotPlace::kQuestion) {
            const bool isGone = state->isDecided
                                && file.outcome->placements(fileChoiceNamed(state->choice)).empty();
            loss.filesGone += isGone ? 1U : 0U;
            continue;
        }
        loss.handTexts += file.text->isEditedByHand(place.slot) ? 1U : 0U;
        if (state->isDecided) {
            const RegionTexts texts = textsAt(file, place.slot);
            loss.oursLines += addedLinesMissing(texts.base, texts.ours, *state->text);
            loss.theirsLines += addedLinesMissing(texts.base, texts.theirs, *state->text);
        }
    }
    return loss;
}
}  // namespace rope
