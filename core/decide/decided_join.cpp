// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice.cpp.
#include "core/decide/decided_join.h"

#include <algorithm>
#include <iterator>
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

DecidedJoin::DecidedJoin(std::vector<Leg> legs)
    : m_legs(std::move(legs))
{
    ROPE_ASSERT(!m_legs.empty(), "decisions without a leg");
    for (std::size_t leg = 0; leg < m_legs.size(); ++leg) {
        std::ranges::move(filesOf(leg), std::back_inserter(m_files));
    }
}

namespace {
/// See FileHabits::takenOver. Where there is no region nobody asks.
std::optional<double> takenOverIn(const Join& join)
{
    if (join.regionCount() == 0) {
        return std::nullopt;
    }
    AddedLines sum;
    for (const FileOutcome& outcome : join.files) {
        const AddedLines added = outcome.text ? addedLinesIn(*outcome.text) : AddedLines{};
        sum.ours += added.ours;
        sum.inTheirsToo += added.inTheirsToo;
    }
    return sum.ours == 0 ? std::nullopt
                         : std::optional(static_cast<double>(sum.inTheirsToo) / sum.ours);
}
}  // namespace

std::vector<SpliceFile> DecidedJoin::filesOf(std::size_t leg) const
{
    const auto takenOver = takenOverIn(*m_legs[leg]);
    std::vector<SpliceFile> files;
    for (const FileOutcome& outcome : m_legs[leg]->files) {
        if (belongsToWork(outcome)) {
            SpliceFile file;
            file.leg = leg;
            file.outcome = &outcome;
            if (outcome.text) {
                file.text = CopiedPtr(SplicedText(outcome.text));
                file.text->setTakenOver(takenOver);
            }
            files.push_back(std::move(file));
        }
    }
    return files;
}

const SlotState& DecidedJoin::state(SlotPlace place) const
{
    const SpliceFile& file = m_files[place.file];
    return place.slot == SlotPlace::kQuestion ? file.answer : file.text->state(place.slot);
}

std::size_t DecidedJoin::openCount() const
{
    return std::accumulate(
        m_files.begin(),
        m_files.end(),
        std::size_t{0},
        [](std::size_t sum, const SpliceFile& file) { return sum + file.openCount(); });
}

std::size_t DecidedJoin::openCountOf(std::size_t leg) const
{
    return std::accumulate(m_files.begin(),
                           m_files.end(),
                           std::size_t{0},
                           [leg](std::size_t sum, const SpliceFile& file) {
                               return sum + (file.leg == leg ? file.openCount() : 0);
                           });
}

std::size_t DecidedJoin::decidedCount() const
{
    return std::accumulate(
        m_files.begin(),
        m_files.end(),
        std::size_t{0},
        [](std::size_t sum, const SpliceFile& file) { return sum + file.decidedCount(); });
}

void DecidedJoin::put(const std::vector<SlotChange>& changes)
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

std::size_t DecidedJoin::takeUp(OwnedOutcome outcome)
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
        file.text = CopiedPtr(SplicedText(outcome->text));
    }
    file.own = std::move(outcome);
    m_files.insert(firstOther, std::move(file));
    return place;
}

void DecidedJoin::putInPlaceOf(SpliceFile& file, OwnedOutcome outcome)
{
    if (!file.own) {
        file.stoodFor = file.outcome;
    }
    file.outcome = outcome.get();
    file.own = std::move(outcome);
    file.text.reset();
    file.answer = {};
}

void DecidedJoin::setLegs(std::size_t first, std::size_t end, const std::vector<Leg>& legs)
{
    ROPE_ASSERT(first + legs.size() == end || end == m_legs.size(), "later legs keep their number");
    std::erase_if(m_files,
                  [&](const SpliceFile& file) { return file.leg >= first && file.leg < end; });
    const auto at = m_legs.begin() + static_cast<std::ptrdiff_t>(first);
    m_legs.insert(m_legs.erase(at, m_legs.begin() + static_cast<std::ptrdiff_t>(end)),
                  legs.begin(),
                  legs.end());
    std::vector<SpliceFile> files;
    for (std::size_t leg = first; leg < first + legs.size(); ++leg) {
        std::ranges::move(filesOf(leg), std::back_inserter(files));
    }
    const auto behind = std::find_if(
        m_files.begin(), m_files.end(), [&](const auto& file) { return file.leg >= end; });
    m_files.insert(behind, std::move_iterator(files.begin()), std::move_iterator(files.end()));
}

void DecidedJoin::offerEarlier(SlotPlace place,
                               const std::string& text,
                               const EarlierSource& source)
{
    m_files[place.file].text->setEarlierText(place.slot, text, source);
}

void DecidedJoin::offer(const std::vector<OfferedText>& texts)
{
    for (const OfferedText& text : texts) {
        offerEarlier(text.place, text.text, text.source);
    }
}

void DecidedJoin::withdrawEarlier(SlotPlace place)
{
    m_files[place.file].text->forgetEarlierText(place.slot);
}

Decision DecidedJoin::decisionAt(const SlotChange& change) const
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

std::optional<SlotPlace> DecidedJoin::placeOf(const Decision& decision) const
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

std::vector<Decision> DecidedJoin::decisions() const
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

Result<ResultSnapshot> DecidedJoin::result(std::size_t leg) const
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

std::vector<MarkerLeft> DecidedJoin::markersLeft() const
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
