// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/splice/journal.h"

#include <QFile>
#include <QProcess>
#include <QProcessEnvironment>
#include <QTemporaryDir>
#include <QTest>

#include <csignal>
#include <unistd.h>

using namespace rope;

namespace {
const ObjectId kOurs = *ObjectId::fromHex(std::string(40, 'a'));
const ObjectId kTheirs = *ObjectId::fromHex(std::string(40, 'b'));
const SplicePlan kPlan{"one", "refs/heads/x", "x \xFF", "origin/main", kOurs, kTheirs};

std::unique_ptr<Journal> open(const QTemporaryDir& folder)
{
    auto journal = Journal::open(folder.path().toStdString());
    return journal ? std::move(journal).value() : nullptr;
}
}  // namespace

class TestJournal : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void stored_everything_comesBack();
    void nothingYet_removesTheDecision();
    void twoInstances_shareAFile();
    void open_badFiles_areLeftAlone_data();
    void open_badFiles_areLeftAlone();
    void kill_afterStoring_losesNothing();
};

/// Called again as a child: stores decisions without end until it is killed, telling each on its output.
void TestJournal::initTestCase()
{
    const QByteArray folder = qgetenv("ROPE_TEST_JOURNAL");
    if (folder.isEmpty()) {
        return;
    }
    const auto journal = std::move(Journal::open(folder.toStdString())).value();
    (void)journal->begin(kPlan, 1);
    for (int i = 0;; ++i) {
        (void)journal->storeDecisions(
            "one", {{"file", std::to_string(i), {true, "ours", std::string(2000, 'x')}}});
        const std::string line = "stored " + std::to_string(i) + "\n";
        (void)!::write(STDOUT_FILENO, line.data(), line.size());
    }
}

void TestJournal::stored_everything_comesBack()
{
    const QTemporaryDir folder;
    const Decision decided{"path \xFF\n", "slot", {true, "own", std::string("bytes\0\xFF", 7)}};
    const Decision untouchedText{"b", std::string(kQuestionSlot), {true, "theirs", std::nullopt}};
    {
        const auto journal = open(folder);
        QVERIFY(journal->begin(kPlan, 42));
        QVERIFY(journal->storeDecisions("one", {decided, untouchedText}));
        QVERIFY(journal->storeMessage("one", "half a mess"));
        QVERIFY(journal->storePlace("one", "resolve", "path\nslot"));
    }
    const auto journal = open(folder);
    const auto entries = journal->splices(SpliceState::open);
    QCOMPARE(entries->size(), std::size_t{1});
    const JournalEntry& entry = entries->front();
    QCOMPARE(entry.plan.oursName, kPlan.oursName);
    QVERIFY(entry.plan.ours == kOurs && entry.plan.theirs == kTheirs);
    QCOMPARE(entry.startedAt, std::int64_t{42});
    QCOMPARE(entry.message, std::string("half a mess"));
    QCOMPARE(entry.station, std::string("resolve"));
    QCOMPARE(entry.place, std::string("path\nslot"));
    auto decisions = journal->decisions("one");
    QCOMPARE(decisions->size(), std::size_t{2});
    QVERIFY(decisions->at(0) == untouchedText || decisions->at(1) == untouchedText);
    QVERIFY(decisions->at(0) == decided || decisions->at(1) == decided);
}

void TestJournal::nothingYet_removesTheDecision()
{
    const QTemporaryDir folder;
    const auto journal = open(folder);
    QVERIFY(journal->begin(kPlan, 1));
    QVERIFY(journal->storeDecisions("one", {{"a", "s", {true, "ours", "x"}}}));
    QVERIFY(journal->storeDecisions("one", {{"a", "s", {}}}));
    QVERIFY(journal->decisions("one")->empty());
}

void TestJournal::twoInstances_shareAFile()
{
    const QTemporaryDir folder;
    const auto one = open(folder);
    const auto two = open(folder);
    QVERIFY(one->begin(kPlan, 1));
    QVERIFY(two->noteRecording("one", {RecordStep::committing, kOurs, kTheirs, {}}));
    QCOMPARE(one->splices(SpliceState::recording)->size(), std::size_t{1});
    QVERIFY(one->recordingNote("one")->value().step == RecordStep::committing);
    QVERIFY(two->endRecording("one", SpliceState::recorded, kTheirs));
    QVERIFY(one->splices(SpliceState::recorded)->front().recorded == kTheirs);
    QVERIFY(!one->recordingNote("one")->has_value());
}

void TestJournal::open_badFiles_areLeftAlone_data()
{
    QTest::addColumn<bool>("isNewer");
    QTest::newRow("no-database") << false;
    QTest::newRow("newer-version") << true;
}

void TestJournal::open_badFiles_areLeftAlone()
{
    QFETCH(bool, isNewer);
    const QTemporaryDir folder;
    const QString path = folder.filePath(QStringLiteral("journal.sqlite"));
    if (isNewer) {
        open(folder).reset();
        QFile file(path);
        QVERIFY(file.open(QIODevice::ReadWrite));
        file.seek(63);  // the user version, big-endian, in SQLite's header
        file.write("\x07", 1);
    } else {
        QFile file(path);
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(QByteArray(5000, 'j'));
    }
    QFile file(path);
    QVERIFY(file.open(QIODevice::ReadOnly));
    const QByteArray before = file.readAll();
    const auto opened = Journal::open(folder.path().toStdString());
    QVERIFY(!opened);
    QCOMPARE(static_cast<int>(opened.error().code), static_cast<int>(ErrorCode::corrupt));
    file.seek(0);
    QCOMPARE(file.readAll(), before);
}

void TestJournal::kill_afterStoring_losesNothing()
{
    for (int round = 0; round < 5; ++round) {
        const QTemporaryDir folder;
        QProcess child;
        QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
        environment.insert(QStringLiteral("ROPE_TEST_JOURNAL"), folder.path());
        child.setProcessEnvironment(environment);
        child.start(QCoreApplication::applicationFilePath(), {});
        QByteArray told;
        while (told.count("stored ") < 20 + 13 * round && child.waitForReadyRead(20'000)) {
            told += child.readAll();
        }
        ::kill(static_cast<pid_t>(child.processId()), SIGKILL);
        QVERIFY(child.waitForFinished());
        told += child.readAll();
        const auto decisions = open(folder)->decisions("one");
        QVERIFY(decisions);
        QVERIFY(static_cast<qsizetype>(decisions->size())
                >= told.count("stored "));  // the last may be stored and not told
        for (const Decision& decision : *decisions) {
            QCOMPARE(decision.state.text->size(), std::size_t{2000});
        }
    }
}

QTEST_GUILESS_MAIN(TestJournal)
#include "tst_journal.moc"
