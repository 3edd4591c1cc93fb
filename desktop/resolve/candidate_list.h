// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/widgets/strand_pattern.h"

#include <QAbstractListModel>
#include <QListView>

#include <vector>

namespace rope {
/// One thing that can be chosen, as the list shows it.
struct ChoiceRow
{
    QString label;
    QString consequences;
    bool isWarning = false;
    bool isTaken = false;  ///< This is what stands there now.
    bool hasKey = true;    ///< Can be taken by its number.
    bool isLoss = false;   ///< Something that a side did is lost.
    std::vector<Strand>
        marks{};  ///< Whose text it is; two where it is put together from both sides, `open` for nothing at all.
};

/// Numbered choices with their consequences, best first. A click or an arrow key looks at one; a
/// double click or Enter takes it.
class CandidateList final : public QListView
{
    Q_OBJECT
public:
    explicit CandidateList(QWidget* parent);
    void setRows(std::vector<ChoiceRow> rows);
    [[nodiscard]] int rowCount() const;
    void lookAt(int row);
    [[nodiscard]] int lookedAt() const { return currentIndex().row(); }
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override;

signals:
    void lookedAtChanged(int row);
    void taken(int row);

protected:
    void resizeEvent(QResizeEvent* event) override;
    void currentChanged(const QModelIndex& current, const QModelIndex& previous) override;

private:
    void fitRows(int height);
    class Model;
    Model* m_model;
};
}  // namespace rope
