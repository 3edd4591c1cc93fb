// SPDX-License-Identifier: GPL-3.0-or-later
// Killed while a remote is asked or sent to, after any number of milliseconds: the remote has what it had
// or what was sent, both repositories are whole, and the next try succeeds.
#include "core/system/git/git_place.h"
#include "tests/support/killed_child.h"
#include "tests/support/shared_team.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;
using rope::test::SharedTeam;

namespace {
enum class Act { send, replace, fetch };

Status doIt(const std::string& folder, Act act)
{
    TRY_ASSIGN(const auto place, GitPlace::open(folder));
    if (act == Act::fetch) {
        return place->fetch({}, {}, {});
    }
    TRY_ASSIGN(const ObjectId tip, place->resolveCommit("main"));
    Sending sending{"origin", "main", tip, {}, {}};
    if (act == Act::replace) {
        TRY_ASSIGN(sending.replaced, place->resolveCommit("refs/remotes/origin/main"));
    }
    TRY(place->send(sending, {}, {}));
    return ok();
}

/// Whether all objects are there and whole.
bool isWhole(const QString& folder)
{
    QProcess git;
    git.setWorkingDirectory(folder);
    git.start(
        QStringLiteral("git"),
        {QStringLiteral("fsck"), QStringLiteral("--strict"), QStringLiteral("--no-dangling")});
    return git.waitForFinished(60'000) && git.exitCode() == 0;
}
}  // namespace

class TestRemotesKilled : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void killed_leavesBothWhole_data();
    void killed_leavesBothWhole();
};

void TestRemotesKilled::initTestCase()
{
    test::dieInTimeIfChild([](const std::string& folder, int what) {
        return doIt(folder, static_cast<Act>(what)) ? 0 : 2;
    });
}

void TestRemotesKilled::killed_leavesBothWhole_data()
{
    QTest::addColumn<int>("act");
    QTest::newRow("send") << static_cast<int>(Act::send);
    QTest::newRow("send, replacing") << static_cast<int>(Act::replace);
    QTest::newRow("fetch") << static_cast<int>(Act::fetch);
}

void TestRemotesKilled::killed_leavesBothWhole()
{
    QFETCH(const int, act);
    const SharedTeam team;
    const SharedTeam::Clone own = team.yours();
    own.git("switch -q main");
    const auto what = static_cast<Act>(act);
    for (int ms = 0; ms <= 70; ms += 7) {
        const QByteArray before = team.shared("rev-parse main");
        if (what == Act::fetch) {
            const auto teammate = team.teammate();
            teammate.write("more.txt", QByteArray::number(ms));
            teammate.commit("More");
            teammate.git("push -q origin main");
        } else {
            own.write("mine.txt", QByteArray::number(ms));
            own.git("add -A");
            own.git({QStringLiteral("commit"),
                     QStringLiteral("-q"),
                     QStringLiteral("-m"),
                     QStringLiteral("Mine"),
                     what == Act::replace && ms > 0 ? QStringLiteral("--amend")
                                                    : QStringLiteral("--allow-empty")});
        }
        const QByteArray tip = own.git("rev-parse main");
        (void)test::killAfter(ms, own.folder(), act);
        const QByteArray between = team.shared("rev-parse main");
        QVERIFY(between == before || between == tip || what == Act::fetch);
        // The git that it had started may still be at work.
        (void)QTest::qWaitFor(
            [&] {
                return doIt(own.folder().toStdString(), what).hasValue()
                       || team.shared("rev-parse main") == tip;
            },
            10'000);
        const QByteArray after = team.shared("rev-parse main");
        if (what == Act::fetch) {
            QCOMPARE(own.git("rev-parse refs/remotes/origin/main"), after);
        } else {
            QCOMPARE(after, tip);
        }
        QVERIFY(isWhole(own.folder()));
        QVERIFY(isWhole(team.address()));
        QCOMPARE(own.git("status --porcelain"), QByteArray());
    }
}

ROPE_TESTS(TestRemotesKilled, QCoreApplication)
#include "tst_remotes_killed.moc"
