// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/findings/candidate_findings.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

namespace {
bool has(const std::vector<Consequence>& consequences, ConsequenceKind kind, const char* name = "")
{
    return std::any_of(consequences.begin(), consequences.end(), [&](const Consequence& c) {
        return c.kind == kind && (*name == '\0' || c.name == name);
    });
}

std::vector<Consequence>
with(const char* path, const char* base, const char* ours, const char* theirs, const char* text)
{
    const TextJoin join = joinTexts(base, ours, theirs).value();
    DefinitionReader definitions;
    return consequencesInFile(path, join, 0, {text}, definitions).front();
}
}  // namespace

class TestCandidateFindings : public QObject
{
    Q_OBJECT
private slots:
    void bothSides_defineAName();
    void bothSides_breakStructure();
    void bothSides_breakIndent();
    void bothSides_importTwice();
    void aSideAlone_isNotBlamed();
};

void TestCandidateFindings::bothSides_defineAName()
{
    const char* base = "def a():\n    return 1\n";
    const char* ours = "def a():\n    return 1\n\n\ndef mean(v):\n    return 2\n";
    const char* theirs = "def a():\n    return 1\n\n\ndef mean(v):\n    return 3\n";
    QVERIFY(has(with("m.py", base, ours, theirs, "    return 2\n\n\ndef mean(v):\n    return 3\n"),
                ConsequenceKind::definesTwice,
                "mean"));
    QVERIFY(with("m.py", base, ours, theirs, "    return 5\n").empty());
}

void TestCandidateFindings::bothSides_breakStructure()
{
    QVERIFY(has(with("m.json", "[\n1\n]\n", "[\n1,\n2\n]\n", "[\n1,\n3\n]\n", "1\n2\n3\n"),
                ConsequenceKind::unreadable));
    QVERIFY(has(with("m.ini", "[a]\nk = 1\n", "[a]\nk = 2\n", "[a]\nk = 3\n", "k = 2\nk = 3\n"),
                ConsequenceKind::keyTwice,
                "a.k"));
    QVERIFY(
        with("m.ini", "[a]\nk = 1\n", "[a]\nk = 2\n", "[a]\nk = 3\n", "k = 2\nl = 3\n").empty());
}

void TestCandidateFindings::bothSides_breakIndent()
{
    QVERIFY(has(with("m.py",
                     "def f():\n    a()\n",
                     "def f():\n    if x:\n        a()\n",
                     "def f():\n    while y:\n        a()\n",
                     "    if x:\n    while y:\n        a()\n"),
                ConsequenceKind::indentBroken));
}

void TestCandidateFindings::bothSides_importTwice()
{
    QVERIFY(has(with("m.py",
                     "import a\n\nf()\n",
                     "import a\nimport json\nimport os\n\nf()\n",
                     "import a\nimport json\nimport re\n\nf()\n",
                     "import os\nimport json\nimport re\n"),
                ConsequenceKind::importsTwice,
                "import json"));
}

void TestCandidateFindings::aSideAlone_isNotBlamed()
{
    // Both sides break what they had before: that is no candidate's doing.
    QVERIFY(with("m.json", "[\n1\n]\n", "[\n2 x\n]\n", "[\n3 x\n]\n", "2 x\n3 x\n").empty());
    QVERIFY(with("m.txt", "a\n", "b\n", "c\n", "b\nc\n").empty());
}

ROPE_TESTS(TestCandidateFindings, QCoreApplication)
#include "tst_candidate_findings.moc"
