// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/candidate_kind.h"
#include "core/merge/consequences.h"
#include "core/merge/file_habits.h"
#include "core/merge/greater_number.h"
#include "core/merge/line_origin.h"

#include <optional>
#include <stop_token>
#include <string>
#include <string_view>
#include <vector>

namespace rope {
/// One complete outcome for a region.
struct Candidate
{
    CandidateKind kind = CandidateKind::ours;
    std::string text;
    std::vector<LineOrigin> origins;        ///< One for each line of `text`.
    std::vector<Consequence> consequences;  ///< What taking it would mean, warnings last.
    std::size_t rank = 0;                   ///< Its place by what people chose in such situations.
};

/// Returns the outcomes worth offering for a region, best first; no two with the same text.
/// Ours, theirs, base and nothing at all are always among them; of a region of over 8 MB only these.
/// The order follows what people chose in such situations, see docs/candidates.md, but for putSafeFirst().
/// `file`: what the sides did all over the region's file (habitsOf()); without it, theirs' new names are not
/// carried over, and the order is that of the region alone.
/// `earlier`: a text written for such a place before; it is offered first.
/// Takes seconds for regions of megabytes: when `stop` is requested, what was found so far is given.
/// Threads: any.
[[nodiscard]] std::vector<Candidate> candidatesFor(const RegionTexts& texts,
                                                   const FileHabits& file = {},
                                                   const std::optional<std::string>& earlier = {},
                                                   const std::stop_token& stop = {});

/// Orders candidates by their rank. But where the first one would drop an edit of a side, those that keep all
/// edits and have no warning come before the others, and before these a side that has done in the main what the
/// other did. The measured first one stays first where it is such a side itself, where theirs has taken over
/// ours' work all over the splice, and where a person has decided so here before.
void putSafeFirst(std::vector<Candidate>& candidates,
                  const RegionTexts& texts,
                  const FileHabits& file);

/// One outcome for a region, and nothing told of it.
struct CandidateText
{
    CandidateKind kind = CandidateKind::ours;
    std::string text;
};
/// As candidatesFor(), the texts alone, which costs a fraction; of them the first `most`.
[[nodiscard]] std::vector<CandidateText>
candidateTexts(const RegionTexts& texts,
               const FileHabits& file = {},
               const std::optional<std::string>& earlier = {},
               const std::stop_token& stop = {},
               std::size_t most = ~std::size_t{0});

/// As CandidateText; a side's own text is a view of it, since a region may have many megabytes.
class CandidateView
{
public:
    CandidateView(CandidateKind kind, std::string_view own)
        : m_kind(kind)
        , m_own(own)
    {
    }
    CandidateView(CandidateKind kind, std::string composed)
        : m_kind(kind)
        , m_composed(std::move(composed))
    {
    }
    [[nodiscard]] CandidateKind kind() const { return m_kind; }
    [[nodiscard]] std::string_view text() const { return m_composed ? *m_composed : m_own; }
    std::string takeText() { return m_composed ? std::move(*m_composed) : std::string(m_own); }

private:
    CandidateKind m_kind;
    std::string_view m_own;
    std::optional<std::string> m_composed;
};
/// As candidateTexts(). The views are those of `texts`.
[[nodiscard]] std::vector<CandidateView>
candidateViews(const RegionTexts& texts,
               const FileHabits& file = {},
               const std::optional<std::string>& earlier = {},
               const std::stop_token& stop = {},
               std::size_t most = ~std::size_t{0});

/// Returns what a text of one's own would mean for a region, warnings last.
[[nodiscard]] std::vector<Consequence> consequencesOfText(std::string_view text,
                                                          const RegionTexts& texts);

/// Returns the text one kind of candidate gives, or nothing where that kind does not apply or its text
/// comes from elsewhere (isKeptAsText()).
[[nodiscard]] std::optional<std::string>
candidateText(CandidateKind kind, const RegionTexts& texts, const FileHabits& file = {});
}  // namespace rope
