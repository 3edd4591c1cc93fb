// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice.cpp.
#include "core/splice/splice.h"

#include <algorithm>
#include <numeric>
#include <unordered_set>

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

Splice::Splice(SplicePlan plan, std::shared_ptr<const Forecast> forecast)
    : m_plan(std::move(plan))
    , m_forecast(std::move(forecast))
{
    for (const FileOutcome& outcome : m_forecast->join.files) {
        if (belongsToWork(outcome)) {
            SpliceFile file;
            file.outcome = &outcome;
            if (outcome.text) {
                file.text = std::make_unique<SplicedText>(outcome.text);
            }
            m_files.push_back(std::move(file));
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

std::size_t Splice::restore(const std::vector<Decision>& decisions)
{
    std::size_t placed = 0;
    for (const Decision& decision : decisions) {
        const auto file = std::find_if(m_files.begin(), m_files.end(), [&](const SpliceFile& f) {
            return f.outcome->path == decision.path;
        });
        if (file == m_files.end()) {
            continue;
        }
        if (decision.slot == kQuestionSlot) {
            const auto choice = fileChoiceNamed(decision.state.choice);
            const auto& question = file->outcome->question;
            const bool isOffered = question && choice && question->answerOf(*choice) != nullptr;
            if (isOffered || !decision.state.isDecided) {
                file->answer = decision.state;
                ++placed;
            }
        } else if (const auto slot =
                       file->text ? file->text->slotWithKey(decision.slot) : std::nullopt) {
            file->text->setState(*slot, decision.state);
            ++placed;
        }
    }
    return placed;
}

Decision Splice::decisionAt(const SlotChange& change) const
{
    const SpliceFile& file = m_files[change.place.file];
    const bool isQuestion = change.place.slot == SlotPlace::kQuestion;
    return {file.outcome->path,
            isQuestion ? std::string(kQuestionSlot) : file.text->key(change.place.slot),
            change.state};
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
    for (const SlotChange& change : changes) {
        SpliceFile& file = m_files[change.place.file];
        if (change.place.slot == SlotPlace::kQuestion) {
            file.answer = change.state;
        } else {
            file.text->setState(change.place.slot, change.state);
        }
    }
}

void Splice::change(std::vector<SlotChange> changes, bool typing)
{
    std::erase_if(changes, [this](const SlotChange& c) { return state(c.place) == c.state; });
    if (changes.empty()) {
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

SpliceResult Splice::result() const
{
    ROPE_ASSERT(openCount() == 0, "an open region has no result");
    SpliceResult result;
    result.edits = settledEdits(m_forecast->join);
    for (const SpliceFile& file : m_files) {
        const auto choice = fileChoiceNamed(file.answer.choice);
        for (const Placement& placement : file.outcome->placements(choice)) {
            if (placement.isJoinedText) {
                auto bytes = file.text->join().encoded(file.text->wholeText());
                if (!bytes) {
                    result.unencodable.push_back(placement.path);
                    continue;
                }
                result.texts.push_back({placement.path, placement.version.kind, std::move(*bytes)});
            } else {
                result.edits.push_back({placement.path, placement.version});
            }
        }
    }
    return result;
}

std::vector<LineNumber> leftoverMarkers(const SplicedText& text)
{
    std::unordered_set<std::string_view> known;
    for (const Text* version : {&text.join().base(), &text.join().ours(), &text.join().theirs()}) {
        for (LineNumber i = 0; i < version->lineCount(); ++i) {
            if (version->line(i).size() >= 7 && version->line(i)[0] == version->line(i)[6]) {
                known.insert(version->line(i));
            }
        }
    }
    std::vector<LineNumber> found;
    const std::string whole = text.wholeText();
    LineNumber number = 0;
    for (const std::string_view line : splitLines(whole)) {
        const auto isMarker = [&](std::string_view sign) {
            return line.starts_with(sign) && !known.contains(line);
        };
        if (isMarker("<<<<<<< ") || isMarker("||||||| ") || isMarker(">>>>>>> ")) {
            found.push_back(number);
        }
        ++number;
    }
    return found;
}
}  // namespace rope
