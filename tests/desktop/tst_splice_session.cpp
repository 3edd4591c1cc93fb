// SPDX-License-Identifier: GPL-3.0-or-later
// The course without a window: what a splice and its recording do in each stage.
#include "core/decide/together.h"
#include "core/join/one_sided_file.h"
#include "desktop/course/record_session.h"
#include "desktop/course/splice_reader.h"
#include "tests/support/joined_branches.h"
#include "tests/support/scratch_repository.h"
#include "tests/support/test_program.h"

#include <QSignalSpy>
#include <QTest>

using namespace rope;
using rope::test::ScratchRepository;

namespace {
const std::string kTheirs = "refs/heads/theirs";

/// Two branches with one region between them, their sessions, and no window.
struct Course
{
    Course()
    {
        test::makeDiverged(scratch);
        QObject::connect(&place,
                         &PlaceSession::forecastReady,
                         &place,
                         [this](const std::string& ref, const auto& made) {
                             forecast = ref == kTheirs ? made : forecast;
                         });
    }
    [[nodiscard]] bool open()
    {
        QSignalSpy opened(&place, &PlaceSession::opened);
        place.open(scratch.folder());
        if (!opened.wait()) {
            return false;
        }
        place.requestForecast(kTheirs);
        return QTest::qWaitFor([this] { return forecast != nullptr; });
    }
    /// Begins a merge of theirs, and waits until it is under way.
    [[nodiscard]] bool start()
    {
        splices.start(kTheirs, forecast, {});
        return splices.stage() == SpliceStage::starting
               && QTest::qWaitFor([this] { return splices.isOpen(); });
    }
    [[nodiscard]] SlotPlace region() const
    {
        return {0, splices.splice()->files()[0].text->slotOfRegion(0)};
    }
    /// Decides the region, and waits until all that hangs on it stands on that.
    [[nodiscard]] bool decide()
    {
        Splice& splice = *splices.splice();
        splice.change(changesTogether(splice.decided(), {region()}, TogetherChoice::theirs));
        return QTest::qWaitFor([this] { return splices.isSettled(); });
    }

    ScratchRepository scratch;
    PlaceSession place{nullptr};
    SpliceSession splices{place, nullptr};
    SpliceReader reader{place, splices, nullptr};
    RecordSession recording{place, splices, nullptr};
    std::shared_ptr<const SurveyForecast> forecast;
};
}  // namespace

class TestSpliceSession : public QObject
{
    Q_OBJECT
private slots:
    void round_recordsARealMerge();
    void record_somethingOpen_doesNothing();
    void record_refusedByAHook_goesOn();
    void whileItStarts_nothingElseBegins();
    void whileItRecords_nothingElseBegins();
    void whileOneIsOpen_nothingElseBegins();
    void putAway_isFreeAgain_andComesBack();
    void otherWindow_onlyReads_untilItTakesOver();
    void otherPlaceOpened_spliceGoes();
    void answers_afterTheSpliceIsGone_areDropped();
    void outcomeOfATakenUpFile_livesUntilItWasRead();
    void fastForward_needsNoSplice();
    void branchMoved_isTold_once();
};

void TestSpliceSession::round_recordsARealMerge()
{
    Course course;
    QVERIFY(course.open());
    QVERIFY(course.splices.isFree());
    const QByteArray parents =
        course.scratch.git("rev-parse ours") + " " + course.scratch.git("rev-parse theirs");
    QVERIFY(course.start());
    QVERIFY(!course.splices.isFree());
    QVERIFY(course.decide());
    QSignalSpy ended(&course.splices, &SpliceSession::ended);
    course.recording.record(QStringLiteral("Both."));
    QCOMPARE(course.splices.stage(), SpliceStage::recording);
    QVERIFY(ended.wait());
    QCOMPARE(course.splices.stage(), SpliceStage::none);
    QCOMPARE(course.scratch.git("log -1 --format=%P%n%s ours"), parents + "\nBoth.");
}

void TestSpliceSession::record_somethingOpen_doesNothing()
{
    Course course;
    QVERIFY(course.open() && course.start());
    course.recording.record(QStringLiteral("Too early."));
    QCOMPARE(course.splices.stage(), SpliceStage::open);
}

void TestSpliceSession::record_refusedByAHook_goesOn()
{
    Course course;
    course.scratch.write(".git/hooks/commit-msg", "#!/bin/sh\nexit 1\n");
    QVERIFY(QFile::setPermissions(course.scratch.filePath(".git/hooks/commit-msg"),
                                  QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner));
    QVERIFY(course.open() && course.start());
    QVERIFY(course.decide());
    QSignalSpy failed(&course.recording, &RecordSession::failed);
    course.recording.record(QStringLiteral("Refused."));
    QVERIFY(failed.wait());
    QCOMPARE(course.splices.stage(), SpliceStage::open);
    QVERIFY(!course.splices.splice()->isFrozen());
    QVERIFY(QFile::remove(course.scratch.filePath(".git/hooks/commit-msg")));
    QSignalSpy ended(&course.splices, &SpliceSession::ended);
    course.recording.record(QStringLiteral("Taken."));
    QVERIFY(ended.wait());
    QCOMPARE(course.scratch.git("log -1 --format=%s ours"), QByteArray("Taken."));
}

void TestSpliceSession::whileItStarts_nothingElseBegins()
{
    Course course;
    QVERIFY(course.open());
    QSignalSpy started(&course.splices, &SpliceSession::started);
    course.splices.start(kTheirs, course.forecast, {});
    course.splices.start(kTheirs, course.forecast, {});
    course.recording.moveTo(kTheirs, SpliceKind::fastForward, WorkChoice::carry);
    course.splices.putAway();
    course.splices.takeOver();
    QCOMPARE(course.splices.stage(), SpliceStage::starting);
    QVERIFY(started.wait());
    QCOMPARE(course.splices.stage(), SpliceStage::open);
    QVERIFY(!started.wait(200));
    QCOMPARE(started.size(), 1);
}

void TestSpliceSession::whileItRecords_nothingElseBegins()
{
    Course course;
    QVERIFY(course.open() && course.start());
    QVERIFY(course.decide());
    QSignalSpy recorded(&course.recording, &RecordSession::recorded);
    QSignalSpy ended(&course.splices, &SpliceSession::ended);
    course.recording.record(QStringLiteral("Once."));
    course.recording.record(QStringLiteral("Twice."));
    course.splices.putAway();
    course.splices.carryOn(course.splices.entry());
    course.splices.takeOver();
    course.recording.handBack(true);
    QCOMPARE(course.splices.stage(), SpliceStage::recording);
    QVERIFY(course.splices.splice()->isFrozen());
    QVERIFY(ended.wait());
    QCOMPARE(recorded.size(), 1);
    QCOMPARE(course.scratch.git("log --format=%s ours^1..ours --first-parent"),
             QByteArray("Once."));
}

void TestSpliceSession::whileOneIsOpen_nothingElseBegins()
{
    Course course;
    QVERIFY(course.open() && course.start());
    const std::string id = course.splices.entry().plan.id;
    const ObjectId some = course.forecast->forecast.theirs.id;
    course.splices.start(kTheirs, course.forecast, {});
    course.splices.reopen(course.splices.entry(), some, false);
    course.splices.reopenMerge(some);
    course.splices.takeOut(course.splices.entry(), some);
    course.splices.bringKeptBack(some);
    course.splices.bringWorkBack(id);
    course.splices.takeBegun();
    course.recording.roll(course.splices.entry(), false);
    course.recording.moveTo(kTheirs, SpliceKind::fastForward, WorkChoice::carry);
    course.recording.goToLine(kTheirs);
    course.recording.commitFiles({}, QStringLiteral("None."));
    QCOMPARE(course.splices.stage(), SpliceStage::open);
    QCOMPARE(course.splices.entry().plan.id, id);
}

void TestSpliceSession::putAway_isFreeAgain_andComesBack()
{
    Course course;
    QVERIFY(course.open() && course.start());
    QVERIFY(course.decide());
    const std::string id = course.splices.entry().plan.id;
    course.splices.putAway();
    QVERIFY(course.splices.isFree());
    QCOMPARE(course.splices.earlierOf(kTheirs)->plan.id, id);
    course.splices.bringBack(id);
    QVERIFY(QTest::qWaitFor([&] { return course.splices.isOpen(); }));
    QCOMPARE(course.splices.splice()->openCount(), std::size_t{0});
}

void TestSpliceSession::otherWindow_onlyReads_untilItTakesOver()
{
    Course course;
    QVERIFY(course.open() && course.start());
    QVERIFY(course.decide());
    course.splices.store().finish();
    PlaceSession otherPlace(nullptr);
    SpliceSession other(otherPlace, nullptr);
    RecordSession otherRecording(otherPlace, other, nullptr);
    otherPlace.open(course.scratch.folder());
    QVERIFY(QTest::qWaitFor([&] { return other.stage() == SpliceStage::elsewhere; }));
    QVERIFY(other.splice()->isFrozen());
    otherRecording.record(QStringLiteral("Not ours."));
    other.putAway();
    other.store().storeMark(MarkKind::fine, "some finding", true);
    QCOMPARE(other.stage(), SpliceStage::elsewhere);
    QVERIFY(other.store().marks(MarkKind::fine).empty());
    other.takeOver();
    QVERIFY(QTest::qWaitFor([&] { return other.isOpen(); }));
    // The first window sees it soon, and from then on it only reads.
    QVERIFY(QTest::qWaitFor([&] { return course.splices.isHeldElsewhere(); }));
    QVERIFY(course.splices.splice()->isFrozen());
}

void TestSpliceSession::otherPlaceOpened_spliceGoes()
{
    Course course;
    ScratchRepository another;
    another.commit("first");
    QVERIFY(course.open() && course.start());
    QSignalSpy ended(&course.splices, &SpliceSession::ended);
    course.place.open(another.folder());
    QVERIFY(ended.wait());
    QCOMPARE(ended.first().first().value<Ended>(), Ended::elsewhere);
    QVERIFY(course.splices.splice() == nullptr);
    QVERIFY(course.splices.isFree());
}

void TestSpliceSession::answers_afterTheSpliceIsGone_areDropped()
{
    Course course;
    QVERIFY(course.open() && course.start());
    QSignalSpy facts(&course.reader, &SpliceReader::fileFactsReady);
    QSignalSpy since(&course.reader, &SpliceReader::sinceReady);
    course.reader.requestFileFacts(0);
    course.reader.requestSince(course.region());
    course.splices.putAway();
    QVERIFY(!facts.wait(500));
    QVERIFY(since.isEmpty());
    // What is asked of none is not answered.
    course.reader.requestFileFacts(0);
    course.reader.requestSince({0, 0});
    course.reader.requestContents();
    QVERIFY(course.splices.isFree());
}

/// The outcome of a file that was taken up is held by its splice alone: it was read by a worker after both had
/// gone.
void TestSpliceSession::outcomeOfATakenUpFile_livesUntilItWasRead()
{
    Course course;
    QVERIFY(course.open() && course.start());
    Splice& splice = *course.splices.splice();
    const auto repository = std::move(GitPlace::open(course.scratch.path(), {true, {}})).value();
    auto taken = oneSidedOutcome(*repository, *splice.legs().front(), "new.txt");
    QVERIFY(taken && *taken);
    const std::weak_ptr<const FileOutcome> outcome = *taken;
    const std::size_t file = splice.takeUp(std::move(*taken));
    taken = OwnedOutcome();
    course.reader.requestFileFacts(file);
    course.splices.putAway();
    QVERIFY(!outcome.expired());
    QVERIFY(QTest::qWaitFor([&] { return outcome.expired(); }));
}

void TestSpliceSession::fastForward_needsNoSplice()
{
    Course course;
    course.scratch.git("checkout -q -b behind theirs~1");
    QVERIFY(course.open());
    QSignalSpy done(&course.recording, &RecordSession::doneAtOnce);
    course.recording.moveTo(kTheirs, SpliceKind::fastForward, WorkChoice::carry);
    QCOMPARE(course.splices.stage(), SpliceStage::recording);
    QVERIFY(done.wait());
    QVERIFY(course.splices.isFree());
    QCOMPARE(course.scratch.git("rev-parse behind"), course.scratch.git("rev-parse theirs"));
}

void TestSpliceSession::branchMoved_isTold_once()
{
    Course course;
    QVERIFY(course.open() && course.start());
    QSignalSpy behind(&course.splices, &SpliceSession::fellBehind);
    course.scratch.commitUpon("theirs");
    course.place.look();
    QVERIFY(behind.wait());
    course.place.look();
    QVERIFY(!behind.wait(300));
    QCOMPARE(behind.size(), 1);
    QVERIFY(course.splices.isOpen());
}

ROPE_TESTS(TestSpliceSession, QCoreApplication)
#include "tst_splice_session.moc"
