// SPDX-License-Identifier: GPL-3.0-or-later
// Small parts of trees on the place in memory: names beside others, overlays, edited trees, differences.
#include "core/snapshot/names_beside.h"
#include "core/snapshot/overlay.h"
#include "core/snapshot/tree_changes.h"
#include "core/system/memory/memory_place.h"
#include "core/system/tree_difference.h"
#include "tests/support/test_program.h"

#include <QTest>

#include <algorithm>
#include <set>

using namespace rope;

namespace {
NamesBeside namesWithout(std::set<RepoPath> taken)
{
    return NamesBeside([taken = std::move(taken)](const RepoPath& path) -> Result<bool> {
        return taken.contains(path);
    });
}

/// "path+" added, "path-" gone, "path~" changed.
QByteArray inShort(const std::vector<FileChange>& changes)
{
    QByteArrayList words;
    for (const FileChange& change : changes) {
        words << QByteArray::fromStdString(change.path)
                     + (!change.before  ? "+"
                        : !change.after ? "-"
                                        : "~");
    }
    return words.join(' ');
}
}  // namespace

class TestNamesAndTrees : public QObject
{
    Q_OBJECT
private slots:
    void names_keepTheExtension_data();
    void names_keepTheExtension();
    void names_takenOrGiven_areNotGivenAgain();
    void names_failingCheck_isTold();
    void difference_tellsFilesOnly();
    void editedTree_fileAgainstFolder_isRefused();
    void editedTree_emptiedFolders_areGone();
    void overlay_findsBoth_writesNothingBelow();
    void overlay_eachOne_isToldHeldOrNot();
    void overlay_wrongKind_isCorrupt();
    void readAhead_readsWhatDiffers_once();
};

void TestNamesAndTrees::names_keepTheExtension_data()
{
    QTest::addColumn<QByteArray>("path");
    QTest::addColumn<QByteArray>("ours");
    QTest::addColumn<QByteArray>("gitName");
    const auto row = [](const char* path, const char* ours, const char* gitName) {
        QTest::newRow(path) << QByteArray(path) << QByteArray(ours) << QByteArray(gitName);
    };
    row("docs/lock-diagram.png", "docs/lock-diagram.ours.png", "docs/lock-diagram.png~ours");
    row("Makefile", "Makefile.ours", "Makefile~ours");
    row("v1.2/run", "v1.2/run.ours", "v1.2/run~ours");
    row(".gitignore", ".gitignore.ours", ".gitignore~ours");
    row("a/.hidden.toml", "a/.hidden.ours.toml", "a/.hidden.toml~ours");
    row("archive.tar.gz", "archive.tar.ours.gz", "archive.tar.gz~ours");
    row("ends.", "ends.ours.", "ends.~ours");
}

void TestNamesAndTrees::names_keepTheExtension()
{
    QFETCH(QByteArray, path);
    QFETCH(QByteArray, ours);
    QFETCH(QByteArray, gitName);
    NamesBeside names = namesWithout({});
    const NameBeside made = names.make(path.toStdString(), Side::ours).value();
    QCOMPARE(QByteArray::fromStdString(made.path), ours);
    QCOMPARE(QByteArray::fromStdString(made.gitName), gitName);
}

void TestNamesAndTrees::names_takenOrGiven_areNotGivenAgain()
{
    NamesBeside names = namesWithout({"a.theirs.b", "a.b~theirs"});
    std::set<RepoPath> seen;
    for (int i = 0; i < 4; ++i) {
        const NameBeside made = names.make("a.b", Side::theirs).value();
        QVERIFY(seen.insert(made.path).second);
        QVERIFY(seen.insert(made.gitName).second);
    }
    QVERIFY(!seen.contains("a.theirs.b") && !seen.contains("a.b~theirs"));
    QVERIFY(seen.contains("a.theirs-2.b") && seen.contains("a.b~theirs_1"));
}

void TestNamesAndTrees::names_failingCheck_isTold()
{
    NamesBeside names([](const RepoPath& path) -> Result<bool> {
        return Error{ErrorCode::io, path, {}};
    });
    QCOMPARE(names.make("a", Side::ours).error().code, ErrorCode::io);
}

void TestNamesAndTrees::difference_tellsFilesOnly()
{
    MemoryPlace place;
    const ObjectId before =
        place.makeTree({}, {{"a", "1"}, {"d/x", "1"}, {"d/y", "1"}, {"same/z", "1"}});
    const ObjectId after = place.makeTree(
        before, {{"a", "2"}, {"d/x", std::nullopt}, {"d/y", std::nullopt}, {"d", "now a file"}});
    QCOMPARE(inShort(*treeDifference(place, before, after)), QByteArray("a~ d+ d/x- d/y-"));
    QCOMPARE(inShort(*treeDifference(place, after, before)), QByteArray("a~ d- d/x+ d/y+"));
    QVERIFY(treeDifference(place, before, before)->empty());
    QCOMPARE(treeDifference(place, {}, before)->size(), std::size_t{4});
}

void TestNamesAndTrees::editedTree_fileAgainstFolder_isRefused()
{
    MemoryPlace place;
    const ObjectId tree = place.makeTree({}, {{"d/x", "1"}});
    const auto bytes = std::make_shared<const std::string>("file");
    const auto clash =
        place.storeTree({tree, {{"d", FileVersion{}, bytes}, {"d/y", FileVersion{}, bytes}}});
    QVERIFY(!clash);
    QCOMPARE(clash.error().code, ErrorCode::invalidInput);
    QCOMPARE(clash.error().subject, std::string("d"));
    // In place of the folder it is fine.
    const auto replaced =
        place.storeTree({tree, {{"d/x", {}, nullptr}, {"d", FileVersion{}, bytes}}});
    QVERIFY(replaced);
    QCOMPARE(inShort(*treeDifference(place, tree, *replaced)), QByteArray("d+ d/x-"));
}

void TestNamesAndTrees::editedTree_emptiedFolders_areGone()
{
    MemoryPlace place;
    const ObjectId tree = place.makeTree({}, {{"a", "1"}, {"deep/er/est/x", "1"}});
    const ObjectId without = place.makeTree(tree, {{"deep/er/est/x", std::nullopt}});
    QVERIFY(without == place.makeTree({}, {{"a", "1"}}));
    const ObjectId ids[] = {without};
    QCOMPARE(place.readTrees(ids)->front()->size(), std::size_t{1});
}

void TestNamesAndTrees::overlay_findsBoth_writesNothingBelow()
{
    MemoryPlace place;
    const ObjectId tree = place.makeTree({}, {{"a", "stored"}, {"d/b", "stored too"}});
    const MemoryState before = place.state();
    Overlay overlay(place);
    QVERIFY(overlay.held().isEmpty());
    const ObjectId blob = overlay.holdBlob("held");
    const TreeEdit edits[] = {{"a", FileVersion{EntryKind::file, blob}}};
    const ObjectId held = overlay.holdEditedTree(tree, edits).value();
    QVERIFY(!overlay.isStored(held) && !overlay.isStored(blob) && overlay.isStored(tree));
    const ObjectId trees[] = {tree, held};
    const auto read = overlay.readTrees(trees);
    QVERIFY(read);
    QVERIFY(read->at(0)->front().id != read->at(1)->front().id);
    const ObjectId blobs[] = {read->at(0)->front().id, blob};
    const auto contents = overlay.readBlobs(blobs, kAnySize);
    QCOMPARE(*contents->at(0), std::string("stored"));
    QCOMPARE(*contents->at(1), std::string("held"));
    QVERIFY((*overlay.blobSizes(blobs) == std::vector<std::uint64_t>{6, 4}));
    QVERIFY(overlay.readBlobs(blobs, 5)->at(0) == nullptr);
    QVERIFY(place.state().blobs.size() == before.blobs.size());
    QVERIFY(place.state().trees.size() == before.trees.size());
    // What is held is a value: another overlay can be laid with it.
    Overlay again(place, overlay.held());
    QVERIFY(again.readTrees(trees).hasValue());
    QVERIFY(!place.readTrees(trees).hasValue());
}

void TestNamesAndTrees::overlay_eachOne_isToldHeldOrNot()
{
    MemoryPlace place;
    const ObjectId tree =
        place.makeTree({}, {{"a", "1"}, {"d/b", "2"}, {"d/e/c", "3"}, {"f/g", "4"}});
    Overlay overlay(place);
    const ObjectId blob = overlay.holdBlob("held");
    const TreeEdit edits[] = {{"d/b", FileVersion{EntryKind::file, blob}}};
    const ObjectId changed[] = {overlay.holdEditedTree(tree, edits).value()};
    std::vector<ObjectId> files;
    QByteArrayList names;
    // Held folders lead to stored ones: d/e and f are the place's own.
    QVERIFY(overlay.eachTree(
        changed, [&](const ObjectId&, const TreeEntries& entries, std::vector<ObjectId>& more) {
            for (const TreeEntry& entry : *entries) {
                (entry.kind == EntryKind::folder ? more : files).push_back(entry.id);
                names << QByteArray::fromStdString(entry.name);
            }
            return ok();
        }));
    std::sort(names.begin(), names.end());
    QCOMPARE(names.join(' '), QByteArray("a b c d e f g"));
    files.push_back(blob);
    files.insert(files.begin(), blob);
    QByteArrayList told;
    const auto read = [&](std::uint64_t mostBytes) {
        told.clear();
        return overlay.eachBlob(files, mostBytes, [&](std::size_t at, const BlobBytes& bytes) {
            told << QByteArray::number(qulonglong(at)) + ":"
                        + (bytes ? QByteArray::fromStdString(*bytes) : QByteArray("-"));
            return ok();
        });
    };
    QVERIFY(read(kAnySize));
    QCOMPARE(told.first() + " " + told.last(), QByteArray("0:held 5:held"));
    QCOMPARE(told.size(), 6);
    QVERIFY(std::is_sorted(told.begin(), told.end()));
    QVERIFY(read(3));
    QCOMPARE(told.first() + " " + told.last(), QByteArray("0:- 5:-"));
}

/// A place that notes which folders it is asked for.
class NotingPlace final : public MemoryPlace
{
public:
    Result<std::vector<TreeEntries>> readTrees(std::span<const ObjectId> ids) override
    {
        asked.insert(asked.end(), ids.begin(), ids.end());
        return MemoryPlace::readTrees(ids);
    }
    std::vector<ObjectId> asked;
};

void TestNamesAndTrees::readAhead_readsWhatDiffers_once()
{
    NotingPlace place;
    const ObjectId one = place.makeTree({}, {{"same/x", "1"}, {"d/e/a", "1"}, {"d/f/a", "1"}});
    const ObjectId two = place.makeTree(one, {{"d/e/a", "2"}, {"new/y", "1"}});
    const ObjectId three = place.makeTree(one, {{"d/e/a", "3"}});
    place.asked.clear();
    const ObjectId trees[] = {one, two, three};
    QVERIFY(readAhead(place, trees));
    // The roots, d and d/e of each, and what one of them has besides; neither same nor d/f.
    QCOMPARE(place.asked.size(), std::size_t{10});
    QCOMPARE(std::set<ObjectId>(place.asked.begin(), place.asked.end()).size(), std::size_t{10});
    const ObjectId missing[] = {one, *ObjectId::fromHex(std::string(40, 'a'))};
    QVERIFY(!readAhead(place, missing));
    std::stop_source stop;
    stop.request_stop();
    QCOMPARE(readAhead(place, trees, stop.get_token()).error().code, ErrorCode::cancelled);
    QCOMPARE(treeChanges(place, {one, {two, three}}, stop.get_token()).error().code,
             ErrorCode::cancelled);
}

void TestNamesAndTrees::overlay_wrongKind_isCorrupt()
{
    MemoryPlace place;
    Overlay overlay(place);
    const ObjectId blob[] = {overlay.holdBlob("bytes")};
    const ObjectId tree[] = {overlay.holdTree({})};
    QCOMPARE(overlay.readTrees(blob).error().code, ErrorCode::corrupt);
    QCOMPARE(overlay.readBlobs(tree, kAnySize).error().code, ErrorCode::corrupt);
    const auto anyTree = [](const ObjectId&, const TreeEntries&, std::vector<ObjectId>&) {
        return ok();
    };
    QCOMPARE(overlay.eachTree(blob, anyTree).error().code, ErrorCode::corrupt);
    const auto anyBlob = [](std::size_t, const BlobBytes&) {
        return ok();
    };
    QCOMPARE(overlay.eachBlob(tree, kAnySize, anyBlob).error().code, ErrorCode::corrupt);
}

ROPE_TESTS(TestNamesAndTrees, QCoreApplication)
#include "tst_names_and_trees.moc"
