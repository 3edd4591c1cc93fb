// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/decision.h"
#include "core/merge/candidates.h"
#include "desktop/resolve/side_cards.h"

#include <QWidget>

#include <functional>

class QFrame;
class QLabel;
class QPushButton;

namespace rope {
class PageStack;
class CandidateList;
class LinesView;
class PaneSplitter;
class SideText;

/// What a region's three sides have to say, who said it, and the outcomes on offer. The cards share the
/// height, so that all three are in view; a drag line parts them from the candidates.
class EvidencePanel final : public QWidget
{
    Q_OBJECT
public:
    explicit EvidencePanel(QWidget* parent);

    struct RegionView
    {
        SideCards::Place place;
        const std::vector<Candidate>* candidates =
            nullptr;             ///< Null: they are still being looked for.
        std::size_t number = 1;  ///< From 1, in its file.
        std::size_t count = 1;
        const SlotState* state = nullptr;
        bool isEditedByHand = false;
        QString earlier{};  ///< Where what was decided before comes from, in words.
    };
    /// Shows a region; the texts must stay valid until the next call.
    void showRegion(const RegionView& region);
    /// Lets go of the region that was shown.
    void clear();
    /// The candidates of the region that is shown, once they are found.
    void setCandidates(const std::vector<Candidate>& candidates);
    /// Whether anything may be decided.
    void setEditable(bool isEditable);
    void setFacts(const PlaceFacts& facts);
    /// Since when the two do not fit here, in words; empty: that is not known.
    void setSince(const QString& words);
    /// When nothing is open any more the main button goes on to the next station.
    void setLeadsOn(bool leadsOn);
    /// What the main button is called then.
    void setLeadOnLabel(const QString& label) { m_leadOnLabel = label; }
    /// Says what a text of one's own would mean in the region that is shown.
    using ConsequencesOf = std::function<std::vector<Consequence>(std::string_view text)>;
    void setConsequencesOf(ConsequencesOf consequencesOf)
    {
        m_consequencesOf = std::move(consequencesOf);
    }
    /// Marks what stands there now, after a decision was made or taken back.
    void setState(const SlotState& state, bool isEditedByHand);
    /// Those that were found, and the own choice of lines where one is being made.
    [[nodiscard]] const std::vector<Candidate>& candidates() const { return m_candidates; }
    [[nodiscard]] int lookedAt() const;
    /// The candidate with a side's own text, whatever else it is called.
    [[nodiscard]] int rowOf(FileChoice side) const;
    /// The candidate of this kind; -1: there is none.
    [[nodiscard]] int rowOf(CandidateKind kind) const;
    /// The page where single lines are picked, in place of the sides; with its own undo.
    void showLines(bool areShown);
    [[nodiscard]] bool areLinesShown() const;
    [[nodiscard]] LinesView& lines() { return *m_lines; }
    /// Reads the sides against the base or against each other.
    void toggleReading();
    void setBlanksShown(bool areShown);
    /// Whether the candidate that is looked at is shown below the list, not in the result.
    [[nodiscard]] bool isPreviewHere() const;
    void setPreviewHere(bool isHere);
    /// Where the sides' texts are, to be gone to by key.
    [[nodiscard]] SideCards* cards() const { return m_cards; }
    [[nodiscard]] PaneSplitter* splitter() const { return m_splitter; }

signals:
    /// Another candidate is looked at, or where it is shown has changed; -1 for none.
    void lookedAtChanged(int row);
    void candidateTaken(int index);
    void writeOwnRequested();
    void leaveOpenRequested();
    void leadOnRequested();
    /// What is looked at is what was decided: the person wants to go on to the next open place.
    void nextOpenRequested();

private:
    QWidget* makeHead();
    QWidget* makeCards();
    void layChoices();
    void lookAt(int row);
    [[nodiscard]] bool isTakenLookedAt() const;
    void nameMainButton(int row);
    [[nodiscard]] QString useInWords(int row) const;
    void fillList();
    [[nodiscard]] QString labelFor(const Candidate& candidate) const;
    [[nodiscard]] SideCards::Against against() const;
    void onPicked();
    [[nodiscard]] std::string textLookedAt() const;
    QLabel* m_since = nullptr;
    QString m_earlier;
    QString m_leadOnLabel;

    QLabel* m_number;
    QPushButton* m_againstBase;
    QPushButton* m_againstEachOther;
    QPushButton* m_here;
    QPushButton* m_sidesTab;
    QPushButton* m_linesTab;
    QLabel* m_takenLines;
    PaneSplitter* m_splitter;
    PageStack* m_pages;
    LinesView* m_lines;
    SideCards* m_cards;
    QWidget* m_choices;
    CandidateList* m_list;
    QFrame* m_previewFrame;
    SideText* m_preview;
    QPushButton* m_take;
    QPushButton* m_writeOwn;
    QPushButton* m_clear;
    QPushButton* m_leaveOpen;
    ConsequencesOf m_consequencesOf;
    bool m_isEditable = true;
    bool m_leadsOn = false;
    RegionTexts m_texts;
    SideNames m_names;
    std::vector<Candidate> m_candidates;
    std::size_t m_foundCount = 0;  ///< Of m_candidates; behind them the own choice of lines.
    bool m_hasRegion = false;
    SlotState m_state;
    int m_takenRow = -1;  ///< Of what is decided; -1: nothing is.
    bool m_isEditedByHand = false;
};
}  // namespace rope
