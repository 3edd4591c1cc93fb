// SPDX-License-Identifier: GPL-3.0-or-later
// The window on one file, as another program opens it.
#include "desktop/app/file_window.h"
#include "desktop/resolve/resolve_station.h"
#include "desktop/widgets/theme.h"
#include "tests/support/window_application.h"

#include <QDir>
#include <QFile>
#include <QFileDialog>
#include <QLabel>
#include <QPushButton>
#include <QSettings>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTest>

using namespace rope;
using namespace rope::test;

namespace {
/// Three versions with two regions, in a folder of their own.
struct Files
{
    Files()
    {
        write("base", "a\nb\nc\nd\ne\nf\ng\nh\n");
        write("ours", "a\nb ours\nc\nd\ne\nf\ng ours\nh\n");
        write("theirs", "a\nb theirs\nc\nd\ne\nf\ng theirs\nh\n");
    }
    void write(const char* name, const QByteArray& bytes) const
    {
        QFile file(path(name));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(bytes);
    }
    [[nodiscard]] QByteArray read(const char* name) const
    {
        QFile file(path(name));
        return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray("(none)");
    }
    [[nodiscard]] QString path(const char* name) const
    {
        return folder.filePath(QString::fromLatin1(name));
    }
    [[nodiscard]] FileRequest request() const
    {
        return {path("base").toStdString(),
                path("ours").toStdString(),
                path("theirs").toStdString(),
                path("result.txt").toStdString(),
                {"base", "mine", "Priya's"}};
    }
    QTemporaryDir folder;
};

struct Driver
{
    explicit Driver(const FileRequest& request)
        : window(std::move(FileWindow::open(request)).value())
    {
        window->show();
        (void)QTest::qWaitForWindowExposed(window.get());
    }
    void press(Qt::Key key, Qt::KeyboardModifiers modifiers) const
    {
        QTest::keyClick(window.get(), key, modifiers);
        QApplication::processEvents();
    }
    void click(const char* button) const
    {
        auto* found = window->findChild<QPushButton*>(QLatin1String(button));
        QVERIFY(found != nullptr && found->isVisible());
        found->click();
        QApplication::processEvents();
    }
    [[nodiscard]] QString notice() const
    {
        return window->findChild<QLabel*>(QStringLiteral("noticeText"))->text();
    }
    std::unique_ptr<FileWindow> window;
};
}  // namespace

class TestFileWindow : public QObject
{
    Q_OBJECT
private slots:
    void init();
    void decided_isSaved_andExitsZero();
    void open_isSavedWithMarkers_andExitsOne();
    void closed_decisionsAreThereAgain();
    void halfResolvedResult_isTakenOver();
    void withoutBase_isAddedByBoth();
    void unwritableResult_isOfferedElsewhere();
    void badInput_isNamed();
};

void TestFileWindow::init()
{
    QSettings().clear();
    QDir(QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation)
         + QStringLiteral("/files"))
        .removeRecursively();
}

void TestFileWindow::decided_isSaved_andExitsZero()
{
    const Files files;
    const Driver driver(files.request());
    QCOMPARE(driver.window->exitCode(), 1);
    driver.press(Qt::Key_T, Qt::AltModifier);
    driver.press(Qt::Key_J, Qt::ControlModifier);
    driver.press(Qt::Key_T, Qt::AltModifier);
    driver.press(Qt::Key_S, Qt::ControlModifier);
    QVERIFY(!driver.window->isVisible());
    QCOMPARE(driver.window->exitCode(), 0);
    QCOMPARE(files.read("result.txt"), QByteArray("a\nb theirs\nc\nd\ne\nf\ng theirs\nh\n"));
}

void TestFileWindow::open_isSavedWithMarkers_andExitsOne()
{
    const Files files;
    const Driver driver(files.request());
    driver.press(Qt::Key_T, Qt::AltModifier);
    driver.press(Qt::Key_S, Qt::ControlModifier);
    QVERIFY(driver.window->isVisible());
    QVERIFY2(driver.notice().contains(QStringLiteral("1 region is still open")),
             qPrintable(driver.notice()));
    driver.click("noticeSecondButton");
    QVERIFY(!driver.window->isVisible());
    QCOMPARE(driver.window->exitCode(), 1);
    QCOMPARE(files.read("result.txt"),
             QByteArray("a\nb theirs\nc\nd\ne\nf\n<<<<<<< mine\ng ours\n||||||| base\ng\n=======\n"
                        "g theirs\n>>>>>>> Priya's\nh\n"));
}

void TestFileWindow::closed_decisionsAreThereAgain()
{
    const Files files;
    {
        const Driver driver(files.request());
        driver.press(Qt::Key_T, Qt::AltModifier);
    }  // as if it were killed: nothing was saved
    QCOMPARE(files.read("result.txt"), QByteArray("(none)"));
    {
        const Driver driver(files.request());
        QVERIFY(driver.notice().contains(QStringLiteral("is here again")));
        driver.press(Qt::Key_J, Qt::ControlModifier);
        driver.press(Qt::Key_T, Qt::AltModifier);
        driver.press(Qt::Key_S, Qt::ControlModifier);
        QCOMPARE(driver.window->exitCode(), 0);
    }
    // Saved, it is forgotten.
    const Driver again(files.request());
    QVERIFY(!again.notice().contains(QStringLiteral("is here again")));
}

void TestFileWindow::halfResolvedResult_isTakenOver()
{
    const Files files;
    files.write(
        "result.txt",
        "a\nb by hand\nc\nd\ne\nf\n<<<<<<< HEAD\ng ours\n=======\ng theirs\n>>>>>>> t\nh\n");
    const Driver driver(files.request());
    driver.press(Qt::Key_J, Qt::ControlModifier);
    driver.press(Qt::Key_T, Qt::AltModifier);
    driver.press(Qt::Key_S, Qt::ControlModifier);
    QCOMPARE(driver.window->exitCode(), 0);
    QCOMPARE(files.read("result.txt"), QByteArray("a\nb by hand\nc\nd\ne\nf\ng theirs\nh\n"));
}

void TestFileWindow::withoutBase_isAddedByBoth()
{
    const Files files;
    FileRequest request = files.request();
    for (const QString& base : {QString(), files.path("missing"), files.path("empty")}) {
        files.write("empty", {});
        request.base = base.toStdString();
        const Driver driver(request);
        QVERIFY(driver.window->isVisible());
    }
}

void TestFileWindow::unwritableResult_isOfferedElsewhere()
{
    const Files files;
    FileRequest request = files.request();
    request.result = files.path("no-folder/result.txt").toStdString();
    const Driver driver(request);
    driver.press(Qt::Key_T, Qt::AltModifier);
    driver.press(Qt::Key_J, Qt::ControlModifier);
    driver.press(Qt::Key_T, Qt::AltModifier);
    driver.press(Qt::Key_S, Qt::ControlModifier);
    QVERIFY(driver.window->isVisible());
    QVERIFY2(!driver.notice().isEmpty(), "nothing is said");
    driver.click("noticeActionButton");
    auto* dialog = driver.window->findChild<QFileDialog*>(QStringLiteral("saveElsewhereDialog"));
    QVERIFY(dialog != nullptr);
    emit dialog->fileSelected(files.path("elsewhere.txt"));
    QCOMPARE(files.read("elsewhere.txt"), QByteArray("a\nb theirs\nc\nd\ne\nf\ng theirs\nh\n"));
    QVERIFY(driver.window->isVisible());
    QCOMPARE(driver.window->exitCode(), 1);
    dialog->close();
}

void TestFileWindow::badInput_isNamed()
{
    const Files files;
    FileRequest request = files.request();
    request.ours = files.path("missing").toStdString();
    QCOMPARE(FileWindow::open(request).error().subject, request.ours);
    files.write("binary", QByteArray("a\0b", 3));
    request.ours = files.path("binary").toStdString();
    const Error error = FileWindow::open(request).error();
    QCOMPARE(error.code, ErrorCode::invalidInput);
    QCOMPARE(error.subject, request.ours);
}

ROPE_TESTS(TestFileWindow, rope::test::WindowApplication)
#include "tst_file_window.moc"
