// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/system/git/remote_answers.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

class TestRemoteAnswers : public QObject
{
    Q_OBJECT
private slots:
    void remoteError_knownWords_haveAReason_data();
    void remoteError_knownWords_haveAReason();
    void remoteError_bannerDoesNotCount();
    void pushError_rejections_haveAReason_data();
    void pushError_rejections_haveAReason();
    void parseRemoteLines_namesAndFirst();
    void environment_nobodyToAsk_isEmpty();
};

void TestRemoteAnswers::remoteError_knownWords_haveAReason_data()
{
    QTest::addColumn<QByteArray>("said");
    QTest::addColumn<int>("reason");
    const auto row = [](const char* said, Reason reason) {
        QTest::newRow(said) << QByteArray(said) << static_cast<int>(reason);
    };
    row("fatal: unable to access 'http://x/': Could not resolve host: x",
        Reason::remoteUnreachable);
    row("fatal: unable to connect to 127.0.0.1:\n127.0.0.1[0: 127.0.0.1]: errno=Connection refused",
        Reason::remoteUnreachable);
    row("fatal: Authentication failed for 'http://127.0.0.1/git/private.git/'",
        Reason::remoteAccess);
    row("fatal: could not read Username for 'http://127.0.0.1': terminal prompts disabled",
        Reason::remoteAccess);
    row("user@127.0.0.1: Permission denied (publickey).\n"
        "fatal: Could not read from remote repository.",
        Reason::remoteAccess);
    row("fatal: '/gone.git' does not appear to be a git repository", Reason::remoteMissing);
    row("fatal: repository 'http://127.0.0.1/none.git/' not found", Reason::remoteMissing);
    row("fatal: remote error: access denied or repository not exported: /x", Reason::remoteMissing);
    row("Host key verification failed.\nfatal: Could not read from remote repository.",
        Reason::remoteUnsafe);
    row("fatal: transport 'ext' not allowed", Reason::remoteUnsafe);
    row("fatal: write error: No space left on device", Reason::diskFull);
    row("fatal: something new", Reason::remoteFailed);
}

void TestRemoteAnswers::remoteError_knownWords_haveAReason()
{
    QFETCH(const QByteArray, said);
    const Error error = remoteError("origin", said.toStdString());
    QTEST(static_cast<int>(error.reason), "reason");
    QCOMPARE(error.subject, std::string("origin"));
    QVERIFY(!error.detail.empty());
}

void TestRemoteAnswers::remoteError_bannerDoesNotCount()
{
    const Error error =
        remoteError("origin", "remote: Permission denied? Ask the lock keeper.\nfatal: odd\n");
    QCOMPARE(error.reason, Reason::remoteFailed);
    QVERIFY(error.detail.find("lock keeper") != std::string::npos);
}

void TestRemoteAnswers::pushError_rejections_haveAReason_data()
{
    QTest::addColumn<QByteArray>("out");
    QTest::addColumn<QByteArray>("said");
    QTest::addColumn<int>("reason");
    const QByteArray line = "To x\n!\tabc:refs/heads/main\t";
    const auto row =
        [](const char* name, const QByteArray& out, const QByteArray& said, Reason reason) {
            QTest::newRow(name) << out << said << static_cast<int>(reason);
        };
    row("moved on", line + "[rejected] (fetch first)\nDone\n", "", Reason::remoteMovedOn);
    row("rewound", line + "[rejected] (non-fast-forward)\n", "", Reason::remoteMovedOn);
    row("lease", line + "[rejected] (stale info)\n", "", Reason::remoteMovedOn);
    row("race",
        line + "[remote rejected] (cannot lock ref 'x': is at 1 but expected 2)\n",
        "",
        Reason::remoteMovedOn);
    row("hook",
        line + "[remote rejected] (pre-receive hook declined)\n",
        "remote: Not on Fridays.\nerror: failed to push some refs to 'x'",
        Reason::remoteRefused);
    row("own hook", "", "error: failed to push some refs to 'x'", Reason::hookRefused);
    row("large", "", "error: RPC failed; HTTP 413 curl 22", Reason::remoteTooLarge);
    row("gone",
        "",
        "fatal: unable to access 'x': Could not resolve host",
        Reason::remoteUnreachable);
}

void TestRemoteAnswers::pushError_rejections_haveAReason()
{
    QFETCH(const QByteArray, out);
    QFETCH(const QByteArray, said);
    QTEST(static_cast<int>(pushError("origin", out.toStdString(), said.toStdString()).reason),
          "reason");
}

void TestRemoteAnswers::parseRemoteLines_namesAndFirst()
{
    const std::string id(40, 'a');
    const RemoteLines lines =
        parseRemoteLines("ref: refs/heads/main\tHEAD\n" + id + "\tHEAD\n" + id
                         + "\trefs/heads/main\nnonsense\n" + id + "\trefs/heads/odd\xFF\n");
    QCOMPARE(lines.first, std::string("main"));
    QCOMPARE(lines.lines.size(), std::size_t{2});
    QVERIFY(lines.tipOf("main") == *ObjectId::fromHex(id));
    QVERIFY(lines.tipOf("gone").isNull());
}

void TestRemoteAnswers::environment_nobodyToAsk_isEmpty()
{
    QVERIFY(environmentOf({}).empty());
    QCOMPARE(environmentOf({"/bin/ask", "here"}).size(), std::size_t{4});
}

ROPE_TESTS(TestRemoteAnswers, QCoreApplication)
#include "tst_remote_answers.moc"
