// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/facts/check_view.h"

#include <QAbstractListModel>
#include <QWidget>

class QLineEdit;
class QListView;

namespace rope {
/// One row of the list beside the result.
struct CheckRow
{
    enum class Kind {
        heading,  ///< Of findings, of the read-through, of files that need no reading.
        finding,
        passed,  ///< Something that was looked for and not found.
        note,    ///< A sentence.
        file,
    };
    Kind kind = Kind::heading;
    std::size_t index = 0;  ///< Among the found things, or the files.
    QString title;
    QString words;  ///< Below the title, or beside it.
    QString place;
    bool isDone = false;  ///< It is fine, or read.
    bool isRemark = false;
    bool isOfOneSide = false;
    [[nodiscard]] bool canBeChosen() const { return kind == Kind::finding || kind == Kind::file; }
};

/// Findings, what passed, and the files to be read; a row by filter and need.
[[nodiscard]] std::vector<CheckRow>
checkRows(const CheckView& view, const QString& filter, bool showsOneSided);

class CheckListModel final : public QAbstractListModel
{
    Q_OBJECT
public:
    using QAbstractListModel::QAbstractListModel;
    void setRows(std::vector<CheckRow> rows);
    [[nodiscard]] const CheckRow& row(int index) const
    {
        return m_rows[static_cast<std::size_t>(index)];
    }
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    /// In words, for who listens: the tool tip and accessible text say all of a row.
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] Qt::ItemFlags flags(const QModelIndex& index) const override;

private:
    std::vector<CheckRow> m_rows;
};

/// The list beside the result: what was found, and which files are to be read.
class CheckList final : public QWidget
{
    Q_OBJECT
public:
    explicit CheckList(QWidget* parent);
    void show(const CheckView& view);
    /// Selects without telling of it; nothing: no row.
    void selectFinding(const std::string& key);
    void selectFile(const RepoPath& path);
    void clearSelection();
    [[nodiscard]] QListView& list() { return *m_list; }

signals:
    /// A person chose one; of the files, by path.
    void findingChosen(const std::string& key);
    void fileChosen(const rope::RepoPath& path);

protected:
    /// Down or Enter in the filter goes into the list, Escape there empties it.
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void rebuild();
    void select(int row);
    void onChosen();

    CheckView m_view;
    CheckListModel* m_model;
    QLineEdit* m_filter;
    QListView* m_list;
    std::string m_finding;  ///< Selected; empty: none.
    RepoPath m_file;        ///< Selected; empty: none.
    bool m_showsOneSided = false;
    bool m_isSelecting = false;
};
}  // namespace rope
