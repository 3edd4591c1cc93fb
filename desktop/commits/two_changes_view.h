// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/commits/change_view.h"

#include <QWidget>

class QLabel;

namespace rope {
/// What either side made of one file since they parted, side by side, before anything is joined.
class TwoChangesView final : public QWidget
{
    Q_OBJECT
public:
    /// `name`: of the whole; its parts are called after it: "overlapOursChange".
    TwoChangesView(const QByteArray& name, QWidget* parent);
    void showChanges(const FileReading& ours, const FileReading& theirs);
    void setNames(const QString& ours, const QString& theirs);
    /// As setNames(), where neither is ours.
    void setPairNames(const QString& first, const QString& second);
    void clear();

private:
    QLabel* m_oursTitle;
    QLabel* m_theirsTitle;
    ChangeView* m_ours;
    ChangeView* m_theirs;
    bool m_isPair = false;
    QString m_oursName;
    QString m_theirsName;
};
}  // namespace rope
