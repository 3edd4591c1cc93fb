// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logbook/journal.h"
#include "tests/support/test_program.h"

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QProcessEnvironment>
#include <QSqlQuery>
#include <QTemporaryDir>
#include <QTest>

#include <csignal>
#include <unistd.h>

using namespace rope;

namespace {
constexpr std::chrono::milliseconds kNoPatience{0};
const ObjectId kOurs = *ObjectId::fromHex(std::string(40, 'a'));
const ObjectId kTheirs = *ObjectId::fromHex(std::string(40, 'b'));
const SplicePlan kPlan{"one", "refs/heads/x", "x \xFF", "origin/main", kOurs, kTheirs};

/// As journalled when a splice begins.
JournalEntry entryAt(std::int64_t startedAt)
{
    JournalEntry entry;
    entry.plan = kPlan;
    entry.startedAt = startedAt;
    return entry;
}

std::unique_ptr<Journal> open(const QTemporaryDir& folder)
{
    auto journal = Journal::open(folder.path().toStdString());
    return journal ? std::move(journal).value() : nullptr;
}

/// A journal as an earlier version left it, brought up to date.
Result<std::unique_ptr<Journal>> openStored(int version, const QTemporaryDir& folder)
{
    const QString file = folder.filePath(QStringLiteral("journal.sqlite"));
    QFile::copy(rope::test::sourceFolder()
                    + QStringLiteral("/tests/data/journal/version-%1.sqlite").arg(version),
                file);
    QFile::setPermissions(file, QFile::ReadOwner | QFile::WriteOwner);
    return Journal::open(folder.path().toStdString());
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
    void open_unreadableFile_isSetAside();
    void open_newerVersion_isLeftAlone();
    void open_olderVersionInUse_isLeftAlone();
    void held_tellsBusy_andStoresNothing();
    void failedTransaction_storesNothing();
    void power_isOutlived_eachTimeItIsAsked();
    void version1_isMigrated();
    void version2_isMigrated();
    void version3_isMigrated();
    void version4_isMigrated();
    void version5_isMigrated();
    void version6_isMigrated();
    void version7_isMigrated();
    void version8_isMigrated();
    void version9_isMigrated();
    void version10_isMigrated();
    void unknownJournal_isNotOurs_untilAdopted();
    void movedJournal_isNotOurs_untilAdopted();
    void link_isNotFollowed();
    void learned_newestCounts_thenBlanksAside();
    void marks_areKeptAndCarriedAlong();
    void reasons_areKeptAndCarriedAlong();
    void runs_areKeptByTreeAndCommand();
    void steps_comeBackAsTheyStood();
    void steps_areBounded();
    void line_hasOneSpliceAtATime();
    void forget_takesAllWithIt();
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
    (void)journal->begin(entryAt(1));
    for (int i = 0;; ++i) {
        (void)journal->storeDecisions(
            "one", {{"file", std::to_string(i), {true, "ours", std::string(2000, 'x')}, 0, {}}});
        const std::string line = "stored " + std::to_string(i) + "\n";
        (void)!::write(STDOUT_FILENO, line.data(), line.size());
    }
}

void TestJournal::stored_everything_comesBack()
{
    const QTemporaryDir folder;
    const Decision decided{
        "path \xFF\n", "slot", {true, "own", std::string("bytes\0\xFF", 7)}, 2, "joined \xFF\n"};
    const Decision untouchedText{
        "b", std::string(kQuestionSlot), {true, "theirs", std::nullopt}, 0, {}};
    {
        const auto journal = open(folder);
        QVERIFY(journal->begin(entryAt(42)));
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
    QVERIFY(journal->begin(entryAt(1)));
    QVERIFY(journal->storeDecisions("one", {{"a", "s", {true, "ours", "x"}, 0, {}}}));
    QVERIFY(journal->storeDecisions("one", {{"a", "s", {}, 0, {}}}));
    QVERIFY(journal->decisions("one")->empty());
}

void TestJournal::twoInstances_shareAFile()
{
    const QTemporaryDir folder;
    const auto one = open(folder);
    const auto two = open(folder);
    QVERIFY(one->begin(entryAt(1)));
    const RecordingNote note("an adapter's \0 own \xFF", 19);
    QVERIFY(two->noteRecording("one", note));
    QCOMPARE(one->splices(SpliceState::recording)->size(), std::size_t{1});
    QCOMPARE(one->recordingNote("one")->value(), note);
    QVERIFY(two->endRecording("one", SpliceState::recorded, kTheirs));
    QVERIFY(one->splices(SpliceState::recorded)->front().recorded == kTheirs);
    QVERIFY(!one->recordingNote("one")->has_value());
}

void TestJournal::open_unreadableFile_isSetAside()
{
    const QTemporaryDir folder;
    const QByteArray junk(5000, 'j');
    QFile file(folder.filePath(QStringLiteral("journal.sqlite")));
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write(junk);
    file.close();
    const auto journal = open(folder);
    QVERIFY(journal != nullptr);
    QFile aside(QString::fromStdString(journal->setAsideAs()));
    QVERIFY(aside.open(QIODevice::ReadOnly));
    QCOMPARE(aside.readAll(), junk);
    QVERIFY(journal->begin(entryAt(1)));
    QVERIFY(open(folder)->setAsideAs().empty());
}

void TestJournal::open_newerVersion_isLeftAlone()
{
    const QTemporaryDir folder;
    const QString path = folder.filePath(QStringLiteral("journal.sqlite"));
    open(folder).reset();
    QFile file(path);
    QVERIFY(file.open(QIODevice::ReadWrite));
    file.seek(63);  // the user version, big-endian, in SQLite's header
    file.write("\x7f", 1);
    file.seek(0);
    const QByteArray before = file.readAll();
    file.close();
    const auto opened = Journal::open(folder.path().toStdString());
    QVERIFY(!opened);
    QCOMPARE(opened.error().reason, Reason::journalNewer);
    QVERIFY(file.open(QIODevice::ReadOnly));
    QCOMPARE(file.readAll(), before);
}

/// The stored file was made by version 1: an open splice with decisions, a half-written message, and
/// one whose recording had been cut off.
/// Only another instance writes: that is no reason to put a journal out of the way.
void TestJournal::open_olderVersionInUse_isLeftAlone()
{
    const QTemporaryDir folder;
    const QString file = folder.filePath(QStringLiteral("journal.sqlite"));
    QVERIFY(QFile::copy(rope::test::sourceFolder()
                            + QStringLiteral("/tests/data/journal/version-10.sqlite"),
                        file));
    QFile::setPermissions(file, QFile::ReadOwner | QFile::WriteOwner);
    Database other(file.toStdString());
    QVERIFY(other.connect());
    const auto held = other.inTransaction([&] {
        const auto journal = Journal::open(folder.path().toStdString(), kNoPatience);
        [&] {
            QCOMPARE(journal.error().code, ErrorCode::busy);
        }();
        return ok();
    });
    QVERIFY(held);
    QCOMPARE(QDir(folder.path()).entryList({QStringLiteral("*unreadable*")}), QStringList());
    QCOMPARE(Journal::open(folder.path().toStdString()).value()->setAsideAs(), std::string());
}

void TestJournal::held_tellsBusy_andStoresNothing()
{
    const QTemporaryDir folder;
    auto journal = Journal::open(folder.path().toStdString(), kNoPatience).value();
    QVERIFY(journal->begin(entryAt(1)));
    Database other(folder.filePath(QStringLiteral("journal.sqlite")).toStdString());
    QVERIFY(other.connect());
    Status stored = ok();
    QVERIFY(other.inTransaction([&] {
        stored = journal->storeMessage("one", "held");
        return ok();
    }));
    QCOMPARE(stored.error().code, ErrorCode::busy);
    QCOMPARE(journal->splice("one")->value().message, std::string());
    QVERIFY(journal->storeMessage("one", "free again"));
    QCOMPARE(journal->splice("one")->value().message, std::string("free again"));
}

void TestJournal::failedTransaction_storesNothing()
{
    const QTemporaryDir folder;
    Database database(folder.filePath(QStringLiteral("some.sqlite")).toStdString());
    QVERIFY(database.connect());
    QVERIFY(database.run("CREATE TABLE number (value INTEGER)"));
    const auto stored = database.store(
        {{"INSERT INTO number VALUES (?)", {1}}, {"INSERT INTO nothing VALUES (?)", {2}}});
    QCOMPARE(stored.error().code, ErrorCode::corrupt);
    int rows = 0;
    QVERIFY(database.read("SELECT value FROM number", {}, [&](const QSqlQuery&) { ++rows; }));
    QCOMPARE(rows, 0);
    QVERIFY(
        database.store({{"INSERT INTO number VALUES (?)", {3}}}));  // none is under way any more
}

/// SQLite acts on some pragmas only while they are prepared.
void TestJournal::power_isOutlived_eachTimeItIsAsked()
{
    const QTemporaryDir folder;
    Database database(folder.filePath(QStringLiteral("some.sqlite")).toStdString());
    QVERIFY(database.connect());
    const auto synchronous = [&] {
        int value = -1;
        (void)database.read("PRAGMA synchronous", {}, [&](const QSqlQuery& row) {
            value = row.value(0).toInt();
        });
        return value;
    };
    for (int round = 0; round < 3; ++round) {
        QVERIFY(database.setOutlivesPower(true));
        QCOMPARE(synchronous(), 2);  // FULL
        QVERIFY(database.setOutlivesPower(false));
        QCOMPARE(synchronous(), 1);  // NORMAL
    }
}

void TestJournal::version1_isMigrated()
{
    const QTemporaryDir folder;
    QVERIFY(QFile::copy(rope::test::sourceFolder()
                            + QStringLiteral("/tests/data/journal/version-1.sqlite"),
                        folder.filePath(QStringLiteral("journal.sqlite"))));
    QFile::setPermissions(folder.filePath(QStringLiteral("journal.sqlite")),
                          QFile::ReadOwner | QFile::WriteOwner);
    const auto journal = open(folder);
    QVERIFY(journal != nullptr);
    QVERIFY(journal->setAsideAs().empty());
    const auto openOnes = *journal->splices(SpliceState::open);
    QCOMPARE(openOnes.size(), std::size_t{1});
    QCOMPARE(openOnes.front().plan.theirsName, std::string("origin/main"));
    QCOMPARE(openOnes.front().message, std::string("Half a message"));
    QCOMPARE(openOnes.front().round, 1);
    const auto decisions = *journal->decisions(openOnes.front().plan.id);
    QCOMPARE(decisions.size(), std::size_t{2});
    for (const Decision& decision : decisions) {
        QCOMPARE(decision.leg, std::size_t{0});
    }
    const auto cutOff = *journal->splices(SpliceState::recording);
    QCOMPARE(cutOff.size(), std::size_t{1});
    const std::string note = journal->recordingNote(cutOff.front().plan.id)->value();
    QVERIFY(note.find("\"step\":\"committing\"") != std::string::npos);
    QVERIFY(note.find("\"oursTree\":\"" + std::string(40, 'c')) != std::string::npos);
    QVERIFY(open(folder)->setAsideAs().empty());  // once is enough
    QCOMPARE(open(folder)->splices(SpliceState::open)->size(), std::size_t{1});
}

void TestJournal::version4_isMigrated()
{
    const QTemporaryDir folder;
    auto journal = openStored(4, folder);
    QVERIFY(journal && (*journal)->setAsideAs().empty());
    const auto open = (*journal)->splices(SpliceState::open);
    QVERIFY(open && open->size() == 1);
    QCOMPARE(open->front().plan.workChoice, WorkChoice::carry);
    QVERIFY(!(*journal)->decisions(open->front().plan.id)->empty());
    QVERIFY((*journal)->storeMark(open->front().plan.id, MarkKind::read, "key", true));
}

void TestJournal::version5_isMigrated()
{
    const QTemporaryDir folder;
    auto journal = openStored(5, folder);
    QVERIFY(journal && (*journal)->setAsideAs().empty());
    const auto open = (*journal)->splices(SpliceState::open);
    QVERIFY(open && open->size() == 1);
    QVERIFY(!(*journal)->marks(open->front().plan.id, MarkKind::read)->empty());
    QVERIFY((*journal)->storeRun({*ObjectId::fromHex(std::string(40, 'a')), "make", 0, 0, 1, 1}));
}

void TestJournal::version6_isMigrated()
{
    const QTemporaryDir folder;
    auto journal = openStored(6, folder);
    QVERIFY(journal && (*journal)->setAsideAs().empty());
    QCOMPARE((*journal)->runsOn(*ObjectId::fromHex(std::string(40, 'a')))->size(), std::size_t{1});
    JournalEntry entry = (*journal)->splices(SpliceState::open)->front();
    QVERIFY(!entry.plan.keepsEmptied);
    QVERIFY((*journal)->setState(entry.plan.id, SpliceState::abandoned));
    entry.plan.id = "anew";
    entry.plan.kind = SpliceKind::rebase;
    entry.plan.keepsEmptied = true;
    QVERIFY((*journal)->begin(entry));
    const auto kept = (*journal)->splice("anew");
    QVERIFY(kept && *kept);
    QCOMPARE((*kept)->plan.kind, SpliceKind::rebase);
    QVERIFY((*kept)->plan.keepsEmptied);
}

void TestJournal::version7_isMigrated()
{
    const QTemporaryDir folder;
    auto journal = openStored(7, folder);
    QVERIFY(journal && (*journal)->setAsideAs().empty());
    JournalEntry entry = (*journal)->splices(SpliceState::open)->front();
    QVERIFY(entry.plan.begun.empty());
    QVERIFY((*journal)->setState(entry.plan.id, SpliceState::abandoned));
    entry.plan.id = "anew";
    entry.plan.begun = "stamp";
    QVERIFY((*journal)->begin(entry));
    const auto kept = (*journal)->splice("anew");
    QVERIFY(kept && *kept);
    QCOMPARE((*kept)->plan.begun, std::string("stamp"));
}

void TestJournal::version8_isMigrated()
{
    const QTemporaryDir folder;
    auto journal = openStored(8, folder);
    QVERIFY(journal && (*journal)->setAsideAs().empty());
    JournalEntry entry = (*journal)->splices(SpliceState::open)->front();
    QVERIFY(entry.plan.above.isNull());
    QCOMPARE(entry.carried, std::size_t{0});
    QVERIFY((*journal)->setState(entry.plan.id, SpliceState::abandoned));
    entry.plan.id = "anew";
    entry.plan.replaced = kOurs;
    entry.plan.above = kTheirs;
    QVERIFY((*journal)->begin(entry));
    QVERIFY((*journal)->noteCarried("anew", 3));
    const auto kept = (*journal)->splice("anew");
    QVERIFY(kept && *kept);
    QCOMPARE((*kept)->plan.above, kTheirs);
    QCOMPARE((*kept)->plan.expected(), kTheirs);
    QCOMPARE((*kept)->carried, std::size_t{3});
}

void TestJournal::version9_isMigrated()
{
    const QTemporaryDir folder;
    auto journal = openStored(9, folder);
    QVERIFY(journal && (*journal)->setAsideAs().empty());
    const std::string id = (*journal)->splices(SpliceState::open)->front().plan.id;
    QVERIFY((*journal)->reasons(id)->empty());
    QVERIFY((*journal)->storeReason(id, {"a", "slot", "because", 0}));
    QCOMPARE((*journal)->reasons(id)->front().text, std::string("because"));
    QVERIFY(!(*journal)->decisions(id)->empty());
}

void TestJournal::version10_isMigrated()
{
    const QTemporaryDir folder;
    auto journal = openStored(10, folder);
    QVERIFY(journal && (*journal)->setAsideAs().empty());
    const std::string id = (*journal)->splices(SpliceState::open)->front().plan.id;
    QCOMPARE((*journal)->reasons(id)->front().text, std::string("because the season is over"));
    QCOMPARE((*journal)->id().size(), std::size_t{32});
    QVERIFY(!(*journal)->isOurs());  // nobody has said so yet
}

void TestJournal::unknownJournal_isNotOurs_untilAdopted()
{
    const QTemporaryDir folder;
    const std::string id = open(folder)->id();
    QVERIFY(open(folder)->isOurs());
    QCOMPARE(open(folder)->id(), id);
    const QTemporaryDir home;  // somebody else's
    qputenv("XDG_STATE_HOME", home.path().toUtf8());
    QVERIFY(!open(folder)->isOurs());
    QVERIFY(open(folder)->adopt());
    QVERIFY(open(folder)->isOurs());
    const QString list = home.filePath(QStringLiteral("rope-splice/journals"));
    QCOMPARE(QFile::permissions(list) & (QFile::ReadGroup | QFile::ReadOther),
             QFile::Permissions());
    qunsetenv("XDG_STATE_HOME");
}

/// A folder that was handed back, or moved: it may have been written in meanwhile.
void TestJournal::movedJournal_isNotOurs_untilAdopted()
{
    const QTemporaryDir folder;
    QVERIFY(open(folder)->isOurs());
    const QTemporaryDir other;
    for (const char* const file : {"journal.sqlite", "journal-id"}) {
        QVERIFY(
            QFile::copy(folder.filePath(QLatin1String(file)), other.filePath(QLatin1String(file))));
    }
    QVERIFY(!open(other)->isOurs());
    QVERIFY(open(other)->adopt());
    QVERIFY(open(other)->isOurs());
    QVERIFY(open(folder)->isOurs());
}

void TestJournal::link_isNotFollowed()
{
    const QTemporaryDir folder;
    const QTemporaryDir elsewhere;
    QFile other(elsewhere.filePath(QStringLiteral("somebody.sqlite")));
    QVERIFY(other.open(QIODevice::WriteOnly));
    other.close();
    QVERIFY(QFile::link(other.fileName(), folder.filePath(QStringLiteral("journal.sqlite"))));
    const auto opened = Journal::open(folder.path().toStdString());
    QVERIFY(!opened);
    QCOMPARE(opened.error().reason, Reason::journalUnreadable);
    QCOMPARE(QFileInfo(other.fileName()).size(), qint64{0});
    QVERIFY(QFileInfo(folder.filePath(QStringLiteral("journal.sqlite"))).isSymLink());
}

void TestJournal::learned_newestCounts_thenBlanksAside()
{
    const QTemporaryDir folder;
    auto journal = Journal::open(folder.path().toStdString());
    QVERIFY(journal);
    const ObjectId one = *ObjectId::fromHex(std::string(40, '1'));
    const ObjectId two = *ObjectId::fromHex(std::string(40, '2'));
    QVERIFY((*journal)->learnFrom(two, {{"key", "loose", "newer\n", {two, "Priya", 20}}}));
    QVERIFY((*journal)->learnFrom(one, {{"key", "loose", "older\n", {one, "Jonas", 10}}}));
    QCOMPARE((*journal)->learnedMerges()->size(), std::size_t{2});
    const auto exact = (*journal)->decidedBefore("key", "other", "me");
    QVERIFY(exact && *exact);
    QCOMPARE((*exact)->text, std::string("newer\n"));
    QCOMPARE((*exact)->source, (EarlierSource{two, "Priya", 20}));
    QCOMPARE((*(*journal)->decidedBefore("other", "loose", "me"))->text, std::string("newer\n"));
    QVERIFY(!*(*journal)->decidedBefore("other", "other", "me"));
    QVERIFY((*journal)->learnFrom(
        one, {{"huge", "huge", std::string(kMostLearnedBytes + 1, 'x'), {one, "", 1}}}));
    QVERIFY(!*(*journal)->decidedBefore("huge", "huge", "me"));

    // One's own, from a splice that was put away, comes first; that of the splice at hand never.
    JournalEntry entry;
    entry.plan.id = "left";
    entry.startedAt = 30;
    QVERIFY((*journal)->begin(entry));
    QVERIFY((*journal)->storeDecisions("left", {{"a", "key", {true, "theirs", "mine\n"}, 0, {}}}));
    QVERIFY((*journal)->setState("left", SpliceState::abandoned));
    QCOMPARE((*(*journal)->decidedBefore("key", "loose", "me"))->text, std::string("mine\n"));
    QCOMPARE((*(*journal)->decidedBefore("key", "loose", "left"))->text, std::string("newer\n"));

    QVERIFY((*journal)->fineMerges()->empty());
    QVERIFY((*journal)->setMergeFine(one, true));
    QCOMPARE(*(*journal)->fineMerges(), std::set<ObjectId>{one});
    QVERIFY((*journal)->setMergeFine(one, false));
    QVERIFY((*journal)->fineMerges()->empty());
}

void TestJournal::runs_areKeptByTreeAndCommand()
{
    const QTemporaryDir folder;
    auto journal = Journal::open(folder.path().toStdString());
    QVERIFY(journal);
    const ObjectId one = *ObjectId::fromHex(std::string(40, '1'));
    const ObjectId two = *ObjectId::fromHex(std::string(40, '2'));
    QVERIFY((*journal)->storeRun({one, "make test", 2, 0, 1500, 10}));
    QVERIFY((*journal)->storeRun({one, "make test", 0, 0, 1400, 20}));
    QVERIFY((*journal)->storeRun({one, "make lint", 0, 9, 30, 30}));
    QVERIFY((*journal)->storeRun({two, "make test", 1, 0, 5, 40}));
    const auto runs = (*journal)->runsOn(one);
    QVERIFY(runs && runs->size() == 2);
    for (const CheckRun& run : *runs) {
        QCOMPARE(run.hasPassed(), run.command == "make test");
        QCOMPARE(run.endedAt, run.command == "make test" ? 20 : 30);
    }
    for (std::int64_t i = 0; i < kMostKeptRuns; ++i) {
        QVERIFY((*journal)->storeRun({two, std::to_string(i), 0, 0, 1, 100 + i}));
    }
    QVERIFY((*journal)->runsOn(one)->empty());
}

void TestJournal::marks_areKeptAndCarriedAlong()
{
    const QTemporaryDir folder;
    auto journal = Journal::open(folder.path().toStdString());
    QVERIFY(journal);
    JournalEntry entry;
    for (const char* id : {"one", "two"}) {
        entry.plan.id = id;
        QVERIFY((*journal)->begin(entry));
    }
    QVERIFY((*journal)->storeMark("one", MarkKind::fine, "a", true));
    QVERIFY((*journal)->storeMark("one", MarkKind::fine, "a", true));
    QVERIFY((*journal)->storeMark("one", MarkKind::read, "b", true));
    QVERIFY((*journal)->copyMarks("one", "two"));
    QVERIFY((*journal)->storeMark("one", MarkKind::fine, "a", false));
    QVERIFY((*journal)->marks("one", MarkKind::fine)->empty());
    QCOMPARE(*(*journal)->marks("two", MarkKind::fine), std::set<std::string>{"a"});
    QCOMPARE(*(*journal)->marks("two", MarkKind::read), std::set<std::string>{"b"});
    QVERIFY((*journal)->forget("two"));
    QVERIFY((*journal)->marks("two", MarkKind::fine)->empty());
}

void TestJournal::reasons_areKeptAndCarriedAlong()
{
    const QTemporaryDir folder;
    auto journal = Journal::open(folder.path().toStdString());
    QVERIFY(journal);
    JournalEntry entry;
    for (const char* id : {"one", "two"}) {
        entry.plan.id = id;
        QVERIFY((*journal)->begin(entry));
    }
    const GivenReason first{"a\xff.txt", "slot", "it is later: 43", 1};
    const GivenReason other{"b.txt", std::string(kQuestionSlot), "nobody uses it", 0};
    QVERIFY((*journal)->storeReason("one", {first.path, first.slot, "as typed so far", first.leg}));
    QVERIFY((*journal)->storeReason("one", first));
    QVERIFY((*journal)->storeReason("one", other));
    QCOMPARE(*(*journal)->reasons("one"), (std::vector<GivenReason>{other, first}));
    QVERIFY((*journal)->copyMarks("one", "two"));
    QVERIFY((*journal)->storeReason("one", {first.path, first.slot, {}, first.leg}));
    QCOMPARE(*(*journal)->reasons("one"), std::vector<GivenReason>{other});
    QCOMPARE((*journal)->reasons("two")->size(), std::size_t{2});
    QVERIFY((*journal)->forget("two"));
    QVERIFY((*journal)->reasons("two")->empty());
}

/// The stored file was left by version 2: a splice that was recorded, with its leg and its decisions.
void TestJournal::version3_isMigrated()
{
    const QTemporaryDir folder;
    const QString file = folder.filePath(QStringLiteral("journal.sqlite"));
    QVERIFY(QFile::copy(
        rope::test::sourceFolder() + QStringLiteral("/tests/data/journal/version-3.sqlite"), file));
    QFile::setPermissions(file, QFile::ReadOwner | QFile::WriteOwner);
    const auto journal = open(folder);
    QVERIFY(journal != nullptr);
    QVERIFY(journal->setAsideAs().empty());
    const auto entry = **journal->splice("three");
    QCOMPARE(static_cast<int>(entry.plan.kind), static_cast<int>(SpliceKind::merge));
    QVERIFY(entry.plan.replaced.isNull() && entry.plan.work.isNull());
    QCOMPARE(entry.plan.theirsName, std::string("origin/main"));
    QCOMPARE(journal->decisions("three")->size(), std::size_t{1});
    QCOMPARE(journal->steps("three")->done.size(), std::size_t{1});
    QVERIFY(journal->setWork("three", WorkChoice::setAside, kOurs));
    const auto changed = **journal->splice("three");
    QVERIFY(changed.plan.work == kOurs && changed.plan.workChoice == WorkChoice::setAside);
}

void TestJournal::version2_isMigrated()
{
    const QTemporaryDir folder;
    const QString file = folder.filePath(QStringLiteral("journal.sqlite"));
    QVERIFY(QFile::copy(
        rope::test::sourceFolder() + QStringLiteral("/tests/data/journal/version-2.sqlite"), file));
    QFile::setPermissions(file, QFile::ReadOwner | QFile::WriteOwner);
    const auto journal = open(folder);
    QVERIFY(journal != nullptr);
    QVERIFY(journal->setAsideAs().empty());
    const auto recorded = *journal->splices(SpliceState::recorded);
    QCOMPARE(recorded.size(), std::size_t{1});
    const std::string& id = recorded.front().plan.id;
    QCOMPARE(journal->legs(id)->size(), std::size_t{1});
    QCOMPARE(journal->decisions(id)->size(), std::size_t{9});
    QVERIFY(journal->steps(id)->done.empty());
    SpliceChange change{StepKind::made, 0, {{"a", "s", {}, 0, {}}}, {{"a", "s", {}, 0, {}}}};
    QVERIFY(journal->storeChange(id, change));
    QCOMPARE(journal->steps(id)->done.size(), std::size_t{1});
}

namespace {
SpliceChange changeOf(StepKind kind, std::size_t step, const SlotState& from, const SlotState& to)
{
    return {kind, step, {{"a \xFF", "s", from, 1, {}}}, {{"a \xFF", "s", to, 1, {}}}};
}
}  // namespace

void TestJournal::steps_comeBackAsTheyStood()
{
    const QTemporaryDir folder;
    const auto journal = open(folder);
    QVERIFY(journal->begin(entryAt(1)));
    const SlotState ours{true, "ours", std::string("o\0\xFF", 3)};
    const SlotState own{true, "own", "h"};
    const SlotState more{true, "own", "hand"};
    QVERIFY(journal->storeChange("one", changeOf(StepKind::made, 4, {}, ours)));
    QVERIFY(journal->storeChange("one", changeOf(StepKind::made, 5, ours, own)));
    QVERIFY(journal->storeChange("one", changeOf(StepKind::extended, 5, own, more)));
    const auto states = [&] {
        std::vector<SlotState> kept;
        const KeptSteps steps = *open(folder)->steps("one");
        for (const auto& step : steps.done) {
            kept.push_back(step.front().state);
        }
        kept.push_back({false, "now", {}});
        for (const auto& step : steps.undone) {
            kept.push_back(step.front().state);
        }
        return kept;
    };
    const SlotState now{false, "now", {}};
    QCOMPARE(journal->decisions("one")->front().state, more);
    QVERIFY((states() == std::vector{SlotState{}, ours, now}));
    QCOMPARE(journal->steps("one")->first, std::size_t{4});
    QVERIFY(journal->storeChange("one", changeOf(StepKind::undone, 5, more, ours)));
    QVERIFY((states() == std::vector{SlotState{}, now, more}));
    QVERIFY(journal->storeChange("one", changeOf(StepKind::undone, 4, ours, {})));
    QVERIFY((states() == std::vector{now, ours, more}));
    QVERIFY(journal->decisions("one")->empty());
    QVERIFY(journal->storeChange("one", changeOf(StepKind::redone, 4, {}, ours)));
    QVERIFY((states() == std::vector{SlotState{}, now, more}));
    QVERIFY(journal->storeChange("one", changeOf(StepKind::made, 5, ours, {})));
    QVERIFY((states() == std::vector{SlotState{}, ours, now}));
    QCOMPARE(journal->steps("one")->done.front().front().path, std::string("a \xFF"));
    QVERIFY(journal->forget("one"));
    QVERIFY(journal->steps("one")->done.empty());
}

void TestJournal::steps_areBounded()
{
    const QTemporaryDir folder;
    const auto journal = open(folder);
    QVERIFY(journal->begin(entryAt(1)));
    const SlotState small{true, "own", "x"};
    for (std::size_t i = 0; i < kMostKeptSteps + 20; ++i) {
        QVERIFY(journal->storeChange("one", changeOf(StepKind::made, i, small, small)));
    }
    QCOMPARE(journal->steps("one")->done.size(), kMostKeptSteps);
    QCOMPARE(journal->steps("one")->first, std::size_t{20});
    const SlotState large{true, "own", std::string(kMostStepBytes / 4, 'x')};
    const std::size_t from = kMostKeptSteps + 20;
    for (std::size_t i = from; i < from + 32; ++i) {
        QVERIFY(journal->storeChange("one", changeOf(StepKind::made, i, large, small)));
    }
    QVERIFY(journal->steps("one")->done.size() <= 20);  // four, and what came since it was weighed
    const SlotState tooLarge{true, "own", std::string(kMostStepBytes + 1, 'x')};
    QVERIFY(journal->storeChange("one", changeOf(StepKind::made, from + 32, tooLarge, small)));
    QVERIFY(journal->steps("one")->done.empty());
    QCOMPARE(journal->decisions("one")->front().state, small);
}

void TestJournal::line_hasOneSpliceAtATime()
{
    const QTemporaryDir folder;
    const auto journal = open(folder);
    const JournalEntry entry = entryAt(42);
    const std::string& line = entry.plan.oursRef;
    QVERIFY(journal->checkLineIsFree(line, "main"));
    QVERIFY(journal->begin(entry));
    for (const SpliceState state : {SpliceState::open, SpliceState::recording}) {
        QVERIFY(journal->setState("one", state));
        const auto taken = journal->checkLineIsFree(line, "main");
        QVERIFY(!taken);
        QCOMPARE(taken.error().reason, Reason::spliceOpen);
        QCOMPARE(taken.error().subject, std::string("main"));
        QVERIFY(journal->checkLineIsFree(line, "main", "one"));
        QVERIFY(journal->checkLineIsFree(line + "-other", "other"));
    }
    QVERIFY(journal->setState("one", SpliceState::abandoned));
    QVERIFY(journal->checkLineIsFree(line, "main"));
}

void TestJournal::forget_takesAllWithIt()
{
    const QTemporaryDir folder;
    const auto journal = open(folder);
    QVERIFY(
        journal->begin(entryAt(1), {{{kOurs, "base", {}}, {kOurs, "x", {}}, {kTheirs, "y", {}}}}));
    QCOMPARE(journal->legs("one")->size(), std::size_t{1});
    QCOMPARE(journal->legs("one")->front().theirs.label, std::string("y"));
    QVERIFY(journal->storeDecisions("one", {{"a", "s", {true, "ours", "x"}, 0, {}}}));
    QVERIFY(journal->forget("one"));
    QVERIFY(!journal->splice("one")->has_value());
    QVERIFY(journal->decisions("one")->empty());
    QVERIFY(journal->legs("one")->empty());
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

ROPE_TESTS(TestJournal, QCoreApplication)
#include "tst_journal.moc"
