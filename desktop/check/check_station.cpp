// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_check_round.cpp.
#include "desktop/check/check_station.h"

#include "core/base/digest.h"
#include "desktop/check/check_list.h"
#include "desktop/check/run_pane.h"
#include "desktop/widgets/pane_splitter.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/wording/finding_words.h"
#include "desktop/wording/shown_text.h"

#include <QHBoxLayout>
#include <QListView>
#include <QVBoxLayout>

#include <algorithm>

namespace rope {
namespace {
constexpr std::size_t kMostShownBytes = 16'000'000;
}  // namespace

CheckStation::CheckStation(QWidget* parent)
    : StationPage(parent)
    , m_splitter(new PaneSplitter(Qt::Horizontal, {26, 74}, tr("Line between panes"), this))
    , m_list(new CheckList(m_splitter))
    , m_right(
          new PaneSplitter(Qt::Vertical, {70, 30}, tr("Line above the check command"), m_splitter))
    , m_read(new ReadView(m_right))
    , m_run(new RunPane(m_right))
{
    m_list->setMinimumWidth(200);
    m_right->addWidget(m_read);
    m_right->addWidget(m_run);
    m_right->setMinimumWidth(400);
    m_run->setMinimumHeight(110);
    m_splitter->addWidget(m_list);
    m_splitter->addWidget(m_right);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(m_splitter, 1);
    column->addWidget(makeRule(Qt::Horizontal, this));
    column->addWidget(makeFoot());
    connect(m_list, &CheckList::findingChosen, this, [this](const std::string& key) {
        m_entersAnew = false;
        goToFinding(key);
    });
    connect(m_list, &CheckList::fileChosen, this, [this](const RepoPath& path) {
        m_entersAnew = false;
        goToFile(path);
    });
    connect(m_read, &ReadView::typed, this, &CheckStation::changed);
    connect(m_read, &ReadView::mendRequested, this, &CheckStation::mend);
    connect(m_read, &ReadView::fineRequested, this, &CheckStation::toggleFine);
    connect(m_read, &ReadView::leaveRequested, m_list, [this] { m_list->setFocus(); });
    connect(m_read, &ReadView::readToEnd, this, [this] {
        if (const ReadItem* item = itemOf(m_path); item != nullptr && !m_isBusy) {
            tickOff(*item);
        }
    });
    connect(m_run, &RunPane::placeRequested, this, &CheckStation::goToPlace);
    addActions();
    addRunActions();
    setCurrent(false);
}

QWidget* CheckStation::makeFoot()
{
    auto* foot = new QWidget(this);
    auto* row = new QHBoxLayout(foot);
    row->setContentsMargins(12, 6, 12, 6);
    row->setSpacing(12);
    m_left = makeLabel({}, TextRole::muted, foot);
    m_left->setObjectName(QStringLiteral("checkLeft"));
    m_tick = makeButton({}, "tickButton", ButtonRole::plain, foot);
    m_goOn = makeButton(tr("Go on to Record"), "goOnToRecordButton", ButtonRole::primary, foot);
    row->addWidget(m_left, 1);
    row->addWidget(m_tick);
    row->addWidget(m_goOn);
    connect(m_goOn, &QPushButton::clicked, this, &CheckStation::doneRequested);
    connect(m_tick, &QPushButton::clicked, this, [this] {
        if (const ReadItem* item = itemOf(m_path)) {
            emit readToggled(item->key, !item->isRead);
        }
    });
    return foot;
}

void CheckStation::setTellsAll(bool tellsAll)
{
    m_tellsAll->setChecked(tellsAll);
}

void CheckStation::setCurrent(bool isCurrent)
{
    for (QAction* action : m_actions) {
        action->setEnabled(isCurrent && m_splice != nullptr);
    }
}

void CheckStation::setSplice(Splice* splice)
{
    m_read->clear();
    if (splice == nullptr || m_splice == nullptr) {
        m_view = {};
        m_path.clear();
        m_finding.clear();
        m_list->clearSelection();
        m_list->show(m_view);
        m_entersAnew = true;
    }
    m_splice = splice;
    if (splice != nullptr) {
        m_read->setNames({shown(splice->plan().oursName), shown(splice->plan().theirsName)});
        if (!m_path.empty()) {
            (void)showFileAt(m_path);
            showFindingsHere();
        }
    }
    showFoot();
}

void CheckStation::setEditable(bool isEditable)
{
    m_isEditable = isEditable;
    m_read->setEditable(isEditable);
    m_read->setTextsReadOnly(m_areTextsReadOnly);
}

void CheckStation::setTextsReadOnly(bool isReadOnly)
{
    m_areTextsReadOnly = isReadOnly;
    m_read->setTextsReadOnly(isReadOnly);
}

void CheckStation::flush()
{
    m_read->result().flushTyping();
}

void CheckStation::refresh()
{
    if (m_splice != nullptr && !m_path.empty()) {
        const ReadItem* item = itemOf(m_path);
        if (item != nullptr && item->file && !item->isOpen) {
            std::vector<std::size_t> changedSlots;
            const auto& text = m_splice->files()[*item->file].text;
            for (std::size_t slot = 0; text && slot < text->slotCount(); ++slot) {
                changedSlots.push_back(slot);
            }
            if (m_read->result().shows(*item->file)) {
                m_read->result().refreshSlots(changedSlots);
                return;
            }
        }
        (void)showFileAt(m_path);
    }
}

void CheckStation::showView(const CheckView& view, bool isBusy)
{
    m_view = view;
    m_isBusy = isBusy;
    m_list->show(view);
    m_run->setFiles(view);
    const FoundItem* item = current();
    if (!m_finding.empty() && item == nullptr && !isBusy) {
        m_finding.clear();  // it is mended
        m_list->selectFile(m_path);
    }
    showFindingsHere();
    if (m_entersAnew && isVisible() && !isBusy) {
        showFirst();
    }
    showFoot();
}

void CheckStation::showTrial(const TrialView& view)
{
    m_hasPassed = view.hasPassed();
    m_isRunning = view.isRunning();
    m_hasToRun = !m_hasPassed && !view.isLooking && !view.commands.empty()
                 && view.obstacle.isEmpty() && !view.isRunning() && view.isEditable;
    for (QAction* action : m_actions) {
        if (action->objectName() == QLatin1String("requireCheckAction")) {
            action->setChecked(view.isRequired);
        } else if (action->objectName() == QLatin1String("copySubmodulesAction")) {
            action->setChecked(view.withSubmodules);
        }
    }
    m_run->showTrial(view);
    m_run->setMain(m_hasToRun);
    setButtonRole(m_goOn, m_hasToRun ? ButtonRole::plain : ButtonRole::primary);
    showFoot();
}

void CheckStation::goToPlace(const RepoPath& path, std::size_t line)
{
    m_entersAnew = false;
    m_lineToGoTo = 0;
    goToFile(path);
    if (const ReadItem* item = itemOf(path); item != nullptr && !item->file) {
        m_lineToGoTo = line;  // it is being taken up
    } else if (item != nullptr && line > 0) {
        m_read->result().goToLine(static_cast<LineNumber>(line - 1));
    }
}

void CheckStation::runOrStop()
{
    flush();
    m_run->act();
}

/// Tells the text what was found in it.
void CheckStation::showFindingsHere()
{
    std::vector<FoundItem> here;
    std::copy_if(m_view.found.begin(),
                 m_view.found.end(),
                 std::back_inserter(here),
                 [this](const FoundItem& found) { return found.finding.path == m_path; });
    m_read->setFindings(here, m_finding);
    showFoot();
}

const FoundItem* CheckStation::current() const
{
    const auto found = std::find_if(m_view.found.begin(),
                                    m_view.found.end(),
                                    [this](const auto& i) { return i.finding.key == m_finding; });
    return found == m_view.found.end() ? nullptr : &*found;
}

const ReadItem* CheckStation::itemOf(const RepoPath& path) const
{
    const auto found = std::find_if(m_view.files.begin(),
                                    m_view.files.end(),
                                    [&](const auto& item) { return item.path == path; });
    return found == m_view.files.end() ? nullptr : &*found;
}

/// All that there is to see of a file has been seen.
void CheckStation::tickOff(const ReadItem& item)
{
    if (!item.isOneSided && !item.isOpen && !item.isRead) {
        // Later: the view that tells of it is being used.
        QMetaObject::invokeMethod(
            this, [this, key = item.key] { emit readToggled(key, true); }, Qt::QueuedConnection);
    }
}

/// Shows a file, or says why there is nothing to show; false where it has to be taken up first.
bool CheckStation::showFileAt(const RepoPath& path)
{
    m_path = path;
    const ReadItem* item = itemOf(path);
    if (m_splice == nullptr || item == nullptr) {
        return true;
    }
    if (item->isOpen) {
        m_read->showNote(shownPath(path),
                         tr("Something in this file is not decided yet. Resolve has it (Ctrl+2)."));
    } else if (item->isGone) {
        m_read->showNote(shownPath(path), tr("The result does not have this file: it is deleted."));
        tickOff(*item);
    } else if (!item->isText) {
        // Nobody has seen it by coming here.
        m_read->showNote(shownPath(path),
                         tr("Not a text file, so it cannot be read here. Where it had to be decided, "
                            "Resolve shows its versions. Mark it as read once you have looked at "
                            "it."));
    } else if (!item->file) {
        m_read->showNote(shownPath(path), tr("Reading…"));
        emit takeUpRequested(path);
        return false;
    } else if (!m_splice->files()[*item->file].text) {
        m_read->showNote(shownPath(path),
                         tr("You decided about this file as a whole: it is as one side has it."));
        tickOff(*item);
    } else if (m_splice->files()[*item->file].text->wholeText().size() > kMostShownBytes) {
        m_read->showNote(shownPath(path), tr("This file is too large to be read here."));
    } else {
        m_read->showFile(*m_splice, *item->file);
        m_read->setEditable(m_isEditable);
        m_read->setTextsReadOnly(m_areTextsReadOnly);
    }
    return true;
}

void CheckStation::goToFinding(const std::string& key)
{
    flush();
    m_finding = key;
    const FoundItem* item = current();
    if (item == nullptr) {
        return;
    }
    const bool isShown = showFileAt(item->finding.path);
    m_list->selectFinding(key);
    if (isShown) {
        showFindingsHere();
    }
    showFoot();
}

void CheckStation::goToFile(const RepoPath& path)
{
    flush();
    m_finding.clear();
    (void)showFileAt(path);
    m_list->selectFile(path);
    showFindingsHere();
}

void CheckStation::showTakenUp(const RepoPath& path)
{
    if (path == m_path) {
        (void)showFileAt(path);
        showFindingsHere();
        if (const std::size_t line = std::exchange(m_lineToGoTo, 0); line > 0) {
            m_read->result().goToLine(static_cast<LineNumber>(line - 1));
        }
    }
}

void CheckStation::showNotTakenUp(const RepoPath& path)
{
    if (path == m_path) {
        m_read->showNote(
            shownPath(path),
            tr("Nothing to read here: both sides have the same file, or it is not text."));
    }
}

void CheckStation::enter()
{
    refresh();
    showFirst();
    setFocus();
}

void CheckStation::showFirst()
{
    if (m_splice == nullptr || m_isBusy || !m_entersAnew) {
        return;
    }
    for (const FoundItem& item : m_view.found) {
        if (!item.isFine) {
            m_entersAnew = false;
            goToFinding(item.finding.key);
            return;
        }
    }
    for (const ReadItem& item : m_view.files) {
        if (!item.isOneSided && !item.isRead) {
            m_entersAnew = false;
            goToFile(item.path);
            return;
        }
    }
}

/// The next finding that nobody called fine, then the next file that is not read.
void CheckStation::goToNextFinding(int direction)
{
    m_entersAnew = false;
    std::vector<const FoundItem*> open;
    std::optional<std::size_t> at;
    for (const FoundItem& item : m_view.found) {
        if (item.finding.key == m_finding) {
            at = open.size();
        }
        if (!item.isFine || item.finding.key == m_finding) {
            open.push_back(&item);
        }
    }
    const bool isOnlyThis = open.size() == 1 && at;
    if (!open.empty() && !isOnlyThis) {
        const std::size_t count = open.size();
        const std::size_t next = !at             ? (direction > 0 ? 0 : count - 1)
                                 : direction > 0 ? (*at + 1) % count
                                                 : (*at + count - 1) % count;
        goToFinding(std::string(open[next]->finding.key));
        return;
    }
    for (const ReadItem& item : m_view.files) {
        if (!item.isOneSided && !item.isRead && item.path != m_path) {
            goToFile(RepoPath(item.path));
            return;
        }
    }
    emit told(tr("Nothing else to look at."));
}

/// Writes what is proposed into the result: a change like any other, undone like any other.
void CheckStation::mend()
{
    flush();
    const FoundItem* item = current();
    const ReadItem* file = item == nullptr ? nullptr : itemOf(item->finding.path);
    if (item == nullptr || !item->finding.mend || item->isFine) {
        emit told(tr("There is no suggested fix here."));
        return;
    }
    if (!m_isEditable || m_areTextsReadOnly || file == nullptr || !file->file || m_isBusy) {
        return;
    }
    const Mend& mend = *item->finding.mend;
    const SplicedText& text = *m_splice->files()[*file->file].text;
    if (digestOfParts({file->path, text.wholeText()}) != file->key) {
        emit told(tr("The text has just changed and is being looked at again."));
        return;
    }
    std::size_t begin = 0;
    for (std::size_t slot = 0; slot < text.slotCount(); ++slot) {
        const std::size_t size = text.text(slot).size();
        const bool isHere = mend.position >= begin && mend.position + mend.length <= begin + size
                            && (mend.length > 0 || mend.position < begin + size);
        if (isHere) {
            std::string now(text.text(slot));
            now.replace(mend.position - begin, mend.length, mend.text);
            SlotState state = text.state(slot);
            state.text = std::move(now);
            const QString done = mendInWords(item->finding);
            m_splice->endTyping();
            m_splice->change({{{*file->file, slot}, std::move(state)}});
            m_read->result().refreshSlots({slot});
            emit told(tr("%1: done. Ctrl+Z undoes it.").arg(done));
            emit changed();
            return;
        }
        begin += size;
    }
}

void CheckStation::toggleFine()
{
    if (const FoundItem* item = current(); item != nullptr && m_isEditable) {
        const bool isFine = !item->isFine;
        emit fineToggled(std::string(item->finding.key), isFine);
        if (isFine) {
            goToNextFinding(1);
        }
    }
}

void CheckStation::undo()
{
    flush();
    if (m_splice != nullptr && m_splice->canUndo()) {
        afterSteps(m_splice->undo());
    }
}

void CheckStation::redo()
{
    flush();
    if (m_splice != nullptr && m_splice->canRedo()) {
        afterSteps(m_splice->redo());
    }
}

/// The view follows to where undoing acts.
void CheckStation::afterSteps(const std::vector<SlotPlace>& places)
{
    const SpliceFile& file = m_splice->files()[places.front().file];
    m_finding.clear();
    if (file.outcome->path == m_path) {
        std::vector<std::size_t> changedSlots;
        for (const SlotPlace& place : places) {
            if (place.slot != SlotPlace::kQuestion && place.file == places.front().file) {
                changedSlots.push_back(place.slot);
            }
        }
        m_read->result().refreshSlots(changedSlots);
        m_read->result().revealChange();
    } else {
        goToFile(RepoPath(file.outcome->path));
    }
    emit told(tr("Undone in %1.").arg(shownPath(file.outcome->path)));
    emit changed();
}

void CheckStation::goToRegion()
{
    flush();
    const ReadItem* item = itemOf(m_path);
    if (m_splice == nullptr || item == nullptr || !item->file) {
        return;
    }
    const SpliceFile& file = m_splice->files()[*item->file];
    emit regionRequested(
        {*item->file, file.text ? m_read->result().slotOfCaret() : SlotPlace::kQuestion});
}

void CheckStation::showFoot()
{
    const ReadItem* item = itemOf(m_path);
    m_tick->setVisible(item != nullptr && !item->isOneSided && !item->isOpen);
    m_tick->setText(item != nullptr && item->isRead ? tr("Mark as unread") : tr("Mark as read"));
    m_left->setText(leftInWords());
    m_goOn->setEnabled(m_splice != nullptr && m_splice->openCount() == 0);
}

QString CheckStation::leftInWords() const
{
    if (m_splice == nullptr) {
        return {};
    }
    if (m_splice->openCount() > 0) {
        return tr("%1 still to be decided in Resolve")
            .arg(countOf(m_splice->openCount(), "place is", "places are"));
    }
    if (m_isBusy && m_view.files.empty()) {
        return tr("Looking at the result…");
    }
    const QString check = m_isRunning                  ? tr(" · the check command is running")
                          : m_hasPassed.value_or(true) ? QString()
                                                       : tr(" · the check command fails");
    const std::size_t unread = m_view.toReadCount() - m_view.readCount();
    if (m_view.openCount() == 0 && unread == 0) {
        return tr("Nothing left to look at") + check;
    }
    QStringList parts;
    if (m_view.openCount() > 0) {
        parts << countOf(m_view.openCount(), "finding", "findings");
    }
    if (unread > 0) {
        parts << countOf(unread, "file", "files");
    }
    return tr("%1 still to look at").arg(parts.join(tr(" and "))) + check;
}

void CheckStation::act()
{
    flush();
    if (m_hasToRun) {
        m_run->act();
    } else if (m_isBusy && !m_view.hasLooked) {
        emit told(tr("Still looking at the result."));
    } else if (m_goOn->isEnabled()) {
        emit doneRequested();
    }
}

std::vector<KeyHint> CheckStation::hints() const
{
    if (m_splice == nullptr) {
        return {{tr("Ctrl+1"), tr("back to Survey")}};
    }
    return {{tr("Ctrl+J"), tr("next finding")},
            {tr("Ctrl+T"), tr("against ours, theirs, nothing")},
            {tr("F5"), m_isRunning ? tr("stop the check command") : tr("run the check command")},
            {tr("Ctrl+Enter"), m_hasToRun ? tr("run it") : tr("go on to Record")}};
}

std::vector<KeyHint> CheckStation::keys() const
{
    return {{tr("Ctrl+Enter"), tr("run the check command, then go on to Record")},
            {tr("Enter"), tr("follow the place at the cursor, in the output")},
            {tr("Escape"), tr("out of the text, to the list")}};
}
}  // namespace rope
