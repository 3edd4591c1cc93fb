// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/facts/survey_view.h"

#include <QHash>
#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QListView;
class QStandardItemModel;

namespace rope {
/// What the list says of one branch besides its name.
struct BranchForecast
{
    QString words;
    bool needsDecision = false;
    QString otherWay;  ///< What joining the other way round would be, a sentence for the tooltip.
};

/// Every branch that could be brought in, with what joining it would mean.
class BranchList final : public QWidget
{
    Q_OBJECT
public:
    explicit BranchList(QWidget* parent);
    void showBranches(const SurveyFacts& facts);
    void setForecast(const std::string& ref, const BranchForecast& forecast);
    void select(const std::string& ref);
    /// Branches that are to be joined one after the other, next first.
    void setQueue(const std::vector<std::string>& refs);

signals:
    void branchPicked(const std::string& ref);
    /// Another own branch is to be joined into.
    void intoPicked(const std::string& ref);
    /// A branch is to be put into the queue, or taken out of it.
    void queueToggled(const std::string& ref);

private:
    void addHeading(const QString& text);
    void showInto(const SurveyFacts& facts);
    void applyFilter();
    void showMenu(const QPoint& at);
    [[nodiscard]] std::string refAt(const QModelIndex& index) const;
    QLabel* m_subtitle;
    QLabel* m_age;
    QComboBox* m_into;
    QLineEdit* m_filter;
    QListView* m_list;
    QStandardItemModel* m_model;
    QHash<QByteArray, int> m_rows;  ///< By ref.
    std::vector<std::string> m_queue;
};
}  // namespace rope
