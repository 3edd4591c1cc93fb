// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/widgets/theme.h"
#include "tests/support/test_program.h"
#include "tests/support/watched_application.h"

namespace rope::test {
/// What tests of the window run in: settings of their own, the light look.
class WindowApplication final : public WatchedApplication
{
public:
    WindowApplication(int& argc, char** argv)
        : WatchedApplication(argc, argv)
    {
        setOrganizationName(QStringLiteral("rope-splice-test"));
        setApplicationName(QStringLiteral("rope-splice-test-") + nameOfTests());
        applyLook(*this, Look::light);
    }
};
}  // namespace rope::test
