// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_resolve_station.cpp.
#include "desktop/resolve/evidence_panel.h"

#include "desktop/resolve/candidate_list.h"
#include "desktop/widgets/evidence_card.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace rope {
namespace {
void showSide(EvidenceCard& card,
              std::string_view base,
              std::string_view side,
              WordText::Side which)
{
    if (side.empty() && base.empty()) {
        card.text().showRemark(EvidencePanel::tr("nothing here"));
    } else if (side == base) {
        card.text().showRemark(EvidencePanel::tr("left as in the base"));
    } else {
        card.text().showEdit(base, side, which);
    }
}
}  // namespace

EvidencePanel::EvidencePanel(QWidget* parent)
    : QWidget(parent)
    , m_number(makeLabel({}, TextRole::muted, this))
    , m_list(new CandidateList(this))
    , m_preview(new WordText(this))
    , m_take(makeButton({}, "takeCandidateButton", ButtonRole::primary, this))
    , m_writeOwn(makeButton(tr("Write my own"), "writeOwnButton", ButtonRole::plain, this))
    , m_leaveOpen(makeButton(tr("Leave open"), "leaveOpenButton", ButtonRole::plain, this))
{
    auto* cards = new QWidget(this);
    m_theirs = new EvidenceCard(Strand::theirs, tr("Theirs"), cards);
    m_base = new EvidenceCard(Strand::base, tr("Base"), cards);
    m_ours = new EvidenceCard(Strand::ours, tr("Ours"), cards);
    m_theirs->setObjectName(QStringLiteral("theirsCard"));
    m_base->setObjectName(QStringLiteral("baseCard"));
    m_ours->setObjectName(QStringLiteral("oursCard"));
    auto* cardColumn = new QVBoxLayout(cards);
    cardColumn->setContentsMargins(12, 8, 12, 8);
    cardColumn->setSpacing(8);
    for (EvidenceCard* card : {m_theirs, m_base, m_ours}) {
        cardColumn->addWidget(card);
    }
    cardColumn->addStretch();
    auto* scroll = new QScrollArea(this);
    scroll->setWidget(cards);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);

    m_number->setWordWrap(false);
    m_number->setObjectName(QStringLiteral("regionNumber"));
    auto* head = new QHBoxLayout;
    head->setContentsMargins(12, 8, 12, 8);
    head->addWidget(makeLabel(tr("Evidence"), TextRole::heading, this), 1);
    head->addWidget(m_number);

    auto* previewFrame = new QFrame(this);
    previewFrame->setObjectName(QStringLiteral("previewFrame"));
    previewFrame->setStyleSheet(
        QStringLiteral("#previewFrame { border: 1px dashed %1; border-radius: 3px; }")
            .arg(theme().muted.name()));
    m_preview->setObjectName(QStringLiteral("candidatePreview"));
    auto* previewLayout = new QVBoxLayout(previewFrame);
    previewLayout->setContentsMargins(4, 2, 4, 2);
    previewLayout->addWidget(m_preview);

    auto* buttons = new QHBoxLayout;
    buttons->addWidget(m_take);
    buttons->addWidget(m_writeOwn);
    buttons->addStretch();
    buttons->addWidget(m_leaveOpen);

    auto* lower = new QVBoxLayout;
    lower->setContentsMargins(12, 8, 12, 12);
    lower->setSpacing(6);
    lower->addWidget(makeLabel(tr("Candidates"), TextRole::heading, this));
    lower->addWidget(m_list);
    lower->addWidget(previewFrame);
    lower->addLayout(buttons);

    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addLayout(head);
    column->addWidget(makeRule(Qt::Horizontal, this));
    column->addWidget(scroll, 1);
    column->addWidget(makeRule(Qt::Horizontal, this));
    column->addLayout(lower);

    setFocusProxy(m_list);
    connect(m_list, &CandidateList::lookedAtChanged, this, &EvidencePanel::lookAt);
    connect(m_list, &CandidateList::taken, this, &EvidencePanel::candidateTaken);
    connect(
        m_take, &QPushButton::clicked, this, [this] { emit candidateTaken(m_list->lookedAt()); });
    connect(m_writeOwn, &QPushButton::clicked, this, &EvidencePanel::writeOwnRequested);
    connect(m_leaveOpen, &QPushButton::clicked, this, &EvidencePanel::leaveOpenRequested);
}

void EvidencePanel::showRegion(const RegionView& region,
                               const SideNames& names,
                               const QString& baseName)
{
    m_texts = region.texts;
    m_number->setText(tr("region %1 of %2").arg(region.number).arg(region.count));
    m_theirs->setBranch(names.theirs);
    m_ours->setBranch(names.ours);
    m_base->setBranch(baseName);
    const auto baseLines = static_cast<LineNumber>(splitLines(m_texts.base).size());
    const QString place =
        baseLines == 0 ? tr("before line %1").arg(region.firstBaseLine + 1)
        : baseLines == 1
            ? tr("line %1").arg(region.firstBaseLine + 1)
            : tr("lines %1–%2").arg(region.firstBaseLine + 1).arg(region.firstBaseLine + baseLines);
    m_base->setAuthorship(place, {}, {});
    setFacts({});
    showSide(*m_theirs, m_texts.base, m_texts.theirs, WordText::Side::theirs);
    showSide(*m_ours, m_texts.base, m_texts.ours, WordText::Side::ours);
    if (m_texts.base.empty()) {
        m_base->text().showRemark(tr("nothing stood here"));
    } else {
        m_base->text().showPlain(m_texts.base);
    }
    m_state = *region.state;
    m_isEditedByHand = region.isEditedByHand;
    setCandidates(region.candidates != nullptr ? *region.candidates : std::vector<Candidate>{});
}

void EvidencePanel::setCandidates(const std::vector<Candidate>& candidates)
{
    m_candidates = candidates;
    fillList();
}

void EvidencePanel::setEditable(bool isEditable)
{
    m_isEditable = isEditable;
    m_writeOwn->setEnabled(isEditable);
    m_leaveOpen->setEnabled(isEditable);
    m_take->setEnabled(isEditable && !m_candidates.empty());
}

void EvidencePanel::setFacts(const PlaceFacts& facts)
{
    m_theirs->setAuthorship(facts.theirs.who, facts.theirs.exactTime, facts.theirs.commit);
    m_ours->setAuthorship(facts.ours.who, facts.ours.exactTime, facts.ours.commit);
}

void EvidencePanel::setState(const SlotState& state, bool isEditedByHand)
{
    m_state = state;
    m_isEditedByHand = isEditedByHand;
    fillList();
}

int EvidencePanel::lookedAt() const
{
    return m_list->lookedAt();
}

void EvidencePanel::fillList()
{
    std::vector<ChoiceRow> rows;
    int taken = -1;
    for (const Candidate& candidate : m_candidates) {
        const bool isTaken =
            m_state.isDecided && !m_isEditedByHand && m_state.choice == nameOf(candidate.kind);
        if (isTaken) {
            taken = static_cast<int>(rows.size());
        }
        rows.push_back({labelOf(candidate.kind),
                        consequencesInWords(candidate.consequences),
                        hasWarning(candidate.consequences),
                        isTaken});
    }
    m_list->setRows(std::move(rows));
    setEditable(m_isEditable);
    if (m_candidates.empty()) {
        m_take->setText(tr("Use"));
        m_preview->showRemark(tr("Looking for candidates: this region is a long one."));
    } else {
        m_list->lookAt(std::max(taken, 0));
        lookAt(std::max(taken, 0));
    }
    m_leaveOpen->setText(m_state.isDecided ? tr("Reopen") : tr("Leave open"));
}

void EvidencePanel::lookAt(int row)
{
    if (row < 0 || static_cast<std::size_t>(row) >= m_candidates.size()) {
        return;
    }
    const Candidate& candidate = m_candidates[static_cast<std::size_t>(row)];
    m_take->setText(tr("Use candidate %1").arg(row + 1));
    if (candidate.text.empty()) {
        m_preview->showRemark(tr("nothing stands here"));
    } else {
        m_preview->showOutcome(candidate.text, m_texts);
    }
}
}  // namespace rope
