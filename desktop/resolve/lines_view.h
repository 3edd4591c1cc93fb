// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/line_choice.h"

#include <QListView>

#include <optional>

namespace rope {
/// The lines that the sides of a region have, to be picked one by one, part by part, in any order. Each
/// row says who has the line and its number in the outcome; a heading above each part takes it as a whole.
class LinesView final : public QListView
{
    Q_OBJECT
public:
    explicit LinesView(QWidget* parent);

    /// Shows a region's lines, marked as `text` has them; the texts must stay valid until the next call.
    void showRegion(const RegionTexts& texts, std::string_view text);
    void clear();
    /// Puts the marks as a text has them, as one step to undo.
    void setTo(std::string_view text);
    void setEditable(bool isEditable) { m_isEditable = isEditable; }
    [[nodiscard]] const LineChoice& choice() const { return m_choice; }
    [[nodiscard]] bool isTouched() const { return !m_undo.empty(); }
    [[nodiscard]] bool canUndo() const { return !m_undo.empty(); }
    [[nodiscard]] bool canRedo() const { return !m_redo.empty(); }
    void undo();
    void redo();

signals:
    /// Other lines are taken, or in another order.
    void picked();
    /// Enter: the choice is to be used.
    void useRequested();

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    class Model;
    class Delegate;
    void toggle(int row);
    void move(int row, int direction);
    void choose(std::size_t part, PartChoice choice);
    void stepChoice(std::size_t part, int direction);
    void change(LineChoice next);
    void put(LineChoice choice);

    Model* m_model;
    LineChoice m_choice;
    std::vector<LineChoice> m_undo;
    std::vector<LineChoice> m_redo;
    bool m_isEditable = true;
};
}  // namespace rope
