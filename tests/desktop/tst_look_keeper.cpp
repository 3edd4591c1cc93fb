// SPDX-License-Identifier: GPL-3.0-or-later
// The look follows preferences and the desktop's settings at once; these come from a portal of our own on a bus
// of its own.
#include "desktop/app/look_keeper.h"
#include "desktop/app/preferences.h"
#include "desktop/widgets/code_view.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/side_text.h"
#include "tests/support/test_program.h"

#include <QApplication>
#include <QDBusContext>
#include <QDBusMessage>
#include <QImage>
#include <QProcess>
#include <QSettings>
#include <QStandardPaths>
#include <QTest>
#include <QTextBlock>
#include <Qsci/qsciscintilla.h>

using namespace rope;

namespace {
const QString kAppearance = QStringLiteral("org.freedesktop.appearance");
}  // namespace

/// A bus of our own.
class Bus final
{
public:
    Bus()
    {
        m_daemon.start(QStringLiteral("dbus-daemon"),
                       {QStringLiteral("--session"),
                        QStringLiteral("--nofork"),
                        QStringLiteral("--print-address")});
        if (m_daemon.waitForReadyRead(10'000)) {
            m_address = QString::fromUtf8(m_daemon.readLine().trimmed());
        }
    }
    ~Bus()
    {
        for (const QString& name : m_names) {
            QDBusConnection::disconnectFromBus(name);
        }
        m_daemon.kill();
        m_daemon.waitForFinished();
    }
    Bus(const Bus&) = delete;
    Bus& operator=(const Bus&) = delete;
    [[nodiscard]] QDBusConnection connection(const char* name)
    {
        m_names << QLatin1String(name);
        return QDBusConnection::connectToBus(m_address, m_names.back());
    }

private:
    QProcess m_daemon;
    QString m_address;
    QStringList m_names;
};

/// The settings of a desktop that does not exist.
class StandInPortal final : public QObject
{
    Q_OBJECT
    Q_CLASSINFO("D-Bus Interface", "org.freedesktop.portal.Settings")
public:
    explicit StandInPortal(QDBusConnection bus)
    {
        bus.registerObject(QStringLiteral("/org/freedesktop/portal/desktop"),
                           this,
                           QDBusConnection::ExportAllSlots | QDBusConnection::ExportAllSignals);
        bus.registerService(QStringLiteral("org.freedesktop.portal.Desktop"));
    }
    /// Who asks has begun to listen before.
    [[nodiscard]] bool wasAsked() const { return m_asked == 2; }
    void set(const QString& key, uint value)
    {
        m_values[key] = value;
        emit SettingChanged(kAppearance, key, QDBusVariant(value));
    }

public slots:
    QDBusVariant Read(const QString& space, const QString& key)
    {
        const uint value = space == kAppearance ? m_values.value(key) : 99;
        ++m_asked;
        return QDBusVariant(QVariant::fromValue(QDBusVariant(value)));
    }

signals:
    void SettingChanged(const QString& space, const QString& key, const QDBusVariant& value);

private:
    QMap<QString, uint> m_values;
    int m_asked = 0;
};

class TestLookKeeper final : public QObject
{
    Q_OBJECT
private slots:
    void init();
    void desktop_isFollowed();
    void preference_standsBeforeTheDesktop();
    void commandLine_standsBeforeAll();
    void withoutABus_paletteHolds();
    void widgets_followAtOnce();
    void sizeOfCode_countsAtOnce();
};

void TestLookKeeper::init()
{
    QStandardPaths::setTestModeEnabled(true);
    QCoreApplication::setOrganizationName(QStringLiteral("rope-splice-test"));
    QCoreApplication::setApplicationName(QStringLiteral("look"));
    QSettings().clear();
    applyLook(*qApp, Look::light);
    setCodeSize(std::nullopt);
}

void TestLookKeeper::desktop_isFollowed()
{
    Bus bus;
    StandInPortal portal(bus.connection("portal"));
    portal.set(QStringLiteral("color-scheme"), 1);
    const LookKeeper keeper(*qApp, {}, bus.connection("program"));
    QVERIFY(!theme().isDark);  // nobody waits for the desktop
    QTRY_VERIFY(theme().isDark);
    portal.set(QStringLiteral("color-scheme"), 2);
    QTRY_VERIFY(!theme().isDark);
    portal.set(QStringLiteral("contrast"), 1);
    QTRY_COMPARE(theme().edges, themeOf(Look::contrast).edges);
    portal.set(QStringLiteral("color-scheme"), 1);
    portal.set(QStringLiteral("contrast"), 0);
    QTRY_VERIFY(theme().isDark);
    portal.set(QStringLiteral("color-scheme"), 0);  // no wish: as at the start
    QTRY_VERIFY(!theme().isDark);
}

void TestLookKeeper::preference_standsBeforeTheDesktop()
{
    Bus bus;
    StandInPortal portal(bus.connection("portal"));
    LookKeeper keeper(*qApp, {}, bus.connection("program"));
    QTRY_VERIFY(portal.wasAsked());
    Preferences preferences = Preferences::read();
    preferences.look = QStringLiteral("contrast");
    preferences.store();
    keeper.takePreferences();
    QCOMPARE(theme().edges, themeOf(Look::contrast).edges);
    portal.set(QStringLiteral("color-scheme"), 1);
    QTest::qWait(100);
    QCOMPARE(theme().edges, themeOf(Look::contrast).edges);
    preferences.look.clear();
    preferences.store();
    keeper.takePreferences();
    QVERIFY(theme().isDark);
}

void TestLookKeeper::commandLine_standsBeforeAll()
{
    Preferences preferences;
    preferences.look = QStringLiteral("contrast");
    preferences.store();
    const LookKeeper keeper(
        *qApp, QStringLiteral("dark"), QDBusConnection(QStringLiteral("no bus")));
    QVERIFY(theme().isDark);
}

void TestLookKeeper::withoutABus_paletteHolds()
{
    QApplication::setPalette(QPalette(QColor(30, 30, 30)));
    const LookKeeper keeper(*qApp, {}, QDBusConnection(QStringLiteral("no bus")));
    QVERIFY(theme().isDark);
}

/// What was shown before the change has the colours of after it, the text and its marks too.
void TestLookKeeper::widgets_followAtOnce()
{
    QWidget window;
    window.resize(400, 300);
    QLabel* const label = makeLabel(QStringLiteral("words"), TextRole::muted, &window);
    SideText side(Strand::theirs, &window);
    const std::string text = "kept\nnew\n";
    side.showSide(text, readAgainstBase({"kept\n", text, {}}).ours, Strand::base);
    CodeView code(&window);
    code.setText("def pound():\n", QStringLiteral("a.py"));
    const QString remarks = side.remarks().join(QLatin1Char(' '));

    applyLook(*qApp, Look::dark);

    const Theme dark = themeOf(Look::dark);
    QCOMPARE(label->palette().color(QPalette::WindowText), dark.muted);
    QTextBlock block = side.document()->lastBlock();
    QCOMPARE(block.text(), QStringLiteral("new"));
    QCOMPARE(block.blockFormat().background().color(), dark.theirs.fill);
    QCOMPARE(block.begin().fragment().charFormat().foreground().color(), dark.ink);
    QCOMPARE(side.remarks().join(QLatin1Char(' ')), remarks);
    auto* const editor = qobject_cast<QsciScintilla*>(code.editor());
    QVERIFY(editor != nullptr);
    const auto paper = static_cast<QRgb>(editor->SendScintilla(QsciScintillaBase::SCI_STYLEGETBACK,
                                                               QsciScintillaBase::STYLE_DEFAULT));
    QCOMPARE(QColor(qBlue(paper), qGreen(paper), qRed(paper)), dark.paper);  // Scintilla's is BGR
}

void TestLookKeeper::sizeOfCode_countsAtOnce()
{
    SideText side(Strand::ours, nullptr);
    side.showOutcome("one\ntwo\n", {});
    const int before = side.document()->firstBlock().charFormat().font().pointSize();
    LookKeeper keeper(*qApp, {}, QDBusConnection(QStringLiteral("no bus")));
    Preferences preferences;
    preferences.codeSize = 20;
    preferences.store();
    keeper.takePreferences();
    QCOMPARE(codeFont().pointSizeF(), 20.0);
    QCOMPARE(side.font().pointSize(), 20);
    QVERIFY(before != 20);
    QCOMPARE(side.document()->blockCount(), 2);
    preferences.codeSize = 900;  // written by hand
    preferences.store();
    keeper.takePreferences();
    QVERIFY(codeFont().pointSizeF() < 30);
}

ROPE_TESTS(TestLookKeeper, QApplication)
#include "tst_look_keeper.moc"
