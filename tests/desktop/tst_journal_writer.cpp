// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/course/journal_writer.h"
#include "tests/support/test_program.h"

#include <QTemporaryDir>
#include <QTest>

using namespace rope;

namespace {
struct Bench
{
    QTemporaryDir folder;
    std::unique_ptr<Journal> journal =
        std::move(Journal::open(folder.path().toStdString())).value();
    std::unique_ptr<JournalWriter> writer =
        std::make_unique<JournalWriter>(folder.path().toStdString(), nullptr);

    Bench()
    {
        JournalEntry entry;
        entry.plan.id = "one";
        (void)journal->begin(entry);
    }
};

/// A bulk answer: so many places decided as one step.
SpliceChange bulk(std::size_t step, int places, const std::string& choice)
{
    SpliceChange change;
    change.step = step;
    for (int i = 0; i < places; ++i) {
        change.before.push_back({"file", std::to_string(i), {}, 0, {}});
        change.after.push_back(
            {"file", std::to_string(i), {true, choice, std::string(200, 'x')}, 0, {}});
    }
    return change;
}

std::string choiceOfTheFirst(Journal& journal)
{
    const auto decisions = *journal.decisions("one");
    return decisions.empty() ? std::string() : decisions.front().state.choice;
}
}  // namespace

class TestJournalWriter : public QObject
{
    Q_OBJECT
private slots:
    void small_isStoredBeforeItReturns();
    void large_keepsItsPlaceInTheOrder();
    void end_storesWhatWaits();
    void failure_isTold();
    void held_isStoredLater_andNobodyWaits();
};

void TestJournalWriter::small_isStoredBeforeItReturns()
{
    const Bench bench;
    bench.writer->storeChange("one", bulk(0, 3, "ours"));
    QCOMPARE(bench.journal->decisions("one")->size(), std::size_t{3});
    bench.writer->storeMessage("one", "half");
    bench.writer->storePlace("one", "record", "here");
    QCOMPARE(bench.journal->splice("one")->value().message, std::string("half"));
    QCOMPARE(bench.journal->splice("one")->value().station, std::string("record"));
}

void TestJournalWriter::large_keepsItsPlaceInTheOrder()
{
    const Bench bench;
    bench.writer->storeChange("one", bulk(0, 5000, "ours"));
    bench.writer->storeChange("one", bulk(1, 5000, "theirs"));
    bench.writer->storeChange("one", bulk(2, 1, "base"));  // small, and behind the others
    bench.writer->storePlace("one", "record", "last");
    bench.writer->finish();
    QCOMPARE(bench.journal->decisions("one")->size(), std::size_t{5000});
    QCOMPARE(choiceOfTheFirst(*bench.journal), std::string("base"));
    QCOMPARE(bench.journal->decisions("one")->back().state.choice, std::string("theirs"));
    QCOMPARE(bench.journal->steps("one")->done.size(), std::size_t{3});
    QCOMPARE(bench.journal->splice("one")->value().place, std::string("last"));
    QCoreApplication::processEvents();  // the answers arrive, and small things go straight again
    QTRY_VERIFY_WITH_TIMEOUT((bench.writer->storeChange("one", bulk(3, 1, "ours")),
                              choiceOfTheFirst(*bench.journal) == "ours"),
                             2000);
}

void TestJournalWriter::end_storesWhatWaits()
{
    Bench bench;
    bench.writer->storeChange("one", bulk(0, 5000, "ours"));
    bench.writer.reset();
    QCOMPARE(bench.journal->decisions("one")->size(), std::size_t{5000});
}

void TestJournalWriter::failure_isTold()
{
    const Bench bench;
    int told = 0;
    connect(bench.writer.get(), &JournalWriter::failed, this, [&told] { ++told; });
    bench.writer->storeChange("nobody began it", bulk(0, 3, "ours"));
    QCOMPARE(told, 1);
    bench.writer->storeChange("nobody began it", bulk(0, 300, "ours"));
    QTRY_COMPARE(told, 2);
}

/// Another window is in the midst of writing: a decision goes on the way at once and gets there.
void TestJournalWriter::held_isStoredLater_andNobodyWaits()
{
    const Bench bench;
    int told = 0;
    connect(bench.writer.get(), &JournalWriter::failed, this, [&told] { ++told; });
    Database other(bench.folder.filePath(QStringLiteral("journal.sqlite")).toStdString());
    QVERIFY(other.connect());
    QVERIFY(other.inTransaction([&] {
        bench.writer->storeChange("one", bulk(0, 1, "ours"));
        bench.writer->storeMessage("one", "behind it");
        return ok();  // had either waited here, it would wait for ever
    }));
    bench.writer->finish();
    QCOMPARE(choiceOfTheFirst(*bench.journal), std::string("ours"));
    QCOMPARE(bench.journal->splice("one")->value().message, std::string("behind it"));
    QCOMPARE(told, 0);
}

ROPE_TESTS(TestJournalWriter, QCoreApplication)
#include "tst_journal_writer.moc"
