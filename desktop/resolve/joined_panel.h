// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/spliced_text.h"
#include "desktop/resolve/side_cards.h"

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
    /// Shows a stretch, and of it what the three sides have at a line, from 0 (null: at the first that is
    /// not as in the base). `place` has names and remarks; its texts are found here.
    /// REQUIRES: !text.isRegion(slot)
    void showStretch(const SplicedText& text,
                     std::size_t slot,
                     std::optional<LineNumber> line,
                     SideCards::Place place);
    /// Which chunk of the join is shown; nothing where all three sides agree.
    [[nodiscard]] std::optional<std::size_t> chunk() const { return m_chunk; }
    [[nodiscard]] SideCards& cards() { return *m_cards; }
    void setEditable(bool isEditable);

signals:
    void asJoinedRequested();

private:
    void showChunk(const SplicedText& text, SideCards::Place place);
    std::optional<std::size_t> m_chunk;
    QLabel* m_title;
    QLabel* m_note;
    QWidget* m_edit;
    SideText* m_written;
    QPushButton* m_asJoined;
    SideCards* m_cards;
};
}  // namespace rope
