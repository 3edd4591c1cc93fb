// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/system/git/local_programs.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

namespace {
/// As git lists it: scope, then key and value, each with a NUL behind.
std::string listed(std::initializer_list<std::array<const char*, 3>> entries)
{
    std::string bytes;
    for (const auto& [scope, key, value] : entries) {
        bytes.append(scope).append(1, '\0').append(key).append(1, '\n').append(value).append(1,
                                                                                             '\0');
    }
    return bytes;
}
}  // namespace

class TestLocalPrograms : public QObject
{
    Q_OBJECT
private slots:
    void ofThePerson_areTrusted();
    void ofTheRepository_areLocked();
    void allowed_byCommandOrAll();
    void promisor_isFound();
    void cutOff_isNothing();
};

void TestLocalPrograms::ofThePerson_areTrusted()
{
    const auto programs = LocalPrograms::parse(listed({{"global", "filter.lfs.clean", "lfs %f"},
                                                       {"system", "merge.x.driver", "join"},
                                                       {"command", "core.fsmonitor", "watch"}}),
                                               {});
    QVERIFY(programs);
    QVERIFY(programs->lockedFilters().empty());
    QVERIFY(programs->overrides().empty());
    QVERIFY(programs->isAllowed(*programs->value("merge.x.driver")));
}

void TestLocalPrograms::ofTheRepository_areLocked()
{
    const auto programs = LocalPrograms::parse(listed({{"global", "filter.a=b.clean", "good"},
                                                       {"local", "filter.a=b.clean", "bad"},
                                                       {"worktree", "core.fsmonitor", "bad"},
                                                       {"local", "merge.x.driver", "bad"}}),
                                               {});
    QVERIFY(programs);
    QCOMPARE(programs->lockedFilters().at("a=b"), std::string("bad"));
    QVERIFY(!programs->isAllowed(*programs->value("merge.x.driver")));
    const Environment overrides = programs->overrides();
    QVERIFY(std::find(overrides.begin(),
                      overrides.end(),
                      std::pair<std::string, std::string>("core.fsmonitor", "false"))
            != overrides.end());
    QVERIFY(std::find(overrides.begin(),
                      overrides.end(),
                      std::pair<std::string, std::string>("filter.a=b.required", "false"))
            != overrides.end());
}

void TestLocalPrograms::allowed_byCommandOrAll()
{
    const std::string bytes =
        listed({{"local", "filter.x.process", "p"}, {"local", "merge.x.driver", "d"}});
    const auto one = LocalPrograms::parse(bytes, {false, {"d"}});
    QVERIFY(one->isAllowed(*one->value("merge.x.driver")));
    QCOMPARE(one->lockedFilters().size(), std::size_t{1});
    const auto all = LocalPrograms::parse(bytes, {true, {}});
    QVERIFY(all->lockedFilters().empty());
}

void TestLocalPrograms::promisor_isFound()
{
    QCOMPARE(LocalPrograms::parse(listed({{"local", "remote.up.stream.promisor", "true"}}), {})
                 ->promisorRemote(),
             std::string("up.stream"));
    QVERIFY(LocalPrograms::parse(listed({{"local", "remote.x.promisor", "false"}}), {})
                ->promisorRemote()
                .empty());
}

void TestLocalPrograms::cutOff_isNothing()
{
    const std::string whole =
        listed({{"local", "filter.x.clean", "c"}, {"global", "merge.y.driver", "d"}});
    for (std::size_t size = 0; size < whole.size(); ++size) {
        const auto parsed = LocalPrograms::parse(std::string_view(whole).substr(0, size), {});
        const bool endsWithAnEntry =
            size == 0
            || std::count(whole.begin(), whole.begin() + static_cast<std::ptrdiff_t>(size), '\0')
                       % 2
                   == 0;
        QVERIFY(!parsed || (endsWithAnEntry && (size == 0 || whole[size - 1] == '\0')));
    }
}

ROPE_TESTS(TestLocalPrograms, QCoreApplication)
#include "tst_local_programs.moc"
