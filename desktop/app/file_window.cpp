// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_file_window.cpp.
#include "desktop/app/file_window.h"

#include "core/base/digest.h"
#include "core/base/whole_file.h"
#include "core/decide/begun_decisions.h"
#include "core/decide/carry_over.h"
#include "core/decide/inferred_decisions.h"
#include "core/join/single_file.h"
#include "desktop/app/keys_dialog.h"
#include "desktop/app/preferences.h"
#include "desktop/command/exit_codes.h"
#include "desktop/course/log.h"
#include "desktop/resolve/resolve_station.h"
#include "desktop/widgets/key_hints.h"
#include "desktop/widgets/notice_bar.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/obstacles.h"
#include "desktop/wording/shown_text.h"

#include <QCloseEvent>
#include <QDateTime>
#include <QDir>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QMenuBar>
#include <QSettings>
#include <QStandardPaths>
#include <QVBoxLayout>

namespace rope {
namespace {
constexpr std::int64_t kForgottenAfterSeconds = 30LL * 24 * 60 * 60;

std::string nameOf(const std::string& path)
{
    return path.substr(path.rfind('/') + 1);
}

/// What a side is called: as it was told, else as its file is.
std::string labelOf(const FileRequest& request, std::size_t side, const std::string& path)
{
    return request.labels.size() == 3 ? request.labels[side] : nameOf(path);
}

Result<std::string> readIfThere(const std::string& path)
{
    auto bytes = path.empty() ? Result<std::string>(std::string()) : readWholeFile(path);
    return !bytes && bytes.error().code == ErrorCode::notFound ? std::string() : std::move(bytes);
}

/// What is decided for files is kept here; where that cannot be, it is not kept.
std::unique_ptr<Journal> journalOfFiles()
{
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation)
                           + QStringLiteral("/files");
    QDir().mkpath(folder);
    auto journal = Journal::open(folder.toStdString());
    if (!journal) {
        logError(journal.error());
        return nullptr;
    }
    const std::int64_t oldest = QDateTime::currentSecsSinceEpoch() - kForgottenAfterSeconds;
    if (const auto left = (*journal)->splices(SpliceState::open)) {
        for (const JournalEntry& entry : *left) {
            if (entry.startedAt < oldest) {
                (void)(*journal)->forget(entry.plan.id);
            }
        }
    }
    return std::move(*journal);
}
}  // namespace

Result<std::unique_ptr<FileWindow>> FileWindow::open(const FileRequest& request)
{
    SingleFile file;
    file.path = nameOf(request.result);
    TRY_ASSIGN(std::string base, readIfThere(request.base));
    if (!base.empty()) {
        file.base = std::move(base);
    }
    TRY_ASSIGN(file.ours, readWholeFile(request.ours));
    TRY_ASSIGN(file.theirs, readWholeFile(request.theirs));
    TRY_ASSIGN(const std::string standing, readIfThere(request.result));
    auto forecast = forecastOfFile(std::move(file));
    if (!forecast) {
        const std::string& side = forecast.error().subject;
        return Error{ErrorCode::invalidInput,
                     side == "base"   ? request.base
                     : side == "ours" ? request.ours
                                      : request.theirs,
                     {}};
    }
    auto window = std::unique_ptr<FileWindow>(new FileWindow(request, *forecast));
    window->takeUpDecisions(standing);
    return window;
}

FileWindow::FileWindow(const FileRequest& request, const std::shared_ptr<const Forecast>& forecast)
    : m_request(request)
    , m_journal(journalOfFiles())
    , m_copies(new ExternalCopies(this))
    , m_notice(new NoticeBar(this))
    , m_resolve(new ResolveStation(this))
    , m_hints(new KeyHints(this))
    , m_save(makeButton(tr("Save and close"), "saveFileButton", ButtonRole::plain, this))
    , m_exitCode(kExitMustDecide)
{
    const TextJoin& join = *forecast->join.files.front().text;
    SplicePlan plan;
    plan.id = digestOfParts(
        {join.base().bytes(),
         join.ours().bytes(),
         join.theirs().bytes(),
         QDir::current().absoluteFilePath(QString::fromStdString(request.result)).toStdString()});
    plan.oursName = labelOf(request, 1, request.ours);
    plan.theirsName = labelOf(request, 2, request.theirs);
    m_splice = std::make_unique<Splice>(plan, forecast);
    if (m_journal) {
        m_writer = std::make_unique<JournalWriter>(
            (QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation)
             + QStringLiteral("/files"))
                .toStdString(),
            nullptr);
    }
    m_resolve->setLeadOnLabel(tr("Save and close"));
    m_resolve->setKeepsReasons(false);  // there is no commit that they could go with
    setWindowTitle(tr("%1: resolve").arg(shownPath(nameOf(request.result))));
    layOut();
    addMenus();
}

FileWindow::~FileWindow()
{
    m_resolve->setSplice(nullptr);
    if (m_writer) {
        m_writer->finish();
    }
}

void FileWindow::layOut()
{
    setMinimumSize(800, 560);
    resize(1280, 800);
    auto* centre = new QWidget(this);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(16, 8, 14, 8);
    head->setSpacing(10);
    auto* title = makeLabel(shownPath(nameOf(m_request.result)), TextRole::heading, centre);
    title->setObjectName(QStringLiteral("fileTitle"));
    const SplicePlan& plan = m_splice->plan();
    auto* what = new ElidedLabel(TextRole::muted, centre);
    what->setObjectName(QStringLiteral("fileSubtitle"));
    what->setFullText(
        tr("Merging %1 into %2; the result is saved to %3")
            .arg(shown(plan.theirsName), shown(plan.oursName), shownPath(m_request.result)));
    title->setWordWrap(false);
    head->addWidget(title);
    head->addWidget(what, 1);
    head->addWidget(m_save);
    auto* column = new QVBoxLayout(centre);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addLayout(head);
    column->addWidget(makeRule(Qt::Horizontal, centre));
    column->addWidget(m_notice);
    column->addWidget(m_resolve, 1);
    column->addWidget(m_hints);
    setCentralWidget(centre);
    connect(m_save, &QPushButton::clicked, this, &FileWindow::save);
    connect(m_resolve, &ResolveStation::doneRequested, this, &FileWindow::save);
    connect(m_resolve, &ResolveStation::changed, this, &FileWindow::onChanged);
    connect(m_resolve,
            &ResolveStation::copyRequested,
            this,
            [this](const QString& path, const QByteArray& bytes) {
                if (const QString problem = m_copies->open(path, bytes); !problem.isEmpty()) {
                    m_notice->showMessage(problem);
                }
            });
    connect(m_copies, &ExternalCopies::changed, m_resolve, &ResolveStation::takeOverCopy);
}

void FileWindow::addMenus()
{
    const auto add = [this](QMenu* menu, const QString& text, const QKeySequence& key, auto act) {
        auto* action = new QAction(text, this);
        action->setShortcut(key);
        connect(action, &QAction::triggered, this, act);
        menu->addAction(action);
        return action;
    };
    QMenu* file = menuBar()->addMenu(tr("&File"));
    QList<QAction*> own;
    own << add(file, tr("Save and close"), QKeySequence::Save, [this] { save(); });
    own << add(file, tr("Save elsewhere…"), QKeySequence::SaveAs, [this] { saveElsewhere(); });
    own << add(file, tr("Close without saving"), QKeySequence::Quit, [this] { close(); });
    QMenu* region = menuBar()->addMenu(tr("&Region"));
    own << add(region, tr("Do the main action"), tr("Ctrl+Return"), [this] { m_resolve->act(); });
    for (QAction* action : m_resolve->pageActions()) {
        region->addAction(action);
    }
    QMenu* help = menuBar()->addMenu(tr("&Help"));
    add(help, tr("Keys"), QKeySequence(Qt::Key_F1), [this, own] {
        KeySection here;
        here.title = tr("This file");
        here.add(own);
        KeySection resolving;
        resolving.title = tr("Resolve");
        resolving.add(m_resolve->pageActions());
        showKeys({here, resolving}, this);
    });
}

/// What was decided for the same files before; else what the result says that stands there.
void FileWindow::takeUpDecisions(const std::string& standing)
{
    const std::string& id = m_splice->plan().id;
    const auto known = m_journal ? m_journal->splice(id) : Result(std::optional<JournalEntry>());
    const bool isKnown = known && *known;
    if (isKnown) {
        if (const auto decisions = m_journal->decisions(id)) {
            m_splice->put(carryOver(*decisions, m_splice->decided()).placed);
        }
        if (const auto steps = m_journal->steps(id)) {
            m_splice->restoreSteps(*steps);
        }
        m_notice->showMessage(tr("What you had decided in this file is here again."));
    } else if (m_journal) {
        JournalEntry entry;
        entry.plan = m_splice->plan();
        entry.startedAt = QDateTime::currentSecsSinceEpoch();
        if (const auto begun = m_journal->begin(entry); !begun) {
            logError(begun.error());
        }
    }
    if (!isKnown) {
        const FileOutcome& outcome = *m_splice->files().front().outcome;
        const auto stands = decodedFor(*outcome.text, standing);
        const auto read = stands ? markedStates(text(), *stands, outcome.ownMarkers) : std::nullopt;
        for (std::size_t slot = 0; read && slot < read->states.size(); ++slot) {
            m_splice->put({{{0, slot}, read->states[slot]}});
        }
        if (m_journal) {
            (void)m_journal->storeDecisions(id, m_splice->decisions());
        }
    }
    m_splice->setChangeSink([this](const SpliceChange& change) {
        if (m_writer) {
            m_writer->storeChange(m_splice->plan().id, change);
        }
    });
    m_resolve->setSplice(m_splice.get());
    m_resolve->setCurrent(true);
    m_resolve->setEditable(true);
    m_resolve->setSideways(Preferences::read().scrollsEvidenceSideways);
    m_resolve->setShares(QSettings().value(QStringLiteral("window/resolveShares")).toMap());
    m_resolve->focusChoices();
    onChanged();
}

void FileWindow::onChanged()
{
    const std::size_t open = m_splice->openCount();
    m_hints->setHints({{tr("Ctrl+J"), tr("next open")},
                       {tr("Alt+1…9"), tr("use a candidate")},
                       {tr("Ctrl+Z"), tr("undo")},
                       {tr("Ctrl+S"), tr("save and close")},
                       {tr("F1"), tr("all keys")}});
    m_hints->setStatus(open == 0 ? tr("Nothing is open") : tr("%1 still open").arg(open));
}

void FileWindow::save()
{
    m_resolve->flush();
    const std::size_t open = m_splice->openCount();
    if (open > 0) {
        m_notice->showMessage(open == 1 ? tr("1 region is still open.")
                                        : tr("%1 regions are still open.").arg(open));
        m_notice->offerAction(tr("Go to it"), [this] {
            m_notice->dismiss();
            m_resolve->goToNextOpen(1);
        });
        m_notice->offerAction(tr("Save with markers"), [this] { saveTo(m_request.result); });
        return;
    }
    if (const QString obstacle = obstacleInSplice(*m_splice); !obstacle.isEmpty()) {
        m_notice->showMessage(obstacle);
        return;
    }
    saveTo(m_request.result);
}

void FileWindow::saveTo(const std::string& path)
{
    m_resolve->flush();
    const auto bytes = text().join().encoded(textWithMarkers(text(), m_splice->plan()));
    if (!bytes) {
        m_notice->showError({ErrorCode::invalidInput, path, {}, Reason::unencodable});
        return;
    }
    if (const auto written = writeWholeFile(path, *bytes); !written) {
        m_notice->showError(written.error());
        m_notice->offerAction(tr("Save elsewhere…"), [this] { saveElsewhere(); });
        return;
    }
    if (path != m_request.result) {
        m_notice->showMessage(
            tr("Saved as %1. %2 is as it was.").arg(shownPath(path), shownPath(m_request.result)));
        return;
    }
    if (m_splice->openCount() == 0) {
        m_exitCode = kExitClean;
        if (m_journal) {
            m_writer->finish();
            (void)m_journal->forget(m_splice->plan().id);
        }
    }
    close();
}

void FileWindow::saveElsewhere()
{
    auto* dialog = new QFileDialog(this, tr("Save elsewhere"));
    dialog->setObjectName(QStringLiteral("saveElsewhereDialog"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->selectFile(QString::fromStdString(nameOf(m_request.result)));
    connect(dialog, &QFileDialog::fileSelected, this, [this](const QString& file) {
        saveTo(QFile::encodeName(file).toStdString());
    });
    dialog->open();
}

void FileWindow::closeEvent(QCloseEvent* event)
{
    m_resolve->flush();
    QSettings().setValue(QStringLiteral("window/resolveShares"), m_resolve->shares());
    event->accept();
}
}  // namespace rope
