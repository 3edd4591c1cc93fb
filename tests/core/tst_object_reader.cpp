// SPDX-License-Identifier: GPL-3.0-or-later
// Many objects read while they come, through one git process and through two.
#include "core/base/process_tree.h"
#include "core/system/git/git_place.h"
#include "tests/support/scratch_repository.h"
#include "tests/support/test_program.h"

#include <QTest>

#include <algorithm>
#include <csignal>
#include <map>
#include <unistd.h>

using namespace rope;
using rope::test::ScratchRepository;

namespace {
/// Enough for a second process to be worth its start.
constexpr std::size_t kMany = 1'500;

/// So many bytes that each is known by its place; every hundredth is large.
std::string contentOf(std::size_t place)
{
    return "content " + std::to_string(place) + "\n"
           + std::string(place % 100 == 7 ? 300'000 : place % 50, 'x');
}

/// A tree with one file in each of many folders; its id.
ObjectId storedTree(Place& place)
{
    ResultSnapshot result;
    for (std::size_t i = 0; i < kMany; ++i) {
        const RepoPath path = "d" + std::to_string(10'000 + i) + "/f";
        result.edits.push_back(
            {path, FileVersion{}, std::make_shared<const std::string>(contentOf(i))});
    }
    return place.storeTree(result).value();
}

/// Kills what this process has started; how many that were.
std::size_t killReaders()
{
    std::size_t killed = 0;
    for (const RunningProcess& process : runningProcesses()) {
        if (process.parent == ::getpid()) {
            killed += ::kill(process.id, SIGKILL) == 0 ? 1U : 0U;
        }
    }
    return killed;
}
}  // namespace

class TestObjectReader : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void contents_ofMany_standInOrder();
    void contents_tooLarge_areLeftOut();
    void more_isReadAsWell();
    void missing_isNamed_andTheNextCallWorks();
    void errorOfTheSink_endsIt_andTheNextCallWorks();
    void killedBetweenQuestions_isStartedAnew();
    void killedWhileReading_isNoDamage();
    void eachTree_tellsEachFolder_readBeforeOrNot();
    void eachBlob_keepsTheOrder_readBeforeOrNot();

private:
    [[nodiscard]] std::unique_ptr<GitPlace> open() const
    {
        return std::move(GitPlace::open(m_scratch.path())).value();
    }

    ScratchRepository m_scratch;
    ObjectId m_tree;
    std::vector<ObjectId> m_blobs;  ///< By place.
};

void TestObjectReader::initTestCase()
{
    const auto place = open();
    m_tree = storedTree(*place);
    const ObjectId root[] = {m_tree};
    std::vector<ObjectId> folders;
    const auto roots = place->readTrees(root);
    for (const TreeEntry& entry : *roots->front()) {
        folders.push_back(entry.id);
    }
    const auto inEach = place->readTrees(folders);
    for (const TreeEntries& entries : *inEach) {
        m_blobs.push_back(entries->front().id);
    }
    QCOMPARE(m_blobs.size(), kMany);
}

void TestObjectReader::contents_ofMany_standInOrder()
{
    const GitProcess git(m_scratch.path());
    ObjectReader reader(git);
    const auto objects = reader.contents(m_blobs);
    QVERIFY(objects);
    QCOMPARE(objects->size(), kMany);
    for (std::size_t i = 0; i < kMany; ++i) {
        QVERIFY(objects->at(i).id == m_blobs[i]);
        QVERIFY(objects->at(i).bytes == contentOf(i));
    }
}

void TestObjectReader::contents_tooLarge_areLeftOut()
{
    const GitProcess git(m_scratch.path());
    ObjectReader reader(git);
    const auto objects = reader.contents(m_blobs, 1'000);
    QVERIFY(objects);
    for (std::size_t i = 0; i < kMany; ++i) {
        const std::string content = contentOf(i);
        QCOMPARE(objects->at(i).size, content.size());
        QVERIFY(objects->at(i).bytes == (content.size() > 1'000 ? std::string() : content));
    }
}

/// What is asked for on the way comes behind all else, in the order in which it was asked for.
void TestObjectReader::more_isReadAsWell()
{
    const GitProcess git(m_scratch.path());
    ObjectReader reader(git);
    std::vector<ObjectId> told;
    const auto first = std::span(m_blobs).first(3);
    const auto read = reader.eachContent(
        first, kAnySize, [&](ObjectReader::Object&& object, std::vector<ObjectId>& more) -> Status {
            told.push_back(object.id);
            // Each brings one or two further ones, until there are no more.
            for (const std::size_t next : {3 * told.size(), 3 * told.size() + 1}) {
                if (next < kMany) {
                    more.push_back(m_blobs[next]);
                }
            }
            return ok();
        });
    QVERIFY(read);
    std::vector<ObjectId> expected(first.begin(), first.end());
    for (std::size_t i = 1; i <= expected.size(); ++i) {
        for (const std::size_t next : {3 * i, 3 * i + 1}) {
            if (next < kMany) {
                expected.push_back(m_blobs[next]);
            }
        }
    }
    QVERIFY(told == expected);
    QVERIFY(told.size() > 900);
}

void TestObjectReader::missing_isNamed_andTheNextCallWorks()
{
    const GitProcess git(m_scratch.path());
    ObjectReader reader(git);
    std::vector<ObjectId> ids = m_blobs;
    const ObjectId missing = *ObjectId::fromHex(std::string(40, 'a'));
    ids[kMany / 2] = missing;
    const auto objects = reader.contents(ids);
    QVERIFY(!objects);
    QCOMPARE(objects.error().code, ErrorCode::notFound);
    QCOMPARE(objects.error().subject, missing.hex());
    QCOMPARE(reader.contents(m_blobs)->size(), kMany);
}

void TestObjectReader::errorOfTheSink_endsIt_andTheNextCallWorks()
{
    const auto place = open();
    const auto read =
        place->eachBlob(m_blobs, kAnySize, [](std::size_t at, const BlobBytes&) -> Status {
            return at < 5 ? ok() : Error{ErrorCode::cancelled, {}, {}};
        });
    QVERIFY(!read);
    QCOMPARE(read.error().code, ErrorCode::cancelled);
    QVERIFY(*place->readBlobs(m_blobs, kAnySize)->back() == contentOf(kMany - 1));
}

void TestObjectReader::killedWhileReading_isNoDamage()
{
    const GitProcess git(m_scratch.path());
    ObjectReader reader(git);
    std::size_t told = 0;
    const auto read = reader.eachContent(
        m_blobs, kAnySize, [&told](ObjectReader::Object&&, std::vector<ObjectId>&) -> Status {
            if (++told == 10) {
                (void)killReaders();
            }
            return ok();
        });
    QVERIFY(!read);
    QCOMPARE(read.error().reason, Reason::readerKilled);
    QCOMPARE(reader.contents(m_blobs)->size(), kMany);
}

void TestObjectReader::killedBetweenQuestions_isStartedAnew()
{
    const GitProcess git(m_scratch.path());
    ObjectReader reader(git);
    QCOMPARE(reader.contents(m_blobs)->size(), kMany);
    QCOMPARE(killReaders(), std::size_t{2});
    QTRY_VERIFY(reader.contents(m_blobs).hasValue());
    QCOMPARE(reader.contents(m_blobs)->size(), kMany);
}

void TestObjectReader::eachTree_tellsEachFolder_readBeforeOrNot()
{
    const auto place = open();
    const ObjectId root[] = {m_tree};
    for (const char* const when : {"fresh", "all read before"}) {
        std::map<ObjectId, int> told;
        std::size_t files = 0;
        const auto walked = place->eachTree(
            root, [&](const ObjectId& id, const TreeEntries& entries, std::vector<ObjectId>& more) {
                ++told[id];
                for (const TreeEntry& entry : *entries) {
                    if (entry.kind == EntryKind::folder) {
                        more.push_back(entry.id);
                    } else {
                        ++files;
                    }
                }
                return ok();
            });
        QVERIFY2(walked, when);
        QCOMPARE(files, kMany);
        QCOMPARE(told.size(), kMany + 1);
        QVERIFY2(std::all_of(told.begin(), told.end(), [](const auto& t) { return t.second == 1; }),
                 when);
    }
    const ObjectId blob[] = {m_blobs.front()};
    const auto wrong = open()->eachTree(blob, [](const auto&, const auto&, auto&) { return ok(); });
    QVERIFY(!wrong);
    QCOMPARE(wrong.error().code, ErrorCode::corrupt);
}

void TestObjectReader::eachBlob_keepsTheOrder_readBeforeOrNot()
{
    const auto place = open();
    std::vector<ObjectId> some;
    for (std::size_t i = 0; i < kMany; i += 3) {
        some.push_back(m_blobs[i]);
    }
    QVERIFY(place->readBlobs(some, kAnySize));  // a third of them is known from here on
    std::size_t next = 0;
    const auto read =
        place->eachBlob(m_blobs, 200'000, [&](std::size_t at, const BlobBytes& bytes) -> Status {
            const std::string content = contentOf(at);
            const bool isAsExpected =
                content.size() > 200'000 ? bytes == nullptr : bytes && *bytes == content;
            return at == next++ && isAsExpected ? ok()
                                                : Error{ErrorCode::corrupt, std::to_string(at), {}};
        });
    QVERIFY2(read, read ? "" : read.error().subject.c_str());
    QCOMPARE(next, kMany);
}

ROPE_TESTS(TestObjectReader, QCoreApplication)
#include "tst_object_reader.moc"
