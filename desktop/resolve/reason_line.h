// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QWidget>

class QLineEdit;

namespace rope {
/// One line below the choices: why it is decided so, for whoever reads the commit one day.
class ReasonLine final : public QWidget
{
    Q_OBJECT
public:
    explicit ReasonLine(QWidget* parent);
    /// Shows what was said of the place that is looked at.
    void showReason(const QString& reason);
    /// Gives it the keyboard.
    void begin();

signals:
    /// At every change; empty: nothing is said any more.
    void given(const QString& reason);
    /// The person is done here.
    void left();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    QLineEdit* m_edit;
};
}  // namespace rope
