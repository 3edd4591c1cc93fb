// SPDX-License-Identifier: GPL-3.0-or-later
// Killed while a remote is asked or sent to, after any number of milliseconds: the remote has what it had
// or what was sent, both repositories are whole, and the next try succeeds.
#include "core/system/git/git_place.h"
#include "tests/support/shared_team.h"

#include <QCoreApplication>
#include <QTest>

#include <chrono>
#include <csignal>
#include <thread>
#include <unistd.h>

using namespace rope;
using rope::test::SharedTeam;

namespace {
enum class Act { send, replace, fetch };

Status doIt(const std::string& folder, Act act, const ObjectId& replaced)
{
    TRY_ASSIGN(const auto place, GitPlace::open(folder));
    if (act == Act::fetch) {
        return place->fetch({}, {}, {});
    }
    TRY_ASSIGN(const ObjectId tip, place->resolveCommit("main"));
    const Sending sending{"origin", "main", tip, act == Act::replace ? replaced : ObjectId{}, {}};
    TRY(place->send(sending, {}, {}));
    return ok();
}

/// What this program does when it is called again as the child that is to die.
void dieIfChild()
{
    const QByteArray folder = qgetenv("ROPE_TEST_KILL_FOLDER");
    if (folder.isEmpty()) {
        return;
    }
    std::thread([delay = qEnvironmentVariableIntValue("ROPE_TEST_KILL_MS")] {
        std::this_thread::sleep_for(std::chrono::milliseconds(delay));
        ::kill(::getpid(), SIGKILL);
    }).detach();
    const auto replaced = ObjectId::fromHex(qgetenv("ROPE_TEST_KILL_REPLACED").toStdString());
    (void)doIt(folder.toStdString(),
               static_cast<Act>(qEnvironmentVariableIntValue("ROPE_TEST_KILL_ACT")),
               replaced.value_or(ObjectId{}));
    ::_exit(0);
}

void killAfter(int ms, const QString& folder, Act act, const QByteArray& replaced)
{
    QProcess child;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert(QStringLiteral("ROPE_TEST_KILL_FOLDER"), folder);
    environment.insert(QStringLiteral("ROPE_TEST_KILL_MS"), QString::number(ms));
    environment.insert(QStringLiteral("ROPE_TEST_KILL_ACT"),
                       QString::number(static_cast<int>(act)));
    environment.insert(QStringLiteral("ROPE_TEST_KILL_REPLACED"), QString::fromLatin1(replaced));
    child.setProcessEnvironment(environment);
    child.start(QCoreApplication::applicationFilePath(), {});
    QVERIFY(child.waitForFinished(60'000));
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
    void initTestCase() { dieIfChild(); }
    void killed_leavesBothWhole_data();
    void killed_leavesBothWhole();
};

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
        killAfter(ms, own.folder(), what, before);
        const QByteArray between = team.shared("rev-parse main");
        QVERIFY(between == before || between == tip || what == Act::fetch);
        // The git that it had started may still be at work.
        (void)QTest::qWaitFor(
            [&] {
                return doIt(own.folder().toStdString(),
                            what,
                            *ObjectId::fromHex(before.toStdString()))
                           .hasValue()
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

QTEST_GUILESS_MAIN(TestRemotesKilled)
#include "tst_remotes_killed.moc"
