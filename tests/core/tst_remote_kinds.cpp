// SPDX-License-Identifier: GPL-3.0-or-later
// The port's remotes over every kind of connection that teams use, with real servers on the loopback.
#include "core/system/factory/copy_place.h"
#include "core/system/git/git_place.h"
#include "tests/support/remote_servers.h"
#include "tests/support/shared_team.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;
using rope::test::RemoteServers;
using rope::test::SharedTeam;

namespace {
/// A program that answers git's and ssh's questions as a person would, without a window.
Asking answering(const QString& folder, const QByteArray& script)
{
    QFile program(folder + QStringLiteral("/answers"));
    if (program.open(QIODevice::WriteOnly)) {
        program.write("#!/bin/sh\n" + script);
        program.close();
        program.setPermissions(QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
    }
    return {program.fileName().toStdString(), "nowhere"};
}

constexpr const char* kBen = "case \"$1\" in Username*) echo ben;; *) echo benpw;; esac\n";

/// The shared repository under a name that asks for a password.
void makePrivate(const SharedTeam& team)
{
    team.shared("config http.receivepack true");
    QDir().mkpath(team.folder() + QStringLiteral("/private"));
    QVERIFY(QFile::link(team.address(), team.folder() + QStringLiteral("/private/shared.git")));
}
}  // namespace

class TestRemoteKinds : public QObject
{
    Q_OBJECT
private slots:
    void init() { qunsetenv("GIT_SSH_COMMAND"); }
    void daemon_wholeRound();
    void http_wholeRound();
    void http_password_isAskedFor();
    void http_wrongPassword_saysSo();
    void http_nobodyToAsk_saysSo();
    void ssh_wholeRound();
    void ssh_unknownHostDeclined_saysSo();
    void stoppedServer_saysSo();

private:
    /// Clone, commit, send, be overtaken, be refused, fetch: what a day is made of.
    static void round(const SharedTeam& team, const QString& address, const Asking& asking = {})
    {
        const QString folder = team.folder() + QStringLiteral("/copy");
        const auto copied =
            copyPlace({address.toStdString(), {}, folder.toStdString()}, asking, {}, {});
        QVERIFY2(copied.hasValue(), copied ? "" : copied.error().detail.c_str());
        const SharedTeam::Clone copy(folder);
        copy.git("config user.name Maren");
        copy.git("config user.email maren@slackwater.example");
        const auto place = std::move(GitPlace::open(folder.toStdString())).value();
        place->setAsking(asking);
        const auto send = [&] {
            return place->send({"origin", "main", *place->resolveCommit("HEAD"), {}, {}}, {}, {});
        };
        copy.write("mine.txt", "mine\n");
        copy.commit("Mine");
        const auto sent = send();
        QVERIFY2(sent.hasValue(), sent ? "" : sent.error().detail.c_str());
        const auto there = place->ask("origin", {});
        QVERIFY(there && there->tipOf("main") == *place->resolveCommit("HEAD"));
        team.teammateSends("two", "two of theirs", "Meanwhile");
        copy.write("mine.txt", "mine again\n");
        copy.commit("Mine again");
        const auto refused = send();
        QVERIFY(!refused);
        QCOMPARE(refused.error().reason, Reason::remoteMovedOn);
        std::vector<std::string> answered;
        QVERIFY(place->fetch([&](const std::string& name) { answered.push_back(name); }, {}, {}));
        QVERIFY(answered == std::vector<std::string>{"origin"});
        QCOMPARE(copy.git("rev-parse origin/main"), team.shared("rev-parse main"));
    }
};

void TestRemoteKinds::daemon_wholeRound()
{
    const SharedTeam team;
    RemoteServers servers(team.folder());
    const QString address = servers.startDaemon(QStringLiteral("shared.git"));
    QVERIFY(!address.isEmpty());
    round(team, address);
}

void TestRemoteKinds::http_wholeRound()
{
    const SharedTeam team;
    team.shared("config http.receivepack true");
    RemoteServers servers(team.folder());
    const QString http = servers.startHttp();
    QVERIFY(!http.isEmpty());
    round(team, http + QStringLiteral("shared.git"));
}

void TestRemoteKinds::http_password_isAskedFor()
{
    const SharedTeam team;
    makePrivate(team);
    RemoteServers servers(team.folder());
    const QString http = servers.startHttp();
    round(team, http + QStringLiteral("private/shared.git"), answering(team.folder(), kBen));
}

void TestRemoteKinds::http_wrongPassword_saysSo()
{
    const SharedTeam team;
    makePrivate(team);
    RemoteServers servers(team.folder());
    const std::string address =
        (servers.startHttp() + QStringLiteral("private/shared.git")).toStdString();
    const auto asked = askAddress(address, answering(team.folder(), "echo wrong\n"), {});
    QVERIFY(!asked);
    QCOMPARE(asked.error().reason, Reason::remoteAccess);
    QVERIFY(asked.error().detail.find("wrong") == std::string::npos);  // what was typed is not told
}

void TestRemoteKinds::http_nobodyToAsk_saysSo()
{
    const SharedTeam team;
    makePrivate(team);
    RemoteServers servers(team.folder());
    const std::string address =
        (servers.startHttp() + QStringLiteral("private/shared.git")).toStdString();
    const auto asked = askAddress(address, answering(team.folder(), "exit 1\n"), {});
    QVERIFY(!asked);
    QCOMPARE(asked.error().reason, Reason::remoteAccess);
}

void TestRemoteKinds::ssh_wholeRound()
{
    const SharedTeam team;
    RemoteServers servers(team.folder());
    QString command;
    const QString ssh = servers.startSsh(command);
    QVERIFY(!ssh.isEmpty());
    qputenv("GIT_SSH_COMMAND", command.toUtf8());
    round(team, ssh + QStringLiteral("shared.git"), answering(team.folder(), "echo yes\n"));
}

void TestRemoteKinds::ssh_unknownHostDeclined_saysSo()
{
    const SharedTeam team;
    RemoteServers servers(team.folder());
    QString command;
    const QString ssh = servers.startSsh(command);
    qputenv("GIT_SSH_COMMAND", command.toUtf8());
    const auto asked = askAddress((ssh + QStringLiteral("shared.git")).toStdString(),
                                  answering(team.folder(), "echo no\n"),
                                  {});
    QVERIFY(!asked);
    QCOMPARE(asked.error().reason, Reason::remoteUnsafe);
}

void TestRemoteKinds::stoppedServer_saysSo()
{
    const SharedTeam team;
    QString address;
    {
        RemoteServers servers(team.folder());
        address = servers.startDaemon(QStringLiteral("shared.git"));
    }
    const auto asked = askAddress(address.toStdString(), {}, {});
    QCOMPARE(asked.error().reason, Reason::remoteUnreachable);
}

ROPE_TESTS(TestRemoteKinds, QCoreApplication)
#include "tst_remote_kinds.moc"
