// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/widgets/theme.h"

#include "desktop/widgets/indicator_style.h"
#include "desktop/widgets/look_change.h"

#include <QApplication>
#include <QFontDatabase>
#include <QFontInfo>
#include <QPalette>
#include <QStyle>
#include <QStyleFactory>
#include <QWidget>

#include <array>
#include <utility>

namespace rope {
namespace {
QColor rgb(const char* name)
{
    return QColor(QLatin1String(name));
}

Theme lightTheme()
{
    Theme t;
    t.paper = rgb("#FCFBF8");
    t.panel = rgb("#F4F1EA");
    t.rules = rgb("#DCD5C7");
    t.edges = rgb("#8A8474");
    t.ink = rgb("#22262B");
    t.muted = rgb("#64686F");
    t.ours = {rgb("#9A5A08"), rgb("#FBECD2"), rgb("#F3CE8E")};
    t.theirs = {rgb("#0B6A60"), rgb("#DCF0EB"), rgb("#A5D9CD")};
    t.base = {rgb("#5C636D"), rgb("#EBEDF0"), rgb("#C9CED6")};
    t.both = rgb("#5B5340");
    t.hand = rgb("#4A3F35");
    t.openInk = rgb("#A0333A");
    t.openFill = rgb("#FAE6E3");
    t.openSelected = rgb("#F4CFC9");
    t.decided = rgb("#4B5159");
    t.decidedFill = rgb("#EFEBE1");
    t.selection = rgb("#FFFFFF");
    t.primary = rgb("#22262B");
    t.primaryText = rgb("#FCFBF8");
    t.keyword = rgb("#3E4A7A");
    t.literal = rgb("#7A3E62");
    t.comment = rgb("#555960");
    return t;
}

Theme darkTheme()
{
    Theme t;
    t.isDark = true;
    t.paper = rgb("#1D1F22");
    t.panel = rgb("#26282C");
    t.rules = rgb("#3D4046");
    t.edges = rgb("#82868E");
    t.ink = rgb("#E9E6DF");
    t.muted = rgb("#A6A9AF");
    t.ours = {rgb("#EDB25C"), rgb("#3B2E18"), rgb("#6B4A16")};
    t.theirs = {rgb("#6CCDBD"), rgb("#16342F"), rgb("#1C5A50")};
    t.base = {rgb("#A9AFB9"), rgb("#2C2F35"), rgb("#484D56")};
    t.both = rgb("#CFC4A6");
    t.hand = rgb("#D8C8B6");
    t.openInk = rgb("#F0868B");
    t.openFill = rgb("#40262A");
    t.openSelected = rgb("#51292F");
    t.decided = rgb("#B4BAC2");
    t.decidedFill = rgb("#2D2F33");
    t.selection = rgb("#34373D");
    t.primary = rgb("#E9E6DF");
    t.primaryText = rgb("#1D1F22");
    t.keyword = rgb("#A9B8EE");
    t.literal = rgb("#E2A8CB");
    t.comment = rgb("#9EA2A9");
    return t;
}

/// Black on white, sides apart by dark inks and by their patterns; every rule is as clear as an edge.
Theme contrastTheme()
{
    Theme t;
    t.paper = rgb("#FFFFFF");
    t.panel = rgb("#FFFFFF");
    t.rules = rgb("#6B6B6B");
    t.edges = rgb("#000000");
    t.ink = rgb("#000000");
    t.muted = rgb("#333333");
    t.ours = {rgb("#6B3A00"), rgb("#FFF1D6"), rgb("#FFD58A")};
    t.theirs = {rgb("#004B43"), rgb("#DDF7F1"), rgb("#94E3D3")};
    t.base = {rgb("#33383F"), rgb("#EEF0F3"), rgb("#C3CAD4")};
    t.both = rgb("#3A3320");
    t.hand = rgb("#2E241B");
    t.openInk = rgb("#8A0010");
    t.openFill = rgb("#FFE9E6");
    t.openSelected = rgb("#FFD3CC");
    t.decided = rgb("#1F242B");
    t.decidedFill = rgb("#EDEDED");
    t.selection = rgb("#DDE6F2");
    t.primary = rgb("#000000");
    t.primaryText = rgb("#FFFFFF");
    t.keyword = rgb("#1C2A6B");
    t.literal = rgb("#5A1444");
    t.comment = rgb("#333333");
    return t;
}

std::optional<double>& codeSize()
{
    static std::optional<double> points;
    return points;
}

Theme& current()
{
    static Theme table = lightTheme();
    return table;
}

QPalette paletteOf(const Theme& t)
{
    QPalette p;
    p.setColor(QPalette::Window, t.panel);
    p.setColor(QPalette::WindowText, t.ink);
    p.setColor(QPalette::Base, t.paper);
    p.setColor(QPalette::AlternateBase, t.panel);
    p.setColor(QPalette::Text, t.ink);
    p.setColor(QPalette::Button, t.panel);
    p.setColor(QPalette::ButtonText, t.ink);
    p.setColor(QPalette::ToolTipBase, t.paper);
    p.setColor(QPalette::ToolTipText, t.ink);
    p.setColor(QPalette::PlaceholderText, t.muted);
    p.setColor(QPalette::Highlight, t.isDark ? rgb("#4A5568") : rgb("#C8D3E0"));
    p.setColor(QPalette::HighlightedText, t.ink);
    p.setColor(QPalette::Link, t.theirs.ink);
    for (const QPalette::ColorRole role :
         {QPalette::WindowText, QPalette::Text, QPalette::ButtonText}) {
        p.setColor(QPalette::Disabled, role, t.muted);
    }
    return p;
}

QString styleSheetOf(const Theme& t)
{
    const auto n = [](const QColor& c) {
        return c.name();
    };
    return QStringLiteral(R"(
QComboBox { border: 1px solid %10; border-radius: 4px; padding: 4px 8px; background: %2; color: %3; }
QComboBox:focus { border: 1px solid %3; }
QComboBox::drop-down { border: 0; width: 18px; }
QPushButton { border: 1px solid %10; border-radius: 4px; padding: 5px 12px; background: %2; color: %3; }
QPushButton:hover { background: %4; }
QPushButton:focus { border: 1px solid %3; }
QPushButton:checked { background: %1; }
QPushButton:disabled { color: %5; background: %4; }
QPushButton[role="primary"] { background: %6; color: %7; border-color: %6; }
QPushButton[role="primary"]:disabled { background: %4; color: %5; border-color: %10; }
QPushButton[role="primary"]:focus { border: 2px solid %8; padding: 4px 11px; }
QPushButton[role="segment"] { border-radius: 0; padding: 3px 6px; margin-left: -1px; }
QPushButton[role="segment"]:checked { border-bottom: 2px solid %3; padding-bottom: 2px; background: %4; }
QPushButton[role="tab"] { border: 0; border-bottom: 2px solid transparent; border-radius: 0; padding: 3px 4px; background: transparent; color: %5; }
QPushButton[role="tab"]:checked { border-bottom: 2px solid %3; color: %3; }
QPushButton[role="tab"]:focus { color: %3; }
QPushButton[role="link"] { border: 0; border-bottom: 1px dotted %5; border-radius: 0; padding: 0 1px; background: transparent; }
QPushButton[role="link"]:focus, QPushButton[role="link"]:checked { border-bottom: 1px solid %3; }
QLineEdit, QPlainTextEdit[role="field"] { border: 1px solid %10; border-radius: 4px; padding: 4px; background: %2; }
QLineEdit:focus, QPlainTextEdit[role="field"]:focus { border-color: %8; }
QSplitter::handle { background: %1; }
QToolTip { border: 1px solid %1; padding: 3px; background: %2; color: %3; }
QTabBar::tab { padding: 7px 10px 6px 10px; color: %5; border: 0; border-bottom: 2px solid transparent; background: transparent; }
QTabBar::tab:selected { color: %3; border-bottom: 2px solid %3; }
QTabBar::tab:focus { color: %3; }
QHeaderView::section { background: transparent; color: %5; border: 0; border-bottom: 1px solid %1; padding: 5px 8px; }
QMenuBar { background: %4; }
QListView[role="panel"] { background: %4; }
QAbstractItemView { selection-background-color: %9; selection-color: %3; }
QScrollBar:vertical { width: 10px; background: transparent; }
QScrollBar:horizontal { height: 10px; background: transparent; }
QScrollBar::handle { background: %1; border-radius: 4px; min-height: 24px; min-width: 24px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
)")
        .arg(n(t.rules),
             n(t.paper),
             n(t.ink),
             n(t.panel),
             n(t.muted),
             n(t.primary),
             n(t.primaryText),
             n(t.theirs.ink),
             n(t.decidedFill),
             n(t.edges));
}
}  // namespace

LookChange& LookChange::instance()
{
    static LookChange change;
    return change;
}

Theme themeOf(Look look)
{
    switch (look) {
    case Look::light:
        break;
    case Look::dark:
        return darkTheme();
    case Look::contrast:
        return contrastTheme();
    }
    return lightTheme();
}

std::optional<Look> lookNamed(const QString& name)
{
    const std::array names{"light", "dark", "contrast"};
    for (std::size_t i = 0; i < names.size(); ++i) {
        if (name == QLatin1String(names[i])) {
            return static_cast<Look>(i);
        }
    }
    return std::nullopt;
}

const Theme& theme()
{
    return current();
}

Look desktopLook()
{
    return QApplication::palette().color(QPalette::Window).lightness() < 128 ? Look::dark
                                                                             : Look::light;
}

void applyLook(QApplication& application, Look look)
{
    current() = themeOf(look);
    if (application.styleSheet().isEmpty()) {
        QApplication::setStyle(new IndicatorStyle(QStyleFactory::create(QStringLiteral("Fusion"))));
    }
    QApplication::setPalette(paletteOf(current()));
    application.setStyleSheet(styleSheetOf(current()));
    emit LookChange::instance().changed();
    for (QWidget* window : QApplication::topLevelWidgets()) {
        for (QWidget* widget : window->findChildren<QWidget*>()) {
            widget->update();
        }
    }
}

void setCodeSize(std::optional<double> points)
{
    if (std::exchange(codeSize(), points) != points) {
        emit LookChange::instance().changed();
    }
}

void whenLookChanges(QObject* owner, const std::function<void()>& dress)
{
    dress();
    QObject::connect(&LookChange::instance(), &LookChange::changed, owner, dress);
}

void useCodeFont(QWidget* widget)
{
    whenLookChanges(widget, [widget] { widget->setFont(codeFont()); });
}

QFont codeFont()
{
    QFont font = QFontDatabase::systemFont(QFontDatabase::FixedFont);
    const double ofInterface =
        QApplication::font().pointSizeF() > 0 ? QApplication::font().pointSizeF() : 10;
    font.setPointSizeF(codeSize().value_or(ofInterface));
    return font;
}
}  // namespace rope
