// SPDX-License-Identifier: GPL-3.0-or-later
// What is proposed for each conflict of a merge before anybody has decided anything.
#include "core/decide/effort.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

namespace {
class Scene
{
public:
    Scene& text(const char* path, std::string base, std::string ours, std::string theirs)
    {
        FileOutcome file;
        file.path = file.oursPath = file.theirsPath = file.basePath = path;
        file.text = std::make_shared<const TextJoin>(
            std::move(joinTexts(std::move(base), std::move(ours), std::move(theirs))).value());
        file.ours = file.theirs = file.base = FileVersion{};
        m_join->files.push_back(std::move(file));
        return *this;
    }
    Scene& question(const char* path)
    {
        FileOutcome gone;
        gone.path = gone.oursPath = gone.basePath = path;
        gone.base = gone.ours =
            FileVersion{EntryKind::file, *ObjectId::fromHex(std::string(40, 'a'))};
        gone.kind = OutcomeKind::modifyDelete;
        gone.question = FileQuestion{
            QuestionKind::deletedByTheirs,
            {{FileChoice::ours, {{path, *gone.ours, false}}}, {FileChoice::theirs, {}}}};
        m_join->files.push_back(std::move(gone));
        return *this;
    }
    [[nodiscard]] std::optional<Effort> effort(const std::stop_token& stop = {}) const
    {
        return effortOf(m_join, stop);
    }

private:
    std::shared_ptr<Join> m_join = std::make_shared<Join>();
};
}  // namespace

class TestEffort final : public QObject
{
    Q_OBJECT
private slots:
    void eachConflict_isCountedByWhatStandsFirst();
    void tooManyRegions_orAStop_giveNothing();
};

void TestEffort::eachConflict_isCountedByWhatStandsFirst()
{
    Scene scene;
    scene.text("clean.txt", "a\nb\nc\nd\n", "A\nb\nc\nd\n", "a\nb\nc\nD\n")
        .text("both.py",
              "if not booked(start):\n    add(start, 20)\n",
              "if not booked(start) and tide(start):\n    add(start, 20)\n",
              "if not booked(start):\n    add(start, cycle)\n")
        .text("number.toml", "[a]\nrevision = 1\n", "[a]\nrevision = 2\n", "[a]\nrevision = 3\n")
        .text("value.toml", "colour = \"red\"\n", "colour = \"blue\"\n", "colour = \"green\"\n")
        .question("gone.bin");
    const auto effort = scene.effort();
    QVERIFY(effort);
    QCOMPARE(effort->keepingAll, std::size_t{1});
    QCOMPARE(effort->greater, std::size_t{1});
    QCOMPARE(effort->yours, std::size_t{2});
    QCOMPARE(effort->total(), std::size_t{4});
    QCOMPARE(effort->regions.size(), std::size_t{3});
    QCOMPARE(effort->regions[0].file, std::size_t{1});
    QCOMPARE(effort->regions[0].kind, CandidateKind::wordSplice);
    QCOMPARE(effort->regions[1].text, std::string("revision = 3\n"));
    QVERIFY(!effort->regions[2].keepsAllEdits);
}

void TestEffort::tooManyRegions_orAStop_giveNothing()
{
    std::string base;
    std::string ours;
    std::string theirs;
    for (std::size_t i = 0; i <= kMostRegionsOfEffort; ++i) {
        const std::string name = "line" + std::to_string(i);
        const std::string same = "\nsame " + name + "\nand this\nand that " + name + "\n";
        base += name + same;
        ours += name + " ours" + same;
        theirs += name + " theirs" + same;
    }
    QVERIFY(!Scene().text("many.txt", base, ours, theirs).effort());
    std::stop_source stop;
    stop.request_stop();
    QVERIFY(!Scene().text("one.txt", "a\n", "b\n", "c\n").effort(stop.get_token()));
}

ROPE_TESTS(TestEffort, QCoreApplication)
#include "tst_effort.moc"
