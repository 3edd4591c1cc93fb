// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/copied_ptr.h"
#include "core/decide/decision.h"
#include "core/decide/spliced_text.h"
#include "core/join/one_sided_file.h"
#include "core/join/result_tree.h"

#include <memory>
#include <optional>
#include <vector>

namespace rope {
/// One join of a splice. A merge commit has one leg, and one more for each commit that is carried along
/// upon it; a rebase has one for each commit that it writes anew, in order; work that is carried across is
/// a last one.
using Leg = std::shared_ptr<const Join>;

/// One file of a join: its outcome, and what a person made of that.
struct SpliceFile
{
    std::size_t leg = 0;  ///< Which of the legs it belongs to.
    const FileOutcome* outcome = nullptr;
    OwnedOutcome
        own;  ///< Set where the outcome is none of a leg's: see one_sided_file.h, found_file.h.
    const FileOutcome* stoodFor = nullptr;  ///< The leg's outcome that it has taken the place of.
    CopiedPtr<SplicedText> text;            ///< Where the file was joined by lines.
    SlotState answer;  ///< To the question about the whole file, if there is one.

    [[nodiscard]] std::size_t openCount() const;
    [[nodiscard]] std::size_t decidedCount() const;
};

/// Which slot of which file; the question when `slot` is kQuestion.
struct SlotPlace
{
    static constexpr std::size_t kQuestion = ~std::size_t{0};
    std::size_t file = 0;
    std::size_t slot = 0;
    friend bool operator==(const SlotPlace&, const SlotPlace&) = default;
};

/// A slot and the state it is to get.
struct SlotChange
{
    SlotPlace place;
    SlotState state;
};

/// A text that is to be offered for a region, never taken unasked.
struct OfferedText
{
    SlotPlace place;
    std::string text;
    EarlierSource source{};
};

/// A conflict marker that stands in a result and in no stored version.
struct MarkerLeft
{
    RepoPath path;
    LineNumber line = 0;  ///< From 0.
};

/// Outcomes of legs (constant) and what is decided in each place of them: from that follow what is open, the
/// decisions and the result. It has no history, and nobody is told of a change; a Splice adds both.
/// A value: a copy may be read in another thread.
class DecidedJoin
{
public:
    /// Nothing is decided yet. REQUIRES: at least one leg
    explicit DecidedJoin(std::vector<Leg> legs);

    [[nodiscard]] const std::vector<Leg>& legs() const { return m_legs; }
    /// The files of all legs that are worked on (something was open, or both sides changed the text), in the
    /// order of the legs.
    [[nodiscard]] const std::vector<SpliceFile>& files() const { return m_files; }
    /// REQUIRES: there is such a place
    [[nodiscard]] const SlotState& state(SlotPlace place) const;
    [[nodiscard]] std::size_t openCount() const;
    /// Open places of one leg.
    [[nodiscard]] std::size_t openCountOf(std::size_t leg) const;
    [[nodiscard]] std::size_t decidedCount() const;

    /// REQUIRES: there are such places
    void put(const std::vector<SlotChange>& changes);
    /// Adds a file of the first leg that only one side changed, behind the leg's others, so that it can be
    /// edited. Returns its place among files(); where it is there already, that.
    /// What was put there by hand (foundOutcome) takes the place of what the leg has.
    std::size_t takeUp(OwnedOutcome outcome);
    /// Puts other legs in the place of those from `first` on and before `end`; nothing in them is decided.
    /// REQUIRES: as many, unless `end` is the number of legs
    void setLegs(std::size_t first, std::size_t end, const std::vector<Leg>& legs);
    /// Offers a text for a region, as one of its candidates. REQUIRES: the place is a region
    void offerEarlier(SlotPlace place, const std::string& text, const EarlierSource& source = {});
    void offer(const std::vector<OfferedText>& texts);
    /// Offers it no more.
    void withdrawEarlier(SlotPlace place);

    /// A state as it is stored, under names that outlive the places.
    [[nodiscard]] Decision decisionAt(const SlotChange& change) const;
    /// Where a decision of these legs belongs; nothing if there is no such place.
    [[nodiscard]] std::optional<SlotPlace> placeOf(const Decision& decision) const;
    /// Everything that was decided or written, to be stored or carried over.
    [[nodiscard]] std::vector<Decision> decisions() const;

    /// What a leg and its decisions put into the joined tree, with the bytes of all that is stored
    /// nowhere. Errors: those of resultTree(). REQUIRES: nothing is open in the leg
    [[nodiscard]] Result<ResultSnapshot> result(std::size_t leg) const;
    /// Conflict markers that would be recorded.
    [[nodiscard]] std::vector<MarkerLeft> markersLeft() const;

private:
    [[nodiscard]] std::vector<SpliceFile> filesOf(std::size_t leg) const;
    static void putInPlaceOf(SpliceFile& file, OwnedOutcome outcome);

    std::vector<Leg> m_legs;
    std::vector<SpliceFile> m_files;
};
}  // namespace rope
