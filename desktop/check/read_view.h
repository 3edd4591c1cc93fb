// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/background/background_runner.h"
#include "desktop/facts/check_view.h"
#include "desktop/result/result_view.h"
#include "desktop/wording/question_words.h"

#include <QTimer>
#include <QWidget>

class QButtonGroup;
class QLabel;
class QPushButton;

namespace rope {
class PageStack;
/// What a result is read against.
enum class Compared {
    ours,    ///< What I receive.
    theirs,  ///< What the team receives.
    none,    ///< The whole result.
};

/// One file of the result, to be read and mended: three views that one key switches, with the strand rail;
/// what is said of a finding stands above it.
class ReadView final : public QWidget
{
    Q_OBJECT
public:
    explicit ReadView(QWidget* parent);

    /// Who stands on either side.
    void setNames(const SideNames& names);
    /// Shows a file of a splice; both must outlive what is shown.
    void showFile(Splice& splice, std::size_t file);
    /// In place of a file: a sentence.
    void showNote(const QString& heading, const QString& words);
    void clear();
    void setEditable(bool isEditable);
    /// What is read is changed elsewhere only; that a finding is fine can be said all the same.
    void setTextsReadOnly(bool isReadOnly);
    void setCompared(Compared compared);
    [[nodiscard]] Compared compared() const { return m_compared; }

    /// What was found in the file that is shown; `current` (a key) is the one at hand, or empty.
    void setFindings(const std::vector<FoundItem>& found, const std::string& current);
    /// To the next (or, with -1, the previous) stretch that differs.
    void goToChange(int direction);
    [[nodiscard]] ResultView& result() { return *m_result; }

signals:
    void typed();
    void mendRequested();
    void fineRequested();
    /// All that differs has been in view.
    void readToEnd();
    void regionRequested();
    void leaveRequested();

private:
    [[nodiscard]] QWidget* makeHead();
    [[nodiscard]] QWidget* makeFindingBar();
    [[nodiscard]] std::string otherBytes() const;
    void compare();
    void takeReading(const std::string& text, std::shared_ptr<const Reading> reading);
    void look();
    void showRemarks();
    void showBar();

    bool m_isEditable = false;
    bool m_areTextsReadOnly = false;
    QLabel* m_path = nullptr;
    ElidedLabel* m_against = nullptr;
    QButtonGroup* m_tabs = nullptr;
    QWidget* m_bar = nullptr;
    QLabel* m_barTitle = nullptr;
    QLabel* m_barWords = nullptr;
    QPushButton* m_mend = nullptr;
    QPushButton* m_fine = nullptr;
    PageStack* m_pages;
    ResultView* m_result;
    QLabel* m_note;
    SideNames m_names;
    const Splice* m_splice = nullptr;
    std::size_t m_file = 0;
    Compared m_compared = Compared::theirs;
    std::vector<FoundItem> m_found;
    std::string m_current;
    std::vector<int> m_stretches;  ///< First lines of what differs, rising.
    std::vector<int> m_unseen;     ///< Lines that have not been in view yet.
    bool m_isCompared = false;     ///< m_unseen is of what is shown.
    bool m_isReadTold = false;
    QTimer m_lookTimer;  ///< What is in view counts as seen when scrolling rests.
    BackgroundRunner m_reader;
};
}  // namespace rope
