// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/widgets/page_stack.h"

#include <QAccessible>
#include <QAccessibleWidget>

namespace rope {
namespace {
/// Its only child is the current page.
class ShownPage final : public QAccessibleWidget
{
public:
    explicit ShownPage(PageStack* stack)
        : QAccessibleWidget(stack, QAccessible::LayeredPane)
        , m_stack(stack)
    {
    }

    int childCount() const override { return m_stack->currentWidget() == nullptr ? 0 : 1; }

    QAccessibleInterface* child(int index) const override
    {
        return index == 0 ? QAccessible::queryAccessibleInterface(m_stack->currentWidget())
                          : nullptr;
    }

    int indexOfChild(const QAccessibleInterface* child) const override
    {
        return child != nullptr && child->object() == m_stack->currentWidget() ? 0 : -1;
    }

private:
    PageStack* m_stack;
};

QAccessibleInterface* interfaceOf(const QString& className, QObject* object)
{
    return className == QLatin1String("rope::PageStack")
               ? new ShownPage(static_cast<PageStack*>(object))
               : nullptr;
}

void tell(QWidget* page, QAccessible::Event what)
{
    if (page != nullptr && QAccessible::isActive()) {
        QAccessibleEvent event(page, what);
        QAccessible::updateAccessibility(&event);
    }
}
}  // namespace

PageStack::PageStack(QWidget* parent)
    : QStackedWidget(parent)
{
    static const bool isInstalled = [] {
        QAccessible::installFactory(interfaceOf);
        return true;
    }();
    Q_UNUSED(isInstalled)
    connect(this, &QStackedWidget::currentChanged, this, &PageStack::tellOfPage);
}

// Pages that go with it are no news.
PageStack::~PageStack()
{
    disconnect(this, &QStackedWidget::currentChanged, this, nullptr);
}

/// Readers keep what they have been told of the tree.
void PageStack::tellOfPage(int index)
{
    tell(m_toldOf, QAccessible::ObjectDestroyed);
    m_toldOf = widget(index);
    tell(m_toldOf, QAccessible::ObjectCreated);
}
}  // namespace rope
