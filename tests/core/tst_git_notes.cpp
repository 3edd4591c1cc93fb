// SPDX-License-Identifier: GPL-3.0-or-later
// What is left beside commits as git notes: written with the commit or not at all, sent and fetched, read by
// git itself.
#include "core/logbook/recorder.h"
#include "core/plan/decision_note.h"
#include "core/plan/recording_plan.h"
#include "core/system/git/git_notes.h"
#include "core/system/git/git_place.h"
#include "tests/support/killed_child.h"
#include "tests/support/scratch_repository.h"
#include "tests/support/shared_team.h"
#include "tests/support/test_program.h"

#include <QDateTime>
#include <QTest>

using namespace rope;
using rope::test::ScratchRepository;
using rope::test::SharedTeam;

namespace {
/// A merge of theirs into ours, decided for theirs with a reason, and what was recorded of it.
struct Bench
{
    std::unique_ptr<GitPlace> place;
    std::unique_ptr<Journal> journal;
    Result<Recorded> recorded = Error{ErrorCode::io, {}, {}};

    [[nodiscard]] std::vector<FoundNote> notes() const
    {
        const ObjectId commits[] = {recorded->commit.id};
        return place->notesOn(commits)->front();
    }
};

Bench record(const std::string& folder,
             const char* ours = "ours",
             const char* theirs = "theirs",
             const ProgressSink& progress = {})
{
    Bench bench;
    bench.place = std::move(GitPlace::open(folder)).value();
    bench.journal = std::move(Journal::open(*bench.place->privateFolder())).value();
    JournalEntry entry;
    entry.plan = {"splice-" + std::string(theirs),
                  "refs/heads/" + std::string(ours),
                  ours,
                  theirs,
                  *bench.place->resolveCommit(ours),
                  *bench.place->resolveCommit(theirs)};
    entry.startedAt = QDateTime::currentSecsSinceEpoch();
    (void)bench.journal->begin(entry);
    Splice splice(entry.plan,
                  std::make_shared<const Forecast>(
                      forecastJoin(*bench.place, entry.plan.ours, entry.plan.theirs).value()));
    for (std::size_t file = 0; file < splice.files().size(); ++file) {
        splice.decideAllOpen(file, FileChoice::theirs);
        const auto& text = splice.files()[file].text;
        if (text && text->join().regionCount() > 0) {
            (void)splice.giveReason({file, text->slotOfRegion(0)}, "theirs is later");
        }
    }
    const auto plan = recordingPlanOf(splice, "Merge theirs\n", {{}, true});
    bench.recorded = recordSplice(*bench.place, *bench.journal, entry.plan.id, *plan, progress);
    return bench;
}

const QString kShow = QStringLiteral("log -1 --format=%N --notes=rope-splice/decisions");
}  // namespace

class TestGitNotes : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void recorded_gitShowsIt_data();
    void recorded_gitShowsIt();
    void refused_leavesNone();
    void killed_isThereWithTheCommitOnly_data();
    void killed_isThereWithTheCommitOnly();
    void earlierNotes_stay();
    void manyNotes_areFound();
    void sent_isFetchedByTheOther();
    void sent_byBothAtOnce_keepsBoth();
    void sent_onlyWhatTheRemoteHas();
    void fetch_remoteWithoutNotes_isFine();
    void merge_isReadWithItsReason();
};

void TestGitNotes::initTestCase()
{
    test::dieIfChild([](const std::string& folder, const ProgressSink& progress) {
        (void)record(folder, "ours", "theirs", progress);
    });
}

void TestGitNotes::recorded_gitShowsIt_data()
{
    QTest::addColumn<QStringList>("init");
    QTest::newRow("sha1") << QStringList();
    QTest::newRow("sha256") << QStringList{QStringLiteral("--object-format=sha256")};
}

void TestGitNotes::recorded_gitShowsIt()
{
    QFETCH(const QStringList, init);
    ScratchRepository scratch(init);
    test::makeDiverged(scratch);
    const Bench bench = record(scratch.path());
    QVERIFY(bench.recorded.hasValue());
    const QByteArray shown = scratch.git(kShow.split(QLatin1Char(' ')));
    QVERIFY2(shown.contains("\"reason\": \"theirs is later\""), shown.constData());
    QCOMPARE(bench.notes().size(), std::size_t{1});
    QVERIFY(bench.notes().front().from.empty());
    const auto note = parseNote(bench.notes().front().text);
    QCOMPARE(note->size(), std::size_t{1});
    QCOMPARE(note->front().path, std::string("plan.txt"));
    QCOMPARE(note->front().line, 2);
    QCOMPARE(note->front().choice, std::string("theirs"));
    QVERIFY(scratch.git("for-each-ref refs/rope-splice/notes-being-written").isEmpty());
    QVERIFY(scratch.git("fsck --strict --no-dangling").isEmpty());
    QVERIFY(scratch.git("status --porcelain").isEmpty());
}

void TestGitNotes::refused_leavesNone()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    scratch.addHook("commit-msg", "exit 1\n");
    const Bench bench = record(scratch.path());
    QVERIFY(!bench.recorded.hasValue());
    QVERIFY(scratch.git("for-each-ref refs/notes").isEmpty());
}

void TestGitNotes::killed_isThereWithTheCommitOnly_data()
{
    QTest::addColumn<QByteArray>("step");
    for (const char* step : {"bringing", "committing", "moving", "finishing"}) {
        QTest::newRow(step) << QByteArray(step);
    }
}

void TestGitNotes::killed_isThereWithTheCommitOnly()
{
    QFETCH(const QByteArray, step);
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    test::killAt(scratch.folder(), step);
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    const auto journal = std::move(Journal::open(*place->privateFolder())).value();
    const auto recovery = recoverRecording(*place, *journal);
    QVERIFY(recovery && *recovery);
    QCOMPARE((*recovery)->isFinished, step == "finishing");
    const QByteArray notes = scratch.git("for-each-ref --format=%(refname) refs/notes");
    QCOMPARE(notes, step == "finishing" ? QByteArray(kOwnNotes) : QByteArray());
    QVERIFY(scratch.git("for-each-ref refs/rope-splice/notes-being-written").isEmpty());
}

void TestGitNotes::earlierNotes_stay()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    scratch.git("notes --ref=rope-splice/decisions add -m earlier theirs");
    scratch.git("notes add -m unrelated ours");
    QVERIFY(record(scratch.path()).recorded.hasValue());
    QCOMPARE(scratch.git("notes --ref=rope-splice/decisions list").split('\n').size(), 2);
    QCOMPARE(scratch.git("notes --ref=rope-splice/decisions show theirs"), QByteArray("earlier"));
    QCOMPARE(scratch.git("notes show ours^1"), QByteArray("unrelated"));
}

/// git lays many notes into folders, one level after the other.
void TestGitNotes::manyNotes_areFound()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const Bench bench = record(scratch.path());
    const auto tip = tipOfRef(bench.place->git(), kOwnNotes);
    std::vector<CommitNote> notes;
    QByteArray stream;
    for (int i = 0; i < 600; ++i) {
        const QByteArray mark = QByteArray::number(i + 1);
        stream += "commit refs/heads/many\nmark :" + mark
                  + "\ncommitter A <a@b> 1793610000 +0000\ndata 1\nx\n";
    }
    scratch.git({QStringLiteral("fast-import"), QStringLiteral("--quiet")}, stream);
    for (const QByteArray& id : scratch.git("rev-list many").split('\n')) {
        notes.push_back({*ObjectId::fromHex(id.toStdString()), "of " + id.toStdString()});
    }
    QCOMPARE(notes.size(), std::size_t{600});
    const Signature writer{"Maren <Voss>", "maren@slackwater.example", 0, "+0000"};
    const auto joined = writeNotes(bench.place->git(), *tip, notes, writer, "many-notes");
    QVERIFY(joined && !joined->isNull());
    const QByteArray update =
        "update-ref " + QByteArray(kOwnNotes) + " " + QByteArray::fromStdString(joined->hex());
    scratch.git(update.constData());
    const ObjectId asked[] = {notes[0].commit, notes[399].commit, bench.recorded->commit.id};
    const auto found = std::move(GitPlace::open(scratch.path())).value()->notesOn(asked);
    QCOMPARE(found->at(0).front().text, notes[0].text);
    QCOMPARE(found->at(1).front().text, notes[399].text);
    QVERIFY(parseNote(found->at(2).front().text).hasValue());
    const QByteArray show = "notes --ref=rope-splice/decisions show "
                            + QByteArray::fromStdString(notes[399].commit.hex());
    QCOMPARE(scratch.git(show.constData()), QByteArray::fromStdString(notes[399].text));
}

namespace {
/// Both clones have parted from main in the same line; `branch` is one's own there.
void part(const SharedTeam::Clone& clone, const char* branch, const char* line)
{
    const QString name = QString::fromLatin1(branch);
    clone.git({QStringLiteral("switch"), QStringLiteral("-q"), QStringLiteral("-c"), name});
    clone.write("plan.txt", QByteArray("one\n") + line + "\nthree\n");
    clone.commit(branch);
    clone.git({QStringLiteral("switch"),
               QStringLiteral("-q"),
               QStringLiteral("-c"),
               name + QStringLiteral("-mine"),
               QStringLiteral("origin/main")});
    clone.write("plan.txt", QByteArray("one\nmine of ") + branch + "\nthree\n");
    clone.commit("mine");
}

Bench recordIn(const SharedTeam::Clone& clone, const char* branch)
{
    return record(clone.folder().toStdString(), (std::string(branch) + "-mine").c_str(), branch);
}

void push(const SharedTeam::Clone& clone)
{
    clone.git("push -q origin HEAD");
}
}  // namespace

void TestGitNotes::sent_isFetchedByTheOther()
{
    const SharedTeam team;
    part(team.yours(), "fees", "two fees");
    const Bench mine = recordIn(team.yours(), "fees");
    QVERIFY(mine.recorded.hasValue());
    push(team.yours());
    QCOMPARE(*mine.place->sendNotes("origin", {}), std::size_t{1});
    QCOMPARE(*mine.place->sendNotes("origin", {}), std::size_t{0});  // once is enough

    const auto there = std::move(GitPlace::open(team.teammate().folder().toStdString())).value();
    QVERIFY(there->fetch({}, {}, {}));
    const ObjectId commits[] = {mine.recorded->commit.id};
    const auto found = there->notesOn(commits)->front();
    QCOMPARE(found.size(), std::size_t{1});
    QCOMPARE(found.front().from, std::string("origin"));
    QCOMPARE(parseNote(found.front().text)->front().reason, std::string("theirs is later"));
    // What was set up to be fetched has come as well.
    QVERIFY(!team.teammate().git("for-each-ref refs/remotes/origin/fees-mine").isEmpty());
}

void TestGitNotes::sent_byBothAtOnce_keepsBoth()
{
    const SharedTeam team;
    part(team.yours(), "fees", "two fees");
    part(team.teammate(), "tides", "two tides");
    const Bench mine = recordIn(team.yours(), "fees");
    const Bench theirs = recordIn(team.teammate(), "tides");
    push(team.yours());
    push(team.teammate());
    QCOMPARE(*mine.place->sendNotes("origin", {}), std::size_t{1});
    QCOMPARE(*theirs.place->sendNotes("origin", {}), std::size_t{1});
    QVERIFY(mine.place->fetch({}, {}, {}));
    const ObjectId commits[] = {mine.recorded->commit.id, theirs.recorded->commit.id};
    const auto found = mine.place->notesOn(commits);
    QCOMPARE(found->at(0).size(), std::size_t{2});  // one's own, and as the remote has it
    QCOMPARE(found->at(1).size(), std::size_t{1});
    QCOMPARE(team.yours().git("for-each-ref --format=%(refname) refs/rope-splice").size(), 0);
}

void TestGitNotes::sent_onlyWhatTheRemoteHas()
{
    const SharedTeam team;
    part(team.yours(), "fees", "two fees");
    const Bench mine = recordIn(team.yours(), "fees");
    QCOMPARE(*mine.place->sendNotes("origin", {}), std::size_t{0});
    QVERIFY(team.yours().git("ls-remote origin refs/notes/*").isEmpty());
}

void TestGitNotes::fetch_remoteWithoutNotes_isFine()
{
    const SharedTeam team;
    team.yours().git("config fetch.prune true");
    const auto place = std::move(GitPlace::open(team.yours().folder().toStdString())).value();
    QVERIFY(place->fetch({}, {}, {}));
    QVERIFY(!team.yours().git("for-each-ref refs/remotes/origin/main").isEmpty());
}

void TestGitNotes::merge_isReadWithItsReason()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const Bench bench = record(scratch.path());
    const auto read = readMerge(*bench.place, bench.recorded->commit.id);
    const auto note = parseNote(bench.notes().front().text);
    const auto asNoted = compareNote(*note, read->decisions);
    QVERIFY(asNoted.gone.empty());
    QCOMPARE(asNoted.remarks.front()->reason, std::string("theirs is later"));
    QVERIFY(!asNoted.remarks.front()->otherwise);

    // Somebody writes the merge anew with another line, and takes the note along.
    scratch.write("plan.txt", "one\ntwo ours\nthree\nfour\nfive\nSIX\n");
    scratch.git("add -A");
    scratch.git("commit -q --amend --no-edit");
    scratch.git("notes --ref=rope-splice/decisions copy HEAD@{1} HEAD");
    const auto now = readMerge(*bench.place, *bench.place->resolveCommit("HEAD"));
    const auto otherwise = compareNote(*note, now->decisions);
    QCOMPARE(otherwise.remarks.front()->otherwise, std::optional<std::string>("theirs"));
}

ROPE_TESTS(TestGitNotes, QCoreApplication)
#include "tst_git_notes.moc"
