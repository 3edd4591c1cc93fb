// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/facts/logbook_view.h"

#include <QAbstractListModel>
#include <QListView>

namespace rope {
/// What the columns of the list of splices are.
class SpliceListHead final : public QWidget
{
    Q_OBJECT
public:
    explicit SpliceListHead(QWidget* parent);

protected:
    void paintEvent(QPaintEvent* event) override;
};

/// The splices of the logbook as a list: when, what into what and how, how much was decided, state.
class SpliceList final : public QListView
{
    Q_OBJECT
public:
    explicit SpliceList(QWidget* parent);
    void show(const LogbookFacts& facts, const QString& filter);
    /// Null: there is no row.
    [[nodiscard]] const LoggedSplice* current() const;
    [[nodiscard]] int rowCount() const;
    void select(const std::string& splice);

signals:
    /// Another row is the current one.
    void picked();

private:
    class Model;
    Model* m_model;
};
}  // namespace rope
