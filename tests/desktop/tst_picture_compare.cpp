// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/widgets/picture_compare.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/shown_text.h"
#include "tests/support/test_program.h"

#include <QApplication>
#include <QLabel>
#include <QPushButton>
#include <QSlider>
#include <QTest>

using namespace rope;

namespace {
QImage plain(const QColor& colour, QSize size = {20, 10})
{
    QImage image(size, QImage::Format_ARGB32);
    image.fill(colour);
    return image;
}

/// Theirs red, ours blue.
struct Scene
{
    PictureCompare compare{nullptr};

    explicit Scene(const QImage& difference = plain(Qt::black))
    {
        compare.resize(400, 300);
        compare.setPictures({{QStringLiteral("Theirs"), plain(Qt::red)},
                             {QStringLiteral("Base"), {}},
                             {QStringLiteral("Ours"), plain(Qt::blue)}},
                            difference);
        compare.show();
    }
    [[nodiscard]] int countOf(const QColor& colour)
    {
        const QImage shot = compare.grab().toImage();
        int count = 0;
        for (int y = 0; y < shot.height(); ++y) {
            for (int x = 0; x < shot.width(); ++x) {
                count += shot.pixelColor(x, y) == colour ? 1 : 0;
            }
        }
        return count;
    }
    [[nodiscard]] QString said()
    {
        return compare.findChild<QLabel*>(QStringLiteral("pictureShown"))->text();
    }
};
}  // namespace

class TestPictureCompare : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase() { applyLook(*qApp, Look::light); }
    void beside_bothAreSeen_atOneZoom();
    void over_theSliderMixesThem();
    void inTurn_spaceShowsTheOther();
    void difference_onlyWhereThereIsOne();
    void zoom_byKeys_andBack();
};

void TestPictureCompare::beside_bothAreSeen_atOneZoom()
{
    Scene scene;
    QVERIFY(scene.countOf(Qt::red) > 100);
    QCOMPARE(scene.countOf(Qt::red), scene.countOf(Qt::blue));
    QVERIFY(scene.said().startsWith(QStringLiteral("Theirs · Base · Ours")));
}

void TestPictureCompare::over_theSliderMixesThem()
{
    Scene scene;
    scene.compare.setMode(PictureCompare::Mode::over);
    auto* slider = scene.compare.findChild<QSlider*>(QStringLiteral("picturesSlider"));
    QVERIFY(slider->isVisible());
    slider->setValue(0);
    QVERIFY(scene.countOf(Qt::red) > 100 && scene.countOf(Qt::blue) == 0);
    slider->setValue(100);
    QVERIFY(scene.countOf(Qt::blue) > 100 && scene.countOf(Qt::red) == 0);
    slider->setValue(50);
    QVERIFY(scene.countOf(Qt::blue) == 0 && scene.countOf(Qt::red) == 0);
    QVERIFY(scene.said().contains(QLatin1String("50% of Ours")));
}

void TestPictureCompare::inTurn_spaceShowsTheOther()
{
    Scene scene;
    QTest::keyClick(&scene.compare, Qt::Key_Space);
    QCOMPARE(scene.compare.mode(), PictureCompare::Mode::inTurn);
    QVERIFY(scene.countOf(Qt::blue) > 100 && scene.countOf(Qt::red) == 0);
    QVERIFY(scene.said().startsWith(QLatin1String("Ours is shown")));
    QTest::keyClick(&scene.compare, Qt::Key_Space);
    QVERIFY(scene.countOf(Qt::red) > 100 && scene.countOf(Qt::blue) == 0);
}

void TestPictureCompare::difference_onlyWhereThereIsOne()
{
    Scene scene;
    auto* button =
        scene.compare.findChild<QPushButton*>(QStringLiteral("picturesDifferenceButton"));
    button->click();
    QCOMPARE(scene.compare.mode(), PictureCompare::Mode::difference);
    QVERIFY(scene.countOf(Qt::red) == 0);
    scene.compare.setPictures({{QStringLiteral("Theirs"), plain(Qt::red)},
                               {QStringLiteral("Ours"), plain(Qt::red, {5, 5})}},
                              {});
    QVERIFY(!button->isEnabled());
    QCOMPARE(scene.compare.mode(), PictureCompare::Mode::beside);
}

void TestPictureCompare::zoom_byKeys_andBack()
{
    Scene scene;
    scene.compare.setMode(PictureCompare::Mode::inTurn);
    const int before = scene.countOf(Qt::red);
    QTest::keyClick(&scene.compare, Qt::Key_Minus);
    QVERIFY(scene.countOf(Qt::red) < before);
    QTest::keyClick(&scene.compare, Qt::Key_0);
    QCOMPARE(scene.countOf(Qt::red), before);
}

ROPE_TESTS(TestPictureCompare, QApplication)
#include "tst_picture_compare.moc"
