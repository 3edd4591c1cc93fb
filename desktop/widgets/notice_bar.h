// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"

#include <QFrame>

#include <array>
#include <functional>

class QLabel;
class QPushButton;
class QPlainTextEdit;

namespace rope {
/// A message in the window that waits to be read: a sentence, the next step, details to unfold, and
/// up to two actions. Replaces message boxes.
class NoticeBar final : public QFrame
{
    Q_OBJECT
public:
    explicit NoticeBar(QWidget* parent);

    void showError(const Error& error);
    void showMessage(const QString& text, const QString& details = {});
    /// Adds an action, the first one with the name "noticeActionButton", the second one with
    /// "noticeSecondButton".
    void offerAction(const QString& label, std::function<void()> action);
    void dismiss();
    [[nodiscard]] QString text() const;

private:
    void dress();
    void display(const QString& text, const QString& details, bool isProblem);
    QLabel* m_text;
    QPushButton* m_detailsButton;
    std::array<QPushButton*, 2> m_actionButtons;
    QPlainTextEdit* m_details;
    bool m_isProblem = false;
    std::array<std::function<void()>, 2> m_actions;
    std::size_t m_actionCount = 0;
};
}  // namespace rope
