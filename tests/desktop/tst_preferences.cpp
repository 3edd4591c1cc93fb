// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/app/join_queue.h"
#include "desktop/app/preferences.h"

#include <QCheckBox>
#include <QDialog>
#include <QPushButton>
#include <QSettings>
#include <QSignalSpy>
#include <QStandardPaths>
#include <QTest>

using namespace rope;

class TestPreferences : public QObject
{
    Q_OBJECT
private slots:
    void init();
    void unset_isAsDocumented();
    void dialog_countsAtOnce();
    void queue_isKeptByRepository();
};

void TestPreferences::init()
{
    QStandardPaths::setTestModeEnabled(true);
    QCoreApplication::setOrganizationName(QStringLiteral("rope-splice-test"));
    QCoreApplication::setApplicationName(QStringLiteral("preferences"));
    QSettings().clear();
}

void TestPreferences::unset_isAsDocumented()
{
    const Preferences preferences = Preferences::read();
    QVERIFY(!preferences.fetchesAtOpening && preferences.looksBeforeRecording);
    QVERIFY(!preferences.signsOff && !preferences.scrollsEvidenceSideways);
}

void TestPreferences::dialog_countsAtOnce()
{
    QWidget parent;
    int changes = 0;
    showPreferences(&parent, [&] { ++changes; });
    auto* dialog = parent.findChild<QDialog*>(QStringLiteral("preferencesDialog"));
    QVERIFY(dialog != nullptr);
    auto* box = dialog->findChild<QCheckBox*>(QStringLiteral("signsOff"));
    QVERIFY(box != nullptr && !box->isChecked());
    QTest::keyClick(box, Qt::Key_Space);
    QCOMPARE(changes, 1);
    QVERIFY(Preferences::read().signsOff);
    QVERIFY(Preferences::read().looksBeforeRecording);
    dialog->findChild<QPushButton*>(QStringLiteral("closePreferences"))->click();
}

void TestPreferences::queue_isKeptByRepository()
{
    JoinQueue queue(nullptr);
    QSignalSpy changes(&queue, &JoinQueue::changed);
    queue.open(QStringLiteral("/one"));
    queue.toggle("refs/remotes/origin/a");
    queue.toggle("refs/remotes/origin/\xff");
    queue.toggle("refs/remotes/origin/b");
    queue.toggle("refs/remotes/origin/a");
    QCOMPARE(changes.count(), 5);
    JoinQueue again(nullptr);
    again.open(QStringLiteral("/other"));
    QVERIFY(again.refs().empty());
    again.open(QStringLiteral("/one"));
    QVERIFY(again.refs()
            == (std::vector<std::string>{"refs/remotes/origin/\xff", "refs/remotes/origin/b"}));
    again.remove("refs/remotes/origin/b");
    QCOMPARE(again.refs().size(), std::size_t{1});
}

QTEST_MAIN(TestPreferences)
#include "tst_preferences.moc"
