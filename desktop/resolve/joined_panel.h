// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/splice/spliced_text.h"

#include <QWidget>

class QLabel;
class QPushButton;

namespace rope {
class SideText;

/// Stands beside a stretch of text that joined by itself: says so, or shows what was written into it by
/// hand and the way back.
class JoinedPanel final : public QWidget
{
    Q_OBJECT
public:
    explicit JoinedPanel(QWidget* parent);
    /// REQUIRES: !text.isRegion(slot)
    void showStretch(const SplicedText& text, std::size_t slot);
    void setEditable(bool isEditable);

signals:
    void asJoinedRequested();

private:
    QLabel* m_title;
    QLabel* m_note;
    QWidget* m_edit;
    SideText* m_written;
    QPushButton* m_asJoined;
};
}  // namespace rope
