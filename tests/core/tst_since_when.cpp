// SPDX-License-Identifier: GPL-3.0-or-later
// With which commit of either side a region came.
#include "core/join/since_when.h"
#include "core/plan/laid_commits.h"
#include "tests/support/joined_branches.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;
using rope::test::ScratchRepository;

namespace {
QByteArray numbered(const char* changed, const QByteArray& line)
{
    return QByteArray("a\nb\nc\nd\ne\nf\ng\nh\ni\nj\n").replace(changed, line);
}
}  // namespace

class TestSinceWhen : public QObject
{
    Q_OBJECT
private slots:
    void eachSide_isFound_data();
    void eachSide_isFound();
    void renamedFile_isFollowed();
    void random_isWhatJoiningEachSays();
    void laidCommit_isFoundOnTheGround();
};

void TestSinceWhen::eachSide_isFound_data()
{
    QTest::addColumn<int>("before");
    QTest::addColumn<int>("after");
    for (const int before : {0, 1, 4, 9}) {
        for (const int after : {0, 3, 8}) {
            QTest::addRow("%d before, %d after", before, after) << before << after;
        }
    }
}

/// Commits elsewhere, the one that clashes, and others after it.
void TestSinceWhen::eachSide_isFound()
{
    QFETCH(const int, before);
    QFETCH(const int, after);
    ScratchRepository scratch;
    scratch.write("plan.txt", numbered("-", "-"));
    scratch.commit("base");
    QByteArray wanted[2];
    for (int side = 0; side < 2; ++side) {
        const QByteArray name = side == 0 ? "theirs" : "ours";
        scratch.git(("switch -q -c " + name + " main").constData());
        for (int i = 0; i < before; ++i) {
            scratch.write((name + ".txt").constData(), QByteArray::number(i) + "\n");
            scratch.commit("elsewhere");
        }
        scratch.write("plan.txt", numbered("c\n", "c " + name + "\n"));
        wanted[side] = scratch.commit("here");
        for (int i = 0; i < after; ++i) {
            scratch.write("plan.txt",
                          numbered("c\n", "c " + name + "\n")
                              .replace("i\n", "i " + QByteArray::number(i) + name + "\n"));
            scratch.commit("further down");
        }
    }
    const auto joined = test::joinBranches(scratch);
    const FileOutcome* file = test::fileAt(joined.forecast, "plan.txt");
    QVERIFY(file != nullptr && file->regionCount() > 0);
    const auto since = findSinceWhen(*joined.repository, joined.forecast, *file, 0);
    QVERIFY(since && since->ours && since->theirs);
    QCOMPARE(QByteArray::fromStdString(since->theirs->id.hex()), wanted[0]);
    QCOMPARE(QByteArray::fromStdString(since->ours->id.hex()), wanted[1]);
}

void TestSinceWhen::renamedFile_isFollowed()
{
    ScratchRepository scratch;
    scratch.write("plan.txt", numbered("-", "-"));
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    scratch.write("plan.txt", numbered("c\n", "c theirs\n"));
    const QByteArray wanted = scratch.commit("here");
    scratch.git("mv plan.txt scheme.txt");
    scratch.commit("renamed");
    scratch.git("switch -q -c ours main");
    scratch.write("plan.txt", numbered("c\n", "c ours\n"));
    scratch.commit("ours");
    const auto joined = test::joinBranches(scratch);
    const FileOutcome* file = test::fileAt(joined.forecast, "scheme.txt");
    QVERIFY(file != nullptr);
    const auto since = findSinceWhen(*joined.repository, joined.forecast, *file, 0);
    QVERIFY(since && since->theirs);
    QCOMPARE(QByteArray::fromStdString(since->theirs->id.hex()), wanted);
}

/// Of the commits of a rebase, unless one before has changed the file already.
void TestSinceWhen::laidCommit_isFoundOnTheGround()
{
    ScratchRepository scratch;
    scratch.write("plan.txt", numbered("-", "-"));
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    scratch.write("theirs.txt", "elsewhere\n");
    scratch.commit("elsewhere");
    scratch.write("plan.txt", numbered("c\n", "c theirs\n"));
    const QByteArray wanted = scratch.commit("here");
    scratch.write("plan.txt", numbered("c\n", "c theirs\n").replace("j\n", "j theirs\n"));
    scratch.commit("further down");
    for (const bool isChangedBefore : {false, true}) {
        const char* const branch = isChangedBefore ? "changed-before" : "ours";
        scratch.git((QByteArray("switch -q -c ") + branch + " main").constData());
        const QByteArray first = isChangedBefore ? numbered("g\n", "g ours\n") : numbered("-", "-");
        scratch.write("plan.txt", first);
        scratch.write("ours.txt", "elsewhere\n");
        scratch.commit("elsewhere too");
        scratch.write("plan.txt", QByteArray(first).replace("c\n", "c ours\n"));
        scratch.commit("ours");
        const auto joined = test::joinBranches(scratch, branch);
        const auto rebase = forecastRebase(
            *joined.repository, joined.forecast.divergence, joined.forecast.theirs.id);
        QVERIFY(rebase && rebase->laid.size() == 2);
        const auto& files = rebase->laid[1].leg->files;
        const auto file = std::find_if(files.begin(), files.end(), [](const FileOutcome& one) {
            return one.path == "plan.txt";
        });
        QVERIFY(file != files.end() && file->regionCount() == 1);
        const auto since = findSinceWhenLaid(*joined.repository, joined.forecast, *file, 0);
        QVERIFY(since);
        QCOMPARE(*since ? QByteArray::fromStdString((*since)->id.hex()) : QByteArray(),
                 isChangedBefore ? QByteArray() : wanted);
    }
}

/// Joining up to the commit before gives no region there; joining up to it does.
void TestSinceWhen::random_isWhatJoiningEachSays()
{
    ScratchRepository scratch;
    scratch.write("plan.txt", numbered("-", "-"));
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    const char* const lines[] = {"a\n", "j\n", "e\n", "h\n", "c\n", "b\n"};
    QByteArray text = numbered("-", "-");
    for (const char* line : lines) {
        text.replace(line, QByteArray(line).chopped(1) + " theirs\n");
        scratch.write("plan.txt", text);
        scratch.commit("one line");
    }
    scratch.git("switch -q -c ours main");
    scratch.write("plan.txt", numbered("c\n", "c ours\n").replace("h\n", "h ours\n"));
    scratch.commit("ours");
    const auto joined = test::joinBranches(scratch);
    const FileOutcome* file = test::fileAt(joined.forecast, "plan.txt");
    QVERIFY(file != nullptr);
    for (std::size_t region = 0; region < file->regionCount(); ++region) {
        const auto since = findSinceWhen(*joined.repository, joined.forecast, *file, region);
        QVERIFY(since && since->theirs);
        const std::string at = since->theirs->id.hex();
        const auto with = test::joinBranches(scratch, "ours", at.c_str());
        const auto without = test::joinBranches(scratch, "ours", (at + "^").c_str());
        QCOMPARE(with.forecast.regionCount(), without.forecast.regionCount() + 1);
    }
}

ROPE_TESTS(TestSinceWhen, QCoreApplication)
#include "tst_since_when.moc"
