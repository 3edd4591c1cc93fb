// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/app/course_bar.h"
#include "desktop/app/window.h"
#include "desktop/widgets/plain_widgets.h"

#include <QAction>
#include <QApplication>
#include <QLabel>
#include <QListView>
#include <QPushButton>
#include <QTest>

namespace rope::test {
/// Drives a window as a person does: finds what is in it by object name, presses keys, clicks, and
/// waits for what should come of it.
class WindowDriver
{
public:
    explicit WindowDriver(Window& window)
        : m_window(window)
    {
    }

    /// The child of that name. A missing one fails loudly, with its name.
    template <typename T>
    T& find(const char* name)
    {
        T* found = m_window.findChild<T*>(QLatin1String(name));
        if (found == nullptr) {
            qFatal("no %s in the window", name);
        }
        return *found;
    }

    void show()
    {
        m_window.show();
        m_window.activateWindow();
        if (!QTest::qWaitForWindowExposed(&m_window)) {
            qFatal("the window did not appear");
        }
        (void)QTest::qWaitForWindowActive(&m_window, 2000);
    }

    /// Presses a key where the keyboard is, shortcuts included.
    void press(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier)
    {
        QWidget* focus = QApplication::focusWidget();
        QTest::keyClick(
            focus != nullptr && m_window.isAncestorOf(focus) ? focus : &m_window, key, modifiers);
        QApplication::processEvents();
    }
    void type(const QString& text)
    {
        QTest::keyClicks(QApplication::focusWidget(), text);
        QApplication::processEvents();
    }
    /// Takes the candidate of that label, by its key, once it is offered.
    void take(const char* label)
    {
        int row = -1;
        const bool isOffered = waitFor([&] {
            const auto* model = find<QListView>("candidateList").model();
            for (row = 0; row < model->rowCount(); ++row) {
                const QString text = model->index(row, 0).data(Qt::AccessibleTextRole).toString();
                const QString start =
                    QStringLiteral("%1 %2").arg(row + 1).arg(QLatin1String(label));
                if (text.startsWith(start + QLatin1Char(':'))
                    || text.startsWith(start + QStringLiteral(" ·"))
                    || text.startsWith(start + QLatin1Char(','))) {
                    return row < 9;
                }
            }
            return false;
        });
        if (!isOffered) {
            qFatal("no candidate %s", label);
        }
        press(static_cast<Qt::Key>(Qt::Key_1 + row), Qt::AltModifier);
    }
    void click(const char* button)
    {
        auto& target = find<QAbstractButton>(button);
        if (!target.isVisible() || !target.isEnabled()) {
            qFatal("%s cannot be clicked", button);
        }
        QTest::mouseClick(&target, Qt::LeftButton);
        QApplication::processEvents();
    }

    /// Waits until something holds; false after `ms`.
    template <typename Predicate>
    [[nodiscard]] static bool waitFor(Predicate predicate, int ms = 60'000)
    {
        return QTest::qWaitFor(predicate, ms);
    }

    /// What a label says, whether or not all of it finds room.
    [[nodiscard]] QString text(const char* label)
    {
        const auto* elided = qobject_cast<ElidedLabel*>(&find<QLabel>(label));
        return elided != nullptr ? elided->fullText() : find<QLabel>(label).text();
    }
    [[nodiscard]] QString notice()
    {
        return find<QWidget>("noticeBar").isHidden() ? QString()
                                                     : find<QLabel>("noticeText").text();
    }
    [[nodiscard]] bool isAt(const char* knot)
    {
        return find<KnotButton>(knot).state() == KnotState::current;
    }
    /// Picks a branch of Survey by a click on it, once it is listed; false where it never is.
    [[nodiscard]] bool pickBranch(const char* branch)
    {
        auto& list = find<QListView>("branchList");
        return waitFor([&] {
            for (int row = 0; row < list.model()->rowCount(); ++row) {
                const QModelIndex index = list.model()->index(row, 0);
                if (index.data().toString() == QLatin1String(branch)) {
                    list.scrollTo(index);
                    QTest::mouseClick(
                        list.viewport(), Qt::LeftButton, {}, list.visualRect(index).center());
                    return true;
                }
            }
            return false;
        });
    }
    [[nodiscard]] bool canStart() { return find<QPushButton>("startButton").isEnabled(); }
    [[nodiscard]] QString startLabel() { return find<QPushButton>("startButton").text(); }
    [[nodiscard]] QString status() { return find<QWidget>("keyHints").accessibleName(); }

private:
    Window& m_window;
};
}  // namespace rope::test
