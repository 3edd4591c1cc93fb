// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "desktop/resolve/side_cards.h"
#include "desktop/widgets/station_page.h"

#include <QList>
#include <QVariantMap>

#include <functional>
#include <map>

class QAction;
class QLabel;
class QMenu;
class QPushButton;

namespace rope {
class PageStack;
class CandidateFinder;
class EvidencePanel;
class JoinedPanel;
class PaneSplitter;
class QuestionPanel;
class ReasonLine;
class ResultView;
class TogetherPanel;
class VersionsView;
class Worklist;

/// The station where regions and questions are decided. Talks to a Splice and never to a repository;
/// what it does not know itself (who touched a place) it asks for and is given.
class ResolveStation final : public StationPage
{
    Q_OBJECT
public:
    explicit ResolveStation(QWidget* parent);

    /// Takes up a splice, which must outlive its stay here; null for none. `place` is what place()
    /// gave in an earlier run, or empty.
    /// Files of the legs from this one on are about to be other ones; what is looked at stays where it is
    /// one of an earlier leg. takeAgain() follows.
    void letGoFrom(std::size_t leg);
    void takeAgain(Splice* splice);
    /// What is said of files has changed, but no file.
    void refreshList();
    void setSplice(Splice* splice, const std::string& place = {});
    /// Whether anything may be decided: not while the splice is recorded or another window has it.
    void setEditable(bool isEditable);
    /// Where the person is, for the next run.
    [[nodiscard]] std::string place() const;

    /// What can be done here by key, for a menu; separators between groups. Enabled while the station
    /// is current and the splice may be changed.
    [[nodiscard]] QList<QAction*> pageActions() const override { return m_actions; }
    /// Whether what a person says about a decision is kept anywhere; else there is nowhere to say it.
    void setKeepsReasons(bool keepsReasons);
    /// What the main button is called once nothing is open; else "Go to Check".
    void setLeadOnLabel(const QString& label);
    /// Whether the person is at this station.
    void setCurrent(bool isCurrent) override;
    /// Goes on when nothing is open; else says how many places are, and goes to the next. It never
    /// decides anything.
    void act() override;

    void goToNextOpen(int direction);
    /// Shows a place: a region, a question, or a stretch of joined text.
    void goTo(SlotPlace place);
    void takeCandidate(int index);
    /// As takeCandidate(): a side's own, whatever the order. Nothing happens where it is not offered.
    void takeSide(FileChoice side);
    /// Both sides', ours first; where that is taken already, theirs first.
    void takeBoth();
    void takeLookedAtAndGoOn();
    void writeOwn();
    void reopenOrSkip();
    void decideAllOpen(FileChoice side);
    /// Makes one thing of all that is chosen together.
    void decideTogether(int row);
    /// What can be done at the caret, as a menu that deletes itself when it is closed.
    [[nodiscard]] QMenu* makeResultMenu();
    /// Puts in place what was saved in another program, as if it were typed; see copyRequested().
    void takeOverCopy(const QString& path, const QByteArray& bytes);
    /// Gives the keyboard to the candidates: typing must not fall into the text by accident.
    void focusChoices();
    void undo();
    void redo();
    /// Hands over typing that is still on its way.
    void flush() override;
    void enter() override { focusChoices(); }
    [[nodiscard]] QString status() const override;
    [[nodiscard]] std::vector<KeyHint> hints() const override;
    [[nodiscard]] std::vector<KeyHint> keys() const override;
    void setFacts(std::size_t file,
                  std::vector<PlaceFacts> chunks,
                  PlaceFacts whole,
                  FileVersions versions);

    /// Since when the sides do not fit at a region, in words.
    void setSince(SlotPlace place, const QString& words);

    /// Where the drag lines are, to be kept; what does not fit is ignored.
    [[nodiscard]] QVariantMap shares() const;
    void setShares(const QVariantMap& shares);
    /// Whether long lines of the sides scroll instead of wrapping.
    void setSideways(bool isSideways);

signals:
    /// Nothing is open any more, and the person wants to go on.
    void doneRequested();
    /// What was undone or redone, in words.
    void told(const QString& words);
    /// Something was decided, taken back, written.
    void changed();
    /// Another region or file is looked at.
    void placeChanged();
    /// Why something is decided so was said, or said otherwise.
    void reasonGiven(const rope::GivenReason& reason);
    /// A copy of the result of a file is to be opened in the person's own editor.
    void copyRequested(const QString& path, const QByteArray& bytes);
    /// Who touched this file's regions is not known yet.
    void factsRequested(std::size_t file);
    /// Since when the sides do not fit at this region is not known yet; see setSince().
    void sinceRequested(rope::SlotPlace place);

private:
    void addKeyed(const QString& text,
                  const char* name,
                  const QString& key,
                  std::function<void()> act);
    void addActions();
    void addDecidingActions();
    void addLookingActions();
    void addTextActions();
    void enableActions();
    void showPlace();
    void showPlaceOnly();
    void afterChange(const std::vector<SlotPlace>& places);
    [[nodiscard]] std::vector<SlotPlace> decidablePlaces() const;
    [[nodiscard]] bool isQuestion() const { return m_at.slot == SlotPlace::kQuestion; }
    [[nodiscard]] bool hasPlace() const;
    [[nodiscard]] SideCards::Place sidesOf(const SpliceFile& file) const;
    void showReason();
    void giveReason(const QString& text);
    void showFacts();
    void previewCandidate(int row);
    void chooseTogether(const std::vector<SlotPlace>& places);
    [[nodiscard]] QString whoBrought(SlotPlace place) const;
    void requestPeople();
    void openFind(bool replaces);
    void layCentre();
    void laySide();
    void connectWorklist();
    void connectResult();
    void connectChoices();
    void connectFind();
    void findInOtherFile(int direction);
    void replaceEverywhere(const QString& by);
    void askForLine();
    void copyPath();
    void openCopy();
    [[nodiscard]] QAction* actionNamed(const char* name) const;
    void goToPane(int direction);
    void followStep(const std::vector<SlotPlace>& places, bool isTextChanged);

    PaneSplitter* m_splitter;
    Worklist* m_worklist;
    PageStack* m_centre;
    ResultView* m_result;
    QLabel* m_centreNote = nullptr;
    QPushButton* m_leadOn = nullptr;
    VersionsView* m_versions = nullptr;
    QWidget* m_sidePane;  ///< m_side, and the line below it.
    PageStack* m_side;
    EvidencePanel* m_evidence;
    QuestionPanel* m_question;
    JoinedPanel* m_joined;
    TogetherPanel* m_together;
    ReasonLine* m_reason;
    std::vector<SlotPlace> m_chosen;  ///< Together; empty: one place is looked at.
    CandidateFinder* m_finder;
    Splice* m_splice = nullptr;
    std::optional<std::string> m_placeLetGo;  ///< Between letGoFrom() and takeAgain().
    SlotPlace m_at;
    std::optional<LineNumber> m_lineAt;  ///< Of a joined stretch: the line that is looked at.
    QList<QAction*> m_actions;
    bool m_keepsReasons = true;
    bool m_isCurrent = false;
    bool m_isEditable = true;
    bool m_areBlanksShown = false;
    struct FileFacts
    {
        std::vector<PlaceFacts> chunks;  ///< Of the file's join.
        PlaceFacts whole;
        FileVersions versions;
    };
    std::map<std::size_t, FileFacts> m_facts;
    std::map<std::pair<std::size_t, std::size_t>, QString> m_since;  ///< By file and slot.
};
}  // namespace rope
