// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "core/findings/definitions.h"
#include "core/merge/file_signs.h"
#include "desktop/background/background_runner.h"

#include <map>

namespace rope {
/// Finds the candidates of regions: small ones at once, larger ones beside the interface. What each would
/// do to names and blocks of its file is found beside it, after them. What was found is kept for the splice.
class CandidateFinder final : public QObject
{
    Q_OBJECT
public:
    explicit CandidateFinder(QObject* parent);

    /// Forgets everything; answers that are under way go nowhere.
    void clear();
    /// The candidates of a region; nothing yet where they take long: then found() tells of them. A
    /// search for another region is given up. `file` must outlive the search or clear().
    [[nodiscard]] const std::vector<Candidate>* candidatesOf(const SpliceFile& file,
                                                             SlotPlace place);

    /// Another text is offered there now.
    void forget(SlotPlace place) { m_found.erase({place.file, place.slot}); }

    /// What a text of one's own would mean in a region. Cheap where its candidates are known; nothing
    /// of texts that nobody types.
    [[nodiscard]] std::vector<Consequence>
    consequencesOf(std::string_view text, const SpliceFile& file, SlotPlace place) const;

signals:
    void found(rope::SlotPlace place);

private:
    using Key = std::pair<std::size_t, std::size_t>;  ///< File and slot.
    /// What is found once for a file.
    struct FileContext
    {
        FileHabits habits;
        FileSigns signs;
    };
    struct Search
    {
        std::shared_ptr<const TextJoin> join;
        std::size_t region = 0;
        std::optional<std::string> earlier;
        std::optional<double> takenOver;             ///< See FileHabits.
        std::shared_ptr<const FileContext> context;  ///< Null: not found yet.
    };
    struct Found
    {
        std::vector<Candidate> candidates;
        std::shared_ptr<const FileContext> context;
    };
    static Found find(Search search, const std::stop_token& stop);
    void lookDeeper(SlotPlace place,
                    const RepoPath& path,
                    const std::shared_ptr<const TextJoin>& join,
                    std::size_t region);

    std::map<std::size_t, std::shared_ptr<const FileContext>> m_contexts;  ///< By file.
    std::map<Key, std::vector<Candidate>> m_found;
    std::optional<Key> m_searched;
    BackgroundRunner m_runner;
    std::shared_ptr<DefinitionReader> m_definitions = std::make_shared<DefinitionReader>();
    BackgroundRunner m_deeper;  ///< One at a time: they share m_definitions.
};
}  // namespace rope
