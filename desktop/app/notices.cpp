// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/app/notices.h"

#include "desktop/course/record_session.h"
#include "desktop/widgets/notice_bar.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/shown_text.h"

namespace rope {
Notices::Notices(const WindowParts& parts, QObject* parent)
    : QObject(parent)
    , m_bar(*parts.noticeBar)
    , m_place(*parts.place)
    , m_splice(*parts.splice)
    , m_recording(*parts.recording)
{
    connect(&m_place, &PlaceSession::opened, this, &Notices::onOpened);
    connect(&m_place, &PlaceSession::openFailed, this, &Notices::showError);
    connect(&m_place, &PlaceSession::failed, this, &Notices::showError);
    connect(&m_place, &PlaceSession::openingPutOff, this, [this](const QString& folder) {
        m_bar.showMessage(tr("%1 was not opened: something was being recorded here.").arg(folder));
        m_bar.offerAction(tr("Open it now"), [this, folder] { emit openRequested(folder); });
    });
    connect(&m_place, &PlaceSession::fetched, this, [this](const Fetched& fetched) {
        if (m_splice.splice() == nullptr || !fetched.arrivals.empty()) {
            m_bar.showMessage(arrivalsInWords(fetched.arrivals));
        }
    });
    connect(&m_splice, &SpliceSession::failed, this, &Notices::tellOfTrouble);
    connect(&m_splice, &SpliceSession::started, this, &Notices::onStarted);
    connect(&m_splice, &SpliceSession::fellBehind, this, &Notices::onFellBehind);
    connect(&m_recording, &RecordSession::failed, this, &Notices::onRecordingFailed);
    connect(&m_splice, &SpliceSession::ended, this, &Notices::onEnded);
    connect(&m_recording, &RecordSession::keptBeside, this, &Notices::onKeptBeside);
    connect(&m_splice, &SpliceSession::ending, this, [this] {
        if (m_isOfSplice) {
            dismiss();
        }
    });
}

void Notices::say(const QString& text)
{
    m_bar.showMessage(text);
}

void Notices::dismiss()
{
    m_isOfSplice = false;
    m_bar.dismiss();
}

void Notices::showError(const Error& error)
{
    m_isOfSplice = false;
    m_bar.showError(error);
}

void Notices::sayOfSplice(const QString& text, const QString& details)
{
    m_bar.showMessage(text, details);
    m_isOfSplice = true;
}

void Notices::repeatTrouble()
{
    if (m_trouble && m_trouble->reason == Reason::begunElsewhere) {
        tellOfTrouble(*m_trouble);
    } else if (m_trouble) {
        m_bar.showError(*m_trouble);
        m_bar.offerAction(tr("Try again"), [this] { m_place.open(m_place.folder()); });
    }
}

void Notices::onOpened(const FoundPlace& found)
{
    m_toldPrograms.clear();
    m_isOfSplice = false;
    m_trouble = found.trouble;
    if (found.trouble) {
        repeatTrouble();
    } else if (found.recovery) {
        tellOfRecovery(*found.recovery);
    } else if (!found.journalSetAsideAs.empty()) {
        m_bar.showMessage(
            tr("The journal of splices could not be read. It is kept as %1, and a new one was "
               "begun. Work that it had set aside is safe: the logbook lists it.")
                .arg(shownPath(found.journalSetAsideAs)));
        m_bar.offerAction(tr("Open the logbook"), [this] { emit logbookRequested(); });
    } else if (!found.facts->ledTo.empty()) {
        m_bar.showMessage(
            tr("The configuration of %1 says that its working tree is %2. Recording would change "
               "the files there, as git itself would.")
                .arg(m_place.folder(), shownPath(found.facts->ledTo)));
    } else {
        tellOfPrograms(found.facts->programsLeftOut);
    }
}

void Notices::tellOfTakenOver()
{
    const Splice& splice = *m_splice.splice();
    const std::size_t read = splice.decidedCount();
    const std::size_t open = splice.openCount();
    sayOfSplice(
        tr("Taken over: %1 read from the files, %2. The files stay as they are until you record; "
           "“Hand back” in the Splice menu gives it back.")
            .arg(countOf(read, "decision", "decisions"),
                 open == 0 ? tr("nothing is open") : tr("%1 still open").arg(open)));
}

void Notices::askAboutHandingBack()
{
    sayOfSplice(tr("The command line goes on with it, and this splice is put away. What should be "
                   "in its files?"));
    m_bar.offerAction(tr("What was there before"), [this] { m_recording.handBack(false); });
    m_bar.offerAction(tr("What is decided here"), [this] { m_recording.handBack(true); });
}

void Notices::tellOfRecovery(const Recovery& recovery)
{
    const QString branch = shown(recovery.plan.oursName);
    m_bar.showMessage(recovery.isFinished
                          ? tr("A recording on %1 had been interrupted after its commit %2 was "
                               "made. It is finished now.")
                                .arg(branch, shown(recovery.commit.brief()))
                          : tr("A recording on %1 had been interrupted. It was undone: everything "
                               "is as before, your decisions are kept.")
                                .arg(branch));
}

void Notices::tellOfPrograms(const std::vector<std::string>& programs)
{
    std::vector<std::string> untold;
    QStringList commands;
    for (const std::string& program : programs) {
        if (m_toldPrograms.insert(program).second) {
            untold.push_back(program);
            commands << shownPath(program);
        }
    }
    if (untold.empty()) {
        return;
    }
    m_bar.showMessage(tr("This repository's own configuration names a program that compares or "
                         "merges files. It was not run: %1")
                          .arg(commands.join(QStringLiteral(" · "))));
    m_bar.offerAction(tr("Allow it here"), [this, untold] { m_place.allowPrograms(untold); });
}

void Notices::askAboutEarlier(const JournalEntry& earlier,
                              const std::string& theirsRef,
                              const std::shared_ptr<const SurveyForecast>& survey,
                              const StartWishes& wishes)
{
    m_bar.showMessage(tr("A splice of %1 into %2 was put away with decisions in it.")
                          .arg(shown(earlier.plan.theirsName), shown(earlier.plan.oursName)));
    StartWishes carrying = wishes;
    carrying.follows = earlier.plan.id;
    m_bar.offerAction(tr("Carry its decisions over"), [this, theirsRef, survey, carrying] {
        m_splice.start(theirsRef, survey, carrying);
    });
    m_bar.offerAction(tr("Start clean"), [this, theirsRef, survey, wishes] {
        m_splice.start(theirsRef, survey, wishes);
    });
}

void Notices::onStarted(const Started& started)
{
    dismiss();  // what was told before led here
    if (!started.heldBy.empty()) {
        sayOfSplice(tr("Another window has this splice open (process %1). It is shown here as it "
                       "was, and cannot be changed.")
                        .arg(shown(started.heldBy)));
        m_bar.offerAction(tr("Take it over"), [this] { m_splice.takeOver(); });
    } else if (started.isOfBegun) {
        tellOfTakenOver();
    } else if (started.isCarriedOn) {
        tellOfCarriedOver(started.carried);
    }
}

void Notices::tellOfCarriedOver(const CarriedOver& carried)
{
    const std::size_t placed = carried.placed.size();
    const std::size_t lost = carried.lost.size();
    QString text = placed == 1 ? tr("1 decision was carried over.")
                               : tr("%1 decisions were carried over.").arg(placed);
    if (lost > 0) {
        text += lost == 1 ? tr(" 1 no longer applies.") : tr(" %1 no longer apply.").arg(lost);
    }
    QStringList details;
    for (const LostDecision& decision : carried.lost) {
        details << lostInWords(decision);
    }
    sayOfSplice(text, details.join(QLatin1Char('\n')));
}

void Notices::tellOfDeleted(bool isWork, std::function<void()> keep)
{
    m_isOfSplice = false;
    m_bar.showMessage(isWork ? tr("The uncommitted work that was kept is deleted.")
                             : tr("The commit is no longer kept."));
    m_bar.offerAction(tr("Keep it"), std::move(keep));
}

void Notices::tellOfMove(JournalEntry entry, const Recorded& recorded)
{
    m_isOfSplice = false;
    m_bar.showMessage(tr("%1 moved forward from %2 to %3 “%4”.")
                          .arg(shown(entry.plan.oursName),
                               shown(entry.plan.ours.brief()),
                               shown(recorded.commit.id.brief()),
                               shownSubject(recorded.commit)));
    entry.recorded = recorded.commit.id;
    m_bar.offerAction(tr("Undo"), [this, entry] { m_recording.roll(entry, false); });
}

void Notices::tellOfTrouble(const Error& error)
{
    m_bar.showError(error);
    if (error.reason == Reason::spliceOpen && m_place.facts()) {
        m_bar.offerAction(tr("Go on with it"), [this, line = m_place.facts()->into.ref] {
            m_splice.goOnWithOpen(line);
        });
    }
    if (error.reason == Reason::begunElsewhere) {
        m_bar.offerAction(tr("It is mine, use it"), [this] { m_place.useJournal(true); });
        m_bar.offerAction(tr("Begin a new one"), [this] { m_place.useJournal(false); });
    }
}

void Notices::tellOfLost(std::size_t count)
{
    sayOfSplice(count == 1 ? tr("1 decision in a later commit no longer fits and is asked again. "
                                "It comes back if you undo this.")
                           : tr("%1 decisions in later commits no longer fit and are asked again. "
                                "They come back if you undo this.")
                                 .arg(count));
}

void Notices::onFellBehind(const JournalEntry& entry, const QString& why)
{
    sayOfSplice(tr("%1 Nothing is lost: it can be carried on from where both stand now.").arg(why));
    offerToCarryOn(entry);
}

void Notices::offerToCarryOn(const JournalEntry& entry)
{
    const bool canCarryOn = entry.begunBy == BegunBy::window && m_place.facts() != nullptr
                            && m_place.facts()->branch(entry.plan.oursRef) != nullptr;
    if (canCarryOn) {
        m_bar.offerAction(tr("Carry on from there"), [this, entry] { m_splice.carryOn(entry); });
    }
}

void Notices::onRecordingFailed(const Error& error)
{
    if (error.code == ErrorCode::cancelled) {
        sayOfSplice(tr("Recording was stopped. Everything is as before, your decisions are kept."));
    } else {
        m_bar.showError(error);
        m_isOfSplice = true;
        if (error.reason == Reason::begunChanged && m_place.facts()->canTakeBegun()) {
            m_bar.offerAction(tr("Read it again"),
                              [this] { m_splice.takeBegun(m_splice.entry().plan.id); });
        }
        if (error.reason == Reason::lineMoved || error.reason == Reason::checkedOut
            || error.reason == Reason::switched) {
            offerToCarryOn(m_splice.entry());
        }
        if (error.reason == Reason::inTheWay && !error.paths.empty()) {
            offerToKeepBeside(error);
        }
    }
}

/// Files that are not tracked stand where the result has some: they can be kept under other names.
void Notices::offerToKeepBeside(const Error& error)
{
    m_bar.offerAction(tr("Keep it under another name"),
                      [this, paths = error.paths] { m_recording.keepBeside(paths); });
}

void Notices::onKeptBeside(const std::vector<RepoPath>& names)
{
    QStringList list;
    for (const RepoPath& name : names) {
        list << shownPath(name);
    }
    sayOfSplice(tr("Kept as %1. Record again now.").arg(list.join(QStringLiteral(", "))));
}

void Notices::onEnded(Ended how)
{
    if (how == Ended::handedBack) {
        m_bar.showMessage(tr("Handed back: decided files are staged, open conflicts have markers. "
                             "Finish it on the command line, or take it over again."));
    }
    if (how == Ended::putAway || how == Ended::abandoned) {
        m_bar.showMessage(
            how == Ended::putAway
                ? tr("The splice is put away. Nothing was changed, and its decisions are kept.")
                : tr("The splice is abandoned. Nothing was changed. The logbook can bring it "
                     "back."));
        m_bar.offerAction(tr("Bring it back"),
                          [this, id = m_splice.entry().plan.id] { m_splice.bringBack(id); });
    }
}

void Notices::tellOfClosing(std::function<void()> stay)
{
    sayOfSplice(tr("Recording is under way. The window closes as soon as it has an answer."));
    m_bar.offerAction(tr("Stop it and go back"), [this] { m_recording.stop(); });
    m_bar.offerAction(tr("Stay"), std::move(stay));
}
}  // namespace rope
