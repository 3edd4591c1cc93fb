// SPDX-License-Identifier: GPL-3.0-or-later
// Every text and every edge of every look can be told from what is behind it (WCAG 2.1, 1.4.3 and 1.4.11).
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"
#include "tests/support/test_program.h"

#include <QApplication>
#include <QCheckBox>
#include <QImage>
#include <QLineEdit>
#include <QRadioButton>
#include <QStyleOptionButton>
#include <QTest>

#include <cmath>

using namespace rope;

namespace {
double luminance(const QColor& colour)
{
    const auto linear = [](double part) {
        return part <= 0.03928 ? part / 12.92 : std::pow((part + 0.055) / 1.055, 2.4);
    };
    return 0.2126 * linear(colour.redF()) + 0.7152 * linear(colour.greenF())
           + 0.0722 * linear(colour.blueF());
}

double contrast(const QColor& a, const QColor& b)
{
    const double lighter = std::max(luminance(a), luminance(b));
    const double darker = std::min(luminance(a), luminance(b));
    return (lighter + 0.05) / (darker + 0.05);
}

/// The greatest contrast of any painted point to the ground.
double strongest(const QImage& image, const QColor& ground)
{
    double most = 1;
    for (int y = 0; y < image.height(); ++y) {
        for (int x = 0; x < image.width(); ++x) {
            most = std::max(most, contrast(image.pixelColor(x, y), ground));
        }
    }
    return most;
}
}  // namespace

class TestTheme final : public QObject
{
    Q_OBJECT
private slots:
    void texts_andEdges_areTold_data();
    void texts_andEdges_areTold();
    void widgets_arePaintedSo_data();
    void widgets_arePaintedSo();
    void indicators_growWithTheFont();
    void looks_haveNames();
};

void TestTheme::texts_andEdges_areTold_data()
{
    QTest::addColumn<int>("look");
    for (const char* name : {"light", "dark", "contrast"}) {
        QTest::newRow(name) << static_cast<int>(*lookNamed(QLatin1String(name)));
    }
}

void TestTheme::texts_andEdges_areTold()
{
    QFETCH(int, look);
    const Theme t = themeOf(static_cast<Look>(look));
    constexpr double kText = 4.5;
    constexpr double kEdge = 3;
    const auto check = [](const char* what, const QColor& front, const QColor& back, double least) {
        const double found = contrast(front, back);
        QVERIFY2(found >= least,
                 QStringLiteral("%1: %2 on %3 is %4")
                     .arg(QLatin1String(what), front.name(), back.name())
                     .arg(found)
                     .toUtf8()
                     .constData());
    };
    for (const QColor& ground : {t.paper, t.panel, t.decidedFill, t.selection}) {
        check("ink", t.ink, ground, kText);
        check("muted", t.muted, ground, kText);
        check("openInk", t.openInk, ground, kText);
        check("decided", t.decided, ground, kText);
        check("edges", t.edges, ground, kEdge);
    }
    for (const QColor& ground : {t.paper, t.openFill, t.openSelected, t.decidedFill}) {
        check("code", t.ink, ground, kText);
        check("keyword", t.keyword, ground, kText);
        check("literal", t.literal, ground, kText);
        check("comment", t.comment, ground, kText);
        check("openInk", t.openInk, ground, kText);
    }
    for (const SideColours& side : {t.ours, t.theirs, t.base}) {
        check("a side's ink", side.ink, side.fill, kText);
        check("a side's title", side.ink, t.paper, kText);
        check("muted on a side", t.muted, side.fill, kText);
        check("text on a side", t.ink, side.fill, kText);
        check("a changed word", t.ink, side.word, kText);
    }
    check("the dark button", t.primaryText, t.primary, kText);
}

void TestTheme::widgets_arePaintedSo_data()
{
    texts_andEdges_areTold_data();
}

void TestTheme::widgets_arePaintedSo()
{
    QFETCH(int, look);
    applyLook(*qApp, static_cast<Look>(look));
    QWidget ground;
    ground.resize(400, 200);
    QCheckBox box(&ground);
    QRadioButton radio(&ground);
    QLineEdit field(&ground);
    field.setPlaceholderText(QStringLiteral("MMMMMM"));
    field.setGeometry(10, 60, 200, 40);
    box.setGeometry(10, 10, 40, 30);
    radio.setGeometry(60, 10, 40, 30);
    auto* button = makeButton(QStringLiteral("x"), "x", ButtonRole::plain, &ground);
    button->setGeometry(10, 120, 80, 30);
    ground.show();
    field.clearFocus();
    QApplication::processEvents();
    QVERIFY(strongest(box.grab().toImage(), theme().panel) >= 3);
    QVERIFY(strongest(radio.grab().toImage(), theme().panel) >= 3);
    const QImage edge = button->grab(QRect(20, 0, 30, 2)).toImage();
    QVERIFY2(strongest(edge, theme().panel) >= 3, QByteArray::number(strongest(edge, theme().panel)));
    const QImage hint = field.grab(QRect(8, 8, 100, 24)).toImage();
    QVERIFY2(strongest(hint, theme().paper) >= 4.5, QByteArray::number(strongest(hint, theme().paper)));
    // What is ticked is more than an outline.
    const QImage unticked = box.grab().toImage();
    box.setChecked(true);
    QVERIFY(box.grab().toImage() != unticked);
    applyLook(*qApp, Look::light);
}

void TestTheme::indicators_growWithTheFont()
{
    applyLook(*qApp, Look::light);
    QCheckBox box;
    const auto size = [&box] {
        QStyleOptionButton option;
        option.initFrom(&box);
        return box.style()->pixelMetric(QStyle::PM_IndicatorWidth, &option, &box);
    };
    QFont font = box.font();
    font.setPointSize(9);
    box.setFont(font);
    const int small = size();
    font.setPointSize(20);
    box.setFont(font);
    QVERIFY2(size() > small + 6, QByteArray::number(size()));
}

void TestTheme::looks_haveNames()
{
    QVERIFY(!lookNamed(QString()));
    QVERIFY(!lookNamed(QStringLiteral("blue")));
    QVERIFY(lookNamed(QStringLiteral("contrast")) == Look::contrast);
}

ROPE_TESTS(TestTheme, QApplication)
#include "tst_theme.moc"
