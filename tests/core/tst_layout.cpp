// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/system/factory/open_place.h"
#include "core/trial/laid_out.h"
#include "core/trial/layout.h"
#include "core/trial/scratch_copies.h"
#include "tests/support/scratch_repository.h"
#include "tests/support/test_program.h"

#include <QDirIterator>
#include <QRandomGenerator>
#include <QTest>

#include <sys/stat.h>
#include <unistd.h>
#include <utime.h>

using namespace rope;
using namespace rope::test;

namespace {
/// A copy of one repository's trees.
class Copy
{
public:
    explicit Copy(ScratchRepository& scratch)
        : m_scratch(scratch)
        , place(openPlace(scratch.path()).value())
    {
    }
    Result<LayoutOutcome> layOut(const QByteArray& revision, bool withSubmodules = false)
    {
        const ObjectId commit = place->resolveCommit(revision.toStdString()).value();
        const ObjectId ids[] = {commit};
        const auto commits = place->readCommits(ids);
        return rope::layOut(*place,
                            {commits->front().tree, commit, withSubmodules},
                            path(),
                            {},
                            m_stop.get_token());
    }
    [[nodiscard]] std::string path() const { return m_folder.path().toStdString(); }
    [[nodiscard]] QString file(const char* name) const
    {
        return m_folder.path() + QStringLiteral("/files/") + QString::fromUtf8(name);
    }
    [[nodiscard]] QByteArray read(const char* name) const
    {
        QFile in(file(name));
        return in.open(QIODevice::ReadOnly) ? in.readAll() : QByteArray("(no such file)");
    }
    void write(const char* name, const QByteArray& bytes) const
    {
        QDir().mkpath(QFileInfo(file(name)).path());
        QFile out(file(name));
        QVERIFY(out.open(QIODevice::WriteOnly));
        out.write(bytes);
    }
    [[nodiscard]] QByteArray git(const QString& words) const
    {
        QProcess process;
        process.setWorkingDirectory(m_folder.path() + QStringLiteral("/files"));
        process.start(QStringLiteral("git"), words.split(QLatin1Char(' ')));
        process.waitForFinished(-1);
        return process.readAllStandardOutput() + process.readAllStandardError();
    }
    /// Everything in the copy, as git itself would have checked it out: names, bytes, modes.
    [[nodiscard]] QStringList differencesTo(const QString& checkedOut) const
    {
        QStringList lines[2];
        const QString roots[] = {checkedOut, m_folder.path() + QStringLiteral("/files")};
        for (int side = 0; side < 2; ++side) {
            QDirIterator files(roots[side],
                               QDir::Files | QDir::Hidden | QDir::System | QDir::NoDotAndDotDot,
                               QDirIterator::Subdirectories);
            while (files.hasNext()) {
                const QString name = files.next();
                const QString relative = name.mid(roots[side].size() + 1);
                if (relative == QStringLiteral(".git")
                    || relative.startsWith(QStringLiteral(".git/"))) {
                    continue;
                }
                const QFileInfo info(name);
                QFile in(name);
                const bool isLink = info.isSymLink();
                const QByteArray bytes = isLink
                                             ? QFile::encodeName(QFile::symLinkTarget(name))
                                                   .replace(QFile::encodeName(roots[side]), "ROOT")
                                         : in.open(QIODevice::ReadOnly) ? in.readAll()
                                                                        : QByteArray("?");
                lines[side] << relative
                                   + (isLink ? QStringLiteral(" link ") : QStringLiteral(" file "))
                                   + (info.isExecutable() ? QStringLiteral("x ")
                                                          : QStringLiteral("- "))
                                   + QString::fromLatin1(bytes.toHex());
            }
            lines[side].sort();
        }
        QStringList different;
        for (const QString& line : lines[0]) {
            if (!lines[1].contains(line)) {
                different << QStringLiteral("only git: ") + line.left(80);
            }
        }
        for (const QString& line : lines[1]) {
            if (!lines[0].contains(line)) {
                different << QStringLiteral("only here: ") + line.left(80);
            }
        }
        return different;
    }
    void stop() { m_stop.request_stop(); }

private:
    ScratchRepository& m_scratch;
    QTemporaryDir m_folder;
    std::stop_source m_stop;

public:
    std::unique_ptr<Place> place;
};

/// What git checks a commit out as.
class CheckedOut
{
public:
    CheckedOut(ScratchRepository& scratch, const char* revision)
        : m_scratch(scratch)
    {
        scratch.git({QStringLiteral("worktree"),
                     QStringLiteral("add"),
                     QStringLiteral("-q"),
                     QStringLiteral("--detach"),
                     folder(),
                     QString::fromUtf8(revision)});
    }
    ~CheckedOut()
    {
        m_scratch.git({QStringLiteral("worktree"),
                       QStringLiteral("remove"),
                       QStringLiteral("--force"),
                       folder()});
    }
    [[nodiscard]] QString folder() const { return m_folder.path() + QStringLiteral("/out"); }

private:
    ScratchRepository& m_scratch;
    QTemporaryDir m_folder;
};

struct timespec changedAt(const QString& file)
{
    struct stat status
    {
    };
    ::lstat(QFile::encodeName(file).constData(), &status);
    return status.st_mtim;
}
}  // namespace

class TestLayout : public QObject
{
    Q_OBJECT
private slots:
    void layout_isWhatGitChecksOut();
    void conversions_areGits();
    void secondLayout_writesOnlyWhatDiffers();
    void whatTheCommandChanged_isMadeGood();
    void linksInTheWay_areNotFollowed();
    void foldersAndFiles_changePlaces();
    void attributes_thatChangeWriteAgain();
    void copy_isAPlaceOfItsOwn();
    void submodules_onRequest();
    void cutOffAnywhere_isMadeGood();
    void folderInTheWay_givesPlaceToAFile();
    void randomTrees_areAsGitHasThem();
    void copies_areBounded();
    void copies_belongToOne();
};

void TestLayout::layout_isWhatGitChecksOut()
{
    ScratchRepository scratch;
    scratch.write("a.txt", "one\n");
    scratch.write("deep/er/b.sh", "#!/bin/sh\n");
    QFile::setPermissions(scratch.filePath("deep/er/b.sh"),
                          QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
    scratch.write("name with blank and \"quote\"\n.txt", "odd\n");
    scratch.write("-dash", "dash\n");
    scratch.write("empty", "");
    scratch.write("bin", QByteArray("\0\xff\r\n", 4));
    QFile::link(QStringLiteral("../a.txt"), scratch.filePath("deep/link"));
    QFile::link(QStringLiteral("/nowhere"), scratch.filePath("dangling"));
    scratch.commit("all kinds");
    const QByteArray before = scratch.fingerprint();
    Copy copy(scratch);
    const auto outcome = copy.layOut("HEAD");
    QVERIFY(outcome);
    QCOMPARE(outcome->files, std::size_t{8});
    QCOMPARE(outcome->written, std::size_t{8});
    const CheckedOut git(scratch, "HEAD");
    QCOMPARE(copy.differencesTo(git.folder()), QStringList());
    QCOMPARE(scratch.fingerprint(), before);
}

void TestLayout::conversions_areGits()
{
    ScratchRepository scratch;
    scratch.git("config filter.up.smudge rev");
    scratch.git("config filter.up.clean rev");
    scratch.write(".gitattributes",
                  "*.crlf text eol=crlf\n*.up filter=up\n*.ident ident\n*.auto text=auto\n"
                  "*.u16 text working-tree-encoding=UTF-16LE\n*.none filter=nobody\n");
    scratch.write("a.crlf", "one\r\ntwo\r\n");
    scratch.write("a.up", "abc\n");
    scratch.write("a.ident", "$Id$\n");
    scratch.write("a.auto", "one\n");
    scratch.write("a.u16", QByteArray("a\0\n\0", 4));
    scratch.write("a.none", "one\n");
    scratch.write("plain", "one\r\n");
    scratch.write("sub/.gitattributes", "b.auto eol=crlf\n");
    scratch.write("sub/b.auto", "one\n");
    scratch.commit("converted");
    {
        Copy copy(scratch);
        QVERIFY(copy.layOut("HEAD"));
        QCOMPARE(copy.read("a.crlf"), QByteArray("one\r\ntwo\r\n"));
        const CheckedOut git(scratch, "HEAD");
        QCOMPARE(copy.differencesTo(git.folder()), QStringList());
    }
    for (const char* setting : {"config core.autocrlf true", "config core.eol crlf"}) {
        scratch.git(setting);
        Copy copy(scratch);
        QVERIFY(copy.layOut("HEAD"));
        const CheckedOut git(scratch, "HEAD");
        QCOMPARE(copy.differencesTo(git.folder()), QStringList());
        scratch.git("config core.autocrlf false");
    }
}

void TestLayout::secondLayout_writesOnlyWhatDiffers()
{
    ScratchRepository scratch;
    scratch.write("stays", "one\n");
    scratch.write("changes", "one\n");
    scratch.write("folder/goes", "one\n");
    scratch.commit("one");
    scratch.write("changes", "two\n");
    scratch.write("comes", "two\n");
    QFile::remove(scratch.filePath("folder/goes"));
    scratch.commit("two");
    Copy copy(scratch);
    QVERIFY(copy.layOut("HEAD~1"));
    copy.write("build/made.o", "object");
    const auto before = changedAt(copy.file("stays"));
    const auto outcome = copy.layOut("HEAD");
    QVERIFY(outcome);
    QCOMPARE(outcome->written, std::size_t{2});
    QCOMPARE(outcome->removed, std::size_t{1});
    QCOMPARE(changedAt(copy.file("stays")).tv_nsec, before.tv_nsec);
    QCOMPARE(copy.read("changes"), QByteArray("two\n"));
    QVERIFY(!QFile::exists(copy.file("folder")));
    QCOMPARE(copy.read("build/made.o"), QByteArray("object"));
    QCOMPARE(copy.layOut("HEAD")->written, std::size_t{0});
}

void TestLayout::whatTheCommandChanged_isMadeGood()
{
    ScratchRepository scratch;
    for (const char* name : {"a", "b", "c", "d/e"}) {
        scratch.write(name, "right\n");
    }
    scratch.commit("right");
    Copy copy(scratch);
    QVERIFY(copy.layOut("HEAD"));
    copy.write("a", "wrong\n");  // of the same size
    QFile::remove(copy.file("b"));
    QFile::remove(copy.file("c"));
    QDir().mkpath(copy.file("c/folder"));
    QFile::setPermissions(copy.file("d/e"), QFile::ReadOwner | QFile::ExeOwner);
    const auto outcome = copy.layOut("HEAD");
    QVERIFY(outcome);
    QCOMPARE(outcome->written, std::size_t{4});
    const CheckedOut git(scratch, "HEAD");
    QCOMPARE(copy.differencesTo(git.folder()), QStringList());
}

void TestLayout::linksInTheWay_areNotFollowed()
{
    ScratchRepository scratch;
    scratch.write("folder/file", "inside\n");
    scratch.write("top", "inside\n");
    scratch.commit("one");
    const QTemporaryDir outside;
    const auto read = [&](const char* name) {
        QFile in(outside.filePath(QString::fromUtf8(name)));
        return in.open(QIODevice::ReadOnly) ? in.readAll() : QByteArray();
    };
    for (const char* name : {"file", "top", "HEAD"}) {
        QFile out(outside.filePath(QString::fromUtf8(name)));
        QVERIFY(out.open(QIODevice::WriteOnly));
        out.write("outside\n");
    }
    Copy copy(scratch);
    QVERIFY(copy.layOut("HEAD"));
    QDir(copy.file("folder")).removeRecursively();
    QDir(copy.file(".git")).removeRecursively();
    QFile::remove(copy.file("top"));
    QVERIFY(QFile::link(outside.path(), copy.file("folder")));
    QVERIFY(QFile::link(outside.path(), copy.file(".git")));
    QVERIFY(QFile::link(outside.filePath(QStringLiteral("top")), copy.file("top")));
    QVERIFY(copy.layOut("HEAD"));
    for (const char* name : {"file", "top", "HEAD"}) {
        QCOMPARE(read(name), QByteArray("outside\n"));
    }
    QCOMPARE(copy.read("folder/file"), QByteArray("inside\n"));
    QVERIFY(!QFileInfo(copy.file(".git")).isSymLink());
}

void TestLayout::foldersAndFiles_changePlaces()
{
    ScratchRepository scratch;
    scratch.write("x", "file\n");
    scratch.write("y/in/it", "file\n");
    scratch.commit("one");
    QFile::remove(scratch.filePath("x"));
    QDir(scratch.filePath("y")).removeRecursively();
    scratch.write("x/now/a", "folder\n");
    scratch.write("y", "file\n");
    scratch.commit("two");
    Copy copy(scratch);
    for (const char* revision : {"HEAD", "HEAD~1", "HEAD", "HEAD~1"}) {
        QVERIFY(copy.layOut(revision));
        const CheckedOut git(scratch, revision);
        QCOMPARE(copy.differencesTo(git.folder()), QStringList());
    }
}

void TestLayout::attributes_thatChangeWriteAgain()
{
    ScratchRepository scratch;
    scratch.write("a.txt", "one\n");
    scratch.commit("one");
    scratch.write(".gitattributes", "*.txt eol=crlf\n");
    scratch.commit("two");
    Copy copy(scratch);
    QVERIFY(copy.layOut("HEAD~1"));
    QCOMPARE(copy.read("a.txt"), QByteArray("one\n"));
    QVERIFY(copy.layOut("HEAD"));
    QCOMPARE(copy.read("a.txt"), QByteArray("one\r\n"));
    QVERIFY(copy.layOut("HEAD~1"));
    QCOMPARE(copy.read("a.txt"), QByteArray("one\n"));
}

void TestLayout::copy_isAPlaceOfItsOwn()
{
    ScratchRepository scratch;
    scratch.write("a", "one\n");
    const QByteArray first = scratch.commit("one");
    scratch.git("tag v1");
    scratch.write("a", "two\n");
    scratch.commit("two");
    const QByteArray before = scratch.fingerprint();
    Copy copy(scratch);
    QVERIFY(copy.layOut("HEAD"));
    QCOMPARE(copy.git(QStringLiteral("status --porcelain")), QByteArray());
    QCOMPARE(copy.git(QStringLiteral("ls-files")), QByteArray("a\n"));
    QVERIFY(copy.git(QStringLiteral("describe --tags")).startsWith("v1-1-g"));
    // What is done there stays there.
    copy.write("a", "three\n");
    (void)copy.git(QStringLiteral("-c user.name=x -c user.email=x commit -qam three"));
    (void)copy.git(QStringLiteral("tag v2"));
    QCOMPARE(scratch.fingerprint(), before);
    QVERIFY(copy.layOut(first));
    QCOMPARE(copy.git(QStringLiteral("rev-parse HEAD")).trimmed(), first);
    QCOMPARE(copy.git(QStringLiteral("status --porcelain")), QByteArray());
}

void TestLayout::submodules_onRequest()
{
    ScratchRepository below;
    below.write("inner.txt", "one\n");
    const QByteArray inner = below.commit("inner");
    ScratchRepository scratch;
    scratch.write("a", "one\n");
    scratch.git({QStringLiteral("-c"),
                 QStringLiteral("protocol.file.allow=always"),
                 QStringLiteral("submodule"),
                 QStringLiteral("--quiet"),
                 QStringLiteral("add"),
                 below.folder(),
                 QStringLiteral("wind")});
    scratch.commit("with submodule");
    Copy copy(scratch);
    QVERIFY(copy.layOut("HEAD"));
    QVERIFY(QFileInfo(copy.file("wind")).isDir());
    QVERIFY(!QFile::exists(copy.file("wind/inner.txt")));
    auto outcome = copy.layOut("HEAD", true);
    QVERIFY(outcome);
    QCOMPARE(copy.read("wind/inner.txt"), QByteArray("one\n"));
    QCOMPARE(outcome->submodules.size(), std::size_t{1});
    QVERIFY(outcome->submodules.front().isAsNamed);
    QCOMPARE(outcome->submodules.front().commit.hex(), inner.toStdString());
    // As it is checked out here, which may be another commit than the one named.
    scratch.git({QStringLiteral("-C"),
                 scratch.filePath("wind"),
                 QStringLiteral("-c"),
                 QStringLiteral("user.name=x"),
                 QStringLiteral("-c"),
                 QStringLiteral("user.email=x"),
                 QStringLiteral("commit"),
                 QStringLiteral("-q"),
                 QStringLiteral("--allow-empty"),
                 QStringLiteral("-m"),
                 QStringLiteral("later")});
    outcome = copy.layOut("HEAD", true);
    QVERIFY(outcome && !outcome->submodules.front().isAsNamed);
    QVERIFY(copy.layOut("HEAD", false));
    QVERIFY(QFileInfo(copy.file("wind")).isDir() && !QFile::exists(copy.file("wind/inner.txt")));
    QVERIFY(copy.layOut("HEAD", true));
    QVERIFY(QFile::exists(copy.file("wind/inner.txt")));
    // Nothing is written or removed where a link leads to.
    const QTemporaryDir outside;
    const QString kept = outside.filePath(QStringLiteral("kept"));
    QVERIFY(QFile(kept).open(QIODevice::WriteOnly));
    QDir(copy.file("wind")).removeRecursively();
    QVERIFY(QFile::link(outside.path(), copy.file("wind")));
    QVERIFY(copy.layOut("HEAD", true));
    QVERIFY(QFile::exists(kept) && !QFileInfo(copy.file("wind")).isSymLink());
    QCOMPARE(QDir(outside.path())
                 .entryList(QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot)
                 .size(),
             1);
    QCOMPARE(copy.read("wind/inner.txt"), QByteArray("one\n"));
    scratch.git("rm -q -f wind");
    scratch.commit("without");
    QVERIFY(copy.layOut("HEAD", true));
    QVERIFY(!QFile::exists(copy.file("wind/inner.txt")));
}

void TestLayout::cutOffAnywhere_isMadeGood()
{
    ScratchRepository scratch;
    for (int i = 0; i < 40; ++i) {
        const QByteArray name = "d" + QByteArray::number(i % 4) + "/f" + QByteArray::number(i);
        scratch.write(name.constData(), "one " + QByteArray::number(i) + "\n");
    }
    scratch.commit("one");
    for (int i = 0; i < 40; i += 2) {
        const QByteArray name = "d" + QByteArray::number(i % 4) + "/f" + QByteArray::number(i);
        scratch.write(name.constData(), "two " + QByteArray::number(i) + "\n");
    }
    QFile::remove(scratch.filePath("d1/f1"));
    scratch.commit("two");
    Copy copy(scratch);
    QVERIFY(copy.layOut("HEAD~1"));
    // What a process that is killed half-way leaves: some paths are said to be unknown, files are half there.
    auto list = readLaidOut(copy.path() + "/laid-out");
    QVERIFY(list && list->files.size() == 40);
    std::vector<RepoPath> changing{"d9/of-the-tree-between"};
    copy.write("d9/of-the-tree-between", "half");
    for (std::size_t i = 0; i < list->files.size(); i += 3) {
        changing.push_back(list->files[i].path);
        copy.write(list->files[i].path.c_str(), i % 2 == 0 ? "" : "half");
    }
    QVERIFY(writeChanging(copy.path() + "/laid-out-changing", changing));
    copy.write(".git/index.lock", "");
    QVERIFY(copy.layOut("HEAD"));
    const CheckedOut git(scratch, "HEAD");
    QCOMPARE(copy.differencesTo(git.folder()), QStringList());
    // A list that is damaged, or gone: all is written again.
    QFile::resize(QString::fromStdString(copy.path() + "/laid-out"), 100);
    QCOMPARE(copy.layOut("HEAD")->written, std::size_t{39});
    copy.stop();
    QFile::remove(QString::fromStdString(copy.path() + "/laid-out"));
    const auto stopped = copy.layOut("HEAD");
    QVERIFY(!stopped);
    QCOMPARE(stopped.error().code, ErrorCode::cancelled);
}

/// What a command has left where a file is to be, deep in the tree.
void TestLayout::folderInTheWay_givesPlaceToAFile()
{
    ScratchRepository scratch;
    scratch.write("deep/er/a", "one\n");
    scratch.commit("first");
    Copy copy(scratch);
    QVERIFY(copy.layOut("HEAD"));
    QVERIFY(QDir().mkpath(copy.file("deep/er/b/left")));
    scratch.write("deep/er/b", "two\n");
    scratch.write("deep/er/c", "three\n");
    scratch.commit("second");
    const auto outcome = copy.layOut("HEAD");
    QVERIFY2(outcome, outcome ? "" : outcome.error().detail.c_str());
    QCOMPARE(copy.read("deep/er/b"), QByteArray("two\n"));
    QCOMPARE(copy.read("deep/er/c"), QByteArray("three\n"));
}

void TestLayout::randomTrees_areAsGitHasThem()
{
    const quint32 seed = QRandomGenerator::global()->generate();
    qInfo("seed %u", seed);
    QRandomGenerator random(seed);
    ScratchRepository scratch;
    const auto name = [&random] {
        QByteArray path;
        for (auto depth = random.bounded(3); depth >= 0; --depth) {
            path += QByteArray("/") + QByteArray("abc").mid(random.bounded(3), 1);
        }
        return path.mid(1);
    };
    Copy copy(scratch);
    for (int round = 0; round < 25; ++round) {
        for (int edit = 0; edit < 6; ++edit) {
            const QByteArray path = name();
            const QString file = scratch.filePath(path.constData());
            if (QFileInfo(file).isDir() && !QFileInfo(file).isSymLink()) {
                QDir(file).removeRecursively();
            } else {
                QFile::remove(file);
            }
            for (auto slash = path.indexOf('/'); slash >= 0; slash = path.indexOf('/', slash + 1)) {
                const QString parent = scratch.filePath(path.left(slash).constData());
                if (QFileInfo(parent).isSymLink() || QFileInfo(parent).isFile()) {
                    QFile::remove(parent);
                }
            }
            if (random.bounded(4) == 0) {
                QDir().mkpath(QFileInfo(file).path());
                QFile::link(QStringLiteral("b"), file);
            } else if (random.bounded(4) > 0) {
                scratch.write(path.constData(), QByteArray::number(random.bounded(5)));
            }
        }
        scratch.commit("round");
        if (random.bounded(2) == 0) {
            QFile::remove(copy.file(name().constData()));
        }
        const auto outcome = copy.layOut("HEAD");
        QVERIFY2(outcome, outcome ? "" : outcome.error().detail.c_str());
        const CheckedOut git(scratch, "HEAD");
        QCOMPARE(copy.differencesTo(git.folder()), QStringList());
    }
}

void TestLayout::copies_areBounded()
{
    const QTemporaryDir root;
    const std::string folder = root.path().toStdString();
    for (int i = 0; i < 6; ++i) {
        const std::string name = "copy" + std::to_string(i);
        QVERIFY(takeScratchCopy(folder, name));
        const utimbuf past{1'000'000 + i, ::time(nullptr) - 1000 * (10 - i)};
        ::utime((folder + "/" + name + "/used").c_str(), &past);
    }
    QDir(root.path()).mkpath(QStringLiteral("removing-copy9/left"));
    CopyLimits limits;
    limits.mostCopies = 4;
    QCOMPARE(removeOldCopies(folder, limits), std::size_t{4});
    QVERIFY(!QFile::exists(root.filePath(QStringLiteral("copy0"))));
    QVERIFY(!QFile::exists(root.filePath(QStringLiteral("copy1"))));
    QVERIFY(!QFile::exists(root.filePath(QStringLiteral("removing-copy9"))));
    limits.mostAgeSeconds = 7500;
    QCOMPARE(removeOldCopies(folder, limits), std::size_t{3});
    const auto held = takeScratchCopy(folder, "copy3");
    QVERIFY(held);
    limits.mostBytes = 0;
    QCOMPARE(removeOldCopies(folder, limits), std::size_t{1});  // it is in use
    QVERIFY(QFile::exists(root.filePath(QStringLiteral("copy3"))));
    QCOMPARE(removeOldCopies(folder + "/nowhere", limits), std::size_t{0});
}

void TestLayout::copies_belongToOne()
{
    const QTemporaryDir root;
    const auto first = takeScratchCopy(root.path().toStdString(), "one");
    QVERIFY(first);
    const auto second = takeScratchCopy(root.path().toStdString(), "one");
    QVERIFY(!second);
    QCOMPARE(second.error().reason, Reason::copyInUse);
    QVERIFY(takeScratchCopy(root.path().toStdString(), "two"));
}

ROPE_TESTS(TestLayout, QCoreApplication)
#include "tst_layout.moc"
