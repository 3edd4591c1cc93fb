// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/app/window_parts.h"
#include "desktop/course/splice_session.h"

#include <optional>
#include <set>

namespace rope {
class NoticeBar;

/// What the window tells above its stations, one notice at a time: failures, what was found when a
/// place was opened, where a splice stands; and the next step, where there is one. Listens to the open
/// place and to the splice under way. To be made after what else listens to them, so that a notice
/// comes when the stations show what it speaks of.
class Notices final : public QObject
{
    Q_OBJECT
public:
    Notices(const WindowParts& parts, QObject* parent);

    /// Tells again why the open place's journal is not open, and what can be done; nothing where it is.
    void repeatTrouble();
    void say(const QString& text);
    void dismiss();
    /// Programs of the repository's own configuration that were not run; each is told once.
    void tellOfPrograms(const std::vector<std::string>& programs);
    /// A splice of the same branches was put away with decisions: asks what to start with, and starts.
    void askAboutEarlier(const JournalEntry& earlier,
                         const std::string& theirsRef,
                         const std::shared_ptr<const SurveyForecast>& survey,
                         const StartWishes& wishes);
    /// Something that was kept is kept no more; `keep` takes that back.
    void tellOfDeleted(bool isWork, std::function<void()> keep);
    /// What is the matter, and whose the journal is where that is not known.
    void tellOfTrouble(const Error& error);
    /// A branch was only moved: names what moved where, and offers to take it back.
    void tellOfMove(JournalEntry entry, const Recorded& recorded);
    /// Decisions in later commits have no place any more.
    void tellOfLost(std::size_t count);
    /// Asks how a begun join is to be given back to the program that began it.
    void askAboutHandingBack();
    /// The window is to be closed while a recording is under way. `stay` undoes the wish.
    void tellOfClosing(std::function<void()> stay);

signals:
    void openRequested(const QString& folder);
    void logbookRequested();

private:
    void onOpened(const FoundPlace& found);
    void onStarted(const Started& started);
    void onFellBehind(const JournalEntry& entry, const QString& why);
    void offerToCarryOn(const JournalEntry& entry);
    void onRecordingFailed(const Error& error);
    void offerToKeepBeside(const Error& error);
    void onKeptBeside(const std::vector<RepoPath>& names);
    void onEnded(Ended how);
    void tellOfRecovery(const Recovery& recovery);
    void tellOfCarriedOver(const CarriedOver& carried);
    void tellOfTakenOver();
    void showError(const Error& error);
    /// A notice about the splice under way, which goes with it.
    void sayOfSplice(const QString& text, const QString& details = {});

    NoticeBar& m_bar;
    PlaceSession& m_place;
    SpliceSession& m_splice;
    RecordSession& m_recording;
    std::set<std::string> m_toldPrograms;  ///< Asked about already, in the open place.
    std::optional<Error> m_trouble;        ///< Why the journal of the open place is not open.
    bool m_isOfSplice = false;             ///< What is told goes with the splice.
};
}  // namespace rope
