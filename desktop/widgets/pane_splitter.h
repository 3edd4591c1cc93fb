// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QSplitter>
#include <QVariantList>

namespace rope {
/// Panes side by side or one above the other, whose sizes are kept in proportion: of a wider window each
/// gets its share. A drag line can be focused and moved by arrows; a double-click puts it back.
class PaneSplitter final : public QSplitter
{
    Q_OBJECT
public:
    /// `shares`: of each pane at first, in any unit. `name`: of the drag lines, for screen readers.
    PaneSplitter(Qt::Orientation orientation,
                 std::vector<double> shares,
                 const QString& name,
                 QWidget* parent);

    /// The shares as they are now, to be stored; and stored ones, ignored unless they fit.
    [[nodiscard]] QVariantList shares() const;
    void setShares(const QVariantList& shares);
    /// Puts the drag lines back to where they were at first.
    void reset();

protected:
    QSplitterHandle* createHandle() override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void apply();
    std::vector<double> m_first;
    std::vector<double> m_shares;
    QString m_name;
};
}  // namespace rope
