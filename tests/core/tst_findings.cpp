// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/findings/signatures.h"
#include "core/findings/tree_checker.h"
#include "tests/support/checked_texts.h"
#include "tests/support/random_texts.h"
#include "tests/support/test_program.h"

#include <QTest>

#include <algorithm>
#include <array>
#include <set>

using namespace rope;
using namespace rope::test;

namespace {
/// One file of a case: what stands where; a null pointer: no such version.
struct Version
{
    const char* path;
    const char* base;
    const char* ours;
    const char* theirs;
};

/// Joins each file (one that only one side has, or changed, is taken from it) and checks them together.
CheckReport checkAll(const std::vector<Version>& versions)
{
    std::vector<CheckedFile> files;
    std::vector<std::shared_ptr<const CheckedResult>> results;
    for (const Version& version : versions) {
        if (version.base != nullptr && version.ours != nullptr && version.theirs != nullptr) {
            CheckedTexts joined =
                joinedForChecking(version.path, version.base, version.ours, version.theirs);
            files.push_back(std::move(joined.file));
            results.push_back(std::move(joined.result));
            continue;
        }
        const auto text = [](const char* bytes) {
            return bytes ? shared(bytes) : SharedText();
        };
        const auto path = [&](const char* bytes) {
            return bytes ? std::string(version.path) : std::string();
        };
        CheckedFile file{version.path,
                         path(version.base),
                         path(version.ours),
                         path(version.theirs),
                         text(version.base),
                         text(version.ours),
                         text(version.theirs)};
        auto result = std::make_shared<CheckedResult>();
        if (version.base == nullptr) {
            result->text = version.ours != nullptr ? file.ours : file.theirs;
            result->origins.assign(splitLines(*result->text).size(),
                                   version.ours != nullptr ? LineOrigin::ours : LineOrigin::theirs);
        }
        files.push_back(std::move(file));
        results.push_back(std::move(result));
    }
    return TreeChecker(files, Told::all).check(results);
}

CheckReport checkOne(const char* path, const char* base, const char* ours, const char* theirs)
{
    return checkAll({{path, base, ours, theirs}});
}

const Finding* findingOf(const CheckReport& report, FindingKind kind)
{
    const auto found = std::find_if(report.findings.begin(),
                                    report.findings.end(),
                                    [kind](const Finding& f) { return f.kind == kind; });
    return found == report.findings.end() ? nullptr : &*found;
}

std::string mended(std::string text, const Finding& finding)
{
    return text.replace(finding.mend->position, finding.mend->length, finding.mend->text);
}

std::string decided(const TextJoin& join, std::size_t region)
{
    return std::string(join.regionTexts(region).ours)
           + std::string(join.regionTexts(region).theirs);
}

constexpr const char* kPassage = "import datetime\n"
                                 "\n"
                                 "\n"
                                 "def free_slots(day, lock):\n"
                                 "    return lock.slots(day)\n";
constexpr const char* kPassageRenamed = "import datetime\n"
                                        "\n"
                                        "\n"
                                        "def passage_slots(day, lock):\n"
                                        "    return lock.slots(day)\n";
constexpr const char* kReport = "from locks.passage import free_slots\n"
                                "\n"
                                "\n"
                                "def report(day, lock):\n"
                                "    return len(free_slots(day, lock))\n"
                                "\n"
                                "\n"
                                "def heading(day):\n"
                                "    return day.isoformat()\n";
constexpr const char* kReportRenamed = "from locks.passage import passage_slots\n"
                                       "\n"
                                       "\n"
                                       "def report(day, lock):\n"
                                       "    return len(passage_slots(day, lock))\n"
                                       "\n"
                                       "\n"
                                       "def heading(day):\n"
                                       "    return day.isoformat()\n";
}  // namespace

class TestFindings : public QObject
{
    Q_OBJECT
private slots:
    void nameGone_isFound_andMended();
    void nameGone_inAnotherFile();
    void nameGone_ofAConfiguration();
    void nameGone_looksLikeIt_data();
    void nameGone_looksLikeIt();
    void nameGone_whereTheDefinitionWasKept_isNone();
    void definedTwice();
    void importedTwice();
    void keyTwice();
    void signatureChanged();
    void arity_isReadOffSignatures();
    void arguments_areCounted();
    void importGone();
    void includeGone();
    void fileGone();
    void fileGone_looksLikeIt();
    void brackets_and_quotes();
    void indent();
    void structure();
    void nearEdits();
    void sameFunction();
    void movedBlock();
    void rewriteLeft();
    void addedTwice();
    void markersLeft();
    void lineRepeated();
    void foreignText();
    void changeDropped();
    void hostileTexts_areToldAsNotChecked();
    void keys_stayWhileOtherThingsChange();
    void outcome_dependsOnTheArgumentsAlone();
    void openFile_isNotJudged();
    void names_ofKinds_areTheirOwn();
    void randomTexts_areSurvived_andMendsFit();
};

void TestFindings::nameGone_isFound_andMended()
{
    const std::string theirs =
        std::string(kReport) + "\n\ndef outlook(day, lock):\n    return free_slots(day, lock)\n";
    const CheckReport report =
        checkAll({{"locks/passage.py", kPassage, kPassageRenamed, kPassage},
                  {"locks/report.py", kReport, kReportRenamed, theirs.c_str()}});
    QCOMPARE(report.findings.size(), 1U);
    const Finding& finding = report.findings.front();
    QCOMPARE(finding.kind, FindingKind::nameGone);
    QCOMPARE(finding.path, "locks/report.py");
    QCOMPARE(finding.lines, (LineRange{12, 13}));
    QCOMPARE(finding.name, "free_slots");
    QCOMPARE(finding.other, "passage_slots");
    QCOMPARE(finding.side, FindingSide::ours);
    QCOMPARE(finding.otherPath, "locks/passage.py");
    QCOMPARE(finding.otherLine, 3U);
    const std::string joined =
        *joinedForChecking("r.py", kReport, kReportRenamed, theirs).result->text;
    QVERIFY(mended(joined, finding).ends_with("    return passage_slots(day, lock)\n"));
}

void TestFindings::nameGone_inAnotherFile()
{
    // The same from the other side, in a file that only it has; what was removed has no new name.
    const CheckReport report = checkAll(
        {{"a/passage.c",
          "int spare(void);\nint free_slots(int day)\n{\n  return day;\n}\n",
          "int spare(void);\nint free_slots(int day)\n{\n  return day;\n}\n",
          "int spare(void);\n"},
         {"b/report.c", nullptr, "int report(void)\n{\n  return free_slots(1);\n}\n", nullptr}});
    QCOMPARE(report.findings.size(), 1U);
    QCOMPARE(report.findings.front().kind, FindingKind::nameGone);
    QCOMPARE(report.findings.front().side, FindingSide::theirs);
    QVERIFY(report.findings.front().other.empty());
    QVERIFY(!report.findings.front().mend);
}

void TestFindings::nameGone_ofAConfiguration()
{
    const CheckReport report =
        checkAll({{"fees.toml",
                   "[fee]\nper_metre = 55\n",
                   "[fee]\nper_foot = 55\n",
                   "[fee]\nper_metre = 55\n"},
                  {"fees.py", "a = 1\n", "a = 1\n", "a = 1\nb = read()[\"per_metre\"]\n"},
                  {"schema.sql",
                   "create table b (\n  boat text,\n  pier text\n);\n",
                   "create table b (\n  vessel text,\n  pier text\n);\n",
                   "create table b (\n  boat text,\n  pier text\n);\n"},
                  {"query.sql", nullptr, nullptr, "select boat from b;\n"}});
    QCOMPARE(report.findings.size(), 2U);
    QCOMPARE(report.findings[0].name, "per_metre");
    QCOMPARE(report.findings[0].other, "per_foot");
    QCOMPARE(report.findings[1].path, "query.sql");
    QCOMPARE(report.findings[1].name, "boat");
}

void TestFindings::nameGone_looksLikeIt_data()
{
    QTest::addColumn<QByteArray>("path");
    QTest::addColumn<QByteArray>("theirs");
    QTest::newRow("in a comment") << QByteArray("new.py") << QByteArray("# once free_slots\n");
    QTest::newRow("in prose") << QByteArray("new.md") << QByteArray("Call free_slots first.\n");
    QTest::newRow("in a string") << QByteArray("new.py") << QByteArray("print('free_slots')\n");
    QTest::newRow("its own") << QByteArray("new.py")
                             << QByteArray("free_slots = 3\nprint(free_slots)\n");
    QTest::newRow("its own function")
        << QByteArray("new.py")
        << QByteArray("def free_slots():\n    return 1\n\n\nfree_slots()\n");
    QTest::newRow("another language")
        << QByteArray("new.c") << QByteArray("int a = free_slots();\n");
    QTest::newRow("part of a name") << QByteArray("new.py") << QByteArray("free_slots_left()\n");
}

void TestFindings::nameGone_looksLikeIt()
{
    QFETCH(const QByteArray, path);
    QFETCH(const QByteArray, theirs);
    const CheckReport report = checkAll({{"locks/passage.py", kPassage, kPassageRenamed, kPassage},
                                         {path.constData(), nullptr, nullptr, theirs.constData()}});
    QCOMPARE(report.findings.size(), 0U);
}

void TestFindings::nameGone_whereTheDefinitionWasKept_isNone()
{
    // Ours renamed it, theirs changed its first line: a region, decided for theirs.
    const std::string theirs = "import datetime\n\n\ndef free_slots(day, lock, size):\n"
                               "    return lock.slots(day)\n";
    const auto passage = joinedForChecking(
        "p.py", kPassage, kPassageRenamed, theirs, [](const TextJoin& join, std::size_t region) {
            return std::string(join.regionTexts(region).theirs);
        });
    auto use = std::make_shared<CheckedResult>();
    use->text = shared("print(free_slots(1, 2, 3))\n");
    use->origins = {LineOrigin::theirs};
    const CheckedFile file{"u.py", {}, {}, "u.py", nullptr, nullptr, use->text};
    TreeChecker checker({passage.file, file}, Told::all);
    const CheckReport kept = checker.check({passage.result, use});
    QVERIFY(findingOf(kept, FindingKind::nameGone) == nullptr);
    const auto renamed = joinedForChecking(
        "p.py", kPassage, kPassageRenamed, theirs, [](const TextJoin& join, std::size_t region) {
            return std::string(join.regionTexts(region).ours);
        });
    QVERIFY(findingOf(checker.check({renamed.result, use}), FindingKind::nameGone) != nullptr);
}

void TestFindings::definedTwice()
{
    constexpr const char* kBase = "def a():\n    return 1\n\n\ndef z():\n    return 26\n";
    const CheckReport report = checkOne("m.py",
                                        kBase,
                                        "def mean(values):\n    return 1\n\n\ndef a():\n    return "
                                        "1\n\n\ndef z():\n    return 26\n",
                                        "def a():\n    return 1\n\n\ndef z():\n    return "
                                        "26\n\n\ndef mean(values):\n    return 2\n");
    const Finding* finding = findingOf(report, FindingKind::definedTwice);
    QVERIFY(finding != nullptr);
    QCOMPARE(finding->name, "mean");
    QCOMPARE(finding->lines.begin, 12U);
    QCOMPARE(finding->otherLine, 0U);
    // Two scopes, or other arguments in a language that tells them apart.
    QVERIFY(
        findingOf(checkOne("m.py",
                           "class A:\n    x = 1\n\n\nclass B:\n    x = 2\n",
                           "class A:\n    x = 1\n\n    def f(self):\n        return 1\n\n\nclass "
                           "B:\n    x = 2\n",
                           "class A:\n    x = 1\n\n\nclass B:\n    x = 2\n\n    def f(self):\n  "
                           "      return 1\n"),
                  FindingKind::definedTwice)
        == nullptr);
    QVERIFY(findingOf(checkOne("m.cpp",
                               "int a() { return 1; }\n\nint z() { return 2; }\n",
                               "int f(int b) { return b; }\nint a() { return 1; }\n\nint z() { "
                               "return 2; }\n",
                               "int a() { return 1; }\n\nint z() { return 2; }\nint f(char b) { "
                               "return b; }\n"),
                      FindingKind::definedTwice)
            == nullptr);
}

void TestFindings::importedTwice()
{
    const CheckReport report = checkOne("m.py",
                                        "import a\nimport m\n\nprint(1)\n",
                                        "import a\nimport json\nimport m\n\nprint(1)\n",
                                        "import a\nimport m\nimport json\n\nprint(1)\n");
    const Finding* finding = findingOf(report, FindingKind::importedTwice);
    QVERIFY(finding != nullptr);
    QCOMPARE(finding->name, "import json");
    QCOMPARE(mended("import a\nimport json\nimport m\nimport json\n\nprint(1)\n", *finding),
             "import a\nimport json\nimport m\n\nprint(1)\n");
    // Twice already, or lines that only look alike.
    QVERIFY(findingOf(checkOne("m.c",
                               "#include <a.h>\nint x;\n#include <a.h>\nint y;\n",
                               "#include <a.h>\nint x1;\n#include <a.h>\nint y;\n",
                               "#include <a.h>\nint x;\n#include <a.h>\nint y1;\n"),
                      FindingKind::importedTwice)
            == nullptr);
    QVERIFY(
        findingOf(
            checkOne("m.md", "a\nm\n\nz\n", "a\nimport json\nm\n\nz\n", "a\nm\nimport json\n\nz\n"),
            FindingKind::importedTwice)
        == nullptr);
}

void TestFindings::keyTwice()
{
    constexpr const char* kBase = "[a]\none = 1\ntwo = 2\nthree = 3\n[b]\n";
    const Finding* finding = nullptr;
    const CheckReport report = checkOne("m.ini",
                                        kBase,
                                        "[a]\nkey = 1\none = 1\ntwo = 2\nthree = 3\n[b]\n",
                                        "[a]\none = 1\ntwo = 2\nthree = 3\nkey = 2\n[b]\n");
    finding = findingOf(report, FindingKind::keyTwice);
    QVERIFY(finding != nullptr);
    QCOMPARE(finding->name, "a.key");
    QCOMPARE(finding->lines.begin, 5U);
    QVERIFY(findingOf(checkOne("m.ini",
                               kBase,
                               "[a]\nkey = 1\none = 1\ntwo = 2\nthree = 3\n[b]\n",
                               "[a]\none = 1\ntwo = 2\nthree = 3\n[b]\nkey = 2\n"),
                      FindingKind::keyTwice)
            == nullptr);
}

void TestFindings::signatureChanged()
{
    constexpr const char* kBase = "def slots(day, lock):\n    return lock.slots(day)\n";
    constexpr const char* kOurs = "def slots(day, lock, size):\n    return lock.slots(day, size)\n";
    const CheckReport report =
        checkAll({{"a.py", kBase, kOurs, kBase},
                  {"b.py", nullptr, nullptr, "import a\n\nprint(a.slots(1, (2, 3)))\n"}});
    const Finding* finding = findingOf(report, FindingKind::signatureChanged);
    QVERIFY(finding != nullptr);
    QCOMPARE(finding->name, "slots");
    QCOMPARE(finding->other, "(day, lock, size)");
    QCOMPARE(finding->count, 2);
    QCOMPARE(finding->lines.begin, 2U);
    // A new argument that may be left out; a call that has it; another thing of that name.
    for (const char* const ours : {"def slots(day, lock, size=None):\n    return 1\n",
                                   "def slots(day, lock, *sizes):\n    return 1\n"}) {
        QVERIFY(checkAll({{"a.py", kBase, ours, kBase},
                          {"b.py", nullptr, nullptr, "import a\n\nprint(a.slots(1, 2))\n"}})
                    .findings.empty());
    }
    QVERIFY(checkAll({{"a.py", kBase, kOurs, kBase},
                      {"b.py", nullptr, nullptr, "import a\n\nprint(a.slots(1, 2, 3), slots)\n"}})
                .findings.empty());
    QVERIFY(checkAll({{"a.py", kBase, kOurs, kBase},
                      {"b.c", nullptr, nullptr, "int a = slots(1, 2);\n"}})
                .findings.empty());
}

void TestFindings::arity_isReadOffSignatures()
{
    const auto is = [](const char* signature, Language language, int least, int most) {
        const Arity arity = arityOf(signature, language);
        return arity.least == least && arity.most == most;
    };
    QVERIFY(is("()", Language::python, 0, 0));
    QVERIFY(is("(self, a, b=(1, 2))", Language::python, 1, 2));
    QVERIFY(is("(a, *, b=1, **rest)", Language::python, 1, kAnyNumber));
    QVERIFY(is("(void)", Language::c, 0, 0));
    QVERIFY(is("(const char *format, ...)", Language::c, 1, kAnyNumber));
    QVERIFY(is(
        "(std::map<int, int> a)", Language::c, 2, 2));  // it knows no templates: calls fit neither
    QVERIFY(is("(a, b?: number)", Language::script, 1, 2));
    QVERIFY(is("", Language::c, 0, kAnyNumber));
    QVERIFY(is("(a", Language::c, 0, kAnyNumber));
}

void TestFindings::arguments_areCounted()
{
    QCOMPARE(*argumentCount("f()", 1), 0);
    QCOMPARE(*argumentCount("f(a, (b, c), \"d,)\", {e: f},)", 1), 4);
    QVERIFY(!argumentCount("f(a, *b)", 1));
    QVERIFY(!argumentCount("f(a, b", 1));
    QVERIFY(!argumentCount("f(" + std::string(10'000, 'a') + ")", 1));
}

void TestFindings::importGone()
{
    constexpr const char* kBase =
        "import json\nimport os\n\n\ndef a():\n    return json.loads(x)\n\n\n"
        "def z():\n    return os.name\n";
    const CheckReport report =
        checkOne("m.py",
                 kBase,
                 "import os\n\n\ndef a():\n    return x\n\n\ndef z():\n    return os.name\n",
                 "import json\nimport os\n\n\ndef a():\n    return json.loads(x)\n\n\n"
                 "def z():\n    return os.name\n\n\ndef b():\n    return json.dumps(1)\n");
    const Finding* finding = findingOf(report, FindingKind::importGone);
    QVERIFY(finding != nullptr);
    QCOMPARE(finding->name, "json");
    QCOMPARE(finding->other, "import json");
    QCOMPARE(finding->side, FindingSide::ours);
    QVERIFY(finding->mend);
    QCOMPARE(finding->mend->text, "import json\n");
    QCOMPARE(finding->mend->position, 0U);
    // The other side brings an import of its own; or what it uses is a member of that name.
    QVERIFY(
        findingOf(checkOne("m.py",
                           kBase,
                           "import os\n\n\ndef a():\n    return x\n\n\ndef z():\n    return "
                           "os.name\n",
                           "import json\nimport os\n\n\ndef a():\n    return json.loads(x)\n\n\n"
                           "def z():\n    return os.name\n\n\ndef b(r):\n    return r.json()\n"),
                  FindingKind::importGone)
        == nullptr);
}

/// Ours no longer needs a header; theirs calls another function of it, and changed the header too.
void TestFindings::includeGone()
{
    constexpr const char* kHeader = "int level_now(void);\n";
    constexpr const char* kHeaderOfTheirs = "int level_now(void);\nint level_at(int hour);\n";
    constexpr const char* kUser = "#include <stdio.h>\n#include \"gauge/level.h\"\n\n"
                                  "int first(void) {\n  return level_now();\n}\n\n\n"
                                  "int last(void) {\n  return 0;\n}\n";
    constexpr const char* kWithout = "#include <stdio.h>\n\n"
                                     "int first(void) {\n  return 0;\n}\n\n\n"
                                     "int last(void) {\n  return 0;\n}\n";
    const std::string added = std::string(kUser) + "\nint next(void) {\n  return level_at(3);\n}\n";
    const auto check = [&](const char* ours, const std::string& theirs) {
        return checkAll({{"gauge/level.h", kHeader, kHeader, kHeaderOfTheirs},
                         {"gauge/first.c", kUser, ours, theirs.c_str()}});
    };
    const CheckReport report = check(kWithout, added);
    const Finding* finding = findingOf(report, FindingKind::importGone);
    QVERIFY(finding != nullptr);
    QCOMPARE(finding->path, "gauge/first.c");
    QCOMPARE(finding->name, "level_at");
    QCOMPARE(finding->other, "#include \"gauge/level.h\"");
    QVERIFY(finding->mend);
    QCOMPARE(finding->mend->text, "#include \"gauge/level.h\"\n");
    QCOMPARE(finding->mend->position, 0U);
    // Nothing new is used; ours needs it still, so it comes from elsewhere; it is in a comment.
    QVERIFY(findingOf(check(kWithout, std::string(kUser) + "\nint next(void) {\n  return 3;\n}\n"),
                      FindingKind::importGone)
            == nullptr);
    const std::string stillUsed =
        QByteArray(kUser).replace("#include \"gauge/level.h\"\n", "").toStdString();
    QVERIFY(findingOf(check(stillUsed.c_str(), added), FindingKind::importGone) == nullptr);
    QVERIFY(findingOf(check(kWithout, std::string(kUser) + "\n// level_at(3)\n"),
                      FindingKind::importGone)
            == nullptr);
    // Another header brings it along.
    const std::string own =
        QByteArray(kWithout).replace("<stdio.h>", "\"gauge/all.h\"").toStdString();
    const std::string base =
        QByteArray(kUser).replace("<stdio.h>", "\"gauge/all.h\"").toStdString();
    const std::string other =
        QByteArray(added.c_str()).replace("<stdio.h>", "\"gauge/all.h\"").toStdString();
    QVERIFY(findingOf(checkAll({{"gauge/level.h", kHeader, kHeader, kHeaderOfTheirs},
                                {"gauge/all.h",
                                 "#include \"gauge/level.h\"\n",
                                 "#include \"gauge/level.h\"\n",
                                 "#include \"gauge/level.h\"\nint all;\n"},
                                {"gauge/first.c", base.c_str(), own.c_str(), other.c_str()}}),
                      FindingKind::importGone)
            == nullptr);
}

void TestFindings::fileGone()
{
    const CheckedFile moved{"gauge/level.h",
                            "gauge/gauge.h",
                            "gauge/gauge.h",
                            "gauge/level.h",
                            shared("int level;\n"),
                            shared("int level;\n"),
                            shared("int level;\n")};
    auto same = std::make_shared<CheckedResult>();
    same->text = moved.theirs;
    same->origins = {LineOrigin::base};
    const auto check = [&](const char* path, const char* ours) {
        const CheckedFile user{path, {}, path, {}, nullptr, shared(ours), nullptr};
        auto result = std::make_shared<CheckedResult>();
        result->text = user.ours;
        result->origins.assign(splitLines(ours).size(), LineOrigin::ours);
        return TreeChecker({moved, user}, Told::all).check({same, result});
    };
    const CheckReport include = check("a.c", "#include \"gauge/gauge.h\"\n");
    QCOMPARE(include.findings.size(), 1U);
    QCOMPARE(include.findings.front().kind, FindingKind::fileGone);
    QCOMPARE(include.findings.front().name, "gauge/gauge.h");
    QCOMPARE(include.findings.front().other, "gauge/level.h");
    QCOMPARE(mended("#include \"gauge/gauge.h\"\n", include.findings.front()),
             "#include \"gauge/level.h\"\n");
    const CheckReport build = check("CMakeLists.txt", "add(x\n  gauge.h\n  other.c)\n");
    QCOMPARE(build.findings.size(), 1U);
    QCOMPARE(mended("add(x\n  gauge.h\n  other.c)\n", build.findings.front()),
             "add(x\n  level.h\n  other.c)\n");
    QCOMPARE(check("notes.md", "See [it](../gauge/gauge.h).\n").findings.size(), 1U);
    QVERIFY(check("b.c", "#include \"other/gauge.h\"\n").findings.empty());
    QVERIFY(check("b.c", "#include \"mygauge.h\"\n#include \"gauge.hpp\"\n").findings.empty());
    QVERIFY(check("b.c", "// gauge.h\n").findings.empty());

    const CheckReport module =
        checkAll({{"locks/notice.py", "a = 1\n", "a = 1\n", nullptr},
                  {"b.py", nullptr, "from locks.notice import a\n", nullptr}});
    QCOMPARE(module.findings.size(), 1U);
    QCOMPARE(module.findings.front().kind, FindingKind::fileGone);
    QVERIFY(!module.findings.front().mend);

    // A module, imported from its package, in which it has another name now.
    const char* const user = "from locks import lists, notice\n";
    const CheckReport package = checkAll({{"locks/notice.py", "a = 1\n", "a = 1\n", nullptr},
                                          {"locks/board.py", nullptr, nullptr, "a = 1\n"},
                                          {"b.py", nullptr, user, nullptr}});
    QCOMPARE(package.findings.size(), 1U);
    QCOMPARE(package.findings.front().kind, FindingKind::fileGone);
    QCOMPARE(mended(user, package.findings.front()), "from locks import lists, board\n");
    // It has left the package: what to write is not known.
    const CheckReport left = checkAll({{"locks/notice.py", "a = 1\n", "a = 1\n", nullptr},
                                       {"gates/board.py", nullptr, nullptr, "a = 1\n"},
                                       {"b.py", nullptr, user, nullptr}});
    QCOMPARE(left.findings.size(), 1U);
    QVERIFY(!left.findings.front().mend);
}

void TestFindings::fileGone_looksLikeIt()
{
    QVERIFY(checkAll({{"locks/notice.py", "a = 1\n", "a = 1\n", nullptr},
                      {"b.py", nullptr, "from locks.notices import a\n", nullptr}})
                .findings.empty());
    QVERIFY(checkAll({{"locks/__init__.py", "a = 1\n", "a = 1\n", nullptr},
                      {"b.md", nullptr, "Put it into __init__.py\n", nullptr}})
                .findings.empty());
    for (const char* user : {"from locks import notices\n",
                             "from gates import notice\n",
                             "from locks import a as notice\n",
                             "from locks.notices import notice\n",
                             "notice = 1\n"}) {
        QVERIFY2(checkAll({{"locks/notice.py", "a = 1\n", "a = 1\n", nullptr},
                           {"b.py", nullptr, user, nullptr}})
                     .findings.empty(),
                 user);
    }
    // Named before by both: nothing is new.
    QVERIFY(checkAll({{"locks/notice.py", "a = 1\n", "a = 1\n", nullptr},
                      {"b.md",
                       "See locks/notice.py\n\n\nb\n",
                       "See locks/notice.py\n\n\nc\n",
                       "See locks/notice.py\n\n\nb\n"}})
                .findings.empty());
}

void TestFindings::brackets_and_quotes()
{
    constexpr const char* kBase = "int f() {\n  a();\n  b();\n  c();\n  d();\n}\n";
    const CheckReport report =
        checkOne("m.c",
                 kBase,
                 "int f() {\n  if (x) {\n  a();\n  b();\n  }\n  c();\n  d();\n}\n",
                 "int f() {\n  a();\n  b();\n  c();\n  d();\n  if (y) {\n  e();\n  }\n}\n");
    QVERIFY(findingOf(report, FindingKind::bracketsOpen) == nullptr);
    // A region that is decided so that a block is opened twice.
    const CheckedTexts twice = joinedForChecking("m.c",
                                                 "int f() {\n  a();\n}\n",
                                                 "int f() {\n  if (x) {\n  a();\n  }\n}\n",
                                                 "int f() {\n  if (y) {\n  a();\n  }\n}\n",
                                                 decided);
    QCOMPARE(*twice.result->text, "int f() {\n  if (x) {\n  if (y) {\n  a();\n  }\n}\n");
    const CheckReport open = TreeChecker({twice.file}, Told::all).check({twice.result});
    const Finding* finding = findingOf(open, FindingKind::bracketsOpen);
    QVERIFY(finding != nullptr);
    QCOMPARE(finding->name, "{");
    QCOMPARE(finding->lines.begin, 0U);

    const CheckedTexts quote = joinedForChecking(
        "m.py", "a = \"1\"\n", "a = \"2\"\n", "a = \"3\"\n", [](const TextJoin&, std::size_t) {
            return std::string("a = \"2\n");
        });
    QVERIFY(findingOf(TreeChecker({quote.file}, Told::all).check({quote.result}),
                      FindingKind::quoteOpen)
            != nullptr);
    // It looks like one that is open: in a comment, in the other kind of quotes, behind a backslash.
    for (const char* text :
         {"a = \"2\"  # it's\n", "a = \"it's\"\n", "a = \"\\\"\"\n", "a = '\"'\n"}) {
        const CheckedTexts closed =
            joinedForChecking("m.py",
                              "a = \"1\"\n",
                              "a = \"2\"\n",
                              "a = \"3\"\n",
                              [text](const TextJoin&, std::size_t) { return std::string(text); });
        QVERIFY2(findingOf(TreeChecker({closed.file}, Told::all).check({closed.result}),
                           FindingKind::quoteOpen)
                     == nullptr,
                 text);
    }
}

void TestFindings::indent()
{
    const CheckedTexts joined =
        joinedForChecking("m.py",
                          "def f():\n    a()\n",
                          "def f():\n    if x:\n        a()\n",
                          "def f():\n    while y:\n        a()\n",
                          [](const TextJoin&, std::size_t) {
                              return std::string("    if x:\n    while y:\n        a()\n");
                          });
    QVERIFY(findingOf(TreeChecker({joined.file}, Told::all).check({joined.result}),
                      FindingKind::indentBroken)
            != nullptr);
    QVERIFY(checkOne("m.py",
                     "def f():\n    a()\n\n\n\ndef g():\n    b()\n",
                     "def f():\n    if x:\n        a()\n\n\n\ndef g():\n    b()\n",
                     "def f():\n    a()\n\n\n\ndef g():\n    if y:\n        b()\n")
                .findings.empty());
}

void TestFindings::structure()
{
    const CheckedTexts list = joinedForChecking(
        "m.json", "[\n1\n]\n", "[\n1,\n2\n]\n", "[\n1,\n3\n]\n", [](const TextJoin&, std::size_t) {
            return std::string("1\n2\n3\n");
        });
    const CheckReport broken = TreeChecker({list.file}, Told::all).check({list.result});
    const Finding* finding = findingOf(broken, FindingKind::doesNotParse);
    QVERIFY(finding != nullptr);
    QVERIFY(!finding->other.empty());
    const CheckedTexts tags = joinedForChecking(
        "m.svg",
        "<a>\n<b/>\n</a>\n",
        "<a>\n<c><b/></c>\n</a>\n",
        "<a>\n<d><b/></d>\n</a>\n",
        [](const TextJoin&, std::size_t) { return std::string("<c><d><b/></c>\n"); });
    QVERIFY(findingOf(TreeChecker({tags.file}, Told::all).check({tags.result}),
                      FindingKind::tagsUnbalanced)
            != nullptr);
    // It looks unbalanced: an empty element, and a tag in a comment.
    const CheckedTexts balanced = joinedForChecking(
        "m.svg",
        "<a>\n<b/>\n</a>\n",
        "<a>\n<c><b/></c>\n</a>\n",
        "<a>\n<d><b/></d>\n</a>\n",
        [](const TextJoin&, std::size_t) { return std::string("<c><d/><!-- <e> --><b/></c>\n"); });
    QVERIFY(findingOf(TreeChecker({balanced.file}, Told::all).check({balanced.result}),
                      FindingKind::tagsUnbalanced)
            == nullptr);
    // A text that neither side could read before is not judged.
    QVERIFY(findingOf(checkOne("m.json", "{a\n\n\n\nb", "{a1\n\n\n\nb", "{a\n\n\n\nb1"),
                      FindingKind::doesNotParse)
            == nullptr);
}

void TestFindings::nearEdits()
{
    constexpr const char* kBase = "one\ntwo\nthree\nfour\nfive\nsix\n";
    const CheckReport report = checkOne(
        "m.txt", kBase, "one\nTWO\nthree\nfour\nfive\nsix\n", "one\ntwo\nthree\nFOUR\nfive\nsix\n");
    const Finding* finding = findingOf(report, FindingKind::nearEdits);
    QVERIFY(finding != nullptr);
    QCOMPARE(finding->lines, (LineRange{1, 4}));
    QCOMPARE(finding->count, 1);
    QVERIFY(checkOne("m.txt",
                     kBase,
                     "ONE\ntwo\nthree\nfour\nfive\nsix\n",
                     "one\ntwo\nthree\nfour\nFIVE\nsix\n")
                .findings.empty());
}

void TestFindings::sameFunction()
{
    constexpr const char* kBase =
        "def f():\n    a()\n    b()\n    c()\n    d()\n    e()\n\n\ndef g():\n    h()\n";
    const CheckReport report =
        checkOne("m.py",
                 kBase,
                 "def f():\n    a(1)\n    b()\n    c()\n    d()\n    e()\n\n\ndef g():\n    h()\n",
                 "def f():\n    a()\n    b()\n    c()\n    d()\n    e(2)\n\n\ndef g():\n    h()\n");
    const Finding* finding = findingOf(report, FindingKind::sameFunction);
    QVERIFY(finding != nullptr);
    QCOMPARE(finding->name, "f");
    QVERIFY(!isToldByDefault(FindingKind::sameFunction));
    QVERIFY(
        checkOne("m.py",
                 kBase,
                 "def f():\n    a(1)\n    b()\n    c()\n    d()\n    e()\n\n\ndef g():\n    h()\n",
                 "def f():\n    a()\n    b()\n    c()\n    d()\n    e()\n\n\ndef g():\n    h(2)\n")
            .findings.empty());
}

void TestFindings::movedBlock()
{
    const std::string block = "alpha one\nalpha two\nalpha three\n";
    const std::string middle = "mid a\nmid b\nmid c\nmid d\n";
    const std::string end = "end a\nend b\nend c\nend d\n";
    const auto joined = [&](const std::string& theirs) {
        return joinedForChecking("m.txt",
                                 block + middle + end,
                                 middle + block + end,
                                 theirs,
                                 [](const TextJoin& join, std::size_t region) {
                                     return std::string(join.regionTexts(region).ours);
                                 });
    };
    const CheckedTexts edited =
        joined("alpha one\nalpha 2\nalpha three\n" + middle + "end a\nend b\nend c\nend 4\n");
    QCOMPARE(*edited.result->text, middle + block + "end a\nend b\nend c\nend 4\n");
    const CheckReport report = TreeChecker({edited.file}, Told::all).check({edited.result});
    const Finding* finding = findingOf(report, FindingKind::movedBlock);
    QVERIFY(finding != nullptr);
    QCOMPARE(finding->side, FindingSide::ours);
    QCOMPARE(finding->lines, (LineRange{4, 7}));
    QCOMPARE(finding->otherLine, 0U);
    const CheckedTexts elsewhere = joined(block + middle + "end a\nend b\nend c\nend 4\n");
    QVERIFY(findingOf(TreeChecker({elsewhere.file}, Told::all).check({elsewhere.result}),
                      FindingKind::movedBlock)
            == nullptr);
}

void TestFindings::rewriteLeft()
{
    const CheckReport report = checkOne("m.txt",
                                        "use boat a\nuse boat b\n\n\n\nend\n",
                                        "use ship a\nuse ship b\n\n\n\nend\n",
                                        "use boat a\nuse boat b\n\n\n\nend\nuse boat c\n");
    const Finding* finding = findingOf(report, FindingKind::rewriteLeft);
    QVERIFY(finding != nullptr);
    QCOMPARE(finding->name, "boat");
    QCOMPARE(finding->other, "ship");
    QCOMPARE(mended("use ship a\nuse ship b\n\n\n\nend\nuse boat c\n", *finding),
             "use ship a\nuse ship b\n\n\n\nend\nuse ship c\n");
    // One place is no rewrite; nor is one that left some.
    QVERIFY(checkOne("m.txt",
                     "use boat a\nb\n\n\n\nend\n",
                     "use ship a\nb\n\n\n\nend\n",
                     "use boat a\nb\n\n\n\nend\nuse boat c\n")
                .findings.empty());
    QVERIFY(checkOne("m.txt",
                     "boat a\nboat b\nboat d\n\n\n\nend\n",
                     "ship a\nship b\nboat d\n\n\n\nend\n",
                     "boat a\nboat b\nboat d\n\n\n\nend\nboat c\n")
                .findings.empty());
}

void TestFindings::addedTwice()
{
    constexpr const char* kBase = "void unchanged_one()\n\nvoid unchanged_two()\n";
    constexpr const char* kNew = "int added_by_both(int value)\nreturn value * value_of_it\n"
                                 "end_of_added_by_both\n";
    const CheckReport report = checkOne(
        "m.txt", kBase, (std::string(kNew) + kBase).c_str(), (kBase + std::string(kNew)).c_str());
    const Finding* finding = findingOf(report, FindingKind::addedTwice);
    QVERIFY(finding != nullptr);
    QCOMPARE(finding->count, 3);
    QCOMPARE(finding->lines, (LineRange{6, 9}));
    QCOMPARE(finding->otherLine, 0U);
    QVERIFY(findingOf(checkOne("m.txt",
                               kBase,
                               (std::string("one_short_line\n") + kBase).c_str(),
                               (kBase + std::string("one_short_line\n")).c_str()),
                      FindingKind::addedTwice)
            == nullptr);
}

void TestFindings::markersLeft()
{
    const auto joined = [](const char* base) {
        return joinedForChecking("m.txt", base, "b\n", "c\n", [](const TextJoin&, std::size_t) {
            return std::string("b\n<<<<<<< mine\nc\n");
        });
    };
    const CheckedTexts left = joined("a\n");
    QVERIFY(findingOf(TreeChecker({left.file}, Told::all).check({left.result}),
                      FindingKind::markersLeft)
            != nullptr);
    const CheckedTexts own = joined("<<<<<<< mine\n");
    QVERIFY(
        findingOf(TreeChecker({own.file}, Told::all).check({own.result}), FindingKind::markersLeft)
        == nullptr);
}

void TestFindings::lineRepeated()
{
    const CheckedTexts joined = joinedForChecking("m.txt",
                                                  "a\nz\n",
                                                  "a\nours it\nshared line\nz\n",
                                                  "a\nshared line\ntheirs it\nz\n",
                                                  decided);
    const CheckReport report = TreeChecker({joined.file}, Told::all).check({joined.result});
    const bool standsTwice =
        joined.result->text->find("shared line\nshared line\n") != std::string::npos;
    QCOMPARE(findingOf(report, FindingKind::lineRepeated) != nullptr, standsTwice);
    QVERIFY(standsTwice);
    QVERIFY(checkOne("m.txt", "a\nb\nb\nc\nd\ne\n", "A\nb\nb\nc\nd\ne\n", "a\nb\nb\nc\nd\nE\n")
                .findings.empty());
}

void TestFindings::foreignText()
{
    const CheckedFile file{
        "m.txt", "m.txt", "m.txt", "m.txt", shared("a\nb\n"), shared("a1\nb\n"), shared("a\nb1\n")};
    auto result = std::make_shared<CheckedResult>();
    result->text = shared("a1\nslipped in\nb1\n");
    result->origins = {LineOrigin::ours, LineOrigin::hand, LineOrigin::theirs};
    const CheckReport report = TreeChecker({file}, Told::all).check({result});
    QVERIFY(findingOf(report, FindingKind::foreignText) != nullptr);
    QCOMPARE(findingOf(report, FindingKind::foreignText)->lines, (LineRange{1, 2}));
    result = std::make_shared<CheckedResult>(*result);
    result->regions = {{0, 3}};
    QVERIFY(findingOf(TreeChecker({file}, Told::all).check({result}), FindingKind::foreignText)
            == nullptr);
}

void TestFindings::changeDropped()
{
    const auto takes = [](auto side) {
        return [side](const TextJoin& join, std::size_t region) {
            return std::string(join.regionTexts(region).*side);
        };
    };
    const CheckedTexts ours = joinedForChecking(
        "m.txt", "a\nb\n", "a\nour b\n", "a\ntheir b\n", takes(&RegionTexts::ours));
    const CheckReport report = TreeChecker({ours.file}, Told::all).check({ours.result});
    QVERIFY(findingOf(report, FindingKind::changeDropped) != nullptr);
    QCOMPARE(findingOf(report, FindingKind::changeDropped)->side, FindingSide::theirs);
    const CheckedTexts partly = joinedForChecking("m.txt",
                                                  "a\nb\nc\nd\ne\nf\n",
                                                  "a\nour b\nc\nd\ne\nf\n",
                                                  "a\ntheir b\nc\nd\ne\ntheir f\n",
                                                  takes(&RegionTexts::ours));
    QVERIFY(findingOf(TreeChecker({partly.file}, Told::all).check({partly.result}),
                      FindingKind::changeDropped)
            == nullptr);
}

void TestFindings::hostileTexts_areToldAsNotChecked()
{
    const auto checked = [](const std::string& base, const std::string& ours) {
        const CheckedFile file{
            "m.c", "m.c", "m.c", "m.c", shared(base), shared(ours), shared(base + "x\n")};
        auto result = std::make_shared<CheckedResult>();
        result->text = shared(ours + "x\n");
        return TreeChecker({file}, Told::all).check({result});
    };
    const std::string deep = std::string(100'000, '{') + "\n";
    QCOMPARE(checked(deep, deep + "y\n").notChecked.front().why, NotChecked::Why::tooDeep);
    const std::string longLine = std::string(50'000'000, 'a') + "\n";
    QCOMPARE(checked(longLine, longLine + "y\n").notChecked.front().why, NotChecked::Why::tooLarge);
    QVERIFY(checked("a\n", "a\n\0\xff").notChecked.empty());
}

void TestFindings::keys_stayWhileOtherThingsChange()
{
    const CheckReport report = checkOne(
        "m.txt", "one\ntwo\nthree\nfour\n", "one\nTWO\nthree\nfour\n", "one\ntwo\nthree\nFOUR\n");
    const CheckReport moved = checkOne("m.txt",
                                       "zero\none\ntwo\nthree\nfour\n",
                                       "zero\none\nTWO\nthree\nfour\n",
                                       "zero\none\ntwo\nthree\nFOUR\n");
    QCOMPARE(findingOf(report, FindingKind::nearEdits)->key,
             findingOf(moved, FindingKind::nearEdits)->key);
    const std::string theirs = std::string(kReport) + "\n\nfree_slots(1, 2)\n";
    const std::vector<Version> versions{
        {"locks/passage.py", kPassage, kPassageRenamed, kPassage},
        {"locks/report.py", kReport, kReportRenamed, theirs.c_str()}};
    const std::string further = "# a comment\n" + theirs;
    std::vector<Version> later = versions;
    later[1].theirs = further.c_str();
    QCOMPARE(findingOf(checkAll(versions), FindingKind::nameGone)->key,
             findingOf(checkAll(later), FindingKind::nameGone)->key);
}

void TestFindings::outcome_dependsOnTheArgumentsAlone()
{
    const std::string theirs = std::string(kReport) + "\n\nfree_slots(1, 2)\n";
    const auto keys = [&] {
        std::string all;
        for (const Finding& finding :
             checkAll({{"locks/passage.py", kPassage, kPassageRenamed, kPassage},
                       {"locks/report.py", kReport, kReportRenamed, theirs.c_str()},
                       {"m.txt",
                        "one\ntwo\nthree\nfour\n",
                        "one\nTWO\nthree\nfour\n",
                        "one\ntwo\nthree\nFOUR\n"}})
                 .findings) {
            all += finding.key;
        }
        return all;
    };
    const std::string first = keys();
    QVERIFY(!first.empty());
    QCOMPARE(keys(), first);
}

void TestFindings::openFile_isNotJudged()
{
    const CheckedFile file{"m.c", "m.c", "m.c", "m.c", shared("a\n"), shared("b\n"), shared("c\n")};
    auto open = std::make_shared<CheckedResult>();
    open->isOpen = true;
    const CheckReport report = TreeChecker({file}, Told::all).check({open});
    QVERIFY(report.findings.empty());
    QCOMPARE(report.checkedFiles, 0U);
}

void TestFindings::names_ofKinds_areTheirOwn()
{
    std::set<std::string_view> names;
    for (int i = 0; i <= static_cast<int>(kLastFindingKind); ++i) {
        QVERIFY(names.insert(nameOf(static_cast<FindingKind>(i))).second);
    }
}

namespace {
/// A text of pieces that mean something to one language or another, mostly out of order.
std::string randomCode(Random& random)
{
    static const std::vector<std::string> kPieces{"import json\n",
                                                  "#include \"a.h\"\n",
                                                  "def f(a, b=(1,\n",
                                                  "    return g(x)\n",
                                                  "}\n",
                                                  "{",
                                                  "(",
                                                  ")\n",
                                                  "\"",
                                                  "'''",
                                                  "key = 1\n",
                                                  "[part]\n",
                                                  "\"k\": [1, 2],\n",
                                                  "<a>",
                                                  "</a>\n",
                                                  "# note\n",
                                                  "/*",
                                                  "*/",
                                                  "\t\n",
                                                  "\r\n",
                                                  "\xff\xfe",
                                                  "class A:\n",
                                                  "int f(int a) {\n",
                                                  "a.py\n",
                                                  "f(1, *b)\n",
                                                  "- k: v\n",
                                                  "<<<<<<< x\n",
                                                  "\\\n",
                                                  "`",
                                                  "R\"x(",
                                                  "#if A\n",
                                                  "#endif\n",
                                                  "free_slots\n",
                                                  "passage_slots\n"};
    std::string text;
    for (int pieces = below(random, 40); pieces > 0; --pieces) {
        text += kPieces[static_cast<std::size_t>(below(random, static_cast<int>(kPieces.size())))];
    }
    return text;
}
}  // namespace

/// Whatever the texts are: checking ends, says the same again, and each place and mend lies in the text.
void TestFindings::randomTexts_areSurvived_andMendsFit()
{
    constexpr std::array kEndings{"py",
                                  "c",
                                  "js",
                                  "go",
                                  "rs",
                                  "sh",
                                  "sql",
                                  "lua",
                                  "css",
                                  "json",
                                  "toml",
                                  "yaml",
                                  "ini",
                                  "xml",
                                  "html",
                                  "md",
                                  "rb"};
    Random random(randomSeed());
    int found = 0;
    for (std::size_t round = 0; round < 250; ++round) {
        const std::string ending = kEndings[round % kEndings.size()];
        std::vector<CheckedFile> files;
        std::vector<std::shared_ptr<const CheckedResult>> results;
        for (const char* name : {"a.", "b."}) {
            const std::string base = randomCode(random);
            const std::string ours = edited(random, base, 3, randomCode(random));
            const std::string theirs = edited(random, base, 3, randomCode(random));
            CheckedTexts joined = joinedForChecking(name + ending, base, ours, theirs, decided);
            files.push_back(std::move(joined.file));
            results.push_back(std::move(joined.result));
        }
        const CheckReport report = TreeChecker(files, Told::all).check(results);
        const CheckReport again = TreeChecker(files, Told::all).check(results);
        QCOMPARE(again.findings.size(), report.findings.size());
        for (std::size_t i = 0; i < report.findings.size(); ++i) {
            const Finding& finding = report.findings[i];
            const std::string& text = *results[finding.path.front() == 'a' ? 0 : 1]->text;
            QCOMPARE(again.findings[i].key, finding.key);
            QVERIFY(finding.lines.begin < finding.lines.end);
            QVERIFY(finding.lines.end <= splitLines(text).size());
            QVERIFY(!finding.mend || finding.mend->position + finding.mend->length <= text.size());
            ++found;
        }
    }
    QVERIFY2(found > 100, qPrintable(QString::number(found)));
}

ROPE_TESTS(TestFindings, QCoreApplication)
#include "tst_findings.moc"
