// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/process_tree.h"
#include "core/system/git/git_place.h"
#include "core/system/tree_difference.h"
#include "tests/support/scratch_repository.h"
#include "tests/support/test_program.h"

#include <QDateTime>
#include <QFileInfo>
#include <QTest>

#include <algorithm>
#include <csignal>
#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

using namespace rope;
using rope::test::ScratchRepository;

namespace {
std::unique_ptr<GitPlace> openScratch(const ScratchRepository& scratch)
{
    auto opened = GitPlace::open(scratch.path());
    return opened ? std::move(opened).value() : nullptr;
}
/// The contents stored as files of one tree; their ids, in order.
std::optional<std::vector<ObjectId>> stored(GitPlace& place,
                                            const std::vector<std::string>& contents)
{
    ResultSnapshot result;
    for (std::size_t i = 0; i < contents.size(); ++i) {
        result.edits.push_back({"f" + std::to_string(100 + i),
                                FileVersion{},
                                std::make_shared<const std::string>(contents[i])});
    }
    const auto tree = place.storeTree(result);
    if (!tree) {
        return std::nullopt;
    }
    const ObjectId trees[] = {*tree};
    std::vector<ObjectId> ids;
    for (const TreeEntry& entry : *place.readTrees(trees)->front()) {
        ids.push_back(entry.id);
    }
    return ids;
}
}  // namespace

class TestGitPlace : public QObject
{
    Q_OBJECT
private slots:
    void workingTree_tellsWhatItIs();
    void open_noRepository_isNotFound();
    void flood_ofWords_isCutOff();
    void open_bareAndEmpty_saySo();
    void standing_detachedHead_hasNoBranch();
    void branches_upstreamAndOddNames_areRead();
    void resolve_nameLikeAnOption_isNoOption();
    void readBlobs_oddBytes_areExact();
    void readBlobs_missingObject_namesIt();
    void readTrees_corruptObject_isAnError();
    void writeTree_whatWasRead_givesTheSameId();
    void writeBlobs_several_giveGitsIds();
    void storedAlready_isMadeYoung_whereItIsWhole();
    void uncommitted_newlineInPath_isRead();
    void sha256_repository_isRead();
    void identity_noneConfigured_isNone();
    void status_personalSettings_changeNothing();
    void expectedCommits_areTold_askedForOrNot();
    void environment_ofAnotherCommand_isNotOurs();
    void coreWorktree_elsewhere_keepsItsOwnRefs();
    void partialClone_asksOnceForAll();
    void opening_runsNothingOfTheRepositorys();
};

void TestGitPlace::open_noRepository_isNotFound()
{
    const QTemporaryDir folder;
    const auto opened = GitPlace::open(folder.path().toStdString());
    QVERIFY(!opened);
    QCOMPARE(opened.error().code, ErrorCode::notFound);
    QCOMPARE(GitPlace::open("/no/such/folder").error().code, ErrorCode::notFound);
}

void TestGitPlace::open_bareAndEmpty_saySo()
{
    const ScratchRepository bare({QStringLiteral("--bare")});
    const auto opened = openScratch(bare);
    QVERIFY(opened);
    const auto standing = opened->standing();
    QVERIFY(standing);
    QVERIFY(!standing->hasWorkingTree);
    QVERIFY(standing->tip.isNull());
    QCOMPARE(standing->name, std::string("main"));
}

void TestGitPlace::standing_detachedHead_hasNoBranch()
{
    ScratchRepository scratch;
    const QByteArray id = scratch.commit("first");
    scratch.git("checkout -q --detach");
    const auto standing = openScratch(scratch)->standing();
    QVERIFY(standing->ref.empty());
    QCOMPARE(standing->tip.hex(), id.toStdString());
}

void TestGitPlace::branches_upstreamAndOddNames_areRead()
{
    ScratchRepository scratch;
    scratch.commit("first");
    scratch.git("update-ref refs/remotes/origin/main HEAD");
    scratch.git("symbolic-ref refs/remotes/origin/HEAD refs/remotes/origin/main");
    scratch.git("config branch.main.remote origin");
    scratch.git("config branch.main.merge refs/heads/main");
    scratch.git("config remote.origin.url nowhere");
    scratch.git("config remote.origin.fetch +refs/heads/*:refs/remotes/origin/*");
    scratch.git({QStringLiteral("update-ref"),
                 QStringLiteral("refs/heads/-evil'x'é"),
                 QStringLiteral("HEAD")});
    scratch.git({QStringLiteral("update-ref"),
                 QStringLiteral("refs/heads/--help"),
                 QStringLiteral("HEAD")});
    const auto branches = openScratch(scratch)->branches();
    QVERIFY(branches);
    const auto named = [&](const char* name) {
        return std::find_if(
            branches->begin(), branches->end(), [name](const Branch& b) { return b.name == name; });
    };
    QVERIFY(named("-evil'x'é") != branches->end());
    QVERIFY(named("--help") != branches->end());
    QVERIFY(named("origin/HEAD") == branches->end());
    QCOMPARE(named("main")->upstreamRef, std::string("refs/remotes/origin/main"));
    QVERIFY(named("origin/main")->isShared);
}

void TestGitPlace::resolve_nameLikeAnOption_isNoOption()
{
    ScratchRepository scratch;
    const QByteArray id = scratch.commit("first");
    scratch.git({QStringLiteral("update-ref"),
                 QStringLiteral("refs/heads/--help"),
                 QStringLiteral("HEAD")});
    const auto repository = openScratch(scratch);
    QCOMPARE(repository->resolveCommit("--help")->hex(), id.toStdString());
    QCOMPARE(repository->resolveCommit("no-such-branch").error().code, ErrorCode::notFound);
    QCOMPARE(repository->resolveCommit("two\nlines").error().code, ErrorCode::invalidInput);
    QCOMPARE(repository->resolveCommit("main")->hex(),
             id.toStdString());  // the reader goes on after failures
}

void TestGitPlace::readBlobs_oddBytes_areExact()
{
    ScratchRepository scratch;
    std::vector<std::string> contents{"",
                                      "no line end",
                                      std::string("nul\0inside\r\n", 12),
                                      std::string(3'000'000, '\n'),
                                      "\xFF\xFE"};
    const auto repository = openScratch(scratch);
    const auto ids = stored(*repository, contents);
    QVERIFY(ids);
    const auto blobs = repository->readBlobs(*ids, kAnySize);
    QVERIFY(blobs);
    for (std::size_t i = 0; i < contents.size(); ++i) {
        QVERIFY(*blobs->at(i) == contents[i]);
    }
    QCOMPARE(repository->blobSizes(*ids)->at(3), std::uint64_t{3'000'000});
}

void TestGitPlace::readBlobs_missingObject_namesIt()
{
    ScratchRepository scratch;
    const ObjectId missing = *ObjectId::fromHex(std::string(40, 'a'));
    const auto repository = openScratch(scratch);
    const ObjectId ids[] = {missing};
    const auto blobs = repository->readBlobs(ids, kAnySize);
    QCOMPARE(blobs.error().code, ErrorCode::notFound);
    QCOMPARE(blobs.error().subject, missing.hex());
}

void TestGitPlace::readTrees_corruptObject_isAnError()
{
    ScratchRepository scratch;
    scratch.write("a", "text\n");
    scratch.commit("first");
    const QByteArray tree = scratch.git("rev-parse HEAD^{tree}");
    const QByteArray file = ".git/objects/" + tree.left(2) + "/" + tree.mid(2);
    QFile::setPermissions(scratch.filePath(file.constData()), QFile::ReadOwner | QFile::WriteOwner);
    scratch.write(file.constData(), "garbage");
    const ObjectId ids[] = {*ObjectId::fromHex(tree.toStdString())};
    const auto trees = openScratch(scratch)->readTrees(ids);
    QVERIFY(!trees);
    QVERIFY(trees.error().code == ErrorCode::corrupt || trees.error().code == ErrorCode::notFound);
    QCOMPARE(trees.error().subject, tree.toStdString());
}

void TestGitPlace::writeTree_whatWasRead_givesTheSameId()
{
    ScratchRepository scratch;
    scratch.write("b.txt", "1\n");
    scratch.write("b/inner", "2\n");
    scratch.write("b-c", "3\n");
    scratch.write("line\nbreak \"quote\"", "4\n");
    scratch.commit("first");
    const auto repository = openScratch(scratch);
    const ObjectId tree[] = {
        *ObjectId::fromHex(scratch.git("rev-parse HEAD^{tree}").toStdString())};
    const auto entries = repository->readTrees(tree);
    QCOMPARE(entries->front()->size(), std::size_t{4});
    QVERIFY(repository->idOfTree(*entries->front()) == tree[0]);
    QVERIFY(*repository->storeTree({tree[0], {}}) == tree[0]);
    const auto changed = repository->storeTree(
        {tree[0], {{"b/more", FileVersion{}, std::make_shared<const std::string>("5\n")}}});
    QVERIFY(changed);
    QCOMPARE(treeDifference(*repository, tree[0], *changed)->size(), std::size_t{1});
    // Everything gone is the empty tree.
    std::vector<ResultEdit> nothing;
    for (const char* path : {"b.txt", "b/inner", "b-c", "line\nbreak \"quote\""}) {
        nothing.push_back({path, {}, nullptr});
    }
    QVERIFY(*repository->storeTree({tree[0], nothing}) == repository->idOfTree({}));
}

void TestGitPlace::writeBlobs_several_giveGitsIds()
{
    ScratchRepository scratch;
    const auto repository = openScratch(scratch);
    const auto ids = stored(*repository, {"one\n", "two\n"});
    QCOMPARE(QByteArray::fromStdString(ids->at(1).hex()),
             scratch.git({QStringLiteral("hash-object"), QStringLiteral("--stdin")}, "two\n"));
    QVERIFY(repository->idOfBlob("two\n") == ids->at(1));
    QCOMPARE(scratch.git(QStringList{QStringLiteral("cat-file"),
                                     QStringLiteral("blob"),
                                     QString::fromStdString(ids->at(0).hex())}),
             QByteArray("one"));
}

/// What lies there already is not written again, but no `git gc` may take it for old.
void TestGitPlace::storedAlready_isMadeYoung_whereItIsWhole()
{
    ScratchRepository scratch;
    const auto repository = openScratch(scratch);
    const auto ids = stored(*repository, {"one\n", "two\n"});
    const auto fileOf = [&](const ObjectId& id) {
        const QString name = QString::fromStdString(id.hex());
        return QFileInfo(scratch.filePath(".git/objects/") + name.left(2) + QLatin1Char('/')
                         + name.mid(2));
    };
    const QDateTime longAgo = QDateTime::fromSecsSinceEpoch(1'500'000'000);
    const auto makeOld = [&](const QString& file) {
        const struct timespec times[] = {{1'500'000'000, 0}, {1'500'000'000, 0}};
        return ::utimensat(AT_FDCWD, file.toUtf8().constData(), times, 0) == 0;
    };
    QVERIFY(makeOld(fileOf(ids->at(0)).filePath()));
    QCOMPARE(fileOf(ids->at(0)).lastModified(), longAgo);
    QVERIFY(stored(*repository, {"one\n", "two\n"}) == ids);
    QVERIFY(fileOf(ids->at(0)).lastModified() > longAgo);
    // In a pack it is git's to make that young.
    scratch.git(
        "update-ref refs/keep "
        + QByteArray::fromStdString(
            repository->storeTree({{}, {{"f", FileVersion{EntryKind::file, ids->at(1)}, nullptr}}})
                ->hex()));
    scratch.git("repack -adq");
    scratch.git("prune-packed");
    QVERIFY(!fileOf(ids->at(1)).exists());
    QVERIFY(stored(*repository, {"one\n", "two\n"}) == ids);
    QCOMPARE(scratch.git("cat-file blob " + QByteArray::fromStdString(ids->at(1).hex())),
             QByteArray("two"));
}

void TestGitPlace::uncommitted_newlineInPath_isRead()
{
    ScratchRepository scratch;
    scratch.write("a\n\"b\"", "1\n");
    scratch.commit("first");
    scratch.write("a\n\"b\"", "2\n");
    scratch.write("new", "x");
    const auto files = openScratch(scratch)->uncommittedFiles();
    QCOMPARE(files->size(), std::size_t{2});
    QCOMPARE(files->at(0).path, std::string("a\n\"b\""));
    QVERIFY(files->at(1).isUntracked);
}

void TestGitPlace::sha256_repository_isRead()
{
    ScratchRepository scratch({QStringLiteral("--object-format=sha256")});
    scratch.write("a", "1\n");
    const QByteArray id = scratch.commit("first");
    QCOMPARE(id.size(), 64);
    const auto repository = openScratch(scratch);
    QCOMPARE(repository->resolveCommit("main")->hex(), id.toStdString());
    const ObjectId ids[] = {*repository->resolveCommit("main")};
    const auto commits = repository->readCommits(ids);
    const ObjectId trees[] = {commits->front().tree};
    QCOMPARE(repository->readTrees(trees)->front()->size(), std::size_t{1});
}

void TestGitPlace::identity_noneConfigured_isNone()
{
    ScratchRepository scratch;
    scratch.git("config --unset user.name");
    scratch.git("config --unset user.email");
    const auto repository = openScratch(scratch);
    QVERIFY(!repository->identity()->has_value());
    QCOMPARE(repository->setIdentity("Two\nLines", "a@b").error().code, ErrorCode::invalidInput);
    QVERIFY(repository->setIdentity("Maren", "maren@slackwater.example"));
    QCOMPARE((*repository->identity())->name, std::string("Maren"));
}

void TestGitPlace::status_personalSettings_changeNothing()
{
    ScratchRepository scratch;
    scratch.write("b", "1\n");
    scratch.write("a", "1\n");
    scratch.commit("first");
    scratch.write("a", "2\n");
    scratch.git("stash -q");
    scratch.git("mv b c");
    for (const char* setting : {"status.showStash true",
                                "status.branch true",
                                "status.short true",
                                "status.renames copies",
                                "status.aheadBehind false",
                                "status.showUntrackedFiles no",
                                "status.relativePaths false",
                                "column.ui always",
                                "color.ui always",
                                "core.quotePath false",
                                "diff.renames copies",
                                "diff.external false",
                                "log.showSignature true"}) {
        scratch.git(QByteArray("config ").append(setting).constData());
    }
    scratch.write("new", "x");
    const auto place = openScratch(scratch);
    const auto files = place->uncommittedFiles();
    QVERIFY(files);
    std::vector<std::string> paths;
    for (const UncommittedFile& file : *files) {
        paths.push_back(file.path);
    }
    std::sort(paths.begin(), paths.end());
    QVERIFY(paths == (std::vector<std::string>{"b", "c", "new"}));  // a rename is two paths
    QVERIFY(place->branches());
    const ObjectId tips[] = {*place->resolveCommit("main")};
    QVERIFY((*place->commitsFrom(tips))->next());
}

void TestGitPlace::expectedCommits_areTold_askedForOrNot()
{
    ScratchRepository scratch;
    scratch.commit("first");
    scratch.commit("second");
    const auto place = openScratch(scratch);
    const ObjectId tips[] = {*place->resolveCommit("HEAD")};
    const auto countFrom = [&place, &tips] {
        const auto stream = place->commitsFrom(tips);
        for (int count = 0; stream; ++count) {
            const auto commit = (*stream)->next();
            if (!commit || !*commit) {
                return commit ? count : -1;
            }
        }
        return -1;
    };
    place->expectCommits();
    QCOMPARE(countFrom(), 2);
    QCOMPARE(countFrom(), 2);  // the one that was made ready is used up
    place->expectCommits();
    scratch.commit("third");
    QCOMPARE(countFrom(), 2);  // of the tip that was asked for
    place->expectCommits();
    for (const pid_t waiting : withDescendants(::getpid())) {
        if (waiting != ::getpid()) {
            ::kill(waiting, SIGKILL);
        }
    }
    QTRY_COMPARE(countFrom(), 2);
}

void TestGitPlace::environment_ofAnotherCommand_isNotOurs()
{
    ScratchRepository scratch;
    const QByteArray id = scratch.commit("first");
    ScratchRepository other;
    other.commit("other");
    qputenv("GIT_DIR", other.filePath(".git").toUtf8());
    qputenv("GIT_INDEX_FILE", "/nowhere/index");
    qputenv("GIT_LITERAL_PATHSPECS", "1");
    const auto place = openScratch(scratch);
    const auto tip = place->resolveCommit("HEAD");
    qunsetenv("GIT_DIR");
    qunsetenv("GIT_INDEX_FILE");
    qunsetenv("GIT_LITERAL_PATHSPECS");
    QVERIFY(tip);
    QCOMPARE(tip->hex(), id.toStdString());
}

void TestGitPlace::coreWorktree_elsewhere_keepsItsOwnRefs()
{
    ScratchRepository own;
    own.write("a", "mine\n");
    const QByteArray mine = own.commit("mine");
    ScratchRepository handedOver;
    handedOver.write("a", "theirs\n");
    const QByteArray theirs = handedOver.commit("theirs");
    handedOver.git(
        QStringList{QStringLiteral("config"), QStringLiteral("core.worktree"), own.folder()});
    const auto place = openScratch(handedOver);
    QVERIFY(place);
    QCOMPARE(QByteArray::fromStdString(place->resolveCommit("HEAD")->hex()), theirs);
    QCOMPARE(QString::fromStdString(place->ledFrom()), handedOver.folder());
    QCOMPARE(QString::fromStdString(place->root()), own.folder());
    QVERIFY(openScratch(own)->ledFrom().empty());
    QCOMPARE(QByteArray::fromStdString(openScratch(own)->resolveCommit("HEAD")->hex()), mine);
}

void TestGitPlace::partialClone_asksOnceForAll()
{
    ScratchRepository source;
    for (int i = 0; i < 20; ++i) {
        source.write(("f" + QByteArray::number(i)).constData(), "text " + QByteArray::number(i));
    }
    source.commit("first");
    source.git("config uploadpack.allowFilter true");
    source.git("config uploadpack.allowAnySHA1InWant true");
    const QTemporaryDir folder;
    source.git(QStringList{QStringLiteral("clone"),
                           QStringLiteral("-q"),
                           QStringLiteral("--no-checkout"),
                           QStringLiteral("--filter=blob:none"),
                           QStringLiteral("file://") + source.folder(),
                           folder.filePath(QStringLiteral("c"))});
    const auto place =
        std::move(GitPlace::open(folder.filePath(QStringLiteral("c")).toStdString())).value();
    const ObjectId commits[] = {*place->resolveCommit("HEAD")};
    const ObjectId trees[] = {place->readCommits(commits)->front().tree};
    std::vector<ObjectId> blobs;
    for (const TreeEntry& entry : *place->readTrees(trees)->front()) {
        blobs.push_back(entry.id);
    }
    const auto unasked = place->readBlobs(blobs, kAnySize);
    QVERIFY(!unasked);
    QCOMPARE(unasked.error().reason, Reason::objectsMissing);
    QStringList steps;
    place->setMissingBytes(
        {true, [&](const Progress& said) { steps << QString::fromStdString(said.subject); }, {}});
    QVERIFY(place->expectBlobs(blobs));
    QVERIFY2(!steps.filter(QStringLiteral("objects")).isEmpty(),
             qPrintable(steps.join(QLatin1Char('\n'))));
    place->setMissingBytes({});  // now all of them are here
    QCOMPARE(place->readBlobs(blobs, kAnySize)->size(), std::size_t{20});
}

void TestGitPlace::opening_runsNothingOfTheRepositorys()
{
    ScratchRepository scratch;
    const QByteArray witness = scratch.filePath(".git/it-ran").toUtf8();
    scratch.write(".gitattributes", "a filter=mine merge=mine\n");
    scratch.write("a", "1\n");
    scratch.commit("first");
    const auto set = [&](const char* key, const QByteArray& command) {
        scratch.git(QStringList{
            QStringLiteral("config"), QString::fromLatin1(key), QString::fromUtf8(command)});
    };
    set("filter.mine.clean", "touch " + witness + "; cat");
    set("filter.mine.smudge", "touch " + witness + "; cat");
    set("filter.mine.required", "true");
    set("core.fsmonitor", "touch " + witness);
    scratch.write("a", "2\n");
    scratch.addHook("post-index-change", "touch " + witness);
    QFile::remove(QString::fromUtf8(witness));
    {
        const auto place = openScratch(scratch);
        QVERIFY(place->standing() && place->branches() && place->begunJoin());
        QCOMPARE(place->uncommittedFiles()->size(), std::size_t{1});
        QVERIFY(!QFile::exists(QString::fromUtf8(witness)));
        const auto leftOut = place->programsLeftOut();
        QCOMPARE(leftOut->size(), std::size_t{1});
        QCOMPARE(QByteArray::fromStdString(leftOut->front()), "touch " + witness + "; cat");
        QVERIFY(place->programsLeftOut()->empty());
    }
    const auto allowed = std::move(GitPlace::open(scratch.path(), {true, {}})).value();
    QVERIFY(allowed->uncommittedFiles());
    QVERIFY(QFile::exists(QString::fromUtf8(witness)));
    QVERIFY(allowed->programsLeftOut()->empty());
}

/// A remote may say what it likes, and as much.
void TestGitPlace::flood_ofWords_isCutOff()
{
    ScratchRepository scratch;
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    const auto ran = place->git().run(
        {"-c", "alias.flood=!head -c 300000 /dev/zero | tr '\\0' x >&2; echo done", "flood"}, {});
    QVERIFY(ran);
    QCOMPARE(ran->out, std::string("done\n"));
    QVERIFY(ran->err.size() >= 60'000 && ran->err.size() <= 64'000);
}

void TestGitPlace::workingTree_tellsWhatItIs()
{
    ScratchRepository inner;
    inner.write("a", "a\n");
    inner.commit("base");
    ScratchRepository outer;
    outer.write("b", "b\n");
    outer.commit("base");
    outer.git({QStringLiteral("-c"),
               QStringLiteral("protocol.file.allow=always"),
               QStringLiteral("submodule"),
               QStringLiteral("--quiet"),
               QStringLiteral("add"),
               inner.folder(),
               QStringLiteral("lib/inner")});
    const QTemporaryDir beside;
    const QString second = beside.filePath(QStringLiteral("second"));
    outer.git({QStringLiteral("worktree"), QStringLiteral("add"), QStringLiteral("-q"), second});
    const auto kindAt = [](const std::string& folder) {
        const auto place = GitPlace::open(folder);
        return place ? (*place)->workingTreeKind() : WorkingTreeKind{};
    };
    const std::string own = QFileInfo(outer.folder()).canonicalFilePath().toStdString();
    QVERIFY(kindAt(outer.path()).kind == WorkingTreeKind::Kind::only);
    const WorkingTreeKind further = kindAt(second.toStdString());
    QVERIFY(further.kind == WorkingTreeKind::Kind::further);
    QCOMPARE(further.of, own);
    const WorkingTreeKind submodule = kindAt(outer.path() + "/lib/inner");
    QVERIFY(submodule.kind == WorkingTreeKind::Kind::submodule);
    QCOMPARE(submodule.of, own);
    const ScratchRepository bare({QStringLiteral("--bare")});
    QVERIFY(kindAt(bare.path()).kind == WorkingTreeKind::Kind::only);
}

ROPE_TESTS(TestGitPlace, QCoreApplication)
#include "tst_git_place.moc"
