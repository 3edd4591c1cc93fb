// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QWidget>

namespace rope {
/// How much of something is done, as a rope that is spliced so far and two loose lines beyond.
class ProgressRope final : public QWidget
{
    Q_OBJECT
public:
    explicit ProgressRope(QWidget* parent);
    /// REQUIRES: done <= all. All 0: nothing is shown.
    void setDone(std::size_t done, std::size_t all);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::size_t m_done = 0;
    std::size_t m_all = 0;
};
}  // namespace rope
