// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/splice/splice.h"
#include "desktop/resolve/side_facts.h"

#include <QList>
#include <QVariantMap>
#include <QWidget>

#include <map>

class QAction;
class QLabel;
class QPushButton;
class QStackedWidget;

namespace rope {
class CandidateFinder;
class EvidencePanel;
class JoinedPanel;
class PaneSplitter;
class QuestionPanel;
class ResultView;
class VersionsView;
class Worklist;

/// The station where regions and questions are decided. Talks to a Splice and never to a repository;
/// what it does not know itself (who touched a place) it asks for and is given.
class ResolveStation final : public QWidget
{
    Q_OBJECT
public:
    explicit ResolveStation(QWidget* parent);

    /// Takes up a splice, which must outlive its stay here; null for none. `place` is what place()
    /// gave in an earlier run, or empty.
    void setSplice(Splice* splice, const std::string& place = {});
    /// Whether anything may be decided: not while the splice is recorded or another window has it.
    void setEditable(bool isEditable);
    /// Where the person is, for the next run.
    [[nodiscard]] std::string place() const;

    /// What can be done here by key, for a menu; separators between groups. Enabled while the station
    /// is current and the splice may be changed.
    [[nodiscard]] const QList<QAction*>& actionsByGroup() const { return m_actions; }
    /// Whether the person is at this station.
    void setCurrent(bool isCurrent);
    /// The station's main action: takes what is looked at, or goes on when nothing is open.
    void act();

    void goToNextOpen(int direction);
    void takeCandidate(int index);
    /// Takes the candidate or answer that is being looked at.
    void takeLookedAt();
    void writeOwn();
    void reopenOrSkip();
    void decideAllOpen(FileChoice side);
    /// Gives the keyboard to the candidates: typing must not fall into the text by accident.
    void focusChoices();
    void undo();
    void redo();
    /// Hands over typing that is still on its way.
    void flush();
    void setFacts(std::size_t file,
                  std::vector<PlaceFacts> regions,
                  PlaceFacts whole,
                  FileVersions versions);

    /// Where the drag lines are, to be kept; what does not fit is ignored.
    [[nodiscard]] QVariantMap shares() const;
    void setShares(const QVariantMap& shares);

signals:
    /// Nothing is open any more, and the person wants to go on.
    void doneRequested();
    /// What was undone or redone, in words.
    void told(const QString& words);
    /// Something was decided, taken back, written.
    void changed();
    /// Another region or file is looked at.
    void placeChanged();
    /// Who touched this file's regions is not known yet.
    void factsRequested(std::size_t file);

private:
    void addActions();
    void enableActions();
    void goTo(SlotPlace place);
    void showPlace();
    void afterChange(const std::vector<SlotPlace>& places);
    [[nodiscard]] std::vector<SlotPlace> decidablePlaces() const;
    [[nodiscard]] bool isQuestion() const { return m_at.slot == SlotPlace::kQuestion; }
    [[nodiscard]] bool hasPlace() const;
    void showFacts();
    void previewCandidate(int row);
    void openFind(bool replaces);
    void goToPane(int direction);
    void followStep(const std::vector<SlotPlace>& places, bool isTextChanged);

    Worklist* m_worklist;
    ResultView* m_result;
    QStackedWidget* m_centre;
    QLabel* m_centreNote;
    QPushButton* m_leadOn;
    VersionsView* m_versions;
    QStackedWidget* m_side;
    EvidencePanel* m_evidence;
    QuestionPanel* m_question;
    JoinedPanel* m_joined;
    CandidateFinder* m_finder;
    PaneSplitter* m_splitter;
    Splice* m_splice = nullptr;
    SlotPlace m_at;
    QList<QAction*> m_actions;
    bool m_isCurrent = false;
    bool m_isEditable = true;
    bool m_areBlanksShown = false;
    struct FileFacts
    {
        std::vector<PlaceFacts> regions;
        PlaceFacts whole;
        FileVersions versions;
    };
    std::map<std::size_t, FileFacts> m_facts;
};
}  // namespace rope
