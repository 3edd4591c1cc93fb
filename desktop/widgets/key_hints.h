// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QWidget>

#include <vector>

namespace rope {
struct KeyHint
{
    QString key;
    QString meaning;
};

/// The line at the window's foot: the station's keys on the left, how things stand on the right.
class KeyHints final : public QWidget
{
    Q_OBJECT
public:
    explicit KeyHints(QWidget* parent);
    void setHints(std::vector<KeyHint> hints);
    void setStatus(const QString& status);
    [[nodiscard]] QString status() const { return m_status; }
    [[nodiscard]] QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::vector<KeyHint> m_hints;
    QString m_status;
};

/// Paints a key as a small cap; returns its width. `left` and the vertical centre place it.
int paintKeyCap(QPainter& painter, const QString& key, int left, int centre);
}  // namespace rope
