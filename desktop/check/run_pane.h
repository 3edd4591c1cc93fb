// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/facts/check_view.h"
#include "desktop/facts/trial_view.h"

#include <QWidget>

#include <functional>

class QHBoxLayout;
class QLabel;
class QLineEdit;
class QPushButton;

namespace rope {
class ElidedLabel;
class OutputView;

/// Below the result: the check commands, how they went, and what they said. It gets values and signals
/// wishes.
class RunPane final : public QWidget
{
    Q_OBJECT
public:
    explicit RunPane(QWidget* parent);

    void showTrial(const TrialView& view);
    /// Files whose places in the output can be followed; the folder that commands run in.
    void setFiles(const CheckView& view);
    void addSaid(const SaidPart& part);
    /// Whether running is the station's main action.
    void setMain(bool isMain);
    /// Runs, or stops what runs.
    void act();
    /// To the next or previous place in a file that the output names.
    void goToPlace(int direction);
    void focusCommand();
    /// The place of the command that is shown, among all.
    [[nodiscard]] std::size_t currentCommand() const { return m_current; }
    /// The command that is in the field, if it is not the one that is kept.
    void flush();

signals:
    void runRequested();
    void stopRequested();
    void sidesRequested(std::size_t command);
    /// All own commands, as they are to be kept from now on.
    void commandsEdited(const std::vector<std::string>& commands);
    void sharedAllowed(bool isAllowed);
    /// What was refused is to be asked about again.
    void askAgainRequested();
    void wholeOutputRequested(const QString& file);
    void placeRequested(const rope::RepoPath& path, std::size_t line);

private:
    /// A button among others that exclude each other.
    struct Tab
    {
        QByteArray name;
        QString label;
        QString words;
        bool isChosen = false;
        friend bool operator==(const Tab&, const Tab&) = default;
    };
    void fill(QHBoxLayout& row,
              std::vector<Tab>& shownTabs,
              std::vector<Tab> tabs,
              const std::function<void(std::size_t)>& choose);
    [[nodiscard]] QWidget* makeHead();
    [[nodiscard]] QWidget* makeQuestion();
    [[nodiscard]] QWidget* makeState();
    void fillTabs();
    void fillSides();
    void showState();
    void showQuestion();
    void showOutput();
    void choose(std::size_t command);
    void chooseSide(TrialSide side);
    void keepCommand();
    void sayWhatIsMissing();
    [[nodiscard]] const CommandItem* current() const;
    [[nodiscard]] const TrialItem* currentItem() const;

    TrialView m_view;
    std::size_t m_current = 0;             ///< Of the commands; their number: a new one is written.
    TrialSide m_side = TrialSide::result;  ///< Whose output stands below.
    std::string m_shownFile;               ///< The output that stands below; empty: none.
    std::uint64_t m_shownTo = 0;           ///< Bytes of it that stand there.
    bool m_wasRunning = false;
    QLineEdit* m_command = nullptr;
    QPushButton* m_run = nullptr;
    QHBoxLayout* m_tabs = nullptr;
    QPushButton* m_another = nullptr;
    QPushButton* m_askAgain = nullptr;
    QWidget* m_question = nullptr;
    QPushButton* m_allow = nullptr;
    QLabel* m_questionWords = nullptr;
    ElidedLabel* m_state = nullptr;
    QLabel* m_label = nullptr;
    QLabel* m_verdict = nullptr;
    QHBoxLayout* m_sideTabs = nullptr;
    std::vector<Tab> m_shownTabs;
    std::vector<Tab> m_shownSides;
    QPushButton* m_trySides = nullptr;
    QPushButton* m_whole = nullptr;
    OutputView* m_output;
};
}  // namespace rope
