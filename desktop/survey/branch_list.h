// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/survey/survey_view.h"

#include <QWidget>

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

signals:
    void branchPicked(const std::string& ref);

private:
    void addHeading(const QString& text);
    void applyFilter();
    QLabel* m_subtitle;
    QLineEdit* m_filter;
    QListView* m_list;
    QStandardItemModel* m_model;
};
}  // namespace rope
