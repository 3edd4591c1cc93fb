// SPDX-License-Identifier: GPL-3.0-or-later
// git's and ssh's questions reach the window through the program that they start.
#include "desktop/ask/ask_dialog.h"
#include "desktop/ask/ask_server.h"
#include "desktop/widgets/theme.h"
#include "tests/support/test_program.h"

#include <QApplication>
#include <QDir>
#include <QFile>
#include <QLabel>
#include <QLineEdit>
#include <QProcess>
#include <QProcessEnvironment>
#include <QPushButton>
#include <QTest>

using namespace rope;

namespace {
/// The program that git starts, under way with a question.
class Asker
{
public:
    Asker(const Asking& asking, const QString& question)
    {
        QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
        environment.insert(QStringLiteral("ROPE_SPLICE_ASK"),
                           QString::fromStdString(asking.address));
        process.setProcessEnvironment(environment);
        process.start(QString::fromStdString(asking.program), {question});
    }
    [[nodiscard]] bool hasEnded()
    {
        return QTest::qWaitFor([this] { return process.state() == QProcess::NotRunning; }, 10'000);
    }
    QProcess process;
};
}  // namespace

class TestAskServer : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase() { applyLook(*qApp, Look::light); }
    void password_isHiddenAndGoesBack();
    void userName_isSeen();
    void hostKey_isAYesOrNo();
    void declined_fails();
    void twoQuestions_oneAfterTheOther();
    void askerGone_takesTheDialogAway();
    void nobodyThere_fails();
    void withoutTheToken_nobodyIsAsked();
    void socket_isTheUsersAlone();
    void password_isInNoCoreDump();
    void foldersOfKilledWindows_areRemoved();

private:
    static AskDialog* waitForDialog(const QWidget& window)
    {
        AskDialog* dialog = nullptr;
        (void)QTest::qWaitFor([&] {
            for (AskDialog* found : window.findChildren<AskDialog*>()) {
                dialog = found->isVisible() ? found : dialog;
            }
            return dialog != nullptr;
        });
        return dialog;
    }
};

void TestAskServer::password_isHiddenAndGoesBack()
{
    QWidget window;
    window.show();
    const AskServer server(&window);
    QVERIFY(!server.asking().program.empty());
    Asker asker(server.asking(), QStringLiteral("Password for 'http://ben@127.0.0.1\033[31m': "));
    AskDialog* dialog = waitForDialog(window);
    QVERIFY(dialog != nullptr);
    const QString question = dialog->findChild<QLabel*>(QStringLiteral("askQuestion"))->text();
    QVERIFY(question.startsWith(QStringLiteral("Password for 'http://ben@127.0.0.1")));
    QVERIFY(!question.contains(QChar(0x1b)));
    auto* field = dialog->findChild<QLineEdit*>();
    QCOMPARE(field->echoMode(), QLineEdit::Password);
    QTest::keyClicks(field, QStringLiteral("lock & key"));
    QTest::keyClick(field, Qt::Key_Return);
    QVERIFY(asker.hasEnded());
    QCOMPARE(asker.process.exitCode(), 0);
    QCOMPARE(asker.process.readAllStandardOutput(), QByteArray("lock & key\n"));
}

void TestAskServer::userName_isSeen()
{
    QWidget window;
    window.show();
    const AskServer server(&window);
    Asker asker(server.asking(), QStringLiteral("Username for 'http://127.0.0.1': "));
    AskDialog* dialog = waitForDialog(window);
    QVERIFY(dialog != nullptr);
    QCOMPARE(dialog->findChild<QLineEdit*>()->echoMode(), QLineEdit::Normal);
    dialog->reject();
    QVERIFY(asker.hasEnded());
}

void TestAskServer::hostKey_isAYesOrNo()
{
    QWidget window;
    window.show();
    const AskServer server(&window);
    Asker asker(server.asking(),
                QStringLiteral("The authenticity of host can't be established.\nAre you sure you "
                               "want to continue connecting (yes/no/[fingerprint])? "));
    AskDialog* dialog = waitForDialog(window);
    QVERIFY(dialog != nullptr);
    QVERIFY(dialog->findChild<QLineEdit*>() == nullptr);
    dialog->findChild<QPushButton*>(QStringLiteral("askAcceptButton"))->click();
    QVERIFY(asker.hasEnded());
    QCOMPARE(asker.process.readAllStandardOutput(), QByteArray("yes\n"));
}

void TestAskServer::declined_fails()
{
    QWidget window;
    window.show();
    const AskServer server(&window);
    Asker asker(server.asking(), QStringLiteral("Password: "));
    AskDialog* dialog = waitForDialog(window);
    QVERIFY(dialog != nullptr);
    QTest::keyClick(dialog, Qt::Key_Escape);
    QVERIFY(asker.hasEnded());
    QCOMPARE(asker.process.exitCode(), 1);
    QVERIFY(asker.process.readAllStandardOutput().isEmpty());
}

void TestAskServer::twoQuestions_oneAfterTheOther()
{
    QWidget window;
    window.show();
    const AskServer server(&window);
    Asker first(server.asking(), QStringLiteral("Username: "));
    AskDialog* dialog = waitForDialog(window);
    QVERIFY(dialog != nullptr);
    Asker second(server.asking(), QStringLiteral("Password: "));
    QTest::qWait(200);
    QCOMPARE(window.findChildren<AskDialog*>().size(), 1);
    QTest::keyClicks(dialog->findChild<QLineEdit*>(), QStringLiteral("ben"));
    dialog->accept();
    QVERIFY(first.hasEnded());
    QVERIFY(QTest::qWaitFor([&] {
        AskDialog* next = waitForDialog(window);
        return next != nullptr && next != dialog;
    }));
    waitForDialog(window)->reject();
    QVERIFY(second.hasEnded());
}

void TestAskServer::askerGone_takesTheDialogAway()
{
    QWidget window;
    window.show();
    const AskServer server(&window);
    Asker asker(server.asking(), QStringLiteral("Password: "));
    QVERIFY(waitForDialog(window) != nullptr);
    asker.process.kill();
    QVERIFY(QTest::qWaitFor([&] { return window.findChildren<AskDialog*>().isEmpty(); }));
}

void TestAskServer::nobodyThere_fails()
{
    QWidget window;
    Asking asking;
    {
        const AskServer server(&window);
        asking = server.asking();
    }
    Asker asker(asking, QStringLiteral("Password: "));
    QVERIFY(asker.hasEnded());
    QCOMPARE(asker.process.exitCode(), 1);
}

/// Any process of the same user finds the socket; only what the window started knows the token.
void TestAskServer::withoutTheToken_nobodyIsAsked()
{
    QWidget window;
    window.show();
    const AskServer server(&window);
    Asking asking = server.asking();
    asking.address = asking.address.substr(0, asking.address.rfind(':') + 1) + "guessed";
    Asker asker(asking, QStringLiteral("Password: "));
    QVERIFY(asker.hasEnded());
    QCOMPARE(asker.process.exitCode(), 1);
    QVERIFY(window.findChildren<AskDialog*>().isEmpty());
}

void TestAskServer::socket_isTheUsersAlone()
{
    QWidget window;
    const AskServer server(&window);
    const std::string address = server.asking().address;
    const QString socket = QString::fromStdString(address.substr(0, address.rfind(':')));
    const QFile::Permissions others = QFile::ReadGroup | QFile::WriteGroup | QFile::ExeGroup
                                      | QFile::ReadOther | QFile::WriteOther | QFile::ExeOther;
    QCOMPARE(QFileInfo(socket).permissions() & others, QFile::Permissions());
    QCOMPARE(QFileInfo(QFileInfo(socket).path()).permissions() & others, QFile::Permissions());
}

void TestAskServer::password_isInNoCoreDump()
{
    QWidget window;
    window.show();
    const AskServer server(&window);
    Asker asker(server.asking(), QStringLiteral("Password for 'http://ben@127.0.0.1': "));
    AskDialog* const dialog = waitForDialog(window);
    QVERIFY(dialog != nullptr);
    QFile limits(QStringLiteral("/proc/%1/limits").arg(asker.process.processId()));
    QVERIFY(limits.open(QIODevice::ReadOnly));
    const QByteArray text = limits.readAll();
    const qsizetype core = text.indexOf("Max core file size");
    QVERIFY(core >= 0);
    QCOMPARE(text.mid(core, text.indexOf('\n', core) - core).simplified(),
             QByteArray("Max core file size 0 0 bytes"));
    dialog->reject();
    QVERIFY(asker.hasEnded());
}

void TestAskServer::foldersOfKilledWindows_areRemoved()
{
    QProcess gone;
    gone.start(QStringLiteral("true"), {});
    const qint64 process = gone.processId();
    QVERIFY(gone.waitForFinished());
    const auto folderOf = [](qint64 number) {
        return QStringLiteral("%1/rope-splice-%2-abcdef").arg(QDir::tempPath()).arg(number);
    };
    const QString left = folderOf(process);
    const QString used = folderOf(QCoreApplication::applicationPid());
    for (const QString& folder : {left, used}) {
        QVERIFY(QDir().mkpath(folder));
        QFile socket(folder + QStringLiteral("/ask"));
        QVERIFY(socket.open(QIODevice::WriteOnly));
    }
    QWidget window;
    const AskServer server(&window);
    QVERIFY(!QDir(left).exists());
    QVERIFY(QDir(used).exists());
    QVERIFY(QDir(used).removeRecursively());
}

ROPE_TESTS(TestAskServer, QApplication)
#include "tst_ask_server.moc"
