// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "desktop/app/course_bar.h"
#include "desktop/app/window_parts.h"

#include <QObject>

namespace rope {
/// Joins Check to what was found in the result and to the check commands; goes on to Record by itself where a clean
/// merge has been looked at.
class CheckWiring final : public QObject
{
    Q_OBJECT
public:
    CheckWiring(const WindowParts& parts, QObject* parent);
    /// What is done: nothing is open, nothing that was found is left to be looked at, what is to be read was read.
    [[nodiscard]] Station reachedStation() const;
    /// Goes to Check, and on from there once the result has been looked at and nothing was found.
    void lookThenGoOn(bool andRecord);
    void stay() { m_after = AfterLooking::stay; }
    /// From here on a splice is shown, or none.
    void setSplice() const;

signals:
    /// Something was decided or written.
    void changed();

private:
    enum class AfterLooking { stay, goOn, record };
    void joinTrial();
    void onChecked();
    void onTrial();
    void showOnCourse() const;
    void goOnWhenLooked();
    void goToRegion(SlotPlace place) const;

    const WindowParts& m_parts;
    AfterLooking m_after = AfterLooking::stay;
};
}  // namespace rope
