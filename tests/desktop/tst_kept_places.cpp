// SPDX-License-Identifier: GPL-3.0-or-later
// Places that serve more than one answer.
#include "desktop/course/kept_places.h"
#include "tests/support/scratch_repository.h"
#include "tests/support/test_program.h"

#include <QTest>

#include <algorithm>
#include <string>

using namespace rope;
using rope::test::ScratchRepository;

class TestKeptPlaces : public QObject
{
    Q_OBJECT
private slots:
    void used_isKept_andSeesWhatCameSince();
    void failed_isNotKept();
    void letGo_meansThoseInUseToo();
    void otherPermissions_areAnotherPlace();
    void severalAtOnce_haveOneEach_andFewAreKept();
};

namespace {
const auto kNothing = [](Place&) {
    return ok();
};

Result<ObjectId> tipOf(KeptPlaces& kept, const ScratchRepository& scratch)
{
    return kept.use(scratch.path(), {}, [](Place& place) { return place.resolveCommit("main"); });
}
}  // namespace

void TestKeptPlaces::used_isKept_andSeesWhatCameSince()
{
    ScratchRepository scratch;
    KeptPlaces kept;
    const QByteArray first = scratch.commit("first");
    QCOMPARE(tipOf(kept, scratch)->hex(), first.toStdString());
    QCOMPARE(kept.count(), std::size_t{1});
    const QByteArray second = scratch.commit("second");
    scratch.git("gc -q --prune=now");
    QCOMPARE(tipOf(kept, scratch)->hex(), second.toStdString());
    QCOMPARE(kept.count(), std::size_t{1});
}

void TestKeptPlaces::failed_isNotKept()
{
    ScratchRepository scratch;
    KeptPlaces kept;
    QCOMPARE(tipOf(kept, scratch).error().code, ErrorCode::notFound);
    QCOMPARE(kept.count(), std::size_t{0});
    QCOMPARE(kept.use("/no/such/folder", {}, kNothing).error().code, ErrorCode::notFound);
    QVERIFY(kept.use(scratch.path(), {}, kNothing));
    QCOMPARE(kept.count(), std::size_t{1});
    QVERIFY(!tipOf(kept, scratch));
    QCOMPARE(kept.count(), std::size_t{0});
}

void TestKeptPlaces::letGo_meansThoseInUseToo()
{
    ScratchRepository scratch;
    KeptPlaces kept;
    QVERIFY(kept.use(scratch.path(), {}, kNothing));
    kept.letGo();
    QCOMPARE(kept.count(), std::size_t{0});
    QVERIFY(kept.use(scratch.path(), {}, [&](Place&) {
        kept.letGo();
        return ok();
    }));
    QCOMPARE(kept.count(), std::size_t{0});
}

void TestKeptPlaces::otherPermissions_areAnotherPlace()
{
    ScratchRepository scratch;
    KeptPlaces kept;
    QVERIFY(kept.use(scratch.path(), {}, kNothing));
    QVERIFY(kept.use(scratch.path(), {true, {}, false}, kNothing));
    QCOMPARE(kept.count(), std::size_t{2});
    QVERIFY(kept.use(scratch.path(), {true, {}, false}, kNothing));
    QCOMPARE(kept.count(), std::size_t{2});
}

void TestKeptPlaces::severalAtOnce_haveOneEach_andFewAreKept()
{
    ScratchRepository scratch;
    KeptPlaces kept;
    std::vector<const Place*> inUse;
    const std::function<Status(int)> useDeeper = [&](int depth) -> Status {
        return kept.use(scratch.path(), {}, [&, depth](Place& place) {
            inUse.push_back(&place);
            return depth > 1 ? useDeeper(depth - 1) : ok();
        });
    };
    QVERIFY(useDeeper(5));
    std::sort(inUse.begin(), inUse.end());
    QVERIFY(std::unique(inUse.begin(), inUse.end()) == inUse.end());
    QCOMPARE(kept.count(), std::size_t{3});
}

ROPE_TESTS(TestKeptPlaces, QCoreApplication)
#include "tst_kept_places.moc"
