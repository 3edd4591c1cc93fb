// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/widgets/key_hints.h"

#include <QList>

#include <vector>

class QAction;

namespace rope {
/// A page of the window: a station of the course, the logbook, the start page. The window asks whichever is in
/// view, and knows of none what it shows.
class StationPage : public QWidget
{
public:
    using QWidget::QWidget;

    /// It is in view now: takes over what changed meanwhile, and gives the keyboard to where work goes on.
    virtual void enter() { setFocus(); }
    /// Whether it is in view: its own keys work only then.
    virtual void setCurrent(bool /*isCurrent*/) {}
    /// Hands over typing that is still on its way.
    virtual void flush() {}
    /// Does its main action.
    virtual void act() {}

    /// The keys that are used most here, for the window's foot.
    [[nodiscard]] virtual std::vector<KeyHint> hints() const { return {}; }
    /// How things stand, for the window's foot; empty: there is nothing to say.
    [[nodiscard]] virtual QString status() const { return {}; }
    /// All keys of its own, in reading order, that belong to none of pageActions().
    [[nodiscard]] virtual std::vector<KeyHint> keys() const { return {}; }
    /// What can be done here by key, with separators between groups.
    [[nodiscard]] virtual QList<QAction*> pageActions() const { return {}; }
};
}  // namespace rope
