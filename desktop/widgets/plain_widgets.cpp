// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/widgets/plain_widgets.h"

#include "desktop/widgets/theme.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLineEdit>
#include <QListView>
#include <QListWidget>
#include <QPainter>
#include <QResizeEvent>
#include <QTimer>
#include <QVBoxLayout>

namespace rope {
namespace {
QColor inkOf(TextRole role)
{
    return role == TextRole::muted  ? theme().muted
           : role == TextRole::open ? theme().openInk
                                    : theme().ink;
}

void dress(QLabel* label, TextRole role)
{
    QFont font = label->parentWidget() ? label->parentWidget()->font() : label->font();
    switch (role) {
    case TextRole::normal:
    case TextRole::open:
        break;
    case TextRole::strong:
    case TextRole::heading:
        font.setWeight(QFont::DemiBold);
        break;
    case TextRole::muted:
        font.setPointSizeF(font.pointSizeF() * 0.93);
        break;
    case TextRole::code:
        font = codeFont();
        break;
    }
    label->setFont(font);
    // Without a role of its own a label takes its colour by its parent's background.
    label->setForegroundRole(QPalette::WindowText);
    QPalette palette = label->palette();
    palette.setColor(QPalette::WindowText, inkOf(role));
    label->setPalette(palette);
}

constexpr const char* kTextRole = "textRole";
constexpr int kInkRole = Qt::UserRole + 100;  // beyond those that lists use for themselves
}  // namespace

void setTextRole(QLabel* label, TextRole role)
{
    const bool isFirst = !label->property(kTextRole).isValid();
    label->setProperty(kTextRole, static_cast<int>(role));
    if (!isFirst) {
        dress(label, role);
        return;
    }
    whenLookChanges(label, [label] {
        dress(label, static_cast<TextRole>(label->property(kTextRole).toInt()));
    });
}

QLabel* makeLabel(const QString& text, TextRole role, QWidget* parent)
{
    auto* label = new QLabel(text, parent);
    label->setTextFormat(Qt::PlainText);
    label->setWordWrap(true);
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    setTextRole(label, role);
    return label;
}

ElidedLabel::ElidedLabel(TextRole role, QWidget* parent)
    : QLabel(parent)
{
    setTextFormat(Qt::PlainText);
    setTextRole(this, role);
}

void ElidedLabel::setFullText(const QString& text)
{
    m_full = text;
    setAccessibleName(text);
    updateGeometry();
    elide();
}

QSize ElidedLabel::minimumSizeHint() const
{
    return {fontMetrics().averageCharWidth() * 6, QLabel::sizeHint().height()};
}

QSize ElidedLabel::sizeHint() const
{
    return {fontMetrics().horizontalAdvance(m_full) + 4, QLabel::sizeHint().height()};
}

void ElidedLabel::resizeEvent(QResizeEvent* event)
{
    QLabel::resizeEvent(event);
    elide();
}

void ElidedLabel::elide()
{
    const QString fitted = fontMetrics().elidedText(m_full, Qt::ElideRight, width());
    setText(fitted);
    setPlainToolTip(*this, fitted == m_full ? QString() : m_full);
}

QPushButton*
makeButton(const QString& text, const char* objectName, ButtonRole role, QWidget* parent)
{
    auto* button = new QPushButton(text, parent);
    button->setObjectName(QLatin1String(objectName));
    button->setAutoDefault(true);  // Enter presses what has the focus
    switch (role) {
    case ButtonRole::plain:
        break;
    case ButtonRole::primary:
        button->setProperty("role", QStringLiteral("primary"));
        break;
    case ButtonRole::segment:
        button->setProperty("role", QStringLiteral("segment"));
        button->setCheckable(true);
        button->setAutoExclusive(true);
        break;
    case ButtonRole::tab:
        button->setProperty("role", QStringLiteral("tab"));
        button->setCheckable(true);
        button->setAutoExclusive(true);
        break;
    case ButtonRole::link:
        button->setProperty("role", QStringLiteral("link"));
        break;
    }
    return button;
}

void ChoiceBox::paintEvent(QPaintEvent* event)
{
    QComboBox::paintEvent(event);
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(isEnabled() ? theme().ink : theme().muted, 1.6));
    const QPointF foot(width() - 14, height() / 2.0 + 2.5);
    painter.drawLine(foot, foot + QPointF(-4, -5));
    painter.drawLine(foot, foot + QPointF(4, -5));
}

void setButtonRole(QPushButton* button, ButtonRole role)
{
    button->setProperty("role",
                        role == ButtonRole::primary ? QStringLiteral("primary") : QString());
    button->style()->unpolish(button);
    button->style()->polish(button);
}

QString plainToolTip(const QString& text)
{
    return text.isEmpty() ? QString() : QStringLiteral("<qt>%1</qt>").arg(text.toHtmlEscaped());
}

void setPlainToolTip(QWidget& widget, const QString& text)
{
    widget.setToolTip(plainToolTip(text));
    widget.setAccessibleDescription(text);
}

void setInk(QListWidgetItem& item, TextRole role)
{
    item.setData(kInkRole, static_cast<int>(role));
    item.setForeground(inkOf(role));
}

void keepInks(QListWidget& list)
{
    whenLookChanges(&list, [&list] {
        for (int row = 0; row < list.count(); ++row) {
            QListWidgetItem& item = *list.item(row);
            if (const QVariant role = item.data(kInkRole); role.isValid()) {
                item.setForeground(inkOf(static_cast<TextRole>(role.toInt())));
            }
        }
    });
}

void layOnPanel(QListView& list)
{
    list.setFrameShape(QFrame::NoFrame);
    list.setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list.setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    list.setProperty("role", QStringLiteral("panel"));
    whenLookChanges(&list, [&list] { list.doItemsLayout(); });
}

namespace {
/// A field that keeps the keys of undo and redo to itself only while it has something to undo or redo.
class FilterField final : public QLineEdit
{
public:
    using QLineEdit::QLineEdit;

protected:
    bool event(QEvent* event) override
    {
        if (event->type() == QEvent::ShortcutOverride) {
            const auto* key = static_cast<QKeyEvent*>(event);
            if ((key->matches(QKeySequence::Undo) && !isUndoAvailable())
                || (key->matches(QKeySequence::Redo) && !isRedoAvailable())) {
                event->ignore();
                return true;
            }
        }
        return QLineEdit::event(event);
    }
};
}  // namespace

QLineEdit* makeFilter(const QString& hint, const char* objectName, QWidget* parent)
{
    auto* filter = new FilterField(parent);
    filter->setObjectName(QLatin1String(objectName));
    filter->setPlaceholderText(hint);
    filter->setAccessibleName(hint);
    filter->setClearButtonEnabled(true);
    return filter;
}

QVBoxLayout* layPanel(QWidget* panel, QLabel* heading)
{
    auto* head = new QHBoxLayout;
    head->setContentsMargins(12, 8, 12, 8);
    head->addWidget(heading);
    auto* body = new QVBoxLayout;
    body->setContentsMargins(12, 12, 12, 12);
    body->setSpacing(10);
    auto* column = new QVBoxLayout(panel);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addLayout(head);
    column->addWidget(makeRule(Qt::Horizontal, panel));
    column->addLayout(body, 1);
    return body;
}

QWidget* makeRule(Qt::Orientation orientation, QWidget* parent)
{
    auto* rule = new QWidget(parent);
    rule->setAutoFillBackground(true);
    rule->setBackgroundRole(QPalette::Window);
    whenLookChanges(rule, [rule] {
        QPalette palette = rule->palette();
        palette.setColor(QPalette::Window, theme().rules);
        rule->setPalette(palette);
    });
    if (orientation == Qt::Horizontal) {
        rule->setFixedHeight(1);
    } else {
        rule->setFixedWidth(1);
    }
    return rule;
}

void followSelection(QAbstractItemView& list)
{
    QObject::connect(
        list.selectionModel(), &QItemSelectionModel::selectionChanged, &list, [view = &list] {
            // Mouse and keys make it current just after they have selected it.
            QTimer::singleShot(0, view, [view] {
                const QModelIndexList rows = view->selectionModel()->selectedIndexes();
                if (rows.size() == 1 && rows.front() != view->currentIndex()) {
                    view->selectionModel()->setCurrentIndex(rows.front(),
                                                            QItemSelectionModel::NoUpdate);
                }
            });
        });
}
}  // namespace rope
