// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice.cpp.
#include "core/decide/splice.h"

#include "core/decide/carry_over.h"
#include "core/decide/together.h"

#include <algorithm>
#include <iterator>
#include <map>

namespace rope {
Splice::Splice(SplicePlan plan, const std::shared_ptr<const Forecast>& forecast)
    : Splice(std::move(plan), forecast, DecidedJoin({Leg(forecast, &forecast->join)}))
{
}

Splice::Splice(SplicePlan plan,
               std::shared_ptr<const Forecast> forecast,
               DecidedJoin decided,
               std::vector<LegStanding> standings)
    : m_plan(std::move(plan))
    , m_forecast(std::move(forecast))
    , m_decided(std::move(decided))
    , m_standings(std::move(standings))
{
}

std::shared_ptr<const Splice> Splice::copy() const
{
    auto copied = std::make_shared<Splice>(m_plan, m_forecast, m_decided, m_standings);
    copied->m_result = sharedResult();  // made now: what is read by several threads changes nothing
    copied->m_reasons = m_reasons;
    return copied;
}

DecidedJoin& Splice::toChange()
{
    m_result.reset();
    return m_decided;
}

void Splice::setWorkLeg(Leg leg, const ObjectId& work)
{
    forgetStepsFrom(workLeg());
    m_plan.work = work;
    toChange().setLegs(
        workLeg(), legs().size(), leg ? std::vector<Leg>{std::move(leg)} : std::vector<Leg>{});
}

void Splice::setLegsFrom(std::size_t first, const std::vector<Leg>& legs)
{
    ROPE_ASSERT(first + legs.size() == workLeg(), "every later leg is another one now");
    forgetStepsFrom(first);
    toChange().setLegs(first, workLeg(), legs);
}

std::size_t Splice::takeUp(OwnedOutcome outcome)
{
    const std::size_t before = files().size();
    const std::size_t place = toChange().takeUp(std::move(outcome));
    if (files().size() == before) {
        return place;
    }
    for (Step& step : m_steps) {
        for (auto* changes : {&step.before, &step.after}) {
            for (SlotChange& change : *changes) {
                change.place.file += change.place.file >= place ? 1U : 0U;
            }
        }
    }
    return place;
}

void Splice::offerFromEarlierLegs()
{
    rope::offerFromEarlierLegs(m_decided);
}

bool Splice::offerFromSameRegion(SlotPlace place)
{
    return rope::offerFromSameRegion(m_decided, place);
}

void Splice::setStandings(std::vector<LegStanding> standings)
{
    ROPE_ASSERT(standings.size() == m_standings.size(), "one for each leg");
    m_standings = std::move(standings);
}

void Splice::forgetStepsFrom(std::size_t leg)
{
    const auto isAbout = [this, leg](const Step& step) {
        return std::any_of(step.after.begin(), step.after.end(), [&](const SlotChange& change) {
            return files()[change.place.file].leg >= leg;
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

std::size_t Splice::openCountOfCommits() const
{
    return openCount() - (hasWorkLeg() ? openCountOf(workLeg()) : 0);
}

/// Makes of `now.before` what `now.after` says, once that is in safe keeping.
void Splice::apply(StepKind kind, std::size_t step, const Step& now)
{
    if (m_sink) {
        SpliceChange told{kind, m_firstStep + step, {}, {}};
        for (std::size_t i = 0; i < now.after.size(); ++i) {
            told.before.push_back(m_decided.decisionAt(now.before[i]));
            told.after.push_back(m_decided.decisionAt(now.after[i]));
        }
        m_sink(told);
    }
    put(now.after);
}

Splice::ReasonKey Splice::reasonKey(SlotPlace place) const
{
    const SpliceFile& file = files()[place.file];
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
    const SplicedText& text = *files()[place.file].text;
    const RegionTexts texts = text.join().regionTexts(text.regionOf(place.slot));
    change({{place, {true, std::string(nameOf(plainKindOf(candidate, texts))), candidate.text}}});
}

void Splice::answer(std::size_t file, FileChoice choice)
{
    // What was put there by hand stays known, whatever is answered: it stands nowhere else.
    change({{{file, SlotPlace::kQuestion},
             {true, std::string(nameOf(choice)), files()[file].answer.text}}});
}

void Splice::reopen(SlotPlace place)
{
    const bool isQuestion = place.slot == SlotPlace::kQuestion;
    change({{place, {false, {}, isQuestion ? state(place).text : std::nullopt}}});
}

void Splice::decideAllOpen(std::size_t file, FileChoice side)
{
    change(
        changesTogether(m_decided,
                        openPlacesOf(m_decided, file),
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

std::optional<std::vector<SlotChange>>
Splice::changesOf(const std::vector<Decision>& decisions) const
{
    std::vector<SlotChange> changes;
    for (const Decision& decision : decisions) {
        const auto place = m_decided.placeOf(decision);
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
    return leg == lastLeg() ? sharedResult()->get() : m_decided.result(leg);
}

std::shared_ptr<const DecidedResult> Splice::sharedResult() const
{
    if (!m_result) {
        m_result = std::make_shared<const DecidedResult>(m_decided, lastLeg());
    }
    return m_result;
}
}  // namespace rope
