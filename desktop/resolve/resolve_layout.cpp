// SPDX-License-Identifier: GPL-3.0-or-later
// ResolveStation: how its panes are laid out and joined.
// Tested by tst_resolve_station.cpp.
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
void ResolveStation::layCentre()
{
    auto* notePage = new QWidget(m_centre);
    m_leadOn = makeButton({}, "goToCheckButton", ButtonRole::primary, notePage);
    m_centreNote = makeLabel({}, TextRole::muted, notePage);
    m_centreNote->setObjectName(QStringLiteral("resolveNote"));
    m_centreNote->setAlignment(Qt::AlignCenter);
    auto* noteLayout = new QVBoxLayout(notePage);
    noteLayout->setContentsMargins(48, 48, 48, 48);
    noteLayout->addStretch();
    noteLayout->addWidget(m_centreNote);
    noteLayout->addWidget(m_leadOn, 0, Qt::AlignHCenter);
    noteLayout->addStretch();
    m_centre->addWidget(m_result);
    m_centre->addWidget(notePage);
    m_versions = new VersionsView(m_centre);
    m_centre->addWidget(m_versions);
    m_centre->setAutoFillBackground(true);
    m_centre->setBackgroundRole(QPalette::Base);
}

void ResolveStation::laySide()
{
    m_side->addWidget(m_evidence);
    m_side->addWidget(m_question);
    m_side->addWidget(new QWidget(m_side));
    m_side->addWidget(m_joined);
    m_side->addWidget(m_together);
    m_sidePane->setAutoFillBackground(true);
    m_sidePane->setBackgroundRole(QPalette::Base);
    auto* column = new QVBoxLayout(m_sidePane);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(m_side, 1);
    column->addWidget(m_reason);
    connect(m_reason, &ReasonLine::given, this, &ResolveStation::giveReason);
    connect(m_reason, &ReasonLine::left, this, &ResolveStation::focusChoices);
}

void ResolveStation::connectWorklist()
{
    connect(m_worklist, &Worklist::placeChosen, this, &ResolveStation::goTo);
    connect(m_worklist, &Worklist::togetherChosen, this, &ResolveStation::chooseTogether);
    connect(m_together, &TogetherPanel::chosen, this, &ResolveStation::decideTogether);
    m_worklist->setWhoOf([this](SlotPlace place) { return whoBrought(place); });
    connect(m_worklist, &Worklist::groupingChanged, this, &ResolveStation::requestPeople);
}

void ResolveStation::connectResult()
{
    connect(m_result, &ResultView::regionEntered, this, [this](std::size_t slot) {
        goTo({m_at.file, slot});
    });
    connect(&m_result->code(), &CodeView::menuRequested, this, [this](QPoint position) {
        if (m_splice != nullptr) {
            makeResultMenu()->popup(position);
        }
    });
    connect(m_result, &ResultView::leaveRequested, m_worklist, [this] { m_worklist->setFocus(); });
    connect(
        m_result, &ResultView::joinedLineEntered, this, [this](std::size_t slot, LineNumber line) {
            flush();
            m_at = {m_at.file, slot};
            m_lineAt = line;
            showPlace();
            emit placeChanged();
        });
    connect(m_result, &ResultView::typed, this, [this] {
        if (!hasPlace()) {
            return;
        }
        m_worklist->show(m_splice);
        m_evidence->setLeadsOn(m_splice->openCount() == 0);
        if (!isQuestion() && m_splice->files()[m_at.file].text->isRegion(m_at.slot)) {
            m_evidence->setState(m_splice->state(m_at),
                                 m_splice->files()[m_at.file].text->isEditedByHand(m_at.slot));
        }
        emit changed();
    });
}

void ResolveStation::connectChoices()
{
    connect(m_evidence, &EvidencePanel::leadOnRequested, this, &ResolveStation::doneRequested);
    connect(m_question, &QuestionPanel::leadOnRequested, this, &ResolveStation::doneRequested);
    connect(m_leadOn, &QPushButton::clicked, this, &ResolveStation::doneRequested);
    connect(m_evidence, &EvidencePanel::nextOpenRequested, this, [this] { goToNextOpen(1); });
    connect(m_question, &QuestionPanel::nextOpenRequested, this, [this] { goToNextOpen(1); });
    connect(m_evidence, &EvidencePanel::candidateTaken, this, &ResolveStation::takeCandidate);
    connect(m_evidence, &EvidencePanel::lookedAtChanged, this, &ResolveStation::previewCandidate);
    connect(m_evidence, &EvidencePanel::writeOwnRequested, this, &ResolveStation::writeOwn);
    connect(m_evidence, &EvidencePanel::leaveOpenRequested, this, &ResolveStation::reopenOrSkip);
    m_evidence->setConsequencesOf([this](std::string_view text) {
        return hasPlace() && !isQuestion() && m_splice->files()[m_at.file].text->isRegion(m_at.slot)
                   ? m_finder->consequencesOf(text, m_splice->files()[m_at.file], m_at)
                   : std::vector<Consequence>();
    });
    connect(m_finder, &CandidateFinder::found, this, [this](SlotPlace place) {
        if (hasPlace() && m_at == place) {
            m_evidence->setCandidates(
                *m_finder->candidatesOf(m_splice->files()[place.file], place));
        }
    });
    connect(m_question, &QuestionPanel::answered, this, [this](FileChoice choice) {
        if (m_splice == nullptr) {
            return;
        }
        m_splice->answer(m_at.file, choice);
        afterChange({m_at});
    });
    connect(m_joined, &JoinedPanel::asJoinedRequested, this, &ResolveStation::reopenOrSkip);
    connect(m_question, &QuestionPanel::reopenRequested, this, &ResolveStation::reopenOrSkip);
}
}  // namespace rope
