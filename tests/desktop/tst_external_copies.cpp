// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/app/external_copies.h"
#include "tests/support/test_program.h"

#include <QDesktopServices>
#include <QFile>
#include <QSignalSpy>
#include <QTest>
#include <QUrl>

using namespace rope;

class TestExternalCopies : public QObject
{
    Q_OBJECT
public slots:
    void onOpened(const QUrl& url) { m_opened << url.toLocalFile(); }

private slots:
    void init();
    void saved_isTold_withItsPath();
    void oneName_inTwoFolders_areTwoCopies();
    void forgotten_isNotTold();

private:
    static void save(const QString& file, const QByteArray& bytes)
    {
        QFile out(file);
        QVERIFY(out.open(QIODevice::WriteOnly));
        out.write(bytes);
    }
    QStringList m_opened;
};

void TestExternalCopies::init()
{
    m_opened.clear();
    QDesktopServices::setUrlHandler(QStringLiteral("file"), this, "onOpened");
}

void TestExternalCopies::saved_isTold_withItsPath()
{
    ExternalCopies copies(nullptr);
    QSignalSpy changed(&copies, &ExternalCopies::changed);
    QCOMPARE(copies.open(QStringLiteral("dir/a.txt"), "one\n"), QString());
    QCOMPARE(m_opened.size(), 1);
    QVERIFY(m_opened[0].endsWith(QLatin1String("/a.txt")));
    save(m_opened[0], "two\n");
    QTRY_COMPARE(changed.size(), 1);
    QCOMPARE(changed[0][0].toString(), QStringLiteral("dir/a.txt"));
    QCOMPARE(changed[0][1].toByteArray(), QByteArray("two\n"));
}

void TestExternalCopies::oneName_inTwoFolders_areTwoCopies()
{
    ExternalCopies copies(nullptr);
    QCOMPARE(copies.open(QStringLiteral("x/a.txt"), "x"), QString());
    QCOMPARE(copies.open(QStringLiteral("y/a.txt"), "y"), QString());
    QCOMPARE(copies.open(QStringLiteral("x/a.txt"), "again"), QString());
    QVERIFY(m_opened[0] != m_opened[1]);
    QCOMPARE(m_opened[2], m_opened[0]);
}

void TestExternalCopies::forgotten_isNotTold()
{
    ExternalCopies copies(nullptr);
    QSignalSpy changed(&copies, &ExternalCopies::changed);
    QCOMPARE(copies.open(QStringLiteral("a.txt"), "one"), QString());
    copies.forget();
    save(m_opened[0], "two");
    QTest::qWait(400);
    QVERIFY(changed.isEmpty());
    QCOMPARE(copies.open(QStringLiteral("a.txt"), "three"), QString());
    QVERIFY(m_opened[1] != m_opened[0]);  // an editor may still hold the old one
}

ROPE_TESTS(TestExternalCopies, QApplication)
#include "tst_external_copies.moc"
