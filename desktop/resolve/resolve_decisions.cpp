// SPDX-License-Identifier: GPL-3.0-or-later
// ResolveStation: what a person decides.
// Tested by tst_resolve_station.cpp.
#include "core/decide/together.h"
#include "desktop/resolve/candidate_finder.h"
#include "desktop/resolve/evidence_panel.h"
#include "desktop/resolve/joined_panel.h"
#include "desktop/resolve/lines_view.h"
#include "desktop/resolve/question_panel.h"
#include "desktop/resolve/reason_line.h"
#include "desktop/resolve/resolve_station.h"
#include "desktop/resolve/side_cards.h"
#include "desktop/resolve/side_names.h"
#include "desktop/resolve/together_panel.h"
#include "desktop/resolve/versions_view.h"
#include "desktop/resolve/worklist.h"
#include "desktop/result/result_view.h"
#include "desktop/widgets/code_view.h"
#include "desktop/widgets/page_stack.h"
#include "desktop/widgets/pane_splitter.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/question_words.h"
#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"

#include <QAction>
#include <QApplication>
#include <QDateTime>
#include <QMenu>
#include <QVBoxLayout>

#include <algorithm>

namespace rope {
void ResolveStation::chooseTogether(const std::vector<SlotPlace>& places)
{
    if (m_splice == nullptr) {
        return;
    }
    if (places.empty()) {
        showPlace();
        return;
    }
    flush();
    m_result->hideCandidate();
    m_chosen = places;
    m_together->showPlaces(
        *m_splice, m_chosen, namesOf(*m_splice, m_splice->files()[m_chosen.front().file]));
    m_side->setCurrentWidget(m_together);
    showReason();
}

void ResolveStation::decideTogether(int row)
{
    if (m_chosen.empty() || row < 0 || row >= m_together->rowCount()) {
        return;
    }
    flush();
    const std::vector<SlotPlace> chosen = std::move(m_chosen);
    m_splice->change(changesTogether(m_splice->decided(), chosen, m_together->choiceOf(row)));
    m_at = chosen.front();
    afterChange(chosen);
}

void ResolveStation::takeCandidate(int index)
{
    if (!m_chosen.empty()) {
        decideTogether(index);
        return;
    }
    if (!hasPlace()) {
        return;
    }
    if (index < 0) {
        emit told(tr("That is not offered here."));
        return;
    }
    flush();
    const auto row = static_cast<std::size_t>(index);
    const SpliceFile& file = m_splice->files()[m_at.file];
    if (isQuestion()) {
        if (row < file.outcome->question->answers.size()) {
            m_splice->answer(m_at.file, file.outcome->question->answers[row].choice);
            afterChange({m_at});
        }
    } else if (file.text->isRegion(m_at.slot) && row < m_evidence->candidates().size()) {
        m_splice->takeCandidate(m_at, m_evidence->candidates()[row]);
        afterChange({m_at});
    }
}

void ResolveStation::takeSide(FileChoice side)
{
    if (!m_chosen.empty()) {
        decideTogether(m_together->rowOf(side == FileChoice::ours ? TogetherChoice::ours
                                                                  : TogetherChoice::theirs));
    } else if (hasPlace()) {
        takeCandidate(isQuestion() ? m_question->rowOf(side) : m_evidence->rowOf(side));
    }
}

void ResolveStation::takeBoth()
{
    if (!m_chosen.empty()) {
        decideTogether(m_together->rowOf(TogetherChoice::oursTheirs));
        return;
    }
    if (!hasPlace()) {
        return;
    }
    if (isQuestion()) {
        takeCandidate(m_question->rowOf(FileChoice::keepBoth));
        return;
    }
    flush();
    const bool isOursFirst = m_splice->state(m_at).choice == nameOf(CandidateKind::oursTheirs);
    const int oursFirst = m_evidence->rowOf(CandidateKind::oursTheirs);
    const int theirsFirst = m_evidence->rowOf(CandidateKind::theirsOurs);
    takeCandidate(theirsFirst >= 0 && (isOursFirst || oursFirst < 0) ? theirsFirst : oursFirst);
}

void ResolveStation::takeLookedAtAndGoOn()
{
    if (m_chosen.empty() && !hasPlace()) {
        return;
    }
    takeCandidate(!m_chosen.empty() ? m_together->lookedAt()
                  : isQuestion()    ? m_question->lookedAt()
                                    : m_evidence->lookedAt());
    goToNextOpen(1);
}

/// The candidate that is looked at stands in the result while the region is open.
void ResolveStation::previewCandidate(int row)
{
    if (!hasPlace() || isQuestion() || !m_result->shows(m_at.file)) {
        return;
    }
    const auto& candidates = m_evidence->candidates();
    if (row < 0 || static_cast<std::size_t>(row) >= candidates.size() || m_evidence->isPreviewHere()
        || m_splice->state(m_at).isDecided || m_side->currentWidget() != m_evidence) {
        m_result->hideCandidate();
    } else {
        const Candidate& candidate = candidates[static_cast<std::size_t>(row)];
        m_result->showCandidate(m_at.slot,
                                candidate,
                                candidate.kind == CandidateKind::pickedLines
                                    ? tr("your own choice of lines")
                                    : tr("candidate %1").arg(row + 1));
    }
}

void ResolveStation::writeOwn()
{
    if (hasPlace() && !m_splice->isFrozen() && !isQuestion() && m_result->shows(m_at.file)
        && m_splice->files()[m_at.file].text->isRegion(m_at.slot)) {
        m_result->beginWriting(m_at.slot);
    }
}

void ResolveStation::reopenOrSkip()
{
    if (!hasPlace()) {
        return;
    }
    flush();
    const bool isWritten = !isQuestion() && m_splice->state(m_at).text.has_value();
    if (m_splice->state(m_at).isDecided || isWritten) {
        m_splice->reopen(m_at);
        afterChange({m_at});
    } else {
        goToNextOpen(1);
    }
}

void ResolveStation::decideAllOpen(FileChoice side)
{
    if (!hasPlace()) {
        return;
    }
    flush();
    m_splice->decideAllOpen(m_at.file, side);
    std::vector<SlotPlace> places{{m_at.file, SlotPlace::kQuestion}};
    const auto& text = m_splice->files()[m_at.file].text;
    for (std::size_t slot = 0; text && slot < text->slotCount(); ++slot) {
        places.push_back({m_at.file, slot});
    }
    afterChange(places);
}

void ResolveStation::undo()
{
    flush();
    if (LinesView& lines = m_evidence->lines(); m_evidence->areLinesShown() && lines.canUndo()) {
        lines.undo();  // what is being picked comes before what was decided
    } else if (m_splice != nullptr && m_splice->canUndo()) {
        const std::vector<SlotChange> step = m_splice->nextUndo();
        const SlotState gone = m_splice->state(step.front().place);
        followStep(m_splice->undo(), gone.text != step.front().state.text);
        emit told(tr("Undone: %1").arg(stepInWords(*m_splice, step, step.front().state, gone)));
    }
}

void ResolveStation::redo()
{
    flush();
    if (LinesView& lines = m_evidence->lines(); m_evidence->areLinesShown() && lines.canRedo()) {
        lines.redo();
    } else if (m_splice != nullptr && m_splice->canRedo()) {
        const std::vector<SlotChange> step = m_splice->nextRedo();
        const SlotState before = m_splice->state(step.front().place);
        followStep(m_splice->redo(), before.text != step.front().state.text);
        emit told(tr("Redone: %1").arg(stepInWords(*m_splice, step, before, step.front().state)));
    }
}

/// Goes to where a step was undone or redone.
void ResolveStation::followStep(const std::vector<SlotPlace>& places, bool isTextChanged)
{
    m_lineAt.reset();
    m_at = places.front();
    afterChange(places);
    if (places.size() == 1 && isTextChanged && !isQuestion() && m_result->shows(m_at.file)) {
        m_result->revealChange();
    }
}
}  // namespace rope
