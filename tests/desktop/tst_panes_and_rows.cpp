// SPDX-License-Identifier: GPL-3.0-or-later
// The small widgets that keep a window readable at every size.
#include "desktop/app/course_bar.h"
#include "desktop/resolve/candidate_list.h"
#include "desktop/widgets/code_view.h"
#include "desktop/widgets/find_bar.h"
#include "desktop/widgets/flow_layout.h"
#include "desktop/widgets/measures.h"
#include "desktop/widgets/pane_splitter.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/progress_rope.h"
#include "desktop/widgets/region_strip.h"
#include "desktop/widgets/theme.h"
#include "tests/support/test_program.h"

#include <QApplication>
#include <QImage>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalSpy>
#include <QTest>
#include <QVBoxLayout>

using namespace rope;

namespace {
/// A row of buttons of known widths.
struct Row
{
    QWidget widget;
    FlowLayout* layout = new FlowLayout(&widget, 5);
    std::vector<QWidget*> items;

    explicit Row(const std::vector<int>& widths)
    {
        layout->setContentsMargins(0, 0, 0, 0);
        for (const int width : widths) {
            auto* item = new QWidget(&widget);
            item->setFixedSize(width, 20);
            layout->addWidget(item);
            items.push_back(item);
        }
    }
    void lay(int width)
    {
        widget.resize(width, 100);
        widget.show();
        QApplication::processEvents();
    }
};

/// Two panes and what is between them.
struct Panes
{
    PaneSplitter splitter{Qt::Horizontal, {1, 3}, QStringLiteral("the line"), nullptr};
    QLabel left{QStringLiteral("left")};
    QLabel right{QStringLiteral("right")};

    Panes()
    {
        left.setMinimumWidth(10);
        right.setMinimumWidth(10);
        splitter.addWidget(&left);
        splitter.addWidget(&right);
        splitter.resize(400, 100);
        splitter.show();
        QApplication::processEvents();
    }
    ~Panes()
    {
        left.setParent(nullptr);
        right.setParent(nullptr);
    }
    [[nodiscard]] double share() const
    {
        return double(left.width()) / (left.width() + right.width());
    }
};
}  // namespace

class TestPanesAndRows : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void flow_staysInOneRow_whereThereIsRoom();
    void flow_goesOnBelow_whereThereIsNone();
    void flow_pushedRight_standsAtTheEdge();
    void flow_hiddenItems_takeNoRoom();
    void flow_itemsWiderThanTheRow_areNotWider();
    void panes_keepProportion_whenTheWindowGrows();
    void panes_moveByArrows_andGoBackByDoubleClick();
    void panes_takeStoredShares_onlyIfSound_data();
    void panes_takeStoredShares_onlyIfSound();
    void strip_marksStayApart_whereTheyAreMany();
    void strip_openIsNeverHidden();
    void text_isFittedToLines();
    void candidate_takesASecondLine_whereItIsNarrow();
    void course_keepsNames_whereItIsNarrow();
    void strip_clickAsksForTheLine();
    void find_countsAndWrapsAround();
    void find_capitals_areToldApartOnlyIfGiven();
    void find_replacesOneAfterTheOther();
    void find_readOnly_replacesNothing();
    void segments_excludeEachOther();
    void elidedLabel_tellsTheWholeInItsTooltip();
    void progressRope_isPaintedAsFarAsDone();
};

void TestPanesAndRows::initTestCase()
{
    applyLook(*qApp, Look::light);
}

void TestPanesAndRows::flow_staysInOneRow_whereThereIsRoom()
{
    Row row({50, 60, 70});
    row.lay(200);
    QCOMPARE(row.items[0]->pos(), QPoint(0, 0));
    QCOMPARE(row.items[1]->pos(), QPoint(55, 0));
    QCOMPARE(row.items[2]->pos(), QPoint(120, 0));
    QCOMPARE(row.layout->heightForWidth(200), 20);
    QCOMPARE(row.layout->count(), 3);
}

void TestPanesAndRows::flow_goesOnBelow_whereThereIsNone()
{
    Row row({50, 60, 70});
    row.lay(120);
    QCOMPARE(row.items[1]->pos(), QPoint(55, 0));
    QCOMPARE(row.items[2]->pos(), QPoint(0, 25));
    QCOMPARE(row.layout->heightForWidth(120), 45);
    QCOMPARE(row.layout->heightForWidth(60), 70);
    QVERIFY(row.layout->minimumSize().width() <= 70);
    // Whoever asks for no height that hangs on the width leaves room for the rows that there are.
    QCOMPARE(row.layout->minimumSize().height(), row.layout->heightForWidth(row.widget.width()));
    QVERIFY(row.layout->minimumSize().height() > 20);
}

void TestPanesAndRows::flow_pushedRight_standsAtTheEdge()
{
    Row row({50});
    row.layout->pushRight();
    auto* last = new QWidget(&row.widget);
    last->setFixedSize(40, 20);
    row.layout->addWidget(last);
    row.lay(300);
    QCOMPARE(last->geometry().right(), 299);
    row.lay(60);
    QCOMPARE(last->y(), 25);
    QVERIFY(last->geometry().right() < 60);
}

void TestPanesAndRows::flow_hiddenItems_takeNoRoom()
{
    Row row({50, 60, 70});
    row.items[1]->hide();
    row.lay(200);
    QCOMPARE(row.items[2]->pos(), QPoint(55, 0));
    QVERIFY(row.layout->itemAt(7) == nullptr);
    QVERIFY(row.layout->takeAt(7) == nullptr);
    delete row.layout->takeAt(0);
    QCOMPARE(row.layout->count(), 2);
}

void TestPanesAndRows::flow_itemsWiderThanTheRow_areNotWider()
{
    QWidget widget;
    auto* layout = new FlowLayout(&widget, 5);
    layout->setContentsMargins(10, 0, 10, 0);
    auto* label = new QLabel(QString(200, QLatin1Char('x')), &widget);
    label->setMinimumWidth(10);
    layout->addWidget(label);
    widget.resize(100, 50);
    widget.show();
    QApplication::processEvents();
    QVERIFY(label->geometry().right() < 100);
}

void TestPanesAndRows::panes_keepProportion_whenTheWindowGrows()
{
    Panes panes;
    const double before = panes.share();
    QVERIFY(std::abs(before - 0.25) < 0.02);
    panes.splitter.resize(1200, 100);
    QApplication::processEvents();
    QVERIFY(std::abs(panes.share() - 0.25) < 0.02);
    panes.splitter.resize(300, 100);
    QApplication::processEvents();
    QVERIFY(std::abs(panes.share() - 0.25) < 0.02);
}

void TestPanesAndRows::panes_moveByArrows_andGoBackByDoubleClick()
{
    Panes panes;
    QSplitterHandle& line = *panes.splitter.handle(1);
    QCOMPARE(line.accessibleName(), QStringLiteral("the line"));
    QVERIFY((line.focusPolicy() & Qt::TabFocus) != 0);
    QTest::keyClick(&line, Qt::Key_Right);
    QTest::keyClick(&line, Qt::Key_Right);
    QVERIFY(panes.share() > 0.3);
    QTest::keyClick(&line, Qt::Key_Left);
    QVERIFY(panes.share() < 0.32);
    QTest::mouseDClick(&line, Qt::LeftButton);
    QVERIFY(std::abs(panes.share() - 0.25) < 0.02);
}

void TestPanesAndRows::panes_takeStoredShares_onlyIfSound_data()
{
    QTest::addColumn<QVariantList>("shares");
    QTest::addColumn<bool>("isTaken");
    QTest::newRow("sound") << QVariantList{1, 1} << true;
    QTest::newRow("too few") << QVariantList{1} << false;
    QTest::newRow("too many") << QVariantList{1, 1, 1} << false;
    QTest::newRow("nothing") << QVariantList{} << false;
    QTest::newRow("negative") << QVariantList{-1, 2} << false;
    QTest::newRow("words") << QVariantList{QStringLiteral("a"), QStringLiteral("b")} << false;
    QTest::newRow("absurd") << QVariantList{1e30, 1} << false;
}

void TestPanesAndRows::panes_takeStoredShares_onlyIfSound()
{
    QFETCH(const QVariantList, shares);
    QFETCH(const bool, isTaken);
    Panes panes;
    panes.splitter.setShares(shares);
    QApplication::processEvents();
    QCOMPARE(std::abs(panes.share() - 0.5) < 0.02, isTaken);
    QCOMPARE(std::abs(panes.share() - 0.25) < 0.02, !isTaken);
}

void TestPanesAndRows::strip_marksStayApart_whereTheyAreMany()
{
    RegionStrip strip(nullptr);
    strip.resize(12, 600);
    std::vector<StripMark> marks;
    for (int i = 0; i < 100; ++i) {
        marks.push_back({i * 1000, 1, Strand::open});
    }
    strip.setMarks(marks, 100'000);
    const QImage picture = strip.grab().toImage();
    // Between marks the strip's own ground is seen: a hundred marks do not make one band.
    int ground = 0;
    for (int y = 0; y < picture.height(); ++y) {
        ground += picture.pixelColor(6, y) == theme().panel ? 1 : 0;
    }
    QVERIFY(ground > 200);
}

void TestPanesAndRows::strip_openIsNeverHidden()
{
    RegionStrip strip(nullptr);
    strip.resize(12, 200);
    strip.setMarks({{50, 1, Strand::open}, {51, 3, Strand::ours}}, 10'000);
    const QImage picture = strip.grab().toImage();
    bool isSeen = false;
    for (int y = 0; y < 20; ++y) {
        isSeen = isSeen || picture.pixelColor(6, y) == theme().openInk;
    }
    QVERIFY(isSeen);
}

void TestPanesAndRows::strip_clickAsksForTheLine()
{
    RegionStrip strip(nullptr);
    strip.resize(12, 200);
    strip.setMarks({}, 1000);
    QSignalSpy asked(&strip, &RegionStrip::lineRequested);
    QTest::mouseClick(&strip, Qt::LeftButton, {}, QPoint(5, 100));
    QCOMPARE(asked.size(), 1);
    QVERIFY(std::abs(asked.front().front().toInt() - 500) < 10);
}

namespace {
/// A text with its find bar.
struct Search
{
    QWidget window;
    CodeView* view = new CodeView(&window);
    FindBar* bar = new FindBar(*view, &window);

    explicit Search(std::string_view text)
    {
        auto* layout = new QVBoxLayout(&window);
        layout->addWidget(view);
        layout->addWidget(bar);
        window.resize(500, 300);
        window.show();
        view->setText(text, QStringLiteral("x.txt"));
        bar->open(true);
    }
    QLineEdit& words() { return *bar->findChild<QLineEdit*>(QStringLiteral("findField")); }
    QLineEdit& other() { return *bar->findChild<QLineEdit*>(QStringLiteral("replaceField")); }
    QString told() { return bar->findChild<QLabel*>(QStringLiteral("findTold"))->text(); }
    void press(const char* button) { bar->findChild<QPushButton*>(QLatin1String(button))->click(); }
    std::string whole() { return view->bytes(0, view->size()); }
    std::size_t place() { return view->caret() - view->selectedBytes().size(); }
};
}  // namespace

void TestPanesAndRows::find_countsAndWrapsAround()
{
    Search search("gate lock gate\nno\ngate\n");
    search.words().setText(QStringLiteral("gate"));
    QCOMPARE(search.told(), QStringLiteral("3 in this file"));
    std::vector<std::size_t> places;
    for (int i = 0; i < 4; ++i) {
        search.press("findNextButton");
        places.push_back(search.place());
    }
    QCOMPARE(places, (std::vector<std::size_t>{0, 10, 18, 0}));
    search.press("findPreviousButton");
    QCOMPARE(search.place(), std::size_t(18));
    search.words().setText(QStringLiteral("nowhere"));
    QCOMPARE(search.told(), QStringLiteral("not in this file"));
    search.press("findNextButton");
    QCOMPARE(search.told(), QStringLiteral("not in this file"));
    search.words().clear();
    QVERIFY(search.told().isEmpty());
}

void TestPanesAndRows::find_capitals_areToldApartOnlyIfGiven()
{
    Search search("Lock lock LOCK\n");
    search.words().setText(QStringLiteral("lock"));
    QCOMPARE(search.told(), QStringLiteral("3 in this file"));
    search.words().setText(QStringLiteral("Lock"));
    QCOMPARE(search.told(), QStringLiteral("1 in this file"));
    Search other("caf\u00e9 \u00e9\n");
    other.words().setText(QStringLiteral("\u00e9"));
    QCOMPARE(other.told(), QStringLiteral("2 in this file"));
}

void TestPanesAndRows::find_replacesOneAfterTheOther()
{
    Search search("a b a b a\n");
    QSignalSpy edits(search.view, &CodeView::textEdited);
    search.words().setText(QStringLiteral("a"));
    search.other().setText(QStringLiteral("aa"));
    search.press("findNextButton");
    search.press("replaceButton");
    QCOMPARE(search.whole(), std::string("aa b a b a\n"));
    QVERIFY(!edits.isEmpty());  // it counts as typed
    QCOMPARE(search.view->selectedBytes(), std::string("a"));
    search.press("replaceAllButton");
    QCOMPARE(search.told(), QStringLiteral("4 replaced"));
    QCOMPARE(search.whole(), std::string("aaaa b aa b aa\n"));
    search.words().clear();
    search.press("replaceAllButton");  // of nothing there is nothing to replace
    QCOMPARE(search.whole(), std::string("aaaa b aa b aa\n"));
}

void TestPanesAndRows::find_readOnly_replacesNothing()
{
    Search search("a b\n");
    search.view->setReadOnly(true);
    search.bar->setReadOnly(true);
    search.words().setText(QStringLiteral("a"));
    search.press("findNextButton");
    QCOMPARE(search.view->selectedBytes(), std::string("a"));
    search.press("replaceButton");
    search.press("replaceAllButton");
    QCOMPARE(search.whole(), std::string("a b\n"));
}

void TestPanesAndRows::segments_excludeEachOther()
{
    QWidget window;
    auto* one = makeButton(QStringLiteral("one"), "one", ButtonRole::segment, &window);
    auto* two = makeButton(QStringLiteral("two"), "two", ButtonRole::segment, &window);
    one->setChecked(true);
    QTest::mouseClick(two, Qt::LeftButton);
    QVERIFY(two->isChecked() && !one->isChecked());
    QTest::mouseClick(two, Qt::LeftButton);
    QVERIFY(two->isChecked());  // one of them always is
    auto* plain = makeButton(QStringLiteral("plain"), "plain", ButtonRole::plain, &window);
    QSignalSpy clicked(plain, &QPushButton::clicked);
    plain->setFocus();
    QTest::keyClick(plain, Qt::Key_Return);
    QCOMPARE(clicked.size(), 1);
}

void TestPanesAndRows::elidedLabel_tellsTheWholeInItsTooltip()
{
    ElidedLabel label(TextRole::muted, nullptr);
    label.resize(60, 20);
    label.show();
    const QString whole = QStringLiteral("7c21e9d Use each lock's own cycle time <b>");
    label.setFullText(whole);
    QApplication::processEvents();
    QCOMPARE(label.fullText(), whole);
    QVERIFY(label.text().size() < whole.size());
    QVERIFY(label.toolTip().contains(QLatin1String("&lt;b&gt;")));  // never markup
}

void TestPanesAndRows::progressRope_isPaintedAsFarAsDone()
{
    ProgressRope rope(nullptr);
    rope.resize(200, rope.height());
    /// How much of a part is painted with anything at all.
    const auto painted = [&rope](int from, int to) {
        const QImage image = rope.grab().toImage();
        const QColor ground = rope.palette().color(QPalette::Window);
        int count = 0;
        for (int x = from; x < to; ++x) {
            for (int y = 0; y < image.height(); ++y) {
                count += image.pixelColor(x, y) != ground ? 1 : 0;
            }
        }
        return count;
    };
    rope.setDone(0, 0);
    QCOMPARE(painted(0, 200), 0);
    rope.setDone(1, 4);
    QCOMPARE(rope.accessibleName(), QStringLiteral("1 of 4 decided"));
    QVERIFY(painted(0, 50) > 180);    // four rows high
    QVERIFY(painted(60, 110) < 120);  // two rows, with gaps
    QVERIFY(painted(60, 110) > 20);
    rope.setDone(4, 4);
    QVERIFY(painted(150, 200) > 180);
}

void TestPanesAndRows::text_isFittedToLines()
{
    const QFontMetrics metrics(QApplication::font());
    const QString text = QStringLiteral("one two three four five six seven eight nine ten");
    const int width = metrics.horizontalAdvance(QStringLiteral("one two three four"));
    QCOMPARE(fittedToLines(text, metrics, 10'000, 1), text);
    for (const int lines : {1, 2}) {
        const QString fitted = fittedToLines(text, metrics, width, lines);
        QVERIFY(fitted.endsWith(QChar(u'…')));
        QVERIFY(text.startsWith(fitted.chopped(1)));
        QVERIFY(heightOfLines(fitted, metrics, width) <= lines * metrics.lineSpacing());
    }
    QVERIFY(fittedToLines(text, metrics, width, 2).size()
            > fittedToLines(text, metrics, width, 1).size());
}

/// What is dropped is never what is cut.
void TestPanesAndRows::candidate_takesASecondLine_whereItIsNarrow()
{
    CandidateList list(nullptr);
    ChoiceRow row{QStringLiteral("Theirs · origin/main"),
                  QStringLiteral("drops 1 line of ours and 2 of theirs"),
                  false,
                  false,
                  true};
    list.setRows({row, row});
    list.resize(600, 200);
    list.show();
    QApplication::processEvents();
    const auto rowHeight = [&list] {
        return list.visualRect(list.model()->index(0, 0)).height();
    };
    const int beside = rowHeight();
    list.resize(320, 200);
    QApplication::processEvents();
    QVERIFY(rowHeight() >= beside + list.fontMetrics().height());
}

void TestPanesAndRows::course_keepsNames_whereItIsNarrow()
{
    CourseBar bar(nullptr);
    bar.setCurrent(Station::check);
    bar.setNote(Station::resolve, QStringLiteral("9 of 9, and some words"));
    bar.setNote(Station::check, QStringLiteral("2 to look at"));
    bar.setNote(Station::push, QStringLiteral("2 to push"));
    const auto widths = [&bar](int width) {
        bar.resize(width, 50);
        bar.show();
        QApplication::processEvents();
        std::vector<int> room;
        for (const auto* knot : bar.findChildren<KnotButton*>()) {
            room.push_back(knot->width() - knot->sizeHint().width());
        }
        return room;
    };
    for (const int width : {1280, 800, 700}) {
        for (const int room : widths(width)) {
            QVERIFY2(room >= 0, QByteArray::number(width).constData());
        }
    }
    // What is not shown is told all the same.
    QVERIFY(bar.findChild<KnotButton*>(QStringLiteral("resolveKnot"))
                ->accessibleName()
                .contains(QStringLiteral("9 of 9")));
}

ROPE_TESTS(TestPanesAndRows, QApplication)
#include "tst_panes_and_rows.moc"
