// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/join/collisions.h"
#include "desktop/facts/survey_view.h"

#include <QHash>
#include <QTimer>
#include <QWidget>

#include <map>
#include <set>

class QComboBox;
class QLabel;
class QLineEdit;
class QListView;
class QMenu;
class QStandardItem;
class QStandardItemModel;

namespace rope {
/// What is to be done with a branch: the list is in groups by it.
enum class BranchGroup {
    proposed,  ///< The one to bring in unless a person picks another.
    open,      ///< Merging it leaves something to decide, or cannot be forecast.
    clean,     ///< It merges without a question.
    here,      ///< All of it is here already.
    expected,  ///< Its forecast is still being made.
    own,       ///< A person's own, whatever merging it gives.
};

/// Where a branch stands whose merge gives this.
[[nodiscard]] BranchGroup groupOf(const PairOutcome& outcome);

/// What the list says of one branch besides its name.
struct BranchForecast
{
    BranchGroup group = BranchGroup::expected;  ///< Of `open`, `clean`, `here`, `expected`.
    QString words;         ///< In full, for the tooltip and for screen readers.
    QString inShort;       ///< For the end of the row.
    std::size_t open = 0;  ///< Conflicts.
    QString otherWay;      ///< What merging the other way round would give, a sentence.
};

/// Every branch that could be brought in, with what merging it would mean, in groups by what is to be done.
/// Long groups that ask nothing of a person are folded; a branch that is picked shows all the same.
class BranchList final : public QWidget
{
    Q_OBJECT
public:
    explicit BranchList(QWidget* parent);
    void showBranches(const SurveyFacts& facts);
    /// The list is put in order a moment later, once for all that come together.
    void setForecast(const std::string& ref, const BranchForecast& forecast);
    /// Branches all of whose work is in the team's main: they are marked, and can be deleted from their menu.
    void setArrived(const std::set<std::string>& refs, const QString& mainName);
    void select(const std::string& ref);
    /// Branches that are to be joined one after the other, next first.
    void setQueue(const std::vector<std::string>& refs);

signals:
    void branchPicked(const std::string& ref);
    /// Another own branch is to be joined into.
    void intoPicked(const std::string& ref);
    /// A branch is to be put into the queue, or taken out of it.
    void queueToggled(const std::string& ref);
    /// A branch that has arrived is to be deleted, after a question.
    void deleteRequested(const std::string& ref);

private:
    struct Row
    {
        QByteArray ref;
        ObjectId tip;
        QString name;
        bool isOwn = false;
        bool isInto = false;
        bool isCheckedOut = false;
        bool isProposed = false;
        BranchForecast forecast;
    };
    [[nodiscard]] static BranchGroup groupOf(const Row& row);
    void showInto(const SurveyFacts& facts);
    /// Lays all rows anew, in their groups.
    void arrange();
    void addHeading(BranchGroup group, const std::vector<const Row*>& rows);
    void addRow(const Row& row);
    void fill(QStandardItem& item, const Row& row) const;
    [[nodiscard]] const Row* rowOf(const std::string& ref) const;
    void addDeleting(QMenu& menu, const std::string& ref);
    /// Hides what the filter or a folded group leaves out.
    void applyFilter();
    void toggleFold(const QModelIndex& heading);
    [[nodiscard]] bool isFolded(BranchGroup group) const;
    void showMenu(const QPoint& at);
    [[nodiscard]] std::string refAt(const QModelIndex& index) const;
    QLabel* m_age;
    QComboBox* m_into;
    QLineEdit* m_filter;
    QListView* m_list;
    QStandardItemModel* m_model;
    std::vector<Row> m_branches;    ///< In the order in which the facts have them.
    QHash<QByteArray, int> m_rows;  ///< Rows of the model, by ref.
    ObjectId m_intoTip;  ///< What the forecasts are of.
    QByteArray m_selected;
    std::set<std::string> m_arrived;
    QString m_mainName;
    std::map<BranchGroup, int> m_sizes;
    std::map<BranchGroup, bool> m_folds;  ///< What the person folded or unfolded.
    std::vector<std::string> m_queue;
    QTimer m_arranging;
};
}  // namespace rope
