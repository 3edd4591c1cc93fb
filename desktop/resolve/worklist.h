// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/resolve/worklist_rows.h"

#include <QAbstractListModel>
#include <QWidget>

#include <optional>
#include <set>

class QLabel;
class QLineEdit;
class QListView;
class QPushButton;

namespace rope {
class ProgressRope;
/// The rows as a Qt model; each row also speaks through its accessible text.
class WorklistModel final : public QAbstractListModel
{
    Q_OBJECT
public:
    using QAbstractListModel::QAbstractListModel;
    void setRows(std::vector<WorklistRow> rows);
    [[nodiscard]] const WorklistRow& row(int index) const
    {
        return m_rows[static_cast<std::size_t>(index)];
    }
    [[nodiscard]] int rowOf(SlotPlace place) const;
    /// The file whose folded row stands for a place; nothing: none does.
    [[nodiscard]] std::optional<std::size_t> foldedFileOf(SlotPlace place) const;
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] Qt::ItemFlags flags(const QModelIndex& index) const override;

private:
    std::vector<WorklistRow> m_rows;
};

/// All regions and questions of the splice in one list: what is open, what is decided, how far one is.
class Worklist final : public QWidget
{
    Q_OBJECT
public:
    explicit Worklist(QWidget* parent);
    /// Shows a splice as it stands. Null: nothing.
    void show(const Splice* splice);
    void select(SlotPlace place);
    [[nodiscard]] WorklistGrouping grouping() const { return m_grouping; }
    void setGrouping(WorklistGrouping grouping);
    /// Says who brought a place in, for the grouping by people; see refreshPeople().
    void setWhoOf(std::function<QString(SlotPlace)> whoOf) { m_whoOf = std::move(whoOf); }
    /// More is known of who brought what in.
    void refreshPeople();

signals:
    void placeChosen(SlotPlace place);
    /// Several are selected at once; none: no longer.
    void togetherChosen(const std::vector<rope::SlotPlace>& places);
    void groupingChanged();

protected:
    /// Down or Enter in the filter goes into the list, Escape there empties it.
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void rebuild();
    void chooseRow(const WorklistRow& row);
    void chooseTogether(const std::vector<SlotPlace>& places);
    void onSelectionChanged();
    [[nodiscard]] QWidget* makeSwitch();
    [[nodiscard]] QPushButton* makeGroupingButton();
    const Splice* m_splice = nullptr;
    SlotPlace m_selected;
    WorklistModel* m_model;
    ProgressRope* m_progress;
    QLabel* m_summary;
    QLineEdit* m_filter;
    QListView* m_list;
    QPushButton* m_groupingButton;
    WorklistFilter::Show m_show = WorklistFilter::Show::all;
    WorklistGrouping m_grouping = WorklistGrouping::file;
    std::function<QString(SlotPlace)> m_whoOf;
    RegionNames m_names;
    AlikePlaces m_alike;
    std::set<std::size_t> m_unfolded;  ///< Files whose decided places are all listed.
    bool m_isTogether = false;
    bool m_isSelecting = false;  ///< The selection follows the place, not a person.
};
}  // namespace rope
