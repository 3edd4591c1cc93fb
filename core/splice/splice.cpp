// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice.cpp.
#include "core/splice/splice.h"

#include <algorithm>
#include <numeric>

namespace rope {
namespace {
/// Whether a file is worked on at all: something is open in it, or its text was joined from both.
bool belongsToWork(const FileOutcome& outcome)
{
    return outcome.needsDecision() || outcome.text;
}
}  // namespace

std::size_t SpliceFile::openCount() const
{
    return (text ? text->openCount() : 0) + (outcome->question && !answer.isDecided ? 1 : 0);
}

std::size_t SpliceFile::decidedCount() const
{
    return outcome->regionCount() + (outcome->question ? 1 : 0) - openCount();
}

Splice::Splice(SplicePlan plan, const std::shared_ptr<const Forecast>& forecast)
    : Splice(std::move(plan), forecast, {Leg(forecast, &forecast->join)})
{
}

Splice::Splice(SplicePlan plan, std::shared_ptr<const Forecast> forecast, std::vector<Leg> legs)
    : m_plan(std::move(plan))
    , m_forecast(std::move(forecast))
    , m_legs(std::move(legs))
{
    ROPE_ASSERT(!m_legs.empty(), "a splice without a leg");
    for (std::size_t leg = 0; leg < m_legs.size(); ++leg) {
        for (const FileOutcome& outcome : m_legs[leg]->files) {
            if (belongsToWork(outcome)) {
                SpliceFile file;
                file.leg = leg;
                file.outcome = &outcome;
                if (outcome.text) {
                    file.text = std::make_unique<SplicedText>(outcome.text);
                }
                m_files.push_back(std::move(file));
            }
        }
    }
}

const SlotState& Splice::state(SlotPlace place) const
{
    const SpliceFile& file = m_files[place.file];
    return place.slot == SlotPlace::kQuestion ? file.answer : file.text->state(place.slot);
}

std::size_t Splice::openCount() const
{
    return std::accumulate(
        m_files.begin(),
        m_files.end(),
        std::size_t{0},
        [](std::size_t sum, const SpliceFile& file) { return sum + file.openCount(); });
}

std::size_t Splice::decidedCount() const
{
    return std::accumulate(
        m_files.begin(),
        m_files.end(),
        std::size_t{0},
        [](std::size_t sum, const SpliceFile& file) { return sum + file.decidedCount(); });
}

void Splice::put(const std::vector<SlotChange>& changes)
{
    for (const SlotChange& change : changes) {
        SpliceFile& file = m_files[change.place.file];
        if (change.place.slot == SlotPlace::kQuestion) {
            file.answer = change.state;
        } else {
            file.text->setState(change.place.slot, change.state);
        }
    }
}

Decision Splice::decisionAt(const SlotChange& change) const
{
    const SpliceFile& file = m_files[change.place.file];
    if (change.place.slot == SlotPlace::kQuestion) {
        return {file.outcome->path, std::string(kQuestionSlot), change.state, file.leg, {}};
    }
    return {file.outcome->path,
            file.text->key(change.place.slot),
            change.state,
            file.leg,
            change.state.text ? std::string(file.text->joinedText(change.place.slot))
                              : std::string()};
}

void Splice::apply(const std::vector<SlotChange>& changes)
{
    if (m_sink) {
        std::vector<Decision> decisions;
        std::transform(changes.begin(),
                       changes.end(),
                       std::back_inserter(decisions),
                       [this](const SlotChange& c) { return decisionAt(c); });
        m_sink(decisions);
    }
    put(changes);
}

std::vector<Decision> Splice::decisions() const
{
    std::vector<Decision> decisions;
    const auto add = [&](SlotPlace place) {
        if (state(place) != SlotState{}) {
            decisions.push_back(decisionAt({place, state(place)}));
        }
    };
    for (std::size_t file = 0; file < m_files.size(); ++file) {
        add({file, SlotPlace::kQuestion});
        const std::size_t slots = m_files[file].text ? m_files[file].text->slotCount() : 0;
        for (std::size_t slot = 0; slot < slots; ++slot) {
            add({file, slot});
        }
    }
    return decisions;
}

void Splice::change(std::vector<SlotChange> changes, bool typing)
{
    std::erase_if(changes, [this](const SlotChange& c) { return state(c.place) == c.state; });
    if (changes.empty() || m_isFrozen) {
        return;
    }
    Step step;
    step.isTyping = typing;
    for (const SlotChange& change : changes) {
        step.before.push_back({change.place, state(change.place)});
    }
    step.after = std::move(changes);
    apply(step.after);
    m_steps.resize(m_position);
    const bool continues = typing && m_isTyping && !m_steps.empty() && m_steps.back().isTyping
                           && m_steps.back().after.size() == 1 && step.after.size() == 1
                           && m_steps.back().after[0].place == step.after[0].place;
    if (continues) {
        m_steps.back().after = std::move(step.after);
    } else {
        m_steps.push_back(std::move(step));
    }
    m_position = m_steps.size();
    m_isTyping = typing;
}

void Splice::takeCandidate(SlotPlace place, const Candidate& candidate)
{
    change({{place, {true, std::string(nameOf(candidate.kind)), candidate.text}}});
}

void Splice::answer(std::size_t file, FileChoice choice)
{
    change({{{file, SlotPlace::kQuestion}, {true, std::string(nameOf(choice)), std::nullopt}}});
}

void Splice::reopen(SlotPlace place)
{
    change({{place, {}}});
}

void Splice::decideAllOpen(std::size_t file, FileChoice side)
{
    std::vector<SlotChange> changes;
    const SpliceFile& work = m_files[file];
    const std::string name(nameOf(side));
    if (work.outcome->question && !work.answer.isDecided) {
        const std::string answer(nameOf(work.outcome->question->choiceFor(side)));
        changes.push_back({{file, SlotPlace::kQuestion}, {true, answer, std::nullopt}});
    }
    for (std::size_t slot = 0; work.text && slot < work.text->slotCount(); ++slot) {
        if (work.text->isOpen(slot)) {
            const RegionTexts texts = work.text->join().regionTexts(work.text->regionOf(slot));
            changes.push_back(
                {{file, slot},
                 {true, name, std::string(side == FileChoice::ours ? texts.ours : texts.theirs)}});
        }
    }
    change(std::move(changes));
}

namespace {
std::vector<SlotPlace> placesOf(const std::vector<SlotChange>& changes)
{
    std::vector<SlotPlace> places;
    std::transform(changes.begin(), changes.end(), std::back_inserter(places), [](const auto& c) {
        return c.place;
    });
    return places;
}
}  // namespace

std::vector<SlotPlace> Splice::undo()
{
    ROPE_ASSERT(canUndo(), "nothing to undo");
    m_isTyping = false;
    const Step& step = m_steps[--m_position];
    apply(step.before);
    return placesOf(step.before);
}

std::vector<SlotPlace> Splice::redo()
{
    ROPE_ASSERT(canRedo(), "nothing to redo");
    m_isTyping = false;
    const Step& step = m_steps[m_position++];
    apply(step.after);
    return placesOf(step.after);
}

Result<ResultSnapshot> Splice::result(std::size_t leg) const
{
    std::vector<DecidedFile> decided;
    for (const SpliceFile& file : m_files) {
        if (file.leg == leg) {
            ROPE_ASSERT(file.openCount() == 0, "an open region has no result");
            decided.push_back({file.outcome,
                               fileChoiceNamed(file.answer.choice),
                               file.text ? file.text->wholeText() : std::string()});
        }
    }
    return resultTree(*m_legs[leg], decided);
}

std::vector<MarkerLeft> Splice::markersLeft() const
{
    std::vector<MarkerLeft> left;
    for (const SpliceFile& file : m_files) {
        const auto placements = file.outcome->placements(fileChoiceNamed(file.answer.choice));
        const bool isPut = std::any_of(
            placements.begin(), placements.end(), [](const auto& put) { return put.isJoinedText; });
        if (file.text && isPut) {
            for (const LineNumber line : leftoverMarkers(*file.outcome, file.text->wholeText())) {
                left.push_back({file.outcome->path, line});
            }
        }
    }
    return left;
}
}  // namespace rope
