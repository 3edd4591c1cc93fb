// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/system/factory/copy_place.h"
#include "core/system/git/git_clone.h"
#include "tests/support/shared_team.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;
using rope::test::SharedTeam;

class TestClone : public QObject
{
    Q_OBJECT
private slots:
    void ask_tellsBranches();
    void ask_whatIsNone_saysSo_data();
    void ask_whatIsNone_saysSo();
    void copy_isWhole();
    void copy_ofABranch_beginsWithIt();
    void copy_failing_leavesNothing();
    void copy_stopped_leavesNothing();
    void copy_killedBefore_isTidied();
    void copy_ontoSomething_isRefused();
};

void TestClone::ask_tellsBranches()
{
    const SharedTeam team;
    const auto lines = askAddress(team.address().toStdString(), {}, {});
    QVERIFY(lines);
    QCOMPARE(lines->first, std::string("main"));
    QCOMPARE(QByteArray::fromStdString(lines->tipOf("main").hex()), team.shared("rev-parse main"));
}

void TestClone::ask_whatIsNone_saysSo_data()
{
    QTest::addColumn<QByteArray>("address");
    QTest::addColumn<int>("reason");
    QTest::newRow("empty") << QByteArray() << static_cast<int>(Reason::invalidAddress);
    QTest::newRow("option") << QByteArray("--upload-pack=touch /tmp/never")
                            << static_cast<int>(Reason::invalidAddress);
    QTest::newRow("line break") << QByteArray("a\nb") << static_cast<int>(Reason::invalidAddress);
    QTest::newRow("program") << QByteArray("ext::sh -c true")
                             << static_cast<int>(Reason::remoteUnsafe);
    QTest::newRow("no folder") << QByteArray("/no/such/place")
                               << static_cast<int>(Reason::remoteMissing);
    QTest::newRow("nobody there") << QByteArray("git://127.0.0.1:1/x.git")
                                  << static_cast<int>(Reason::remoteUnreachable);
    QTest::newRow("host is an option")
        << QByteArray("ssh://-oProxyCommand=true/x") << static_cast<int>(Reason::remoteUnsafe);
}

void TestClone::ask_whatIsNone_saysSo()
{
    QFETCH(const QByteArray, address);
    const auto lines = askAddress(address.toStdString(), {}, {});
    QVERIFY(!lines);
    QTEST(static_cast<int>(lines.error().reason), "reason");
}

void TestClone::copy_isWhole()
{
    const SharedTeam team;
    const QString target = team.folder() + QStringLiteral("/new/place");
    std::size_t told = 0;
    QVERIFY(copyPlace({team.address().toStdString(), {}, target.toStdString()},
                      {},
                      [&told](const Progress&) { ++told; },
                      {}));
    QCOMPARE(SharedTeam::Clone(target).git("rev-parse HEAD"), team.shared("rev-parse main"));
    QVERIFY(SharedTeam::Clone(target).git("status --porcelain").isEmpty());
    QCOMPARE(QDir(team.folder() + QStringLiteral("/new"))
                 .entryList(QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot)
                 .size(),
             qsizetype{1});
}

void TestClone::copy_ofABranch_beginsWithIt()
{
    const SharedTeam team;
    team.teammate().git("push -q origin HEAD:refs/heads/winter-fees");
    const std::string target = team.folder().toStdString() + "/copy";
    QVERIFY(copyPlace({team.address().toStdString(), "winter-fees", target}, {}, {}, {}));
    QCOMPARE(SharedTeam::Clone(QString::fromStdString(target)).git("branch --show-current"),
             QByteArray("winter-fees"));
}

void TestClone::copy_failing_leavesNothing()
{
    const SharedTeam team;
    const QString target = team.folder() + QStringLiteral("/new/place");
    const auto copied = copyPlace({"/no/such/place", {}, target.toStdString()}, {}, {}, {});
    QCOMPARE(copied.error().reason, Reason::remoteMissing);
    QVERIFY(QDir(team.folder() + QStringLiteral("/new"))
                .entryList(QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot)
                .isEmpty());
}

void TestClone::copy_stopped_leavesNothing()
{
    const SharedTeam team;
    const QString target = team.folder() + QStringLiteral("/new/place");
    std::stop_source stop;
    stop.request_stop();
    const auto copied = copyPlace(
        {team.address().toStdString(), {}, target.toStdString()}, {}, {}, stop.get_token());
    QVERIFY(copied || copied.error().code == ErrorCode::cancelled);
    if (!copied) {
        QVERIFY(QDir(team.folder() + QStringLiteral("/new"))
                    .entryList(QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot)
                    .isEmpty());
    }
}

void TestClone::copy_killedBefore_isTidied()
{
    const SharedTeam team;
    const QString left = team.folder() + QStringLiteral("/.place.being-copied-2147483646");
    QVERIFY(QDir().mkpath(left + QStringLiteral("/.git")));
    QVERIFY(copyPlace(
        {team.address().toStdString(), {}, team.folder().toStdString() + "/place"}, {}, {}, {}));
    QVERIFY(!QDir(left).exists());
}

void TestClone::copy_ontoSomething_isRefused()
{
    const SharedTeam team;
    const auto copied = copyPlace(
        {team.address().toStdString(), {}, team.yours().folder().toStdString()}, {}, {}, {});
    QCOMPARE(copied.error().reason, Reason::targetExists);
}

ROPE_TESTS(TestClone, QCoreApplication)
#include "tst_clone.moc"
