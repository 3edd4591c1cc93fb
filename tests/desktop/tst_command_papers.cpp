// SPDX-License-Identifier: GPL-3.0-or-later
// Manual pages and completions, which are written from the table of options.
#include "desktop/command/command_texts.h"
#include "desktop/command/command_tree.h"
#include "desktop/command/completion.h"
#include "desktop/command/manual_page.h"
#include "tests/support/scratch_repository.h"
#include "tests/support/test_program.h"

#include <QProcess>
#include <QRegularExpression>
#include <QTemporaryDir>
#include <QTest>

using namespace rope;
using rope::test::ScratchRepository;

class TestCommandPapers final : public QObject
{
    Q_OBJECT
private slots:
    void help_hasExitCodesAndExamples();
    void examples_areCommandsOfOurs();
    void pages_nameEveryOption();
    void page_isTakenByTheFormatter();
    void bash_completes_data();
    void bash_completes();
    void bash_runsNothingOfABranchName();
};

namespace {
std::vector<const CLI::App*> pagesOf(const CommandTree& tree)
{
    std::vector<const CLI::App*> pages{&tree.app};
    for (const CLI::App* const command :
         tree.app.get_subcommands([](const CLI::App*) { return true; })) {
        pages.push_back(command);
    }
    return pages;
}

struct Ran
{
    int exitCode = -1;
    QString out;
    QString err;
};

Ran run(const QString& program,
        const QStringList& arguments,
        const QString& folder = {},
        const QByteArray& input = {})
{
    QProcess process;
    process.setWorkingDirectory(folder);
    process.start(program, arguments);
    process.write(input);
    process.closeWriteChannel();
    if (!process.waitForFinished(20'000)) {
        return {};
    }
    return {process.exitCode(),
            QString::fromUtf8(process.readAllStandardOutput()),
            QString::fromUtf8(process.readAllStandardError())};
}

/// What bash offers for the last of these words.
QStringList completed(const QStringList& words, const QString& folder)
{
    const CommandTree tree;
    const QString script =
        QString::fromStdString(bashCompletion(tree.app))
        + QStringLiteral("COMP_WORDS=(\"$@\"); COMP_CWORD=$(($# - 1)); _rope_splice\n"
                         "printf '%s\\n' \"${COMPREPLY[@]}\"\n");
    const Ran ran = run(QStringLiteral("bash"),
                        QStringList{QStringLiteral("-c"), script, QStringLiteral("bash")} + words,
                        folder);
    return ran.exitCode == 0 && ran.err.isEmpty()
               ? ran.out.split(QLatin1Char('\n'), Qt::SkipEmptyParts)
               : QStringList{QStringLiteral("failed: ") + ran.err};
}
}  // namespace

void TestCommandPapers::help_hasExitCodesAndExamples()
{
    const CommandTree tree;
    for (const CLI::App* const page : pagesOf(tree)) {
        const std::string help = page->help();
        QVERIFY2(help.find("Exit codes:") != std::string::npos, help.c_str());
        QVERIFY2(help.find("Examples:\n  rope-splice") != std::string::npos, help.c_str());
    }
}

/// An example that the program itself would refuse helps nobody.
void TestCommandPapers::examples_areCommandsOfOurs()
{
    const CommandTree known;
    for (const CLI::App* const page : pagesOf(known)) {
        const bool isProgram = page->get_parent() == nullptr;
        const CommandText& text = textOf(isProgram ? std::string() : page->get_name());
        QVERIFY(!text.examples.empty());
        for (const CommandText::Example& example : text.examples) {
            const std::string line = example.line;
            QVERIFY(line.starts_with("rope-splice "));
            CommandTree tree;
            try {
                tree.app.parse(line.substr(line.find(' ') + 1));
            } catch (const CLI::ParseError& error) {
                QFAIL((line + ": " + error.what()).c_str());
            }
            QVERIFY2(isProgram || tree.isCalled(page->get_name().c_str()), line.c_str());
        }
    }
}

void TestCommandPapers::pages_nameEveryOption()
{
    const CommandTree tree;
    for (const CLI::App* const page : pagesOf(tree)) {
        QString manual = QString::fromStdString(manualPage(*page));
        manual.remove(QLatin1Char('\\'));
        for (const CLI::Option* const option : page->get_options()) {
            for (const std::string& name : option->get_lnames()) {
                QVERIFY2(
                    manual.contains(QStringLiteral("fB--%1fR").arg(QString::fromStdString(name))),
                    name.c_str());
            }
            QVERIFY2(manual.contains(QString::fromStdString(option->get_description())),
                     option->get_description().c_str());
        }
        for (const char* section :
             {".SH NAME", ".SH SYNOPSIS", ".SH DESCRIPTION", ".SH EXIT STATUS", ".SH EXAMPLES"}) {
            QVERIFY2(manual.contains(QLatin1String(section)), section);
        }
    }
}

void TestCommandPapers::page_isTakenByTheFormatter()
{
    const CommandTree tree;
    for (const CLI::App* const page : pagesOf(tree)) {
        const Ran ran = run(QStringLiteral("groff"),
                            {QStringLiteral("-man"),
                             QStringLiteral("-Tascii"),
                             QStringLiteral("-ww"),
                             QStringLiteral("-P-cbou")},
                            {},
                            QByteArray::fromStdString(manualPage(*page)));
        QCOMPARE(ran.err, QString());
        QCOMPARE(ran.exitCode, 0);
        QVERIFY(ran.out.contains(QLatin1String("EXIT STATUS")));
        QVERIFY2(ran.out.contains(QLatin1String("rope-splice")), qPrintable(ran.out));
    }
}

void TestCommandPapers::bash_completes_data()
{
    QTest::addColumn<QStringList>("words");
    QTest::addColumn<QStringList>("offered");
    const auto words = [](const char* line) {
        return QString::fromLatin1(line).split(QLatin1Char(' '));
    };
    QTest::newRow("commands") << words("rope-splice col") << words("collisions");
    QTest::newRow("options of the program") << words("rope-splice --th") << words("--theme");
    QTest::newRow("looks") << words("rope-splice --theme d") << words("dark");
    QTest::newRow("options") << words("rope-splice merge --un") << words("--unrelated");
    QTest::newRow("branches") << words("rope-splice merge tide")
                              << words("tide-gauge tide-windows");
    QTest::newRow("branches after options")
        << words("rope-splice forecast --json HEAD tide-g") << words("tide-gauge");
    QTest::newRow("files") << words("rope-splice merge-file bas") << words("base.txt");
    QTest::newRow("folders") << words("rope-splice --repo fo") << words("folder");
    QTest::newRow("nothing") << words("rope-splice merge none") << QStringList();
}

void TestCommandPapers::bash_completes()
{
    QFETCH(QStringList, words);
    QFETCH(QStringList, offered);
    ScratchRepository scratch;
    scratch.write("base.txt", "b\n");
    scratch.write("folder/a", "a\n");
    scratch.commit("base");
    scratch.git("branch tide-windows");
    scratch.git("branch tide-gauge");
    QCOMPARE(completed(words, QString::fromStdString(scratch.path())), offered);
}

/// A name of a branch may hold what a shell would run.
void TestCommandPapers::bash_runsNothingOfABranchName()
{
    ScratchRepository scratch;
    scratch.write("a", "a\n");
    scratch.commit("base");
    const QString name = QStringLiteral("x$(touch${IFS}pwned)`touch${IFS}pwned`");
    scratch.git({QStringLiteral("branch"), name});
    const QStringList offered =
        completed({QStringLiteral("rope-splice"), QStringLiteral("merge"), QStringLiteral("x")},
                  QString::fromStdString(scratch.path()));
    QCOMPARE(offered, QStringList{name});
    QVERIFY(!QFile::exists(scratch.filePath("pwned")));
}

ROPE_TESTS(TestCommandPapers, QCoreApplication)
#include "tst_command_papers.moc"
