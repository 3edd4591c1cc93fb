// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/facts/logbook_view.h"

#include <QWidget>

class QVBoxLayout;

namespace rope {
/// What is kept in the repository and no splice of this journal has: uncommitted work above all, of a
/// journal that could not be read. Each can be brought back or deleted; nothing of it goes by itself.
class KeptList final : public QWidget
{
    Q_OBJECT
public:
    explicit KeptList(QWidget* parent);

    /// Hidden where there is nothing. `now`: seconds since 1970.
    void show(const std::vector<KeptWork>& kept, std::int64_t now);

signals:
    void bringBackRequested(const rope::KeptWork& kept);
    void deleteRequested(const rope::KeptWork& kept);

private:
    void addRow(const KeptWork& kept, std::int64_t now);

    QWidget* m_rows;
    QVBoxLayout* m_column;
};
}  // namespace rope
