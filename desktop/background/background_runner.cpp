// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_background_runner.cpp.
#include "desktop/background/background_runner.h"
