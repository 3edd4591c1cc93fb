// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "tests/support/scratch_repository.h"
#include "tests/support/window_driver.h"

namespace rope::test {
/// A window in which a repository is opened, and theirs joined into ours up to the Check station.
class CheckWindow
{
public:
    explicit CheckWindow(const ScratchRepository& scratch)
        : driver(window)
    {
        window.resize(1280, 800);
        driver.show();
        window.openRepository(scratch.folder());
    }

    /// Starts joining theirs; false where it does not come to that.
    [[nodiscard]] bool startJoining()
    {
        if (!driver.pickBranch("theirs") || !driver.waitFor([&] { return driver.canStart(); })) {
            return false;
        }
        driver.press(Qt::Key_Return, Qt::ControlModifier);
        return driver.waitFor([&] { return driver.isAt("resolveKnot"); });
    }
    /// Takes the first candidate for the only region, and goes on.
    [[nodiscard]] bool decideAndGoOn()
    {
        driver.press(Qt::Key_1, Qt::AltModifier);
        driver.press(Qt::Key_Return, Qt::ControlModifier);
        return isAtCheck();
    }
    [[nodiscard]] bool isAtCheck()
    {
        return driver.waitFor([&] { return driver.isAt("checkKnot"); });
    }
    [[nodiscard]] QString path() { return driver.find<ElidedLabel>("readPath").fullText(); }

    Window window;
    WindowDriver driver;
};
}  // namespace rope::test
