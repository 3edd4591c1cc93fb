// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"

#include <QFrame>

#include <functional>

class QLabel;
class QPushButton;
class QPlainTextEdit;

namespace rope {
/// A message in the window that waits to be read: a sentence, the next step, details to unfold, and
/// at most one action. Replaces message boxes.
class NoticeBar final : public QFrame
{
    Q_OBJECT
public:
    explicit NoticeBar(QWidget* parent);

    void showError(const Error& error);
    void showMessage(const QString& text, const QString& details = {});
    void offerAction(const QString& label, std::function<void()> action);
    void dismiss();
    [[nodiscard]] QString text() const;

private:
    void display(const QString& text, const QString& details, bool isProblem);
    QLabel* m_text;
    QPushButton* m_detailsButton;
    QPushButton* m_actionButton;
    QPlainTextEdit* m_details;
    std::function<void()> m_action;
};
}  // namespace rope
