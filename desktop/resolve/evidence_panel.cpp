// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_resolve_station.cpp.
#include "desktop/resolve/evidence_panel.h"

#include "desktop/resolve/candidate_list.h"
#include "desktop/resolve/lines_view.h"
#include "desktop/widgets/flow_layout.h"
#include "desktop/widgets/page_stack.h"
#include "desktop/widgets/pane_splitter.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/side_text.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/merge_words.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include <algorithm>

namespace rope {
namespace {
constexpr int kPreviewLines = 5;

/// Whose text a candidate is, in the order in which it has them.
std::vector<Strand> marksOf(const Candidate& candidate, const RegionTexts& texts)
{
    switch (candidate.kind) {
    case CandidateKind::neither:
        return {Strand::open};
    case CandidateKind::oursTheirs:
    case CandidateKind::touchingOursFirst:
        return {Strand::ours, Strand::theirs};
    default:
        break;
    }
    if (candidate.text == texts.ours) {
        return {Strand::ours};
    }
    if (candidate.text == texts.theirs) {
        return {Strand::theirs};
    }
    if (candidate.text == texts.base) {
        return {Strand::base};
    }
    return isKeptAsText(candidate.kind) ? std::vector{Strand::hand}
                                        : std::vector{Strand::theirs, Strand::ours};
}
}  // namespace

EvidencePanel::EvidencePanel(QWidget* parent)
    : QWidget(parent)
    , m_number(makeLabel({}, TextRole::muted, this))
    , m_againstBase(makeButton(tr("against base"), "againstBaseButton", ButtonRole::segment, this))
    , m_againstEachOther(
          makeButton(tr("each other"), "againstEachOtherButton", ButtonRole::segment, this))
    , m_here(makeButton(tr("Preview"), "previewHereButton", ButtonRole::link, this))
    , m_sidesTab(makeButton(tr("Sides"), "sidesTab", ButtonRole::tab, this))
    , m_linesTab(makeButton(tr("Lines"), "linesTab", ButtonRole::tab, this))
    , m_takenLines(makeLabel({}, TextRole::muted, this))
    , m_splitter(new PaneSplitter(
          Qt::Vertical, {70, 30}, tr("Line between evidence and candidates"), this))
    , m_pages(new PageStack(m_splitter))
    , m_lines(new LinesView(m_pages))
    , m_cards(new SideCards(m_pages))
    , m_choices(new QWidget(m_splitter))
    , m_list(new CandidateList(m_choices))
    , m_previewFrame(new QFrame(m_choices))
    , m_preview(new SideText(Strand::base, m_previewFrame))
    , m_take(makeButton({}, "takeCandidateButton", ButtonRole::primary, m_choices))
    , m_writeOwn(makeButton(tr("Write my own"), "writeOwnButton", ButtonRole::plain, m_choices))
    , m_clear(makeButton(tr("Clear the choice"), "clearChoiceButton", ButtonRole::plain, m_choices))
    , m_leaveOpen(makeButton(tr("Leave open"), "leaveOpenButton", ButtonRole::plain, m_choices))
{
    m_splitter->setObjectName(QStringLiteral("evidenceSplitter"));
    m_pages->addWidget(makeCards());
    m_pages->addWidget(m_lines);
    m_splitter->addWidget(m_pages);
    m_splitter->addWidget(m_choices);
    layChoices();
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(makeHead());
    column->addWidget(makeRule(Qt::Horizontal, this));
    column->addWidget(m_splitter, 1);

    setFocusProxy(m_list);
    connect(m_list, &CandidateList::lookedAtChanged, this, &EvidencePanel::lookAt);
    connect(m_list, &CandidateList::taken, this, &EvidencePanel::candidateTaken);
    connect(m_take, &QPushButton::clicked, this, [this] {
        if (m_leadsOn) {
            emit leadOnRequested();
        } else if (isTakenLookedAt()) {
            emit nextOpenRequested();
        } else {
            emit candidateTaken(m_list->lookedAt());
        }
    });
    connect(m_writeOwn, &QPushButton::clicked, this, &EvidencePanel::writeOwnRequested);
    connect(m_leaveOpen, &QPushButton::clicked, this, &EvidencePanel::leaveOpenRequested);
    m_sidesTab->setChecked(true);
    connect(m_linesTab, &QPushButton::toggled, this, &EvidencePanel::showLines);
    connect(m_lines, &LinesView::picked, this, &EvidencePanel::onPicked);
    connect(m_lines, &LinesView::useRequested, this, [this] {
        emit candidateTaken(static_cast<int>(m_foundCount));
    });
    connect(m_clear, &QPushButton::clicked, this, [this] { m_lines->setTo(textLookedAt()); });
    connect(m_here, &QPushButton::toggled, this, [this](bool isHere) {
        m_previewFrame->setVisible(isHere);
        emit lookedAtChanged(m_list->lookedAt());
    });
}

QWidget* EvidencePanel::makeHead()
{
    auto* head = new QWidget(this);
    m_number->setWordWrap(false);
    m_number->setObjectName(QStringLiteral("regionNumber"));
    auto* row = new FlowLayout(head, 6);
    row->setContentsMargins(12, 6, 12, 6);
    QLabel* word = makeLabel(tr("Evidence"), TextRole::heading, head);
    word->setWordWrap(false);
    word->setContentsMargins(0, 3, 6, 0);
    m_number->setContentsMargins(6, 3, 0, 0);
    m_takenLines->setContentsMargins(0, 3, 0, 0);
    row->addWidget(word);
    row->addWidget(m_sidesTab);
    row->addWidget(m_linesTab);
    row->addWidget(m_number);
    row->pushRight();
    auto* pair = new QWidget(head);
    auto* pairRow = new QHBoxLayout(pair);
    pairRow->setContentsMargins(0, 0, 0, 0);
    pairRow->setSpacing(0);
    row->addWidget(pair);
    // Of two pairs in one row each pair excludes for itself.
    auto* pages = new QButtonGroup(head);
    pages->addButton(m_sidesTab);
    pages->addButton(m_linesTab);
    auto* readings = new QButtonGroup(head);
    for (QPushButton* button : {m_againstBase, m_againstEachOther}) {
        readings->addButton(button);
        pairRow->addWidget(button);
        connect(button, &QPushButton::toggled, this, [this](bool isOn) {
            if (isOn) {
                m_cards->setAgainst(against());
            }
        });
    }
    m_takenLines->setWordWrap(false);
    m_takenLines->setObjectName(QStringLiteral("takenLines"));
    m_takenLines->hide();
    row->addWidget(m_takenLines);
    m_againstBase->setToolTip(tr("Mark what each side did to the base (Ctrl+T)"));
    m_againstEachOther->setToolTip(tr("Mark where theirs and ours differ (Ctrl+T)"));
    return head;
}

/// Both sides and the base, and below them since when they do not fit.
QWidget* EvidencePanel::makeCards()
{
    m_since = makeLabel({}, TextRole::muted, m_cards);
    m_since->setObjectName(QStringLiteral("sinceWhen"));
    m_since->setContentsMargins(2, 2, 2, 6);
    m_since->hide();
    m_cards->addBelow(m_since);
    return m_cards;
}

void EvidencePanel::setSince(const QString& words)
{
    m_since->setText(words);
    m_since->setVisible(!words.isEmpty());
}

void EvidencePanel::layChoices()
{
    m_previewFrame->setObjectName(QStringLiteral("previewFrame"));
    whenLookChanges(m_previewFrame, [this] {
        m_previewFrame->setStyleSheet(
            QStringLiteral("#previewFrame { border: 1px dashed %1; border-radius: 3px; }")
                .arg(theme().muted.name()));
    });
    m_preview->setObjectName(QStringLiteral("candidatePreview"));
    m_preview->setAccessibleName(tr("Preview of the candidate"));
    // The list must not move under the pointer when another candidate is longer.
    whenLookChanges(m_preview, [this] {
        m_preview->setFixedHeight(kPreviewLines * QFontMetrics(codeFont()).lineSpacing() + 4);
    });
    auto* previewLayout = new QVBoxLayout(m_previewFrame);
    previewLayout->setContentsMargins(2, 2, 2, 2);
    previewLayout->addWidget(m_preview);
    m_previewFrame->hide();
    m_here->setCheckable(true);
    m_here->setToolTip(tr("Show the candidate below the list, and leave the result alone"));

    auto* head = new QHBoxLayout;
    head->addWidget(makeLabel(tr("Candidates"), TextRole::heading, m_choices));
    head->addStretch();
    head->addWidget(m_here);
    auto* buttons = new FlowLayout(nullptr, 8);
    buttons->addWidget(m_take);
    buttons->addWidget(m_writeOwn);
    buttons->addWidget(m_clear);
    m_clear->hide();
    buttons->pushRight();
    buttons->addWidget(m_leaveOpen);
    auto* column = new QVBoxLayout(m_choices);
    column->setContentsMargins(12, 4, 12, 12);
    column->setSpacing(6);
    column->addLayout(head);
    column->addWidget(m_list, 1);
    column->addWidget(m_previewFrame);
    column->addLayout(buttons);
}

void EvidencePanel::showRegion(const RegionView& region)
{
    m_texts = region.place.texts;
    m_names = region.place.names;
    m_hasRegion = true;
    m_number->setText(tr("region %1 of %2").arg(region.number).arg(region.count));
    const bool eachOther = areBetterReadAgainstEachOther(m_texts);
    const QSignalBlocker quietBase(m_againstBase);
    const QSignalBlocker quietOther(m_againstEachOther);
    (eachOther ? m_againstEachOther : m_againstBase)->setChecked(true);
    m_cards->setAgainst(against(), SideCards::When::next);
    m_cards->showPlace(region.place);
    m_state = *region.state;
    m_isEditedByHand = region.isEditedByHand;
    m_earlier = region.earlier;
    setSince({});
    setCandidates(region.candidates != nullptr ? *region.candidates : std::vector<Candidate>{});
}

void EvidencePanel::clear()
{
    m_hasRegion = false;
    m_texts = {};
    m_cards->clear();
    m_candidates.clear();
    m_foundCount = 0;
    m_lines->clear();
}

SideCards::Against EvidencePanel::against() const
{
    return m_againstEachOther->isChecked() ? SideCards::Against::eachOther
                                           : SideCards::Against::base;
}

void EvidencePanel::showLines(bool areShown)
{
    if (areShown == areLinesShown()) {
        return;
    }
    m_pages->setCurrentIndex(areShown ? 1 : 0);
    m_sidesTab->setChecked(!areShown);
    m_linesTab->setChecked(areShown);
    m_againstBase->parentWidget()->setVisible(!areShown);
    m_takenLines->setVisible(areShown);
    m_clear->setVisible(areShown);
    m_writeOwn->setText(areShown ? tr("Write my own from here") : tr("Write my own"));
    if (areShown && m_hasRegion) {
        m_lines->showRegion(m_texts, textLookedAt());
        m_lines->setFocus();
    } else {
        m_lines->clear();
        onPicked();
    }
}

bool EvidencePanel::areLinesShown() const
{
    return m_pages->currentIndex() == 1;
}

/// What a choice of lines begins with: the candidate that is looked at, else what stands there.
std::string EvidencePanel::textLookedAt() const
{
    const int row = m_list->lookedAt();
    if (row >= 0 && static_cast<std::size_t>(row) < m_foundCount) {
        return m_candidates[static_cast<std::size_t>(row)].text;
    }
    return m_state.text.value_or(std::string(m_texts.base));
}

/// The own choice of lines is the candidate behind those that were found, while one is being made.
void EvidencePanel::onPicked()
{
    const LineChoice& choice = m_lines->choice();
    m_candidates.resize(std::min(m_candidates.size(), m_foundCount));
    m_takenLines->setText(
        tr("%1 of %2 lines taken").arg(choice.takenCount()).arg(choice.lines().size()));
    if (areLinesShown() && m_lines->isTouched()) {
        Candidate picked;
        picked.kind = CandidateKind::pickedLines;
        picked.text = choice.text();
        picked.origins = choice.origins();
        if (m_consequencesOf) {
            picked.consequences = m_consequencesOf(picked.text);
        }
        m_candidates.push_back(std::move(picked));
    }
    const int before = m_list->lookedAt();
    fillList();
    if (m_candidates.size() > m_foundCount) {
        m_list->lookAt(static_cast<int>(m_foundCount));
    } else if (!m_state.isDecided && before >= 0 && before < m_list->rowCount()) {
        m_list->lookAt(before);
    }
}

void EvidencePanel::toggleReading()
{
    (m_againstBase->isChecked() ? m_againstEachOther : m_againstBase)->setChecked(true);
}

void EvidencePanel::setBlanksShown(bool areShown)
{
    m_cards->setBlanksShown(areShown);
    m_preview->setBlanksShown(areShown);
}

bool EvidencePanel::isPreviewHere() const
{
    return m_here->isChecked();
}

void EvidencePanel::setPreviewHere(bool isHere)
{
    m_here->setChecked(isHere);
}

void EvidencePanel::setCandidates(const std::vector<Candidate>& candidates)
{
    m_candidates = candidates;
    m_foundCount = m_candidates.size();
    fillList();
    if (areLinesShown()) {
        m_lines->showRegion(m_texts, textLookedAt());
    }
}

void EvidencePanel::setEditable(bool isEditable)
{
    m_isEditable = isEditable;
    m_writeOwn->setEnabled(isEditable);
    m_clear->setEnabled(isEditable);
    m_lines->setEditable(isEditable);
    m_leaveOpen->setEnabled(isEditable);
    m_take->setEnabled(m_leadsOn || isTakenLookedAt() || (isEditable && !m_candidates.empty()));
}

void EvidencePanel::setLeadsOn(bool leadsOn)
{
    m_leadsOn = leadsOn;
    nameMainButton(m_list->lookedAt());
    setEditable(m_isEditable);
}

void EvidencePanel::nameMainButton(int row)
{
    m_take->setText(m_leadsOn                                       ? m_leadOnLabel
                    : row < 0                                       ? tr("Use")
                    : isTakenLookedAt()                             ? tr("Next open")
                    : static_cast<std::size_t>(row) == m_foundCount ? tr("Use my lines")
                                                                    : useInWords(row));
}

/// The button says what is lost by pressing it.
QString EvidencePanel::useInWords(int row) const
{
    if (static_cast<std::size_t>(row) >= m_candidates.size()) {
        return tr("Use candidate %1").arg(row + 1);
    }
    const auto& consequences = m_candidates[static_cast<std::size_t>(row)].consequences;
    const auto losses = std::count_if(
        consequences.begin(), consequences.end(), [](const Consequence& c) { return c.isLoss(); });
    return losses == 0  ? tr("Use candidate %1").arg(row + 1)
           : losses > 1 ? tr("Use candidate %1: drops several edits").arg(row + 1)
                        : tr("Use candidate %1: %2").arg(row + 1).arg(lossInWords(consequences));
}

int EvidencePanel::rowOf(FileChoice side) const
{
    const std::string_view text = side == FileChoice::ours ? m_texts.ours : m_texts.theirs;
    const auto found =
        std::find_if(m_candidates.begin(), m_candidates.end(), [text](const Candidate& candidate) {
            return candidate.text == text;
        });
    return found == m_candidates.end() ? -1 : static_cast<int>(found - m_candidates.begin());
}

int EvidencePanel::rowOf(CandidateKind kind) const
{
    const auto found =
        std::find_if(m_candidates.begin(), m_candidates.end(), [kind](const Candidate& candidate) {
            return candidate.kind == kind;
        });
    return found == m_candidates.end() ? -1 : static_cast<int>(found - m_candidates.begin());
}

/// What is decided is what is looked at: there is nothing left to do here.
bool EvidencePanel::isTakenLookedAt() const
{
    return m_state.isDecided && m_takenRow >= 0 && m_list->lookedAt() == m_takenRow;
}

void EvidencePanel::setFacts(const PlaceFacts& facts)
{
    m_cards->setFacts(facts);
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

QString EvidencePanel::labelFor(const Candidate& candidate) const
{
    QString label = labelOf(candidate, m_texts);
    if (candidate.kind == CandidateKind::ours && !m_names.ours.isEmpty()) {
        return tr("%1 · %2").arg(label, m_names.ours);
    }
    if (candidate.kind == CandidateKind::theirs && !m_names.theirs.isEmpty()) {
        return tr("%1 · %2").arg(label, m_names.theirs);
    }
    if (candidate.kind != CandidateKind::earlierDecision || m_earlier.isEmpty()) {
        return label;
    }
    const QString side = candidate.text == m_texts.theirs ? tr("Theirs")
                         : candidate.text == m_texts.ours ? tr("Ours")
                         : candidate.text == m_texts.base ? tr("Base")
                                                          : QString();
    return side.isEmpty() ? m_earlier.left(1).toUpper() + m_earlier.mid(1)
                          : tr("%1, %2").arg(side, m_earlier);
}

void EvidencePanel::fillList()
{
    std::vector<ChoiceRow> rows;
    int taken = -1;
    for (const Candidate& candidate : m_candidates) {
        // An earlier decision that is a side's own text is kept as that side.
        const bool isChosen =
            m_state.choice == nameOf(candidate.kind)
            || (candidate.kind == CandidateKind::earlierDecision && m_state.text == candidate.text);
        const bool isTaken = m_state.isDecided && !m_isEditedByHand && isChosen;
        if (isTaken) {
            taken = static_cast<int>(rows.size());
        }
        rows.push_back({labelFor(candidate),
                        consequencesInWords(candidate.consequences),
                        hasWarning(candidate.consequences),
                        isTaken});
        rows.back().marks = marksOf(candidate, m_texts);
        rows.back().isLoss = !lossInWords(candidate.consequences).isEmpty();
    }
    if (m_state.isDecided && taken < 0 && m_state.text && !m_candidates.empty()) {
        const auto consequences =
            m_consequencesOf ? m_consequencesOf(*m_state.text) : std::vector<Consequence>();
        taken = static_cast<int>(rows.size());
        rows.push_back({m_state.choice == kOwnText ? tr("Your own text")
                        : m_isEditedByHand
                            ? tr("Edited by hand: %1").arg(labelOfChoice(m_state.choice))
                            : labelOfChoice(m_state.choice),
                        consequencesInWords(consequences),
                        hasWarning(consequences),
                        true,
                        false});
        rows.back().marks = {Strand::hand};
    }
    m_takenRow = taken;
    m_list->setRows(std::move(rows));
    setEditable(m_isEditable);
    if (m_candidates.empty()) {
        nameMainButton(-1);
        m_preview->showRemark(tr("Looking for candidates: this region is a long one."));
        emit lookedAtChanged(-1);
    } else {
        m_list->lookAt(std::max(taken, 0));
        lookAt(std::max(taken, 0));
    }
    m_leaveOpen->setText(m_state.isDecided ? tr("Reopen") : tr("Leave open"));
}

void EvidencePanel::lookAt(int row)
{
    if (row >= 0 && static_cast<std::size_t>(row) == m_candidates.size() && m_state.text) {
        m_preview->showOutcome(*m_state.text,
                               originsOfLines(*m_state.text, m_texts, LineOrigin::hand));
        nameMainButton(row);
        m_take->setEnabled(true);
        return;
    }
    if (row < 0 || static_cast<std::size_t>(row) >= m_candidates.size()) {
        return;
    }
    setEditable(m_isEditable);
    const Candidate& candidate = m_candidates[static_cast<std::size_t>(row)];
    nameMainButton(row);
    m_preview->showOutcome(candidate.text, candidate.origins);
    emit lookedAtChanged(row);
}
}  // namespace rope
