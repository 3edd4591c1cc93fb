// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/tree_checker.h"
#include "desktop/course/splice_session.h"
#include "desktop/facts/check_view.h"

#include <QTimer>

#include <map>
#include <set>

namespace rope {
/// Checks the result of the splice under way beside the interface, as decisions fall, and keeps what a
/// person said of findings and files. Lives on the interface thread.
class CheckSession final : public QObject
{
    Q_OBJECT
public:
    CheckSession(PlaceSession& place, SpliceSession& splice, QObject* parent);

    /// Says of a finding that it is fine, or takes that back.
    void setFine(const std::string& key, bool isFine);
    /// Ticks a file off as read, or takes that back.
    void setRead(const std::string& key, bool isRead);
    /// Takes a file up that only one side changed; answered by tookUp() or cannotTakeUp().
    void takeUp(const RepoPath& path);
    /// Whether all kinds of findings are told, not only those that are right often enough.
    void setTold(Told told);
    /// What is to be shown; changed() tells of another one.
    [[nodiscard]] const CheckView& view() const { return m_view; }
    /// The splice whose files are read: the one under way. A rebase is read as one join of both branches
    /// that ends in what the last commit holds; nothing is decided in that one, and it is null while
    /// something is open.
    [[nodiscard]] Splice* readSplice() const;
    /// Whether readSplice() is only read: it is no splice that a person decides.
    [[nodiscard]] bool isReadOnly() const;
    /// A check is under way.
    [[nodiscard]] bool isBusy() const { return m_isBusy; }

signals:
    /// What is known changed; while isBusy() more will come.
    void changed();
    /// readSplice() is about to be another one.
    void readSpliceAboutToChange();
    /// The splice has the file now, at this place; whatever shows its files must look again.
    void aboutToTakeUp();
    void tookUp(const rope::RepoPath& path, std::size_t file);
    /// It is none that one side alone changed, or no text, or could not be read.
    void cannotTakeUp(const rope::RepoPath& path);

private:
    struct Work;
    struct Checked;
    void onStarted();
    void onEnding();
    void start();
    void check();
    void checkRebase();
    void takeChecked(const std::shared_ptr<const Checked>& checked);
    void findAuthors();
    void show();
    void addFindings();
    void addFiles();

    PlaceSession& m_place;
    SpliceSession& m_splice;
    std::shared_ptr<Work> m_work;  ///< Of the splice under way; null: there is none.
    std::set<RepoPath> m_stale;    ///< Files that changed since they were checked.
    std::shared_ptr<const Checked> m_checked;
    std::shared_ptr<Splice> m_rebased;  ///< See readSplice(); null for anything but a rebase.
    std::map<std::string, PlaceAuthors> m_authors;  ///< By key of the finding.
    std::set<std::string> m_fine;
    std::set<std::string> m_read;
    CheckView m_view;
    bool m_isBusy = false;
    Told m_told = Told::byDefault;
    QTimer m_timer;
    BackgroundRunner m_checks;
    BackgroundRunner m_history;  ///< Who is behind a finding: after it has been told.
    BackgroundRunner m_takes;    ///< Reads files that are taken up; superseded by nothing else.
};
}  // namespace rope
