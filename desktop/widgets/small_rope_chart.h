// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QWidget>

namespace rope {
/// How two branches lie to each other, small: a knot for each commit, a gap where they are too many.
class SmallRopeChart final : public QWidget
{
    Q_OBJECT
public:
    explicit SmallRopeChart(QWidget* parent);
    void setCounts(std::size_t ours, std::size_t theirs);
    [[nodiscard]] QSize sizeHint() const override { return {118, 52}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {90, 52}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::size_t m_ours = 0;
    std::size_t m_theirs = 0;
};
}  // namespace rope
