// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/together.h"
#include "desktop/wording/question_words.h"

#include <QWidget>

class QLabel;
class QPushButton;

namespace rope {
class CandidateList;
class Splice;

/// Several things of the worklist that were chosen at once, and what can be made of all of them, with
/// what that would give up.
class TogetherPanel final : public QWidget
{
    Q_OBJECT
public:
    explicit TogetherPanel(QWidget* parent);
    void
    showPlaces(const Splice& splice, const std::vector<SlotPlace>& places, const SideNames& names);
    void setEditable(bool isEditable);
    [[nodiscard]] int lookedAt() const;
    /// The choice of a row. REQUIRES: 0 <= row < rowCount()
    [[nodiscard]] TogetherChoice choiceOf(int row) const;
    [[nodiscard]] int rowCount() const;
    [[nodiscard]] int rowOf(TogetherChoice choice) const;

signals:
    void chosen(int row);

private:
    QLabel* m_count;
    CandidateList* m_choices;
    QPushButton* m_take;
};
}  // namespace rope
