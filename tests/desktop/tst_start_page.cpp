// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/course/recent_places.h"
#include "desktop/start/repository_card.h"
#include "desktop/start/start_page.h"
#include "desktop/widgets/small_rope_chart.h"
#include "desktop/widgets/theme.h"
#include "tests/support/test_program.h"

#include <QApplication>
#include <QDropEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMimeData>
#include <QPushButton>
#include <QSettings>
#include <QSignalSpy>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTest>
#include <QUrl>

using namespace rope;

namespace {
constexpr std::int64_t kNow = 1'793'610'000;

RecentPlace slackwater()
{
    RecentPlace place;
    place.branch = "tide-windows";
    place.upstream = "origin/main";
    place.hasRemote = true;
    place.ahead = 3;
    place.behind = 5;
    place.readAt = kNow;
    place.askedAt = kNow - 120;
    return place;
}

struct Scene
{
    StartPage page{nullptr};
    const QStringList folders{QStringLiteral("/work/slackwater"),
                              QStringLiteral("/work/lock-signs"),
                              QStringLiteral("/media/gauge-firmware")};

    Scene()
    {
        page.resize(1280, 700);
        page.setRecent(folders);
        page.show();
        QApplication::setActiveWindow(&page);
    }
    [[nodiscard]] RepositoryCard* card(int index)
    {
        for (RepositoryCard* card : page.findChildren<RepositoryCard*>()) {
            if (card->folder() == folders[index]) {
                return card;
            }
        }
        return nullptr;
    }
    [[nodiscard]] QString said(int index, const char* label)
    {
        return card(index)->findChild<QLabel*>(QLatin1String(label))->text();
    }
};
}  // namespace

class TestStartPage : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase() { applyLook(*qApp, Look::light); }
    void card_tellsWhereItStands();
    void card_tellsWhatKindItIs();
    void recent_keepsWhereSomethingWaits();
    void card_oldKnowledge_isSaid();
    void card_gone_canBeForgotten_butOpensNothing();
    void click_andKeys_open();
    void typing_filters();
    void folder_canBeDropped();
    void narrow_oneCardARow();
    void empty_saysWhatToDo();
    void status_countsWhatWasLeft();
    void chart_manyCommits_leaveAGap();
};

void TestStartPage::card_tellsWhereItStands()
{
    Scene scene;
    RecentPlace place = slackwater();
    place.hasOpenSplice = true;
    place.decided = 6;
    place.uncommitted = 2;
    scene.page.showPlace(scene.folders[0], place);
    QCOMPARE(scene.said(0, "cardBranch"), QStringLiteral("tide-windows"));
    QCOMPARE(scene.said(0, "cardStanding"), QStringLiteral("3 ahead · 5 behind origin/main"));
    QCOMPARE(scene.said(0, "cardAsked"), QStringLiteral("as of 2 minutes ago"));
    QVERIFY(scene.said(0, "cardLeft").contains(QLatin1String("open splice: 6 decided")));
    QVERIFY(scene.said(0, "cardLeft").contains(QLatin1String("2 files not committed")));
    QVERIFY(scene.card(0)->findChild<QPushButton*>(QStringLiteral("goOnButton"))->isVisible());
    RecentPlace level = slackwater();
    level.ahead = level.behind = 0;
    scene.page.showPlace(scene.folders[1], level);
    QCOMPARE(scene.said(1, "cardStanding"), QStringLiteral("level with origin/main"));
    QCOMPARE(scene.said(1, "cardLeft"), QStringLiteral("no splice open, everything committed"));
    QVERIFY(!scene.card(1)->findChild<QPushButton*>(QStringLiteral("goOnButton"))->isVisible());
}

void TestStartPage::card_tellsWhatKindItIs()
{
    Scene scene;
    RecentPlace place = slackwater();
    const auto standing = [&] {
        scene.card(0)->showPlace(place);
        return scene.said(0, "cardStanding");
    };
    QVERIFY(standing().startsWith(QStringLiteral("3 ahead")));
    place.workingTree = {WorkingTreeKind::Kind::submodule, "/work/canal"};
    QVERIFY(standing().startsWith(QStringLiteral("submodule of canal · ")));
    place.workingTree = {WorkingTreeKind::Kind::further, "/work/canal"};
    QVERIFY(standing().startsWith(QStringLiteral("working tree of canal · ")));
    place.workingTree = {};
    place.hasWorkingTree = false;
    place.hasCommit = false;
    QVERIFY(
        standing().startsWith(QStringLiteral("bare: it has no working tree · no commit yet · ")));
    QCOMPARE(scene.said(0, "cardLeft"), QStringLiteral("no splice open"));
}

/// The list is kept short, but never by what somebody has begun and not ended.
void TestStartPage::recent_keepsWhereSomethingWaits()
{
    QStandardPaths::setTestModeEnabled(true);
    QCoreApplication::setOrganizationName(QStringLiteral("rope-splice-test"));
    QCoreApplication::setApplicationName(QStringLiteral("recent"));
    QSettings settings;
    settings.clear();
    const auto know = [&settings](const QString& folder, bool waits) {
        settings.setValue(
            QStringLiteral("recentKnown/")
                + QString::fromLatin1(folder.toUtf8().toBase64(QByteArray::Base64UrlEncoding)),
            QVariantList{QStringLiteral("main"), 1, 1, waits});
    };
    RecentPlaces recent(nullptr);
    for (int i = 0; i < 30; ++i) {
        const QString folder = QStringLiteral("/work/%1").arg(i);
        recent.remember(folder);
        know(folder, i == 3);
    }
    const QStringList kept = RecentPlaces::folders();
    QCOMPARE(kept.front(), QStringLiteral("/work/29"));
    QVERIFY(kept.contains(QStringLiteral("/work/3")));
    QVERIFY(!kept.contains(QStringLiteral("/work/4")));
    QVERIFY2(kept.size() <= 15, QByteArray::number(kept.size()).constData());
}

void TestStartPage::card_oldKnowledge_isSaid()
{
    Scene scene;
    RecentPlace place = slackwater();
    place.askedAt = kNow - 9LL * 24 * 60 * 60;
    scene.page.showPlace(scene.folders[0], place);
    QVERIFY(scene.said(0, "cardAsked").endsWith(QLatin1String("may have changed")));
    scene.page.showAsking(scene.folders[0], QStringLiteral("Asking…"));
    QCOMPARE(scene.said(0, "cardAsked"), QStringLiteral("Asking…"));
    scene.page.showPlace(scene.folders[0], slackwater());
    QCOMPARE(scene.said(0, "cardAsked"), QStringLiteral("as of 2 minutes ago"));
    place.hasRemote = false;
    scene.page.showPlace(scene.folders[0], place);
    QCOMPARE(scene.said(0, "cardAsked"), QString());
    QCOMPARE(scene.said(0, "cardStanding"), QStringLiteral("no remote: it is only here"));
}

void TestStartPage::card_gone_canBeForgotten_butOpensNothing()
{
    Scene scene;
    QSignalSpy opened(&scene.page, &StartPage::folderChosen);
    QSignalSpy again(&scene.page, &StartPage::lookAgainRequested);
    QSignalSpy forgotten(&scene.page, &StartPage::forgetRequested);
    scene.page.showGone(scene.folders[2],
                        QStringLiteral("The folder is not there."),
                        QStringLiteral("Last seen 28 Oct on calibration."));
    RepositoryCard* card = scene.card(2);
    QTest::mouseClick(card, Qt::LeftButton);
    QTest::keyClick(card, Qt::Key_Return);
    QVERIFY(opened.isEmpty());
    QCOMPARE(again.size(), 1);
    QTest::keyClick(card, Qt::Key_Delete);
    QCOMPARE(forgotten.size(), 1);
    QTest::keyClick(scene.card(0), Qt::Key_Delete);  // one that is there is not dropped so
    QCOMPARE(forgotten.size(), 1);
    QVERIFY(card->findChild<QPushButton*>(QStringLiteral("findPlaceButton"))->isVisible());
}

void TestStartPage::click_andKeys_open()
{
    Scene scene;
    QSignalSpy opened(&scene.page, &StartPage::folderChosen);
    QTest::mouseClick(scene.card(1), Qt::LeftButton);
    QCOMPARE(opened.last()[0].toString(), scene.folders[1]);
    scene.card(0)->setFocus();
    QTest::keyClick(scene.card(0), Qt::Key_Right);
    QVERIFY(scene.card(1)->hasFocus());
    QTest::keyClick(scene.card(1), Qt::Key_Left);
    QTest::keyClick(scene.card(0), Qt::Key_Down);
    QVERIFY(scene.card(2)->hasFocus());
    QTest::keyClick(scene.card(2), Qt::Key_Up);
    QTest::keyClick(scene.card(0), Qt::Key_Return);
    QCOMPARE(opened.last()[0].toString(), scene.folders[0]);
}

void TestStartPage::typing_filters()
{
    Scene scene;
    scene.page.showPlace(scene.folders[0], slackwater());
    scene.card(0)->setFocus();
    QTest::keyClicks(scene.card(0), QStringLiteral("t"));
    auto* filter = scene.page.findChild<QLineEdit*>(QStringLiteral("recentFilter"));
    QCOMPARE(filter->text(), QStringLiteral("t"));
    QTest::keyClicks(filter, QStringLiteral("ide-w"));  // a branch's name
    QVERIFY(scene.card(0)->isVisible());
    QVERIFY(!scene.card(1)->isVisible());
    QSignalSpy opened(&scene.page, &StartPage::folderChosen);
    QTest::keyClick(filter, Qt::Key_Return);
    QCOMPARE(opened.size(), 1);
    QTest::keyClick(filter, Qt::Key_Escape);
    QVERIFY(scene.card(1)->isVisible());
    filter->setText(QStringLiteral("nowhere"));
    QVERIFY(scene.page.findChild<QLabel*>(QStringLiteral("recentEmpty"))
                ->text()
                .contains(QLatin1String("nowhere")));
}

void TestStartPage::folder_canBeDropped()
{
    const QTemporaryDir folder;
    Scene scene;
    QSignalSpy opened(&scene.page, &StartPage::folderChosen);
    QMimeData data;
    data.setUrls({QUrl::fromLocalFile(folder.path())});
    QDragEnterEvent enter({10, 10}, Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(&scene.page, &enter);
    QVERIFY(enter.isAccepted());
    QDropEvent drop({10, 10}, Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(&scene.page, &drop);
    QCOMPARE(opened.last()[0].toString(), folder.path());
    QMimeData other;
    other.setText(QStringLiteral("words"));
    QDropEvent words({10, 10}, Qt::CopyAction, &other, Qt::LeftButton, {});
    QApplication::sendEvent(&scene.page, &words);
    QCOMPARE(opened.size(), 1);
}

void TestStartPage::narrow_oneCardARow()
{
    Scene scene;
    QApplication::processEvents();
    QCOMPARE(scene.card(0)->y(), scene.card(1)->y());
    scene.page.resize(1024, 640);
    QApplication::processEvents();
    QVERIFY(scene.card(1)->y() > scene.card(0)->y());
}

void TestStartPage::empty_saysWhatToDo()
{
    Scene scene;
    scene.page.setRecent({});
    QVERIFY(scene.page.findChild<QLabel*>(QStringLiteral("recentEmpty"))->isVisible());
    QVERIFY(!scene.page.findChild<QPushButton*>(QStringLiteral("askAllButton"))->isVisible());
    QCOMPARE(scene.page.status(), QString());
}

void TestStartPage::status_countsWhatWasLeft()
{
    Scene scene;
    RecentPlace place = slackwater();
    place.hasOpenSplice = true;
    scene.page.showPlace(scene.folders[0], place);
    place.hasOpenSplice = false;
    place.putAway = 1;
    place.putAwayTheirs = "origin/winter-fees";
    place.putAwayAt = kNow - 86'400;
    scene.page.showPlace(scene.folders[1], place);
    QCOMPARE(scene.page.status(), QStringLiteral("1 splice is open, 1 is put away"));
    QVERIFY(scene.said(1, "cardLeft").contains(QLatin1String("origin/winter-fees, yesterday")));
}

void TestStartPage::chart_manyCommits_leaveAGap()
{
    SmallRopeChart chart(nullptr);
    chart.resize(chart.sizeHint());
    chart.setCounts(2, 0);
    const QImage few = chart.grab().toImage();
    chart.setCounts(2, 300);
    const QImage many = chart.grab().toImage();
    QVERIFY(few != many);
    chart.setCounts(2, 6);
    QCOMPARE(chart.grab().toImage(), many);  // a gap is a gap
    QCOMPARE(chart.accessibleName(), QStringLiteral("2 commits of ours, 6 of theirs"));
}

ROPE_TESTS(TestStartPage, QApplication)
#include "tst_start_page.moc"
