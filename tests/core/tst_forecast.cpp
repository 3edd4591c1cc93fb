// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/repository/git/git_repository.h"
#include "core/snapshot/tree_writer.h"
#include "core/splice/forecast.h"
#include "core/splice/region_authors.h"
#include "tests/support/random_texts.h"
#include "tests/support/scratch_repository.h"

#include <QTest>

using namespace rope;
using rope::test::ScratchRepository;

namespace {
struct Joined
{
    std::unique_ptr<GitRepository> repository;
    Forecast forecast;
};

Joined joinBranches(const ScratchRepository& scratch,
                    const char* ours = "ours",
                    const char* theirs = "theirs")
{
    Joined joined;
    joined.repository = std::move(GitRepository::open(scratch.path())).value();
    auto forecast = forecastJoin(*joined.repository,
                                 *joined.repository->resolveCommit(ours),
                                 *joined.repository->resolveCommit(theirs));
    joined.forecast = std::move(forecast).value();
    return joined;
}

/// Makes branches ours and theirs from a base; each step writes its files.
template <typename Base, typename Ours, typename Theirs>
void makeBranches(ScratchRepository& scratch, Base base, Ours ours, Theirs theirs)
{
    base(scratch);
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    theirs(scratch);
    scratch.commit("theirs");
    scratch.git("switch -q -c ours main");
    ours(scratch);
    scratch.commit("ours");
}

const FileOutcome* fileAt(const Forecast& forecast, const char* path)
{
    for (const FileOutcome& file : forecast.join.files) {
        if (file.path == path) {
            return &file;
        }
    }
    return nullptr;
}
}  // namespace

class TestForecast : public QObject
{
    Q_OBJECT
private slots:
    void forecast_treeCases_data();
    void forecast_treeCases();
    void forecast_randomCleanTrees_matchGit();
    void forecast_clean_writesGitsTree();
    void forecast_modeAgainstEdit_joins();
    void forecast_touchesNothing();
    void forecast_severalBases_areAllTold();
    void forecast_shallowClone_saysSo();
    void choices_edits_areRight();
    void authors_ofRegions_areFound();
};

void TestForecast::forecast_treeCases_data()
{
    QTest::addColumn<QByteArray>("ours");  // "path=content" a line; "-path" removes
    QTest::addColumn<QByteArray>("theirs");
    QTest::addColumn<QByteArray>("path");
    QTest::addColumn<int>("question");  // -1: none
    QTest::addColumn<int>("regions");
    const auto row = [](const char* name,
                        const char* ours,
                        const char* theirs,
                        const char* path,
                        int question,
                        int regions) {
        QTest::newRow(name) << QByteArray(ours) << QByteArray(theirs) << QByteArray(path)
                            << question << regions;
    };
    const auto asInt = [](QuestionKind kind) {
        return static_cast<int>(kind);
    };
    row("both-edited-apart", "a=1X\n", "c=9\n", "c", -1, 0);
    row("both-edited-same-place", "a=ours\n", "a=theirs\n", "a", -1, 1);
    row("deleted-by-theirs", "a=ours\n", "-a", "a", asInt(QuestionKind::deletedByTheirs), 0);
    row("deleted-by-ours", "-a", "a=theirs\n", "a", asInt(QuestionKind::deletedByOurs), 0);
    row("added-by-both", "new=ours\n", "new=theirs\n", "new", -1, 1);
    row("added-alike", "new=same\n", "new=same\n", "new", -1, 0);
    row("binary", "a=o\\0\n", "a=t\\0\n", "a", asInt(QuestionKind::binary), 0);
    row("file-against-folder",
        "spot=file\n",
        "spot/inner=folder\n",
        "spot",
        asInt(QuestionKind::fileAgainstFolder),
        0);
    row("folder-against-file",
        "spot/inner=folder\n",
        "spot=file\n",
        "spot",
        asInt(QuestionKind::fileAgainstFolder),
        0);
    row("edited-file-becomes-folder",
        "a=ours\n",
        "-a;a/inner=folder\n",
        "a",
        asInt(QuestionKind::fileAgainstFolder),
        0);
}

namespace {
void applyRecipe(ScratchRepository& scratch, const QByteArray& recipe)
{
    for (const QByteArray& step : recipe.split(';')) {
        if (step.startsWith('-')) {
            scratch.remove(step.mid(1).constData());
            continue;
        }
        const qsizetype at = step.indexOf('=');
        QByteArray content = step.mid(at + 1);
        content.replace("\\0", QByteArray(1, '\0'));
        scratch.write(step.left(at).constData(), content);
    }
}
}  // namespace

void TestForecast::forecast_treeCases()
{
    QFETCH(QByteArray, ours);
    QFETCH(QByteArray, theirs);
    QFETCH(QByteArray, path);
    QFETCH(int, question);
    QFETCH(int, regions);
    ScratchRepository scratch;
    makeBranches(
        scratch,
        [](auto& s) {
            s.write("a", "1\n");
            s.write("c", "3\n");
            s.write("z", "z\n");
        },
        [&](auto& s) { applyRecipe(s, ours); },
        [&](auto& s) { applyRecipe(s, theirs); });
    const Joined joined = joinBranches(scratch);
    const FileOutcome* file = fileAt(joined.forecast, path.constData());
    if (question >= 0) {
        QVERIFY(file != nullptr);
        QVERIFY(file->question.has_value());
        QCOMPARE(static_cast<int>(file->question->kind), question);
    } else if (file != nullptr) {
        QVERIFY(!file->question);
        QCOMPARE(static_cast<int>(file->regionCount()), regions);
    } else {
        QCOMPARE(regions, 0);
    }
    // The other way round the same is asked.
    const Joined swapped = joinBranches(scratch, "theirs", "ours");
    QCOMPARE(swapped.forecast.regionCount(), joined.forecast.regionCount());
    QCOMPARE(swapped.forecast.questionCount(), joined.forecast.questionCount());
    int exitCode = 0;
    scratch.tryGit({QStringLiteral("merge-tree"),
                    QStringLiteral("--write-tree"),
                    QStringLiteral("ours"),
                    QStringLiteral("theirs")},
                   exitCode);
    QCOMPARE(joined.forecast.isClean(), exitCode == 0);
}

void TestForecast::forecast_randomCleanTrees_matchGit()
{
    test::Random random(test::randomSeed());
    const auto scatter = [&random](ScratchRepository& s, const char* mark) {
        for (int i = 0; i < 4; ++i) {
            const QByteArray path = "dir" + QByteArray::number(test::below(random, 3)) + "/f"
                                    + QByteArray::number(test::below(random, 4));
            s.write(path.constData(),
                    QByteArray::fromStdString(
                        test::edited(random, s.read(path.constData()).toStdString(), 2, mark)));
        }
    };
    for (int round = 0; round < 12; ++round) {
        ScratchRepository scratch;
        makeBranches(
            scratch,
            [](auto& s) {
                for (int i = 0; i < 12; ++i) {
                    s.write(("dir" + QByteArray::number(i / 4) + "/f" + QByteArray::number(i % 4))
                                .constData(),
                            QByteArray::fromStdString(test::numberedText(30 + i)));
                }
            },
            [&](auto& s) { scatter(s, "o"); },
            [&](auto& s) { scatter(s, "t"); });
        Joined joined = joinBranches(scratch);
        int exitCode = 0;
        const QByteArray tree = scratch.tryGit({QStringLiteral("merge-tree"),
                                                QStringLiteral("--write-tree"),
                                                QStringLiteral("ours"),
                                                QStringLiteral("theirs")},
                                               exitCode);
        QCOMPARE(joined.forecast.isClean(), exitCode == 0);
        if (exitCode == 0) {
            QCOMPARE(QByteArray::fromStdString(
                         writeCleanTree(*joined.repository, joined.forecast)->hex()),
                     tree);
        }
    }
}

void TestForecast::forecast_clean_writesGitsTree()
{
    ScratchRepository scratch;
    makeBranches(
        scratch,
        [](auto& s) {
            s.write("d/a", "1\n2\n3\n");
            s.write("d/b", "b\n");
            s.write("gone/x", "x\n");
        },
        [](auto& s) { s.write("d/a", "one\n2\n3\n"); },
        [](auto& s) {
            s.write("d/a", "1\n2\nthree\n");
            s.remove("gone/x");
            s.write("e/new", "n\n");
        });
    Joined joined = joinBranches(scratch);
    QVERIFY(joined.forecast.isClean());
    QCOMPARE(QByteArray::fromStdString(writeCleanTree(*joined.repository, joined.forecast)->hex()),
             scratch.git("merge-tree --write-tree ours theirs"));
}

void TestForecast::forecast_modeAgainstEdit_joins()
{
    ScratchRepository scratch;
    makeBranches(
        scratch,
        [](auto& s) { s.write("run", "#!/bin/sh\n"); },
        [](auto& s) {
            QFile::setPermissions(s.filePath("run"),
                                  QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
        },
        [](auto& s) { s.write("run", "#!/bin/sh\necho\n"); });
    Joined joined = joinBranches(scratch);
    QVERIFY(joined.forecast.isClean());
    QVERIFY(fileAt(joined.forecast, "run")->settled->kind == EntryKind::executable);
}

void TestForecast::forecast_touchesNothing()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const QByteArray before = scratch.fingerprint();
    const Joined joined = joinBranches(scratch);
    QCOMPARE(joined.forecast.regionCount(), std::size_t{1});
    QCOMPARE(scratch.fingerprint(), before);
}

void TestForecast::forecast_severalBases_areAllTold()
{
    ScratchRepository scratch;
    makeBranches(
        scratch,
        [](auto& s) { s.write("a", "1\n"); },
        [](auto& s) { s.write("o", "1\n"); },
        [](auto& s) { s.write("t", "1\n"); });
    scratch.git("branch ours1 ours");
    scratch.git("merge -q -m cross theirs");
    scratch.git("switch -q theirs");
    scratch.git("merge -q -m cross ours1");
    const Joined joined = joinBranches(scratch);
    QCOMPARE(joined.forecast.divergence.bases.size(), std::size_t{2});
    QVERIFY(joined.forecast.base->id == joined.forecast.divergence.bases.front());
}

void TestForecast::forecast_shallowClone_saysSo()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const QTemporaryDir folder;
    scratch.git({QStringLiteral("clone"),
                 QStringLiteral("-q"),
                 QStringLiteral("--depth=1"),
                 QStringLiteral("--no-single-branch"),
                 QStringLiteral("file://") + scratch.folder(),
                 folder.filePath(QStringLiteral("cut"))});
    auto repository = GitRepository::open(folder.filePath(QStringLiteral("cut")).toStdString());
    const auto forecast = forecastJoin(**repository,
                                       *(*repository)->resolveCommit("ours"),
                                       *(*repository)->resolveCommit("origin/theirs"));
    QVERIFY(!forecast);
    QCOMPARE(forecast.error().code, ErrorCode::unsupported);
}

void TestForecast::choices_edits_areRight()
{
    ScratchRepository scratch;
    makeBranches(
        scratch,
        [](auto& s) { s.write("a", "1\n"); },
        [](auto& s) {
            s.write("spot", "file\n");
            s.write("a", "ours\n");
        },
        [](auto& s) {
            s.write("spot/inner", "folder\n");
            s.remove("a");
        });
    const Joined joined = joinBranches(scratch);
    const auto edits = editsOfChoice(*fileAt(joined.forecast, "spot"), FileChoice::aside);
    QCOMPARE(edits.size(), std::size_t{1});
    QCOMPARE(edits.front().path, std::string("spot~ours"));
    const FileOutcome* deleted = fileAt(joined.forecast, "a");
    QVERIFY(!editsOfChoice(*deleted, FileChoice::theirs).front().version.has_value());
    QVERIFY(editsOfChoice(*deleted, FileChoice::ours).front().version == deleted->ours);
}

void TestForecast::authors_ofRegions_areFound()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const Joined joined = joinBranches(scratch);
    const auto authors = findRegionAuthors(
        *joined.repository, joined.forecast, *fileAt(joined.forecast, "plan.txt"));
    QVERIFY(authors);
    QCOMPARE(authors->size(), std::size_t{1});
    QCOMPARE(authors->front().ours->subject(), std::string("ours edits"));
    QCOMPARE(authors->front().theirs->subject(), std::string("theirs edits"));
}

QTEST_GUILESS_MAIN(TestForecast)
#include "tst_forecast.moc"
