// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QColor>
#include <QFont>
#include <QString>

#include <functional>
#include <optional>

class QApplication;
class QWidget;

namespace rope {
/// The colours of one side of a join.
struct SideColours
{
    QColor ink;   ///< Text and pattern.
    QColor fill;  ///< Behind headings and pattern.
    QColor word;  ///< Behind a changed word.
};

/// The one table of colours (the visual code of docs/interface.md). Colour never stands alone: see
/// strand_pattern.h for the patterns that go with it.
struct Theme
{
    bool isDark = false;
    QColor paper;
    QColor panel;
    QColor rules;  ///< Lines between things, that part and say nothing.
    QColor
        edges;  ///< Of what can be pressed, ticked or written into: at least 3:1 against what is behind it.
    QColor ink;
    QColor muted;
    SideColours ours;
    SideColours theirs;
    SideColours base;
    QColor both;
    QColor hand;
    QColor openInk;
    QColor openFill;
    QColor openSelected;  ///< Behind the open region at hand.
    QColor decided;
    QColor decidedFill;
    QColor selection;  ///< Behind the selected row of a list.
    QColor primary;    ///< The station's one primary action.
    QColor primaryText;
    QColor keyword;  ///< Syntax colours, few and quiet.
    QColor literal;
    QColor comment;
};

enum class Look { light, dark, contrast };

/// The look of that name, as --theme and the preferences have it: "light", "dark" or "contrast".
[[nodiscard]] std::optional<Look> lookNamed(const QString& name);
/// The table of a look. Interface thread only.
[[nodiscard]] Theme themeOf(Look look);

/// The theme in force. Interface thread only.
[[nodiscard]] const Theme& theme();

/// Sets palette, style and style sheet of the application to a look; at any time, and all windows follow.
void applyLook(QApplication& application, Look look);
/// Sets the size of codeFont(), in points; nothing: as large as the desktop's interface font.
void setCodeSize(std::optional<double> points);

/// Calls `dress` now, and again whenever the look or the size of code changes, as long as `owner` lives.
/// For what keeps colours or fonts; what paints with theme() each time needs it not.
void whenLookChanges(QObject* owner, const std::function<void()>& dress);
/// Gives a widget the font of code, and keeps it so.
void useCodeFont(QWidget* widget);

/// The look the desktop asks for. REQUIRES: called before applyLook().
[[nodiscard]] Look desktopLook();

/// The desktop's monospace font, at the size of its interface font or the one that is preferred.
[[nodiscard]] QFont codeFont();
}  // namespace rope
