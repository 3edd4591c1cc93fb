// SPDX-License-Identifier: GPL-3.0-or-later
// Plays the round of the demo in a real window: drives the widgets by keys, says each step, saves
// pictures. Used by `./dev demo` without a display, by `./dev shots`, and as a test under Xvfb.
#include "desktop/resolve/candidate_list.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"
#include "tests/support/watched_application.h"
#include "tests/support/window_driver.h"

#include <QCommandLineParser>
#include <QDir>
#include <QElapsedTimer>
#include <QFileInfo>
#include <QListView>
#include <QListWidget>
#include <QProcess>
#include <QScreen>
#include <QSettings>
#include <QTabBar>
#include <QTableView>
#include <QTextStream>

namespace {
using rope::test::WindowDriver;

class Player
{
public:
    /// `watch`: tells of stalls; null: nobody asked.
    Player(rope::Window& window, rope::test::WatchedApplication* watch, QString pictures)
        : m_window(window)
        , m_watch(watch)
        , m_driver(window)
        , m_pictures(std::move(pictures))
    {
        QDir().mkpath(m_pictures);
    }

    /// Only until a person could start; where stalls are told, also through the list of branches.
    void openOnly(const QString& repository)
    {
        QElapsedTimer clock;
        clock.start();
        m_window.openRepository(repository);
        m_window.show();
        auto& list = m_driver.find<QListView>("branchList");
        expect(m_driver.waitFor([&] { return list.model()->rowCount() > 0; }), "its branches");
        const qint64 shown = clock.elapsed();
        expect(m_driver.waitFor([this] { return m_driver.canStart(); }), "a forecast");
        say(QStringLiteral("%1 rows of branches after %2 ms, a forecast after %3 ms")
                .arg(list.model()->rowCount())
                .arg(shown)
                .arg(clock.elapsed()));
        if (m_watch == nullptr) {
            return;
        }
        for (int page = 0; page < 40; ++page) {
            QTest::keyClick(&list, Qt::Key_PageDown);
            QTest::qWait(10);
        }
        say(QStringLiteral("through the branches, while they are forecast"));
        (void)m_driver.waitFor([this] { return everyBranchIsForecast(); }, 60'000);
        say(QStringLiteral("all are forecast after %1 ms").arg(clock.elapsed()));
    }

    void play(const QString& repository)
    {
        m_driver.show();
        QTest::qWait(1000);  // each card is looked into
        picture("start");
        say(QStringLiteral("open %1").arg(repository));
        m_window.openRepository(repository);
        expect(m_driver.waitFor([this] {
            return m_driver.canStart() && m_driver.startLabel().contains(QLatin1String("decide"));
        }),
               "a forecast");
        say(QStringLiteral("what is known is old: %1").arg(m_driver.text("factsSecond")));
        fetch();
        (void)m_driver.waitFor([this] { return everyBranchIsForecast(); }, 20'000);
        say(QStringLiteral("survey: %1").arg(m_driver.startLabel()));
        picture("survey");
        readIncoming();
        lookAtARebase();
        lookAtCollisions();
        say(QStringLiteral("Ctrl+Enter starts the splice"));
        m_driver.press(Qt::Key_Return, Qt::ControlModifier);
        expect(m_driver.waitFor([this] { return m_driver.isAt("resolveKnot"); }),
               "the splice to start");
        chooseSeveral();
        decideEverything();
        lookAtAJoinedLine();
        check();
        goToRecord();
        lookAtARecordedFile();
        record();
        picture("recorded");
        goToPush();
        picture("push");
        say(QStringLiteral("meanwhile: %1").arg(teammatePushes(repository)));
        push(QStringLiteral("refused"));
        picture("refused");
        say(QStringLiteral("Ctrl+Enter merges it: the second round"));
        m_driver.press(Qt::Key_Return, Qt::ControlModifier);
        expect(m_driver.waitFor(
                   [this] { return m_driver.isAt("resolveKnot") || m_driver.isAt("recordKnot"); }),
               "the second round to start");
        decideEverything();
        goToRecord();
        record();
        goToPush();
        push(QStringLiteral("same as yours"));
        picture("proof");
        lookAtTheLogbook();
        say(QStringLiteral("the end"));
    }

private:
    /// Says the step that begins; before it, how long the window was busy at a stretch in the last one.
    void say(const QString& step)
    {
        if (m_watch != nullptr) {
            const auto stall = m_watch->takeLongest();
            QTextStream(stdout) << "    longest stall " << stall.milliseconds << " ms, "
                                << stall.with << Qt::endl;
        }
        QTextStream(stdout) << "  " << step << Qt::endl;
    }

    static void expect(bool came, const char* what)
    {
        if (!came) {
            qFatal("waited in vain for %s", what);
        }
    }

    void choose(const char* radio)
    {
        expect(m_driver.waitFor([&] {
            const auto* button = m_window.findChild<QAbstractButton*>(QLatin1String(radio));
            return button != nullptr && button->isEnabled();
        }),
               "that way to be possible");
        auto& button = m_driver.find<QAbstractButton>(radio);
        QTest::mouseClick(&button, Qt::LeftButton, {}, QPoint(8, button.height() / 2));
        QApplication::processEvents();
    }

    /// What a rebase would mean; then the merge commit is planned again.
    void lookAtARebase()
    {
        auto& tabs = m_driver.find<QTabBar>("surveyTabs");
        const int before = tabs.currentIndex();
        choose("planMethod1");
        tabs.setCurrentIndex(2);
        expect(m_driver.waitFor([this] { return m_driver.canStart(); }), "a rebase to be reckoned");
        say(QStringLiteral("as a rebase: %1").arg(m_driver.startLabel()));
        picture("rebase");
        tabs.setCurrentIndex(before);
        choose("planMethod0");
    }

    void lookAtTheLogbook()
    {
        m_driver.press(Qt::Key_L, Qt::ControlModifier);
        const auto& decisions = m_driver.find<QListView>("loggedDecisions");
        const auto& splices = m_driver.find<QListView>("spliceList");
        expect(m_driver.waitFor([&] { return splices.model()->rowCount() > 1; }),
               "the logbook to list both rounds");
        m_driver.press(Qt::Key_Down);  // the first round
        expect(m_driver.waitFor([&] { return decisions.model()->rowCount() > 2; }),
               "the logbook to tell what was decided");
        for (int row = 0; row < decisions.model()->rowCount() / 2; ++row) {
            m_driver.press(Qt::Key_J, Qt::ControlModifier);
        }
        say(QStringLiteral("the logbook: %1")
                .arg(splices.currentIndex().data(Qt::AccessibleTextRole).toString()));
        picture("logbook");
    }

    void fetch()
    {
        say(QStringLiteral("Ctrl+R asks the remote"));
        m_driver.press(Qt::Key_R, Qt::ControlModifier);
        expect(m_driver.waitFor([this] { return !m_driver.notice().isEmpty(); }), "an answer");
        say(m_driver.notice());
        expect(m_driver.waitFor([this] { return m_driver.canStart(); }), "a new forecast");
    }

    void readIncoming()
    {
        say(QStringLiteral("the incoming commits, one of them read"));
        auto& tabs = m_driver.find<QTabBar>("surveyTabs");
        tabs.setCurrentIndex(1);
        auto& table = m_driver.find<QTableView>("incomingTable");
        table.selectRow(table.model()->rowCount() - 1);
        expect(m_driver.waitFor([this] {
            return m_driver.find<QListWidget>("incomingReaderFiles").count() > 0;
        }),
               "the commit");
        picture("commit");
        tabs.setCurrentIndex(0);
    }

    void lookAtCollisions()
    {
        say(QStringLiteral("who collides with whom"));
        auto& views = m_driver.find<QTabBar>("surveyViews");
        views.setCurrentIndex(1);
        expect(m_driver.waitFor([this] {
            return m_driver.text("collisionProgress").startsWith(QLatin1String("All"));
        }),
               "all pairs");
        say(m_driver.text("collisionSummary"));
        picture("collisions");
        say(QStringLiteral("Enter reads the regions of the pair"));
        m_driver.press(Qt::Key_Return);
        expect(m_driver.waitFor(
                   [this] { return m_driver.find<QLabel>("pairReadingTitle").isVisible(); }),
               "what both made of a file");
        picture("pair");
        m_driver.click("leaveReadingButton");
        views.setCurrentIndex(0);
    }

    /// What a clean join got wrong: found, mended by key; then the result is read.
    void check()
    {
        say(QStringLiteral("Ctrl+Enter goes on to Check"));
        m_driver.press(Qt::Key_Return, Qt::ControlModifier);
        expect(m_driver.waitFor([this] {
            return m_driver.isAt("checkKnot") && m_driver.find<QWidget>("findingBar").isVisible()
                   && m_driver.text("findingWords").contains(QStringLiteral("“"));
        }),
               "findings with their commits");
        for (int guard = 0;
             guard < 10 && !m_driver.text("findingTitle").contains(QLatin1String("free_slots"));
             ++guard) {
            m_driver.press(Qt::Key_J, Qt::ControlModifier);
        }
        say(m_driver.text("findingTitle"));
        picture("check");
        say(QStringLiteral("the team's check command, from a committed file: %1")
                .arg(m_driver.text("sharedChecks")));
        m_driver.click("useSharedChecks");
        runCheck(QStringLiteral("✗"));
        say(QStringLiteral("was it so before?"));
        m_driver.click("trySidesButton");
        expect(m_driver.waitFor([this] { return !m_driver.text("checkVerdict").isEmpty(); }),
               "the sides to be tried");
        say(m_driver.text("checkVerdict"));
        m_driver.click("checkSide0");
        picture("check-command");
        say(QStringLiteral("F8: to the place that the output names; Ctrl+K back to the finding"));
        m_driver.press(Qt::Key_F8);
        say(m_driver.find<rope::ElidedLabel>("readPath").fullText());
        for (int guard = 0; guard < 4 && !m_driver.find<QPushButton>("mendButton").isVisible();
             ++guard) {
            m_driver.press(Qt::Key_K, Qt::ControlModifier);
        }
        say(QStringLiteral("Alt+1: %1").arg(m_driver.find<QPushButton>("mendButton").text()));
        m_driver.press(Qt::Key_1, Qt::AltModifier);
        expect(m_driver.waitFor([this] {
            return !m_driver.find<QWidget>("findingBar").isVisible()
                   || !m_driver.text("findingTitle").contains(QLatin1String("free_slots"));
        }),
               "the finding to be mended");
        runCheck(QStringLiteral("✓"));
        say(QStringLiteral("Ctrl+T: what I receive, Ctrl+J: the next to be looked at"));
        m_driver.press(Qt::Key_J, Qt::ControlModifier);
        m_driver.press(Qt::Key_T, Qt::ControlModifier);
        m_driver.press(Qt::Key_T, Qt::ControlModifier);
        picture("read-through");
        for (int guard = 0;
             guard < 20 && !m_driver.text("checkLeft").startsWith(QLatin1String("Nothing"));
             ++guard) {
            if (m_driver.find<QWidget>("findingBar").isVisible()) {
                m_driver.press(Qt::Key_2, Qt::AltModifier);
            } else {
                for (int change = 0; change < 3; ++change) {
                    QTest::qWait(400);  // what rests in view counts as read
                    m_driver.press(Qt::Key_Down, Qt::AltModifier);
                }
                QTest::qWait(400);
                m_driver.press(Qt::Key_J, Qt::ControlModifier);
            }
        }
        say(m_driver.text("checkLeft"));
    }

    void runCheck(const QString& sign)
    {
        say(QStringLiteral("F5 runs the check command on the result"));
        expect(m_driver.waitFor(
                   [this] { return m_driver.find<QPushButton>("runCheckButton").isEnabled(); }),
               "the result to be known");
        m_driver.press(Qt::Key_F5);
        const bool hasEnded = m_driver.waitFor([&] {
            return m_driver.find<rope::ElidedLabel>("checkState").fullText().startsWith(sign);
        });
        if (!hasEnded) {
            picture("check-command");
            say(m_driver.find<rope::ElidedLabel>("checkState").fullText());
        }
        expect(hasEnded, "the check command");
        say(m_driver.find<rope::ElidedLabel>("checkState").fullText());
    }

    void goToRecord()
    {
        say(QStringLiteral("Ctrl+Enter goes on to Record"));
        expect(m_driver.waitFor([this] {
            decideEverything();  // uncommitted work may not fit the result
            if (m_driver.isAt("resolveKnot") || m_driver.isAt("checkKnot")) {
                m_driver.press(Qt::Key_Return, Qt::ControlModifier);
            }
            return m_driver.isAt("recordKnot")
                   && m_driver.find<QPushButton>("recordButton").isEnabled();
        }),
               "the record station");
    }

    void lookAtARecordedFile()
    {
        auto& files = m_driver.find<QListWidget>("recordedFiles");
        expect(m_driver.waitFor([&] { return files.count() > 0; }), "what will be recorded");
        say(QStringLiteral("what the commit makes of %1")
                .arg(files.item(files.count() / 2)->text()));
        files.setCurrentRow(files.count() / 2);
        picture("record");
        files.setCurrentRow(-1);
        m_driver.find<QWidget>("messageEdit").setFocus();
    }

    void record()
    {
        say(QStringLiteral("Ctrl+Enter records"));
        m_driver.press(Qt::Key_Return, Qt::ControlModifier);
        expect(m_driver.waitFor([this] {
            return m_driver.find<QLabel>("recordedTitle").isVisible()
                   && m_driver.text("recordedTitle").startsWith(QLatin1String("Recorded"));
        }),
               "the commit");
        say(m_driver.text("recordedTitle"));
    }

    void goToPush()
    {
        say(QStringLiteral("Ctrl+Enter goes on to Push"));
        m_driver.press(Qt::Key_Return, Qt::ControlModifier);
        expect(m_driver.waitFor([this] {
            return m_driver.isAt("pushKnot")
                   && m_driver.find<QPushButton>("pushButton").isEnabled();
        }),
               "the push station");
    }

    void push(const QString& answer)
    {
        say(QStringLiteral("Ctrl+Enter pushes"));
        m_driver.press(Qt::Key_Return, Qt::ControlModifier);
        expect(m_driver.waitFor([&] {
            return m_driver.find<QWidget>("pushAnswer").isVisible()
                   && m_driver.text("pushAnswerTitle").contains(answer);
        }),
               "the remote's answer");
        say(m_driver.text("pushAnswerTitle") + QLatin1Char(' ') + m_driver.text("pushAnswerText"));
        QTest::qWait(200);  // it is looked at again
    }

    static QString teammatePushes(const QString& repository)
    {
        QProcess teammate;
        teammate.start(QFileInfo(repository).absolutePath() + QStringLiteral("/teammate-push"),
                       QStringList());
        teammate.waitForFinished(-1);
        expect(teammate.exitCode() == 0, "the teammate to push");
        return QString::fromUtf8(teammate.readAllStandardOutput()).trimmed();
    }

    bool everyBranchIsForecast()
    {
        const auto* model = m_driver.find<QListView>("branchList").model();
        for (int row = 0; row < model->rowCount(); ++row) {
            if (model->index(row, 0).data(Qt::UserRole + 2).toString() == QStringLiteral("…")) {
                return false;
            }
        }
        return true;
    }

    void picture(const char* name)
    {
        QTest::qWait(300);  // authors and tooltips arrive, timers repaint
        const QString file =
            m_pictures + QLatin1Char('/') + QLatin1String(name) + QStringLiteral(".png");
        expect(m_window.grab().save(file), "the picture to be saved");
    }

    [[nodiscard]] bool isQuestion() { return m_driver.find<QListView>("answerList").isVisible(); }
    [[nodiscard]] QString current()
    {
        const auto& list = m_driver.find<QListView>("worklist");
        return list.currentIndex().data(Qt::DisplayRole).toString();
    }

    void take(int number, const QString& why)
    {
        say(QStringLiteral("%1: Alt+%2, %3").arg(current()).arg(number).arg(why));
        m_driver.press(static_cast<Qt::Key>(Qt::Key_0 + number), Qt::AltModifier);
    }

    /// Looks at what several answers together would give up, and leaves it at that.
    void chooseSeveral()
    {
        say(QStringLiteral("Ctrl+A in the worklist chooses all; Ctrl+J goes back to one"));
        m_driver.find<QListView>("worklist").setFocus();
        m_driver.press(Qt::Key_A, Qt::ControlModifier);
        picture("together");
        m_driver.press(Qt::Key_K, Qt::ControlModifier);
        m_driver.press(Qt::Key_J, Qt::ControlModifier);
    }

    void lookAtAJoinedLine()
    {
        say(QStringLiteral("a file that merged cleanly tells what either side did"));
        m_driver.click("showJoinedButton");
        auto& list = m_driver.find<QListView>("worklist");
        for (int row = 0; row < list.model()->rowCount(); ++row) {
            const QModelIndex index = list.model()->index(row, 0);
            if (index.data().toString().endsWith(QLatin1String("water_level.cpp"))) {
                list.scrollTo(index);
                QTest::mouseClick(
                    list.viewport(), Qt::LeftButton, {}, list.visualRect(index).center());
            }
        }
        picture("joined");
        m_driver.click("showAllButton");
    }

    /// Takes theirs' new structure and writes ours' line into it.
    void composeByHand()
    {
        say(QStringLiteral("Alt+T: their new structure"));
        m_driver.press(Qt::Key_T, Qt::AltModifier);
        say(QStringLiteral("Ctrl+E, then write our line into it"));
        m_driver.press(Qt::Key_E, Qt::ControlModifier);
        for (int line = 0; line < 3; ++line) {
            m_driver.press(Qt::Key_Down);
        }
        m_driver.press(Qt::Key_End);
        m_driver.press(Qt::Key_Return);
        m_driver.type(QStringLiteral("logger.info(\"%s passes at %s\", boat.name, slot.start)"));
    }

    void decideEverything()
    {
        const QString allDone = QStringLiteral("Nothing is open");
        if (!m_driver.isAt("resolveKnot")) {
            return;
        }
        for (int guard = 0; guard < 100 && !m_driver.status().startsWith(allDone); ++guard) {
            const QString label = current();
            if (isQuestion()) {
                if (label.startsWith(QLatin1String("changed"))) {
                    picture("question");
                }
                take(label.startsWith(QLatin1String("deleted")) ? 2 : 1,
                     QStringLiteral("an answer to a question about the whole file"));
            } else if (label == QLatin1String("in book")) {
                composeByHand();
                picture("written-by-hand");
            } else {
                if (label == QLatin1String("in free_slots")) {
                    picture("resolve");
                    m_driver.press(Qt::Key_L, Qt::ControlModifier | Qt::ShiftModifier);
                    m_driver.press(Qt::Key_Down);
                    m_driver.press(Qt::Key_Down);
                    m_driver.press(Qt::Key_Space);
                    picture("lines");
                    m_driver.press(Qt::Key_L, Qt::ControlModifier | Qt::ShiftModifier);
                }
                take(1, QStringLiteral("the first candidate"));
            }
            m_driver.press(Qt::Key_J, Qt::ControlModifier);
        }
        expect(m_driver.waitFor([&] { return m_driver.status().startsWith(allDone); }, 5000),
               "everything to be decided");
    }

    rope::Window& m_window;
    rope::test::WatchedApplication* m_watch;
    WindowDriver m_driver;
    QString m_pictures;
};
}  // namespace

int main(int argc, char** argv)
{
    rope::test::WatchedApplication application(argc, argv);
    QCommandLineParser parser;
    parser.setApplicationDescription(
        QStringLiteral("Plays the round of the demo and saves pictures of it."));
    parser.addHelpOption();
    parser.addPositionalArgument(QStringLiteral("repository"), QStringLiteral("the demo's"));
    parser.addPositionalArgument(QStringLiteral("pictures"), QStringLiteral("their folder"));
    const QCommandLineOption look(QStringLiteral("theme"),
                                  QStringLiteral("light or dark"),
                                  QStringLiteral("look"),
                                  QStringLiteral("light"));
    const QCommandLineOption isSmall(QStringLiteral("small"),
                                     QStringLiteral("at 1024x640 instead of 1280x800"));
    const QCommandLineOption onlyOpens(QStringLiteral("until-usable"),
                                       QStringLiteral("stop when the plan can be started"));
    const QCommandLineOption tellsStalls(
        QStringLiteral("stalls"), QStringLiteral("tell how long the window was busy in each step"));
    parser.addOptions({look, isSmall, onlyOpens, tellsStalls});
    parser.process(application);
    if (parser.positionalArguments().size() != 2) {
        parser.showHelp(2);
    }
    const QString repository = parser.positionalArguments().at(0);
    const QString pictures = parser.positionalArguments().at(1);
    QApplication::setOrganizationName(
        QStringLiteral("rope-splice-play"));  // not the user's own settings
    QApplication::setApplicationName(QStringLiteral("rope-splice-play"));
    // The start page shows the demo's own repositories.
    QStringList recent;
    const QDir around(QFileInfo(repository).absolutePath());
    for (const QString& name : around.entryList(QDir::Dirs | QDir::NoDotAndDotDot)) {
        recent << around.filePath(name);
    }
    QSettings().setValue(QStringLiteral("recent"), recent);
    rope::applyLook(application,
                    parser.value(look) == QLatin1String("contrast") ? rope::Look::contrast
                    : parser.value(look) == QLatin1String("dark") ? rope::Look::dark
                                                                : rope::Look::light);
    rope::Window window;
    window.resize(parser.isSet(isSmall) ? QSize(1024, 640) : QSize(1280, 800));
    Player player(window, parser.isSet(tellsStalls) ? &application : nullptr, pictures);
    if (parser.isSet(onlyOpens)) {
        player.openOnly(repository);
        return 0;
    }
    player.play(repository);
    window.close();
    return 0;
}
