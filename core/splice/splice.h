// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/splice/forecast.h"
#include "core/splice/spliced_text.h"

#include <functional>
#include <memory>
#include <string>
#include <vector>

namespace rope {
/// What is joined into what. Fixed when a splice starts.
struct SplicePlan
{
    std::string id;  ///< Names the splice in the journal and its refs: letters, digits, hyphens.
    std::string oursRef;     ///< Full name of the branch that will receive the commit.
    std::string oursName;    ///< For people.
    std::string theirsName;  ///< For people.
    ObjectId ours;
    ObjectId theirs;
};

/// One file of a splice: what the join made of it, and what a person made of that.
struct SpliceFile
{
    const FileOutcome* outcome = nullptr;
    std::unique_ptr<SplicedText> text;  ///< Where the file was joined by lines.
    SlotState answer;                   ///< To the question about the whole file, if there is one.

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

/// Where a text stands that is yet to be written: its path, its kind of entry and its bytes.
struct TextEdit
{
    RepoPath path;
    EntryKind kind = EntryKind::file;
    std::string bytes;
};

/// How the joined tree differs from ours' tree.
struct SpliceResult
{
    std::vector<TreeEdit> edits;
    std::vector<TextEdit> texts;  ///< To be written as blobs first.
    /// Files whose text has characters that their encoding lacks; they cannot be recorded so.
    std::vector<RepoPath> unencodable;
};

/// One integration: outcomes (constant) plus decisions (undoable). The result is always both together.
/// One thread. Every change is told to the sink before anything else sees it.
class Splice
{
public:
    /// Takes decisions for safe keeping, before they are shown.
    using DecisionSink = std::function<void(const std::vector<Decision>&)>;

    Splice(SplicePlan plan, std::shared_ptr<const Forecast> forecast);

    [[nodiscard]] const SplicePlan& plan() const { return m_plan; }
    [[nodiscard]] const Forecast& forecast() const { return *m_forecast; }
    [[nodiscard]] const std::vector<SpliceFile>& files() const { return m_files; }
    [[nodiscard]] const SlotState& state(SlotPlace place) const;
    [[nodiscard]] std::size_t openCount() const;
    [[nodiscard]] std::size_t decidedCount() const;

    void setDecisionSink(DecisionSink sink) { m_sink = std::move(sink); }
    /// Puts stored decisions back. Those whose slot the join no longer has are left out.
    /// Returns how many found their place. Not undoable, not told to the sink.
    std::size_t restore(const std::vector<Decision>& decisions);

    /// Makes changes as one undoable step. With `typing`, a change of one slot that follows another
    /// such change of the same slot becomes part of that step.
    void change(std::vector<SlotChange> changes, bool typing = false);
    /// Ends a run of typing, so that the next change is a step of its own.
    void endTyping() { m_isTyping = false; }

    /// Takes a candidate for a region; an answer for a question; or leaves the slot as before.
    void takeCandidate(SlotPlace place, const Candidate& candidate);
    void answer(std::size_t file, FileChoice choice);
    void reopen(SlotPlace place);
    /// Decides every open region and question of a file for one side, as one step.
    void decideAllOpen(std::size_t file, FileChoice side);

    [[nodiscard]] bool canUndo() const { return m_position > 0; }
    [[nodiscard]] bool canRedo() const { return m_position < m_steps.size(); }
    /// The places that changed. REQUIRES: canUndo()
    std::vector<SlotPlace> undo();
    /// REQUIRES: canRedo()
    std::vector<SlotPlace> redo();

    /// REQUIRES: openCount() == 0
    [[nodiscard]] SpliceResult result() const;

private:
    struct Step
    {
        std::vector<SlotChange> before;
        std::vector<SlotChange> after;
        bool isTyping = false;
    };
    void apply(const std::vector<SlotChange>& changes);
    [[nodiscard]] Decision decisionAt(const SlotChange& change) const;

    SplicePlan m_plan;
    std::shared_ptr<const Forecast> m_forecast;
    std::vector<SpliceFile> m_files;
    DecisionSink m_sink;
    std::vector<Step> m_steps;
    std::size_t m_position = 0;  ///< Steps before it are done, those from it on undone.
    bool m_isTyping = false;
};

/// Returns the lines, from 0, of a text that look like conflict markers left behind.
/// Lines that stand in one of the join's own versions do not count.
[[nodiscard]] std::vector<LineNumber> leftoverMarkers(const SplicedText& text);
}  // namespace rope
