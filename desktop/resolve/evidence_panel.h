// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/candidates.h"
#include "core/splice/decision.h"
#include "desktop/resolve/side_facts.h"
#include "desktop/wording/merge_words.h"

#include <QWidget>

class QLabel;
class QPushButton;

namespace rope {
class CandidateList;
class EvidenceCard;
class WordText;

/// What a region's three sides have to say, who said it, and the outcomes on offer.
class EvidencePanel final : public QWidget
{
    Q_OBJECT
public:
    explicit EvidencePanel(QWidget* parent);

    struct RegionView
    {
        RegionTexts texts;
        const std::vector<Candidate>* candidates =
            nullptr;             ///< Null: they are still being looked for.
        std::size_t number = 1;  ///< From 1, in its file.
        std::size_t count = 1;
        LineNumber firstBaseLine = 0;
        const SlotState* state = nullptr;
        bool isEditedByHand = false;
    };
    /// Shows a region; the texts must stay valid until the next call.
    void showRegion(const RegionView& region, const SideNames& names, const QString& baseName);
    /// The candidates of the region that is shown, once they are found.
    void setCandidates(const std::vector<Candidate>& candidates);
    /// Whether anything may be decided.
    void setEditable(bool isEditable);
    void setFacts(const PlaceFacts& facts);
    /// Marks what stands there now, after a decision was made or taken back.
    void setState(const SlotState& state, bool isEditedByHand);
    [[nodiscard]] const std::vector<Candidate>& candidates() const { return m_candidates; }
    [[nodiscard]] int lookedAt() const;

signals:
    void candidateTaken(int index);
    void writeOwnRequested();
    void leaveOpenRequested();

private:
    void lookAt(int row);
    void fillList();

    QLabel* m_number;
    EvidenceCard* m_theirs;
    EvidenceCard* m_base;
    EvidenceCard* m_ours;
    CandidateList* m_list;
    WordText* m_preview;
    QPushButton* m_take;
    QPushButton* m_writeOwn;
    QPushButton* m_leaveOpen;
    bool m_isEditable = true;
    RegionTexts m_texts;
    std::vector<Candidate> m_candidates;
    SlotState m_state;
    bool m_isEditedByHand = false;
};
}  // namespace rope
