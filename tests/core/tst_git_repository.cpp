// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/repository/git/git_repository.h"
#include "tests/support/scratch_repository.h"

#include <QTest>

#include <algorithm>

using namespace rope;
using rope::test::ScratchRepository;

namespace {
std::unique_ptr<GitRepository> openScratch(const ScratchRepository& scratch)
{
    auto opened = GitRepository::open(scratch.path());
    return opened ? std::move(opened).value() : nullptr;
}
}  // namespace

class TestGitRepository : public QObject
{
    Q_OBJECT
private slots:
    void open_noRepository_isNotFound();
    void open_bareAndEmpty_saySo();
    void standing_detachedHead_hasNoBranch();
    void branches_upstreamAndOddNames_areRead();
    void resolve_nameLikeAnOption_isNoOption();
    void readBlobs_oddBytes_areExact();
    void readBlobs_missingObject_namesIt();
    void readTrees_corruptObject_isAnError();
    void writeTree_whatWasRead_givesTheSameId();
    void writeBlobs_several_giveGitsIds();
    void uncommitted_newlineInPath_isRead();
    void moveBranch_movedMeanwhile_isStale();
    void bringWorkingTree_indexLocked_isBusy();
    void sha256_repository_isRead();
    void identity_noneConfigured_isNone();
};

void TestGitRepository::open_noRepository_isNotFound()
{
    const QTemporaryDir folder;
    const auto opened = GitRepository::open(folder.path().toStdString());
    QVERIFY(!opened);
    QCOMPARE(opened.error().code, ErrorCode::notFound);
    QCOMPARE(GitRepository::open("/no/such/folder").error().code, ErrorCode::notFound);
}

void TestGitRepository::open_bareAndEmpty_saySo()
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

void TestGitRepository::standing_detachedHead_hasNoBranch()
{
    ScratchRepository scratch;
    const QByteArray id = scratch.commit("first");
    scratch.git("checkout -q --detach");
    const auto standing = openScratch(scratch)->standing();
    QVERIFY(standing->ref.empty());
    QCOMPARE(standing->tip.hex(), id.toStdString());
}

void TestGitRepository::branches_upstreamAndOddNames_areRead()
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
                 QStringLiteral("refs/heads/-evil 'x' é"),
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
    QVERIFY(named("--help") != branches->end());
    QVERIFY(named("origin/HEAD") == branches->end());
    QCOMPARE(named("main")->upstreamRef, std::string("refs/remotes/origin/main"));
    QVERIFY(named("origin/main")->isShared);
}

void TestGitRepository::resolve_nameLikeAnOption_isNoOption()
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

void TestGitRepository::readBlobs_oddBytes_areExact()
{
    ScratchRepository scratch;
    std::vector<std::string> contents{"",
                                      "no line end",
                                      std::string("nul\0inside\r\n", 12),
                                      std::string(3'000'000, '\n'),
                                      "\xFF\xFE"};
    const auto repository = openScratch(scratch);
    const auto ids = repository->writeBlobs(contents, Storage::stored);
    QVERIFY(ids);
    const auto blobs = repository->readBlobs(*ids, kAnySize);
    QVERIFY(blobs);
    for (std::size_t i = 0; i < contents.size(); ++i) {
        QVERIFY(*blobs->at(i) == contents[i]);
    }
    QCOMPARE(repository->blobSizes(*ids)->at(3), std::uint64_t{3'000'000});
}

void TestGitRepository::readBlobs_missingObject_namesIt()
{
    ScratchRepository scratch;
    const ObjectId missing = *ObjectId::fromHex(std::string(40, 'a'));
    const auto repository = openScratch(scratch);
    const ObjectId ids[] = {missing};
    const auto blobs = repository->readBlobs(ids, kAnySize);
    QCOMPARE(blobs.error().code, ErrorCode::notFound);
    QCOMPARE(blobs.error().subject, missing.hex());
}

void TestGitRepository::readTrees_corruptObject_isAnError()
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

void TestGitRepository::writeTree_whatWasRead_givesTheSameId()
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
    QVERIFY(*repository->writeTree(*entries->front(), Storage::stored) == tree[0]);
    QVERIFY(*repository->writeTree(*entries->front(), Storage::held) == tree[0]);
    QVERIFY(*repository->writeTree({}, Storage::stored)
            == *repository->writeTree({}, Storage::held));
}

void TestGitRepository::writeBlobs_several_giveGitsIds()
{
    ScratchRepository scratch;
    const std::string contents[] = {"one\n", "two\n"};
    const auto ids = openScratch(scratch)->writeBlobs(contents, Storage::stored);
    QCOMPARE(QByteArray::fromStdString(ids->at(1).hex()),
             scratch.git({QStringLiteral("hash-object"), QStringLiteral("--stdin")}, "two\n"));
    QCOMPARE(scratch.git(QStringList{QStringLiteral("cat-file"),
                                     QStringLiteral("blob"),
                                     QString::fromStdString(ids->at(0).hex())}),
             QByteArray("one"));
}

void TestGitRepository::uncommitted_newlineInPath_isRead()
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

void TestGitRepository::moveBranch_movedMeanwhile_isStale()
{
    ScratchRepository scratch;
    const ObjectId first = *ObjectId::fromHex(scratch.commit("first").toStdString());
    const ObjectId second = *ObjectId::fromHex(scratch.commit("second").toStdString());
    const auto repository = openScratch(scratch);
    const auto moved = repository->moveBranch("refs/heads/main", first, first, "test");
    QVERIFY(!moved);
    QCOMPARE(moved.error().code, ErrorCode::stale);
    QVERIFY(*repository->resolveCommit("main") == second);
    QVERIFY(repository->moveBranch("refs/heads/main", second, first, "test"));
    QVERIFY(*repository->resolveCommit("main") == first);
}

void TestGitRepository::bringWorkingTree_indexLocked_isBusy()
{
    ScratchRepository scratch;
    scratch.write("a", "1\n");
    scratch.commit("first");
    const ObjectId tree = *ObjectId::fromHex(scratch.git("rev-parse HEAD^{tree}").toStdString());
    scratch.write("a", "2\n");
    scratch.commit("second");
    const ObjectId now = *ObjectId::fromHex(scratch.git("rev-parse HEAD^{tree}").toStdString());
    scratch.write(".git/index.lock", "");
    const auto brought = openScratch(scratch)->bringWorkingTree(now, tree);
    QCOMPARE(brought.error().code, ErrorCode::busy);
    QCOMPARE(scratch.read("a"), QByteArray("2\n"));
}

void TestGitRepository::sha256_repository_isRead()
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

void TestGitRepository::identity_noneConfigured_isNone()
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

QTEST_GUILESS_MAIN(TestGitRepository)
#include "tst_git_repository.moc"
