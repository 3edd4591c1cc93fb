// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QTest>

namespace rope::test {
using RunTests = int (*)(int argc, char** argv);

/// Enters a class of tests into the program it is linked into, under the name of its source: "journal" for
/// tst_journal.cpp. The program runs those that its first argument names (test_program.cpp).
class EnteredTests
{
public:
    EnteredTests(const char* source, RunTests run);
};

template <typename Test, typename Application>
int runTests(int argc, char** argv)
{
    Application application(argc, argv);
    Test test;
    return QTest::qExec(&test, argc, argv);
}

/// The root of the project's sources, without a slash at its end.
[[nodiscard]] QString sourceFolder();

/// The name of the tests that run; a program started by them with no argument runs the same ones.
[[nodiscard]] QString nameOfTests();
}  // namespace rope::test

/// Stands at the end of a test's source, with the application its tests need.
#define ROPE_TESTS(Test, Application)                                                              \
    namespace {                                                                                    \
    const rope::test::EnteredTests kEntered##Test(__FILE__,                                        \
                                                  &rope::test::runTests<Test, Application>);       \
    }
