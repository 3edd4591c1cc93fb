// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QDialog>

class QLineEdit;

namespace rope {
/// One question of git or ssh, in its own words: something to type, hidden where it is a secret, or a
/// yes or no.
class AskDialog final : public QDialog
{
    Q_OBJECT
public:
    AskDialog(const QString& question, QWidget* parent);
    /// Once it was accepted.
    [[nodiscard]] QString answer() const;

private:
    QLineEdit* m_field = nullptr;  ///< Null where yes or no is asked.
};
}  // namespace rope
