// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QWidget>

class QLabel;
class QPushButton;

namespace rope {
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
        QString method;       ///< "Merge commit"
        QString consequence;  ///< What that does to history.
        QString obstacle;     ///< Why it cannot start; empty if it can.
        QString startLabel;   ///< "Start: 7 to decide"
        QString remark;       ///< Something to know, e.g. that there are several bases.
    };
    void showPlan(const Plan& plan);
    void showProgress(const QString& text);
    [[nodiscard]] bool canStart() const;
    [[nodiscard]] QString obstacle() const;

signals:
    void startRequested();

private:
    QLabel* m_what;
    QLabel* m_method;
    QLabel* m_consequence;
    QLabel* m_remark;
    QLabel* m_obstacle;
    QLabel* m_promise;
    QPushButton* m_start;
};
}  // namespace rope
