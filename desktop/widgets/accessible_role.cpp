// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by accessible_round.py.
#include "desktop/widgets/accessible_role.h"

#include <QAccessibleWidget>
#include <QVariant>
#include <QWidget>

namespace rope {
namespace {
constexpr const char* kRole = "accessibleRole";

QAccessibleInterface* makeInterface(const QString&, QObject* object)
{
    auto* const widget = qobject_cast<QWidget*>(object);
    const QVariant role = widget != nullptr ? widget->property(kRole) : QVariant();
    return role.isValid()
               ? new QAccessibleWidget(widget, static_cast<QAccessible::Role>(role.toInt()))
               : nullptr;
}
}  // namespace

void setAccessibleRole(QWidget& widget, QAccessible::Role role)
{
    static const bool isInstalled = [] {
        QAccessible::installFactory(&makeInterface);
        return true;
    }();
    static_cast<void>(isInstalled);
    widget.setProperty(kRole, static_cast<int>(role));
}
}  // namespace rope
