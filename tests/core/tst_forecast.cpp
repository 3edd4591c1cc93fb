// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/join/place_authors.h"
#include "core/system/edited_tree.h"
#include "tests/support/joined_branches.h"
#include "tests/support/random_texts.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;
using rope::test::fileAt;
using rope::test::joinBranches;
using rope::test::Joined;
using rope::test::ScratchRepository;

namespace {
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

}  // namespace

class TestForecast : public QObject
{
    Q_OBJECT
private slots:
    void forecast_randomCleanTrees_matchGit();
    void forecast_clean_writesGitsTree();
    void forecast_modeAgainstEdit_joins();
    void forecast_touchesNothing();
    void forecast_severalBases_areAllTold();
    void forecast_shallowClone_saysSo();
    void authors_ofRegions_areFound();
};

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
                         storeCleanTree(*joined.repository, joined.forecast)->hex()),
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
    QCOMPARE(QByteArray::fromStdString(storeCleanTree(*joined.repository, joined.forecast)->hex()),
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
    QVERIFY(joined.forecast.isClean());
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
    auto repository = GitPlace::open(folder.filePath(QStringLiteral("cut")).toStdString());
    const auto forecast = forecastJoin(**repository,
                                       *(*repository)->resolveCommit("ours"),
                                       *(*repository)->resolveCommit("origin/theirs"));
    QVERIFY(!forecast);
    QCOMPARE(forecast.error().code, ErrorCode::unsupported);
}

void TestForecast::authors_ofRegions_areFound()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const Joined joined = joinBranches(scratch);
    const FileOutcome& file = *fileAt(joined.forecast, "plan.txt");
    const auto authors = findChunkAuthors(*joined.repository, joined.forecast, file);
    QVERIFY(authors);
    QCOMPARE(authors->size(), file.text->chunks().size());
    const PlaceAuthors& region = authors->at(file.text->chunkOfRegion(0));
    QCOMPARE(region.ours->subject(), std::string("ours edits"));
    QCOMPARE(region.theirs->subject(), std::string("theirs edits"));
    // What only theirs changed, too; and nobody where nothing was changed.
    const PlaceAuthors& last = authors->back();
    QVERIFY(file.text->chunks().back().kind == ChunkKind::theirs);
    QVERIFY(!last.ours.has_value());
    QCOMPARE(last.theirs->subject(), std::string("theirs edits"));
    QVERIFY(!authors->front().ours && !authors->front().theirs);
}

ROPE_TESTS(TestForecast, QCoreApplication)
#include "tst_forecast.moc"
