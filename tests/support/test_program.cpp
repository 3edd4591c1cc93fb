// SPDX-License-Identifier: GPL-3.0-or-later
// The main function of a program of many tests. `PROGRAM NAME [ARGUMENTS OF QTEST]` runs those of one source.
#include "tests/support/test_program.h"

#include <cstdio>
#include <map>

namespace rope::test {
namespace {
constexpr const char* kVariable = "ROPE_TESTS";

std::map<std::string, RunTests>& entered()
{
    static std::map<std::string, RunTests> tests;
    return tests;
}

/// "journal" of ".../tst_journal.cpp".
std::string nameOf(const std::string& source)
{
    const std::size_t begin = source.rfind("tst_") + 4;
    return source.substr(begin, source.rfind('.') - begin);
}
}  // namespace

EnteredTests::EnteredTests(const char* source, RunTests run)
{
    entered()[nameOf(source)] = run;
}

QString sourceFolder()
{
    return QStringLiteral(ROPE_SOURCE_DIR);
}

QString nameOfTests()
{
    return qEnvironmentVariable(kVariable);
}
}  // namespace rope::test

int main(int argc, char** argv)
{
    using namespace rope::test;
    // A test that is to be killed starts its own program again, with no arguments.
    if (argc > 1) {
        qputenv(kVariable, argv[1]);
        argv[1] = argv[0];
        ++argv;
        --argc;
    }
    const auto test = entered().find(nameOfTests().toStdString());
    if (test == entered().end()) {
        for (const auto& [name, run] : entered()) {
            std::puts(name.c_str());
        }
        std::fputs("Name one of these tests.\n", stderr);
        return 2;
    }
    return test->second(argc, argv);
}
