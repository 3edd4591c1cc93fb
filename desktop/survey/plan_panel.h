// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QWidget>

#include <string>
#include <vector>

class QLabel;
class QPushButton;

namespace rope {
/// A splice that was put away, in a sentence.
struct PutAwayRow
{
    std::string id;
    QString words;
};

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
        QString method;           ///< "Merge commit"
        QString consequence;      ///< What that does to history.
        QString obstacle;         ///< Why it cannot start; empty if it can.
        bool isGoodNews = false;  ///< Then the obstacle is none: there is nothing left to do.
        QString startLabel;       ///< "Start: 7 to decide"
        QString remark;           ///< Something to know, e.g. that there are several bases.
        std::vector<PutAwayRow> putAway;
    };
    void showPlan(const Plan& plan);
    void showProgress(const QString& text);
    [[nodiscard]] bool canStart() const;
    [[nodiscard]] QString obstacle() const;

signals:
    void startRequested();
    void bringBackRequested(const std::string& id);

private:
    void showPutAway(const std::vector<PutAwayRow>& rows);
    QLabel* m_what;
    QLabel* m_method;
    QLabel* m_consequence;
    QLabel* m_remark;
    QLabel* m_obstacle;
    QLabel* m_promise;
    QPushButton* m_start;
    QLabel* m_putAwayHeading;
    QWidget* m_putAway;
    std::vector<PutAwayRow> m_putAwayRows;
};
}  // namespace rope
