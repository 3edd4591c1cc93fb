// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/check/read_view.h"
#include "desktop/widgets/station_page.h"

#include <QAction>

class QLabel;
class QPushButton;

namespace rope {
class CheckList;
class PaneSplitter;
class RunPane;
struct SaidPart;
struct TrialView;

/// The station between deciding and recording: what a clean join can still get wrong, and the result read
/// file by file. It gets values and signals wishes; what is typed goes into the splice.
class CheckStation final : public StationPage
{
    Q_OBJECT
public:
    explicit CheckStation(QWidget* parent);

    /// Shows a splice; it must outlive what is shown. Null: none.
    void setSplice(Splice* splice);
    [[nodiscard]] const Splice* splice() const { return m_splice; }
    /// What is known of its result.
    void showView(const CheckView& view, bool isBusy);
    /// What is known of the check commands, and what they say.
    void showTrial(const TrialView& view);
    [[nodiscard]] RunPane& runPane() { return *m_run; }
    void setEditable(bool isEditable);
    /// Where texts are read but changed elsewhere: findings can be judged, files ticked off.
    void setTextsReadOnly(bool isReadOnly);
    /// Takes over what changed in the splice elsewhere.
    void refresh();
    /// Hands over what was typed and is not in the splice yet.
    void flush() override;
    /// Shows the first thing that is to be looked at, if nothing was chosen since it was found.
    void enter() override;
    void goToFinding(const std::string& key);
    void goToFile(const RepoPath& path);
    /// A file that only one side changed has been taken up.
    void showTakenUp(const RepoPath& path);
    /// It could not be: both have it alike, or it is no text.
    void showNotTakenUp(const RepoPath& path);
    /// To a line (from 1) of a file, which may have to be taken up first.
    void goToPlace(const RepoPath& path, std::size_t line);
    /// Runs the check command, or stops what runs.
    void runOrStop();
    void setTellsAll(bool tellsAll);
    /// The station's main action: runs the check command where it has not run on the result as it
    /// stands, else on to Record.
    void act() override;
    [[nodiscard]] std::vector<KeyHint> hints() const override;
    [[nodiscard]] std::vector<KeyHint> keys() const override;
    [[nodiscard]] QList<QAction*> pageActions() const override { return m_actions; }
    /// Its actions work only while it is the station in view.
    void setCurrent(bool isCurrent) override;

signals:
    /// Something was decided or written here.
    void changed();
    void told(const QString& words);
    void fineToggled(const std::string& key, bool isFine);
    void readToggled(const std::string& key, bool isRead);
    void takeUpRequested(const rope::RepoPath& path);
    /// All kinds of findings are to be told, or only those that are right often enough.
    void tellsAllToggled(bool tellsAll);
    /// To Resolve, at the region that a line belongs to.
    void regionRequested(rope::SlotPlace place);
    void doneRequested();
    void requiredToggled(bool isRequired);
    void submodulesToggled(bool withSubmodules);
    void removeCopiesRequested();
    /// The command (by its place) is to be run on the base as well as on both sides.
    void allSidesRequested();

private:
    [[nodiscard]] QString leftInWords() const;
    void showFirst();
    [[nodiscard]] QWidget* makeFoot();
    void addActions();
    QAction* addAction(const QString& text,
                       const char* objectName,
                       const QKeySequence& key,
                       std::function<void()> act);
    void goToNextFinding(int direction);
    void mend();
    void toggleFine();
    void undo();
    void redo();
    void afterSteps(const std::vector<SlotPlace>& places);
    void goToRegion();
    void tickOff(const ReadItem& item);
    void showFindingsHere();
    void showFoot();
    void addRunActions();
    [[nodiscard]] const FoundItem* current() const;
    [[nodiscard]] const ReadItem* itemOf(const RepoPath& path) const;
    [[nodiscard]] bool showFileAt(const RepoPath& path);

    PaneSplitter* m_splitter;
    CheckList* m_list;
    PaneSplitter* m_right;
    ReadView* m_read;
    RunPane* m_run;
    QLabel* m_left = nullptr;
    QPushButton* m_goOn = nullptr;
    QPushButton* m_tick = nullptr;
    Splice* m_splice = nullptr;
    CheckView m_view;
    bool m_isBusy = false;
    bool m_areTextsReadOnly = false;
    bool m_isEditable = true;
    bool m_hasToRun = false;  ///< A check command has not run on the result as it stands.
    bool m_isRunning = false;
    std::optional<bool> m_hasPassed;
    std::size_t m_lineToGoTo = 0;  ///< From 1, in a file that is being taken up; 0: none.
    RepoPath m_path;               ///< Of the file that is shown; empty: none.
    std::string m_finding;         ///< The one at hand; empty: none.
    bool m_entersAnew = true;      ///< The person has not chosen anything here yet.
    QAction* m_tellsAll = nullptr;
    QList<QAction*> m_actions;
};
}  // namespace rope
