// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QPushButton>

class QAbstractItemView;
class QLineEdit;
class QListView;
class QListWidget;
class QListWidgetItem;
class QVBoxLayout;

namespace rope {
enum class TextRole { normal, strong, heading, muted, open, code };

/// A label that shows text as it is, never as markup, in one of the roles.
/// Wrapping labels can be selected and copied.
[[nodiscard]] QLabel* makeLabel(const QString& text, TextRole role, QWidget* parent);
void setTextRole(QLabel* label, TextRole role);

/// A label in one line that ends in an ellipsis where there is no room; the tooltip has it whole.
class ElidedLabel final : public QLabel
{
    Q_OBJECT
public:
    explicit ElidedLabel(TextRole role, QWidget* parent);
    void setFullText(const QString& text);
    [[nodiscard]] QString fullText() const { return m_full; }
    [[nodiscard]] QSize minimumSizeHint() const override;
    [[nodiscard]] QSize sizeHint() const override;

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void elide();
    QString m_full;
};

enum class ButtonRole {
    plain,
    primary,  ///< The station's main action.
    segment,  ///< One of a few that stand side by side and exclude each other.
    tab,      ///< As segment, for pages of one panel.
    link,     ///< A quiet one, as words in a heading.
};
[[nodiscard]] QPushButton*
makeButton(const QString& text, const char* objectName, ButtonRole role, QWidget* parent);

/// A field that shows one of several, with a sign that there are others.
class ChoiceBox final : public QComboBox
{
    Q_OBJECT
public:
    using QComboBox::QComboBox;

protected:
    void paintEvent(QPaintEvent* event) override;
};

/// Makes it the station's main action, or a plain one again.
void setButtonRole(QPushButton* button, ButtonRole role);

/// Text from outside as a tooltip that is shown as it is, never taken for markup.
[[nodiscard]] QString plainToolTip(const QString& text);
/// The same for a widget, whose description is then the text itself: without one of its own a screen reader
/// would read the tooltip's markup.
void setPlainToolTip(QWidget& widget, const QString& text);

/// Gives a row of a list the ink of a role, see keepInks().
void setInk(QListWidgetItem& item, TextRole role);
/// Keeps the inks of a list's rows to the look.
void keepInks(QListWidget& list);

/// Lets a list lie on the panel at a station's side: no frame, the panel's colour, no sideways scrolling.
void layOnPanel(QListView& list);

/// A field that filters a list as one types.
[[nodiscard]] QLineEdit* makeFilter(const QString& hint, const char* objectName, QWidget* parent);

/// Lays out a panel beside the result: its heading, a rule, and below it the column that is returned, to be
/// filled from the top.
[[nodiscard]] QVBoxLayout* layPanel(QWidget* panel, QLabel* heading);

/// A thin line between parts.
[[nodiscard]] QWidget* makeRule(Qt::Orientation orientation, QWidget* parent);
/// In a list in which one row is selected at a time: what is selected by other means than mouse and
/// keys, such as a screen reader's action, becomes current as well.
void followSelection(QAbstractItemView& list);
}  // namespace rope
