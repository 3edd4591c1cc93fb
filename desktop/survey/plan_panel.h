// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/survey/plan_options.h"

#include <QWidget>

#include <string>
#include <vector>

class QCheckBox;
class QLabel;
class QPushButton;
class QScrollArea;

namespace rope {
/// A splice that was put away, or work that was set aside, in a sentence.
struct PutAwayRow
{
    std::string id;
    QString words;
};

/// What is to be done about work that is not committed yet.
enum class WorkPlan { carry, commitFirst, setAside };

/// What will happen: what into what, how, with which consequence, and the one button that starts it.
class PlanPanel final : public QWidget
{
    Q_OBJECT
public:
    explicit PlanPanel(QWidget* parent);

    struct Plan
    {
        QString ours;
        QString theirs;
        QString title;                      ///< In place of "Bring theirs into ours"; empty: that.
        QString method;                     ///< What is under way, in place of the ways to go.
        QString consequence;                ///< What that means.
        std::vector<PlanOption> methods;    ///< Ids: SpliceKind.
        int chosenMethod = -1;              ///< If it is possible; else the first one that is.
        bool offersToKeepEmptied = false;   ///< Commits that become empty could be kept.
        QString workToolTip;                ///< Which files.
        QString workHeading;                ///< "2 uncommitted files"; empty if there are none.
        std::vector<PlanOption> workPlans;  ///< Ids: WorkPlan.
        bool offersCommit = false;  ///< It can be committed here, whether or not anything comes in.
        QString obstacle;           ///< Why it cannot start; empty if it can.
        bool isGoodNews = false;    ///< Then the obstacle is none: there is nothing left to do.
        bool isUnderWay = false;    ///< A splice is: it can be put away or abandoned.
        QString startLabel;         ///< "Start: 7 to decide"
        QString effort;    ///< What is proposed for the conflicts; empty: not known, or none.
        QString otherWay;  ///< What joining the other way round would be.
        std::vector<PutAwayRow> queue;  ///< Branches to be joined later, by ref.
        QString remark;                 ///< Something to know, e.g. that there are several bases.
        QString alwaysLabel;            ///< Offers to bring theirs in always; empty: it does not.
        bool isAlways = false;          ///< It is so already.
        std::vector<PutAwayRow> putAway;
        std::vector<PutAwayRow> setAside;  ///< Work that waits to be brought back.
    };
    void showPlan(const Plan& plan);
    void showProgress(const QString& text);
    [[nodiscard]] bool canStart() const;
    [[nodiscard]] QString obstacle() const;
    /// What is taken of the methods (a SpliceKind) and of the ways with uncommitted work (a WorkPlan).
    [[nodiscard]] int method() const { return m_methods->chosen(); }
    [[nodiscard]] int workPlan() const { return m_workPlans->chosen(); }
    [[nodiscard]] bool keepsEmptied() const;

signals:
    /// A person took another method, or another way with uncommitted work.
    void choiceChanged();
    void startRequested();
    /// Uncommitted work is to be committed, and nothing else.
    void commitRequested();
    void putAwayRequested();
    void abandonRequested();
    void alwaysToggled(bool isAlways);
    void bringBackRequested(const std::string& id);
    /// A branch is not to be joined later after all.
    void queueToggled(const std::string& ref);
    void bringWorkBackRequested(const std::string& id);

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    QScrollArea* m_scroll = nullptr;
    void layLeaving();
    void showPutAway(const Plan& plan);
    void addPutAway(QWidget* list,
                    const std::vector<PutAwayRow>& rows,
                    const QString& label,
                    const char* buttonName,
                    void (PlanPanel::*signal)(const std::string&));
    QLabel* m_what;
    QLabel* m_method;
    QLabel* m_consequence;
    PlanOptions* m_methods;
    QCheckBox* m_keepsEmptied;
    QLabel* m_workHeading;
    PlanOptions* m_workPlans;
    QWidget* m_leaving;  ///< The ways to leave the splice that is under way.
    QPushButton* m_commitWork;
    QLabel* m_effort;
    QLabel* m_otherWay;
    QLabel* m_remark;
    QLabel* m_obstacle;
    QCheckBox* m_always;
    QLabel* m_promise;
    QPushButton* m_start;
    QLabel* m_queueHeading;
    QWidget* m_queue;
    QLabel* m_putAwayHeading;
    QWidget* m_putAway;
};
}  // namespace rope
