// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QStandardPaths>
#include <QTcpServer>
#include <QTcpSocket>
#include <QTest>

namespace rope::test {
/// Real servers on the loopback for a folder of bare repositories: git's own daemon, smart HTTP behind
/// lighttpd (with a password below /private), and ssh with a throw-away key. Each is ended with this.
class RemoteServers
{
public:
    explicit RemoteServers(QString folder)
        : m_folder(std::move(folder))
    {
    }
    ~RemoteServers()
    {
        for (QProcess* server : m_servers) {
            server->terminate();
            if (!server->waitForFinished(3000)) {
                server->kill();
                server->waitForFinished(3000);
            }
            delete server;
        }
    }
    RemoteServers(const RemoteServers&) = delete;
    RemoteServers& operator=(const RemoteServers&) = delete;

    /// "git://127.0.0.1:PORT/shared.git"; empty when it does not start.
    QString startDaemon(const QString& repository)
    {
        const int port = freePort();
        const bool isUp = start(QStringLiteral("git"),
                                {QStringLiteral("daemon"),
                                 QStringLiteral("--listen=127.0.0.1"),
                                 QStringLiteral("--port=%1").arg(port),
                                 QStringLiteral("--base-path=") + m_folder,
                                 QStringLiteral("--export-all"),
                                 QStringLiteral("--enable=receive-pack"),
                                 QStringLiteral("--reuseaddr")},
                                port);
        return isUp ? QStringLiteral("git://127.0.0.1:%1/%2").arg(port).arg(repository) : QString();
    }

    /// "http://127.0.0.1:PORT/git/"; what lies in the folder `private` asks ben for the password benpw.
    QString startHttp()
    {
        const int port = freePort();
        write("users", "ben:benpw\n");
        QByteArray config =
            R"(server.modules = ( "mod_auth", "mod_authn_file", "mod_alias", "mod_setenv", "mod_cgi" )
server.document-root = "@FOLDER@"
server.bind = "127.0.0.1"
server.port = @PORT@
server.errorlog = "@FOLDER@/lighttpd.log"
server.stream-response-body = 1
alias.url = ( "/git" => "/usr/lib/git-core/git-http-backend" )
$HTTP["url"] =~ "^/git" {
  cgi.assign = ( "" => "" )
  setenv.set-environment = ( "GIT_PROJECT_ROOT" => "@FOLDER@", "GIT_HTTP_EXPORT_ALL" => "1" )
}
$HTTP["url"] =~ "^/git/private" {
  auth.backend = "plain"
  auth.backend.plain.userfile = "@FOLDER@/users"
  auth.require = ( "" => ( "method" => "basic", "realm" => "team", "require" => "valid-user" ) )
}
)";
        config.replace("@FOLDER@", m_folder.toUtf8());
        config.replace("@PORT@", QByteArray::number(port));
        write("lighttpd.conf", config);
        const bool isUp = start(program("lighttpd"),
                                {QStringLiteral("-D"),
                                 QStringLiteral("-f"),
                                 m_folder + QStringLiteral("/lighttpd.conf")},
                                port);
        return isUp ? QStringLiteral("http://127.0.0.1:%1/git/").arg(port) : QString();
    }

    /// "ssh://USER@127.0.0.1:PORTFOLDER/"; `command` is what git is to start for it, with the key, and
    /// with an unknown host.
    QString startSsh(QString& command)
    {
        const int port = freePort();
        QDir().mkpath(m_folder + QStringLiteral("/ssh"));
        for (const char* key : {"hostkey", "userkey"}) {
            QProcess::execute(QStringLiteral("ssh-keygen"),
                              {QStringLiteral("-q"),
                               QStringLiteral("-t"),
                               QStringLiteral("ed25519"),
                               QStringLiteral("-N"),
                               QString(),
                               QStringLiteral("-f"),
                               m_folder + QStringLiteral("/ssh/") + QLatin1String(key)});
        }
        QFile::copy(m_folder + QStringLiteral("/ssh/userkey.pub"),
                    m_folder + QStringLiteral("/ssh/authorized_keys"));
        QByteArray config = "Port @PORT@\nListenAddress 127.0.0.1\nHostKey @FOLDER@/ssh/hostkey\n"
                            "AuthorizedKeysFile @FOLDER@/ssh/authorized_keys\n"
                            "PidFile none\nPasswordAuthentication no\n"
                            "KbdInteractiveAuthentication no\nUsePAM no\nStrictModes no\n";
        config.replace("@FOLDER@", m_folder.toUtf8());
        config.replace("@PORT@", QByteArray::number(port));
        write("ssh/sshd_config", config);
        QDir().mkpath(QStringLiteral("/run/sshd"));
        command = QStringLiteral("ssh -F /dev/null -i %1/ssh/userkey -o IdentitiesOnly=yes "
                                 "-o UserKnownHostsFile=%1/ssh/known -o StrictHostKeyChecking=ask")
                      .arg(m_folder);
        const bool isUp = start(program("sshd"),
                                {QStringLiteral("-D"),
                                 QStringLiteral("-f"),
                                 m_folder + QStringLiteral("/ssh/sshd_config"),
                                 QStringLiteral("-E"),
                                 m_folder + QStringLiteral("/ssh/log")},
                                port);
        return isUp ? QStringLiteral("ssh://%1@127.0.0.1:%2%3/")
                          .arg(qEnvironmentVariable("USER", QStringLiteral("root")))
                          .arg(port)
                          .arg(m_folder)
                    : QString();
    }

private:
    static QString program(const char* name)
    {
        const QString found = QStandardPaths::findExecutable(
            QLatin1String(name), {QStringLiteral("/usr/sbin"), QStringLiteral("/usr/bin")});
        return found.isEmpty() ? QLatin1String(name) : found;
    }

    static int freePort()
    {
        QTcpServer probe;
        probe.listen(QHostAddress::LocalHost);
        return probe.serverPort();
    }

    void write(const char* path, const QByteArray& content) const
    {
        QFile file(m_folder + QLatin1Char('/') + QLatin1String(path));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(content);
    }

    bool start(const QString& executable, const QStringList& arguments, int port)
    {
        auto* server = new QProcess;
        m_servers << server;
        server->setProcessChannelMode(QProcess::MergedChannels);
        server->start(executable, arguments);
        if (!server->waitForStarted(5000)) {
            return false;
        }
        for (int attempt = 0; attempt < 100; ++attempt) {
            QTcpSocket socket;
            socket.connectToHost(QStringLiteral("127.0.0.1"), static_cast<quint16>(port));
            if (socket.waitForConnected(200)) {
                return true;
            }
            QTest::qWait(50);
        }
        qWarning("%s", server->readAll().constData());
        return false;
    }

    QString m_folder;
    QList<QProcess*> m_servers;
};
}  // namespace rope::test
