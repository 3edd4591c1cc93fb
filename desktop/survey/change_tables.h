// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/facts/survey_view.h"

#include <QAbstractTableModel>
#include <QTableView>

namespace rope {
/// The files both sides changed: how much on either side, and what a join would give.
class OverlapTable final : public QTableView
{
    Q_OBJECT
public:
    explicit OverlapTable(QWidget* parent);

signals:
    /// Another row is the current one; the file among those of the forecast's join.
    void filePicked(std::size_t file);

public:
    void showRows(std::vector<OverlapRow> rows);
    /// The same rows with what stands first in them: the selection stays.
    void showBest(const std::vector<OverlapRow>& rows);
    /// All of them, hidden or not.
    [[nodiscard]] int rowCount() const;
    /// Shows only files whose path or forecast holds the text.
    void setFilter(const QString& text);
    /// One's own files stand above the others, whatever is to be decided.
    void setOwnFirst(bool isFirst);

protected:
    /// Where it is narrow, bars go and the forecast stays.
    void resizeEvent(QResizeEvent* event) override;

private:
    void arrange();
    class Model;
    Model* m_model;
    std::vector<OverlapRow> m_all;  ///< In the order of need.
    QString m_filter;
    bool m_isOwnFirst = false;
};
}  // namespace rope
