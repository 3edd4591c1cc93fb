// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice.cpp.
#include "core/decide/splice.h"

#include "core/decide/together.h"

#include <algorithm>
#include <iterator>
#include <map>
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

Splice::Splice(SplicePlan plan,
               std::shared_ptr<const Forecast> forecast,
               std::vector<Leg> legs,
               std::vector<LegStanding> standings)
    : m_plan(std::move(plan))
    , m_forecast(std::move(forecast))
    , m_legs(std::move(legs))
    , m_standings(std::move(standings))
{
    ROPE_ASSERT(!m_legs.empty(), "a splice without a leg");
    for (std::size_t leg = 0; leg < m_legs.size(); ++leg) {
        std::ranges::move(filesOf(leg), std::back_inserter(m_files));
    }
}

std::vector<SpliceFile> Splice::filesOf(std::size_t leg) const
{
    std::vector<SpliceFile> files;
    for (const FileOutcome& outcome : m_legs[leg]->files) {
        if (belongsToWork(outcome)) {
            SpliceFile file;
            file.leg = leg;
            file.outcome = &outcome;
            if (outcome.text) {
                file.text = std::make_unique<SplicedText>(outcome.text);
            }
            files.push_back(std::move(file));
        }
    }
    return files;
}

void Splice::setWorkLeg(Leg leg, const ObjectId& work)
{
    forgetStepsFrom(workLeg());
    std::erase_if(m_files, [this](const SpliceFile& file) { return file.leg == workLeg(); });
    m_legs.resize(workLeg());
    m_plan.work = work;
    if (leg) {
        m_legs.push_back(std::move(leg));
        std::ranges::move(filesOf(workLeg()), std::back_inserter(m_files));
    }
}

void Splice::setLegsFrom(std::size_t first, const std::vector<Leg>& legs)
{
    ROPE_ASSERT(first + legs.size() == workLeg(), "every later leg is another one now");
    forgetStepsFrom(first);
    std::erase_if(
        m_files, [&](const SpliceFile& file) { return file.leg >= first && file.leg < workLeg(); });
    std::ranges::copy(legs, m_legs.begin() + static_cast<std::ptrdiff_t>(first));
    std::vector<SpliceFile> files;
    for (std::size_t leg = first; leg < workLeg(); ++leg) {
        std::ranges::move(filesOf(leg), std::back_inserter(files));
    }
    const auto work = std::find_if(
        m_files.begin(), m_files.end(), [this](const auto& file) { return file.leg == workLeg(); });
    m_files.insert(work, std::move_iterator(files.begin()), std::move_iterator(files.end()));
}

void Splice::setStandings(std::vector<LegStanding> standings)
{
    ROPE_ASSERT(standings.size() == m_standings.size(), "one for each leg");
    m_standings = std::move(standings);
}

std::size_t Splice::takeUp(OwnedOutcome outcome)
{
    const auto firstOther = std::find_if(m_files.begin(), m_files.end(), [&](const auto& file) {
        return file.leg != 0 || file.outcome->path == outcome->path;
    });
    const auto place = static_cast<std::size_t>(firstOther - m_files.begin());
    const bool isPutByHand =
        outcome->question && outcome->question->kind == QuestionKind::putByHand;
    if (firstOther != m_files.end() && firstOther->leg == 0) {
        if (isPutByHand) {
            putInPlaceOf(*firstOther, std::move(outcome));
        }
        return place;
    }
    SpliceFile file;
    file.outcome = outcome.get();
    if (isPutByHand) {
        const auto& joined = m_legs.front()->files;
        const auto stoodFor = std::find_if(joined.begin(), joined.end(), [&](const auto& one) {
            return one.path == outcome->path;
        });
        file.stoodFor = stoodFor == joined.end() ? nullptr : &*stoodFor;
    } else {
        file.text = std::make_unique<SplicedText>(outcome->text);
    }
    file.own = std::move(outcome);
    m_files.insert(firstOther, std::move(file));
    for (Step& step : m_steps) {
        for (auto* changes : {&step.before, &step.after}) {
            for (SlotChange& change : *changes) {
                change.place.file += change.place.file >= place ? 1U : 0U;
            }
        }
    }
    return place;
}

void Splice::putInPlaceOf(SpliceFile& file, OwnedOutcome outcome)
{
    if (!file.own) {
        file.stoodFor = file.outcome;
    }
    file.outcome = outcome.get();
    file.own = std::move(outcome);
    file.text = nullptr;
    file.answer = {};
}

void Splice::forgetStepsFrom(std::size_t leg)
{
    const auto isAbout = [this, leg](const Step& step) {
        return std::any_of(step.after.begin(), step.after.end(), [&](const SlotChange& change) {
            return m_files[change.place.file].leg >= leg;
        });
    };
    const auto position = m_steps.begin() + static_cast<std::ptrdiff_t>(m_position);
    m_steps.erase(std::find_if(position, m_steps.end(), isAbout), m_steps.end());
    std::size_t first = m_position;
    while (first > 0 && !isAbout(m_steps[first - 1])) {
        --first;
    }
    m_steps.erase(m_steps.begin(), m_steps.begin() + static_cast<std::ptrdiff_t>(first));
    m_firstStep += first;
    m_position -= first;
    m_isTyping = false;
}

std::size_t Splice::openCountOf(std::size_t leg) const
{
    return std::accumulate(m_files.begin(),
                           m_files.end(),
                           std::size_t{0},
                           [leg](std::size_t sum, const SpliceFile& file) {
                               return sum + (file.leg == leg ? file.openCount() : 0);
                           });
}

std::size_t Splice::openCountOfCommits() const
{
    return openCount() - (hasWorkLeg() ? openCountOf(workLeg()) : 0);
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

/// Makes of `now.before` what `now.after` says, once that is in safe keeping.
void Splice::apply(StepKind kind, std::size_t step, const Step& now)
{
    if (m_sink) {
        SpliceChange told{kind, m_firstStep + step, {}, {}};
        for (std::size_t i = 0; i < now.after.size(); ++i) {
            told.before.push_back(decisionAt(now.before[i]));
            told.after.push_back(decisionAt(now.after[i]));
        }
        m_sink(told);
    }
    put(now.after);
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
        const std::size_t slotCount = m_files[file].text ? m_files[file].text->slotCount() : 0;
        for (std::size_t slot = 0; slot < slotCount; ++slot) {
            add({file, slot});
        }
    }
    return decisions;
}

Splice::ReasonKey Splice::reasonKey(SlotPlace place) const
{
    const SpliceFile& file = m_files[place.file];
    return {file.leg,
            file.outcome->path,
            place.slot == SlotPlace::kQuestion ? std::string(kQuestionSlot)
                                               : file.text->key(place.slot)};
}

std::string Splice::reason(SlotPlace place) const
{
    const auto found = m_reasons.find(reasonKey(place));
    return found == m_reasons.end() ? std::string() : found->second;
}

GivenReason Splice::giveReason(SlotPlace place, const std::string& text)
{
    const ReasonKey key = reasonKey(place);
    GivenReason given{std::get<1>(key), std::get<2>(key), text, std::get<0>(key)};
    putReasons({given});
    return given;
}

void Splice::putReasons(const std::vector<GivenReason>& reasons)
{
    for (const GivenReason& given : reasons) {
        const ReasonKey key{given.leg, given.path, given.slot};
        if (given.text.empty()) {
            m_reasons.erase(key);
        } else {
            m_reasons[key] = given.text;
        }
    }
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
    m_steps.resize(m_position);
    const bool continues = typing && m_isTyping && !m_steps.empty() && m_steps.back().isTyping
                           && m_steps.back().after.size() == 1 && step.after.size() == 1
                           && m_steps.back().after[0].place == step.after[0].place;
    apply(continues ? StepKind::extended : StepKind::made,
          continues ? m_position - 1 : m_position,
          step);
    if (continues) {
        m_steps.back().after = std::move(step.after);
    } else {
        m_steps.push_back(std::move(step));
    }
    m_position = m_steps.size();
    m_isTyping = typing;
}

namespace {
/// What an earlier decision comes to, where it is a side's own text.
CandidateKind plainKindOf(const Candidate& candidate, const RegionTexts& texts)
{
    return candidate.kind != CandidateKind::earlierDecision ? candidate.kind
           : candidate.text == texts.ours                   ? CandidateKind::ours
           : candidate.text == texts.theirs                 ? CandidateKind::theirs
           : candidate.text == texts.base                   ? CandidateKind::base
                                                            : candidate.kind;
}
}  // namespace

void Splice::takeCandidate(SlotPlace place, const Candidate& candidate)
{
    const SplicedText& text = *m_files[place.file].text;
    const RegionTexts texts = text.join().regionTexts(text.regionOf(place.slot));
    change({{place, {true, std::string(nameOf(plainKindOf(candidate, texts))), candidate.text}}});
}

void Splice::answer(std::size_t file, FileChoice choice)
{
    // What was put there by hand stays known, whatever is answered: it stands nowhere else.
    change({{{file, SlotPlace::kQuestion},
             {true, std::string(nameOf(choice)), m_files[file].answer.text}}});
}

void Splice::reopen(SlotPlace place)
{
    const bool isQuestion = place.slot == SlotPlace::kQuestion;
    change({{place, {false, {}, isQuestion ? state(place).text : std::nullopt}}});
}

void Splice::decideAllOpen(std::size_t file, FileChoice side)
{
    change(
        changesTogether(*this,
                        openPlacesOf(*this, file),
                        side == FileChoice::ours ? TogetherChoice::ours : TogetherChoice::theirs));
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
    apply(StepKind::undone, m_position, {step.after, step.before, false});
    return placesOf(step.before);
}

std::vector<SlotPlace> Splice::redo()
{
    ROPE_ASSERT(canRedo(), "nothing to redo");
    m_isTyping = false;
    const Step& step = m_steps[m_position++];
    apply(StepKind::redone, m_position - 1, step);
    return placesOf(step.after);
}

std::optional<SlotPlace> Splice::placeOf(const Decision& decision) const
{
    for (std::size_t i = 0; i < m_files.size(); ++i) {
        const SpliceFile& file = m_files[i];
        if (file.leg != decision.leg || file.outcome->path != decision.path) {
            continue;
        }
        if (decision.slot == kQuestionSlot) {
            return SlotPlace{i, SlotPlace::kQuestion};
        }
        const auto slot = file.text ? file.text->slotWithKey(decision.slot) : std::nullopt;
        return slot ? std::optional(SlotPlace{i, *slot}) : std::nullopt;
    }
    return std::nullopt;
}

std::optional<std::vector<SlotChange>>
Splice::changesOf(const std::vector<Decision>& decisions) const
{
    std::vector<SlotChange> changes;
    for (const Decision& decision : decisions) {
        const auto place = placeOf(decision);
        if (!place) {
            return std::nullopt;
        }
        changes.push_back({*place, decision.state});
    }
    return changes;
}

void Splice::restoreSteps(const KeptSteps& kept)
{
    // A kept step tells one of its two sides; the other is what its places hold by then, going
    // back from now step by step, or forward.
    std::map<std::pair<std::size_t, std::size_t>, SlotState> states;
    const auto replace = [&](const std::vector<SlotChange>& by) {
        std::vector<SlotChange> present;
        for (const SlotChange& change : by) {
            const auto at = std::pair(change.place.file, change.place.slot);
            present.push_back(
                {change.place, states.try_emplace(at, state(change.place)).first->second});
            states[at] = change.state;
        }
        return present;
    };
    m_steps.clear();
    std::size_t left = kept.done.size();
    while (left > 0) {
        auto before = changesOf(kept.done[left - 1]);
        if (!before) {
            break;
        }
        std::vector<SlotChange> after = replace(*before);
        m_steps.push_back({std::move(*before), std::move(after), false});
        --left;
    }
    std::reverse(m_steps.begin(), m_steps.end());
    m_position = m_steps.size();
    m_firstStep = kept.first + left;
    states.clear();
    for (const std::vector<Decision>& step : kept.undone) {
        auto after = changesOf(step);
        if (!after) {
            break;
        }
        std::vector<SlotChange> before = replace(*after);
        m_steps.push_back({std::move(before), std::move(*after), false});
    }
}

Result<ResultSnapshot> Splice::result(std::size_t leg) const
{
    std::vector<DecidedFile> decided;
    for (const SpliceFile& file : m_files) {
        if (file.leg == leg) {
            ROPE_ASSERT(file.openCount() == 0, "an open region has no result");
            decided.push_back({file.outcome,
                               fileChoiceNamed(file.answer.choice),
                               file.text ? file.text->wholeText() : std::string(),
                               file.stoodFor});
        }
    }
    TRY_ASSIGN(ResultSnapshot result, resultTree(*m_legs[leg], decided));
    const auto& held = m_legs[leg]->held;
    for (ResultEdit& edit : result.edits) {
        if (held && edit.version && !edit.bytes) {
            const auto known = held->blobs.find(edit.version->id);
            edit.bytes = known == held->blobs.end() ? nullptr : known->second;
        }
    }
    return result;
}

std::vector<MarkerLeft> Splice::markersLeft() const
{
    std::vector<MarkerLeft> left;
    for (const SpliceFile& file : m_files) {
        if (file.outcome->question && !file.answer.isDecided) {
            continue;  // what will be there, nobody has said
        }
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
