// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/survey/survey_view.h"

#include <QAbstractTableModel>
#include <QTableView>

namespace rope {
/// The files both sides changed: how much on either side, and what a join would give.
class OverlapTable final : public QTableView
{
    Q_OBJECT
public:
    explicit OverlapTable(QWidget* parent);
    void showRows(std::vector<OverlapRow> rows);
    [[nodiscard]] int rowCount() const;

private:
    class Model;
    Model* m_model;
};
}  // namespace rope
