// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice_plan.h"
#include "core/logbook/recorder.h"

#include <QWidget>

class QLabel;
class QPlainTextEdit;
class QPushButton;

namespace rope {
/// What is to be known of a splice once it is recorded, and gone.
struct RecordedSplice
{
    SplicePlan plan;
    bool hasWorkAside = false;  ///< Uncommitted work was set aside with it.
    QStringList leftOut;        ///< Commits that are not there, and why.
};

/// What came of recording, and where one goes from there.
class RecordedPage final : public QWidget
{
    Q_OBJECT
public:
    explicit RecordedPage(QWidget* parent);
    void showRecorded(const Recorded& recorded, const RecordedSplice& of);
    /// The branch to be joined next; empty: none.
    void setNext(const QString& branch);
    /// Whether there is anybody to send to.
    void setHasRemote(bool hasRemote);
    /// Whether what was recorded can be rolled back: not once it was pushed.
    void setCanRollBack(bool canRollBack);
    /// Leads on: to Push, or back to Survey.
    void act();

signals:
    void pushRequested();
    void surveyRequested();
    void nextRequested();
    void bringWorkBackRequested();
    /// The branch is to go back to where it was.
    void rollBackRequested();

private:
    void showDone(const QString& title, const QString& details);
    void showHookOutput(const Recorded& recorded);
    void showMerge(const Recorded& recorded, bool keepsFiles);
    /// Old and new commits side by side.
    void showPairs(const Recorded& recorded, const RecordedSplice& of);

    QLabel* m_title;
    QLabel* m_details;
    QPlainTextEdit* m_hookOutput;
    QPushButton* m_toPush;
    QPushButton* m_next;
    QPushButton* m_bringBack;
    QPushButton* m_rollBack;
    QPushButton* m_back;
    bool m_hasRemote = false;
};
}  // namespace rope
