// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/merge/region_name.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

class TestRegionName : public QObject
{
    Q_OBJECT
private slots:
    void name_isOfWhatEncloses_data();
    void name_isOfWhatEncloses();
    void newFile_isNamedByWhatBothHave();
    void name_isTheSame_whicheverSideIsOurs();
};

void TestRegionName::name_isOfWhatEncloses_data()
{
    QTest::addColumn<QByteArray>("path");
    QTest::addColumn<QByteArray>("above");
    QTest::addColumn<QByteArray>("base");
    QTest::addColumn<QByteArray>("ours");
    QTest::addColumn<QByteArray>("theirs");
    QTest::addColumn<QByteArray>("name");
    const auto row = [](const char* name,
                        const char* path,
                        const char* above,
                        const char* base,
                        const char* ours,
                        const char* theirs,
                        const char* expected) {
        QTest::newRow(name) << QByteArray(path) << QByteArray(above) << QByteArray(base)
                            << QByteArray(ours) << QByteArray(theirs) << QByteArray(expected);
    };
    row("python",
        "a.py",
        "def slots(day):\n    x = []\n",
        "    return 1\n",
        "    return 2\n",
        "    return 3\n",
        "in slots");
    row("method",
        "a.py",
        "class A:\n    def f(self):\n        if x:\n",
        "            y(1)\n",
        "            y(2)\n",
        "            y(3)\n",
        "in f");
    row("its own head",
        "a.py",
        "import x\n\n",
        "def f(a):\n",
        "def f(a, b):\n",
        "def f(a, c):\n",
        "in f");
    row("imports",
        "a.py",
        "\"\"\"doc\"\"\"\n",
        "import a\n",
        "import a\nimport b\n",
        "import a\nimport c\n",
        "imports");
    row("includes",
        "a.c",
        "\n",
        "#include <a.h>\n",
        "#include <b.h>\n",
        "#include <c.h>\n",
        "imports");
    row("imports of both",
        "a.js",
        "// x\n",
        "",
        "import b from 'b';\n",
        "import c from 'c';\n",
        "imports");
    row("bracket below",
        "a.c",
        "static int f(int a)\n{\n",
        "    return 1;\n",
        "    return 2;\n",
        "    return 3;\n",
        "in f");
    row("bracket behind",
        "a.java",
        "class B {\n    public int f(int a) {\n",
        "        return 1;\n",
        "        return 2;\n",
        "        return 3;\n",
        "in f");
    row("after a block",
        "a.c",
        "int f(void) {\n    if (a) {\n        b();\n    }\n",
        "    return 1;\n",
        "    return 2;\n",
        "    return 3;\n",
        "in f");
    row("arrow",
        "a.js",
        "const add = (a, b) => {\n",
        "  return a;\n",
        "  return b;\n",
        "  return c;\n",
        "in add");
    row("receiver",
        "a.go",
        "func (s *Server) Close() error {\n",
        "\treturn a\n",
        "\treturn b\n",
        "\treturn c\n",
        "in Close");
    row("rule",
        "a.css",
        ".card {\n",
        "  color: red;\n",
        "  color: blue;\n",
        "  color: green;\n",
        "in .card");
    row("section",
        "a.toml",
        "[season.winter]\nfrom = 1\n",
        "until = 2\n",
        "until = 3\n",
        "until = 4\n",
        "key season.winter.until");
    row("section's lines",
        "a.toml",
        "[season.winter]\n",
        "",
        "a = 1\n",
        "b = 2\n",
        "heading season.winter");
    row("top key",
        "a.toml",
        "# how it is\n",
        "revision = 41\n",
        "revision = 42\n",
        "revision = 43\n",
        "key revision");
    row("json",
        "a.json",
        "{\n  \"deps\": {\n",
        "    \"a\": \"1\",\n",
        "    \"a\": \"2\",\n",
        "    \"a\": \"3\",\n",
        "key deps.a");
    row("yaml",
        "a.yml",
        "jobs:\n  build:\n",
        "    image: a\n",
        "    image: b\n",
        "    image: c\n",
        "key build.image");
    row("heading",
        "a.md",
        "# Glossary\n\nText.\n",
        "- pound: a\n",
        "- pound: b\n",
        "- pound: c\n",
        "heading Glossary");
    row("shell", "a.sh", "# not a heading\nmain() {\n", "  a\n", "  b\n", "  c\n", "in main");
    row("nothing", "a.py", "x = 1\n\n", "print(1)\n", "print(2)\n", "print(3)\n", "base print(1)");
    row("empty base at the top", "a.txt", "", "", "a\n", "b\n", "");
}

namespace {
QByteArray named(const RegionName& name)
{
    switch (name.kind) {
    case RegionName::Kind::none:
        return {};
    case RegionName::Kind::imports:
        return "imports";
    case RegionName::Kind::definition:
        return "in " + QByteArray::fromStdString(name.name);
    case RegionName::Kind::heading:
        return "heading " + QByteArray::fromStdString(name.name);
    case RegionName::Kind::key:
        return "key " + QByteArray::fromStdString(name.name);
    case RegionName::Kind::base:
        return "base " + QByteArray::fromStdString(name.name);
    }
    return {};
}

QByteArray nameIn(const QByteArray& path,
                  const QByteArray& above,
                  const QByteArray& base,
                  const QByteArray& ours,
                  const QByteArray& theirs)
{
    const auto join = joinTexts(
        (above + base).toStdString(), (above + ours).toStdString(), (above + theirs).toStdString());
    return join && join->regionCount() == 1 ? named(regionName(*join, 0, path.toStdString()))
                                            : QByteArray("not one region");
}
}  // namespace

void TestRegionName::name_isOfWhatEncloses()
{
    QFETCH(const QByteArray, path);
    QFETCH(const QByteArray, above);
    QFETCH(const QByteArray, base);
    QFETCH(const QByteArray, ours);
    QFETCH(const QByteArray, theirs);
    QTEST(nameIn(path, above, base, ours, theirs), "name");
    QTEST(nameIn(path, above, base, theirs, ours), "name");
}

/// A file that both added has no base.
void TestRegionName::newFile_isNamedByWhatBothHave()
{
    const auto named = [](const char* ours, const char* theirs) {
        const auto join = joinTexts("", ours, theirs);
        return join && join->regionCount() == 1 ? regionName(*join, 0, "a.md").name
                                                : std::string("not one region");
    };
    QCOMPARE(named("# Words\n\n- a\n", "# Words\n\n- b\n"), std::string("Words"));
    QCOMPARE(named("# Words\n\n- a\n", "# Terms\n\n- b\n"), std::string());
}

/// It is what people say to each other: teammates see the same name.
void TestRegionName::name_isTheSame_whicheverSideIsOurs()
{
    const QByteArray above = "def f(a):\n";
    const QByteArray first = nameIn("a.py", above, "    x(1)\n", "    x(2)\n", "    y(1)\n");
    QCOMPARE(first, nameIn("a.py", above, "    x(1)\n", "    y(1)\n", "    x(2)\n"));
    QCOMPARE(first, QByteArray("in f"));
}

ROPE_TESTS(TestRegionName, QCoreApplication)
#include "tst_region_name.moc"
