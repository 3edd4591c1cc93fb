// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_renames.cpp and tst_forecast.cpp.
#include "core/snapshot/renames.h"

#include "core/snapshot/rename_evidence.h"
#include "core/snapshot/repo_paths.h"
#include "core/snapshot/similarity.h"

#include <algorithm>
#include <map>
#include <unordered_map>

namespace rope {
namespace {
/// Contents larger than this are renamed only if they are equal.
constexpr std::uint64_t kMostComparedBytes = 64'000'000;
/// A line that more deleted files have than this tells little; it brings no pair together.
constexpr std::size_t kCommonLine = 256;
/// How many deleted files an added one is compared with, those that share most first.
constexpr std::size_t kMostPartners = 64;
/// Equal files of which more pairs than this are possible are paired by the ends of their paths alone.
constexpr std::size_t kMostEqualPairs = 20'000;
/// How many deleted files that nobody else touched are looked at, to see whether one of them is the
/// better match.
constexpr std::size_t kMostUntouched = 4096;

/// A deleted or an added file, as long as it is in no rename.
struct Loose
{
    const FileChange* change = nullptr;
    FileVersion version;
    Fingerprint fingerprint;
    bool isPaired = false;
    bool isRead = false;
    bool isUnclear = false;  ///< An edit hangs on where it went, and that cannot be told.
};

struct Pair
{
    double score = 0;
    Evidence evidence;
    std::size_t from = 0;
    std::size_t to = 0;

    [[nodiscard]] bool isAsGoodAs(const Pair& other) const
    {
        return score == other.score && evidence == other.evidence;
    }
};

class RenameFinder
{
public:
    RenameFinder(Snapshots& repository,
                 const RenameInterest& interest,
                 const RenameRules& rules,
                 const ProgressSink& progress,
                 const std::stop_token& stop)
        : m_repository(repository)
        , m_interest(interest)
        , m_rules(rules)
        , m_progress(progress)
        , m_stop(stop)
        , m_evidence(interest)
    {
    }

    Result<std::vector<Rename>> find(const std::vector<FileChange>& changes)
    {
        collect(changes);
        if (m_deleted.empty() || m_added.empty() || m_rules.isOff) {
            return std::vector<Rename>{};
        }
        pairEqual();
        TRY(pairSameNames());
        TRY(pairSimilar());
        std::sort(m_renames.begin(), m_renames.end(), [](const Rename& a, const Rename& b) {
            return a.from < b.from;
        });
        return std::move(m_renames);
    }

private:
    using Indexes = std::vector<std::size_t>;

    void collect(const std::vector<FileChange>& changes)
    {
        for (const FileChange& change : changes) {
            if (change.before && !change.after) {
                m_deleted.push_back({&change, *change.before, {}});
            } else if (!change.before && change.after) {
                m_added.push_back({&change, *change.after, {}});
            }
        }
    }

    void pair(std::size_t from, std::size_t to)
    {
        m_deleted[from].isPaired = true;
        m_added[to].isPaired = true;
        m_renames.push_back({m_deleted[from].change->path, m_added[to].change->path});
        m_evidence.note(m_renames.back());
    }

    [[nodiscard]] bool matters(std::size_t from) const
    {
        return !m_interest.matters || m_interest.matters(*m_deleted[from].change);
    }

    [[nodiscard]] bool isEditedByOther(std::size_t from) const
    {
        return m_interest.isEditedByOther
               && m_interest.isEditedByOther(m_deleted[from].change->path);
    }

    [[nodiscard]] Pair pairOf(double score, std::size_t from, std::size_t to) const
    {
        return {
            score, m_evidence.of(m_deleted[from].change->path, m_added[to].change->path), from, to};
    }

    /// Makes renames of pairs, the best first. Where others are as good and an edit hangs on it, the
    /// deleted file is left alone, even if the others are renames already: they had better reasons, and
    /// what is left over by chance is none.
    void pairBest(std::vector<Pair> pairs)
    {
        std::stable_sort(pairs.begin(), pairs.end(), [](const Pair& a, const Pair& b) {
            return a.score != b.score ? a.score > b.score : a.evidence > b.evidence;
        });
        for (auto first = pairs.begin(); first != pairs.end();) {
            const auto last = std::find_if_not(
                first, pairs.end(), [&](const Pair& p) { return p.isAsGoodAs(*first); });
            std::map<std::size_t, int> fromCount;
            std::map<std::size_t, int> toCount;
            for (auto one = first; one != last; ++one) {
                ++fromCount[one->from];
                ++toCount[one->to];
            }
            for (; first != last; ++first) {
                Loose& source = m_deleted[first->from];
                if (source.isPaired || source.isUnclear || m_added[first->to].isPaired) {
                    continue;
                }
                const bool isUnclear = fromCount[first->from] > 1 || toCount[first->to] > 1;
                if (isUnclear && isEditedByOther(first->from)) {
                    source.isUnclear = true;
                } else {
                    pair(first->from, first->to);
                }
            }
        }
    }

    /// Files of equal content: those that are there once first, as they tell where folders went.
    void pairEqual()
    {
        const ObjectId empty = m_repository.idOfBlob({});
        struct Equal
        {
            Indexes from;
            Indexes to;
        };
        std::unordered_map<ObjectId, std::map<EntryKind, Equal>> byContent;
        const auto sort = [](const Loose& file) {
            return isRegular(file.version.kind) ? EntryKind::file : file.version.kind;
        };
        for (std::size_t i = 0; i < m_deleted.size(); ++i) {
            if (m_deleted[i].version.id != empty) {
                byContent[m_deleted[i].version.id][sort(m_deleted[i])].from.push_back(i);
            }
        }
        std::vector<Equal*> unclear;
        for (std::size_t i = 0; i < m_added.size(); ++i) {
            const auto found = byContent.find(m_added[i].version.id);
            if (found == byContent.end()) {
                continue;
            }
            const auto equal = found->second.find(sort(m_added[i]));
            if (equal != found->second.end()) {
                equal->second.to.push_back(i);
                if (equal->second.to.size() == 1) {
                    unclear.push_back(&equal->second);
                }
            }
        }
        std::erase_if(unclear, [this](const Equal* equal) {
            const bool isClear = equal->from.size() == 1 && equal->to.size() == 1;
            if (isClear) {
                pair(equal->from.front(), equal->to.front());
            }
            return isClear;
        });
        for (const Equal* equal : unclear) {
            pairBest(equal->from.size() <= kMostEqualPairs / equal->to.size()
                         ? allPairs(equal->from, equal->to)
                         : pairsByEnding(equal->from, equal->to));
            pairRest(equal->from, equal->to);
        }
    }

    [[nodiscard]] std::vector<Pair> allPairs(const Indexes& from, const Indexes& to) const
    {
        std::vector<Pair> pairs;
        for (const std::size_t target : to) {
            for (const std::size_t source : from) {
                pairs.push_back(pairOf(1, source, target));
            }
        }
        return pairs;
    }

    /// Only what ends in the same folder and file name; of these, too many are no evidence.
    [[nodiscard]] std::vector<Pair> pairsByEnding(const Indexes& from, const Indexes& to) const
    {
        const auto ending = [](const Loose& file) {
            return joinPath(nameOfPath(folderOfPath(file.change->path)),
                            nameOfPath(file.change->path));
        };
        std::map<RepoPath, Indexes> sources;
        for (const std::size_t source : from) {
            sources[ending(m_deleted[source])].push_back(source);
        }
        std::vector<Pair> pairs;
        for (const std::size_t target : to) {
            const auto found = sources.find(ending(m_added[target]));
            for (std::size_t i = 0;
                 found != sources.end() && i < found->second.size() && i < kMostPartners;
                 ++i) {
                pairs.push_back(pairOf(1, found->second[i], target));
            }
        }
        return pairs;
    }

    /// What is left of equal files goes in order, unless an edit hangs on it: that stays unclear.
    void pairRest(const Indexes& from, const Indexes& to)
    {
        auto source = from.begin();
        for (const std::size_t target : to) {
            source = std::find_if(source, from.end(), [this](std::size_t i) {
                return !m_deleted[i].isPaired && !isEditedByOther(i);
            });
            if (source == from.end()) {
                break;
            }
            if (!m_added[target].isPaired) {
                pair(*source, target);
            }
        }
        const bool isAnyLeft = std::any_of(
            to.begin(), to.end(), [this](std::size_t i) { return !m_added[i].isPaired; });
        for (const std::size_t i : from) {
            m_deleted[i].isUnclear |= isAnyLeft && !m_deleted[i].isPaired;
        }
    }

    [[nodiscard]] static bool isOpen(const Loose& file)
    {
        return !file.isPaired && !file.isUnclear && isRegular(file.version.kind);
    }

    /// The only open file of each name; kNone where a name is there more than once.
    static constexpr std::size_t kNone = ~std::size_t{0};
    static std::map<std::string_view, std::size_t> uniqueNames(const std::vector<Loose>& files)
    {
        std::map<std::string_view, std::size_t> byName;
        for (std::size_t i = 0; i < files.size(); ++i) {
            if (!files[i].isPaired) {
                const auto [at, isNew] = byName.insert({nameOfPath(files[i].change->path), i});
                at->second = isNew ? i : kNone;
            }
        }
        return byName;
    }

    /// Where most of a folder's equal files went; a hint for names that are there many times.
    [[nodiscard]] std::map<RepoPath, RepoPath> likelyFolders() const
    {
        std::map<RepoPath, std::map<RepoPath, int>> counts;
        for (const Rename& rename : m_renames) {
            ++counts[folderOfPath(rename.from)][folderOfPath(rename.to)];
        }
        std::map<RepoPath, RepoPath> likely;
        for (const auto& [from, targets] : counts) {
            likely[from] =
                std::max_element(targets.begin(), targets.end(), [](const auto& a, const auto& b) {
                    return a.second < b.second;
                })->first;
        }
        return likely;
    }

    Status pairSameNames()
    {
        const auto sources = uniqueNames(m_deleted);
        const auto targets = uniqueNames(m_added);
        const auto likely = likelyFolders();
        std::map<RepoPath, std::size_t> addedAt;
        for (std::size_t i = 0; i < m_added.size(); ++i) {
            addedAt[m_added[i].change->path] = i;
        }
        std::vector<std::pair<std::size_t, std::size_t>> wanted;
        std::vector<Loose*> files;
        for (std::size_t from = 0; from < m_deleted.size(); ++from) {
            const Loose& source = m_deleted[from];
            const std::string_view name = nameOfPath(source.change->path);
            const auto target = targets.find(name);
            if (!isOpen(source) || target == targets.end() || !matters(from)) {
                continue;
            }
            std::size_t to = sources.at(name) == kNone ? kNone : target->second;
            if (to == kNone) {
                const auto folder = likely.find(folderOfPath(source.change->path));
                if (folder != likely.end()) {
                    const auto at = addedAt.find(joinPath(folder->second, name));
                    to = at == addedAt.end() ? kNone : at->second;
                }
            }
            if (to != kNone && isOpen(m_added[to])) {
                wanted.emplace_back(from, to);
                files.insert(files.end(), {&m_deleted[from], &m_added[to]});
            }
        }
        TRY(readContents(files));
        for (const auto& [from, to] : wanted) {
            if (!m_added[to].isPaired && similarityOf(from, to) >= kSameNameSimilarity) {
                pair(from, to);
            }
        }
        return ok();
    }

    [[nodiscard]] double similarityOf(std::size_t from, std::size_t to) const
    {
        const Loose& a = m_deleted[from];
        const Loose& b = m_added[to];
        return a.isRead && b.isRead ? similarity(a.fingerprint, b.fingerprint) : 0;
    }

    Status readContents(std::vector<Loose*> files)
    {
        std::erase_if(files, [](const Loose* file) { return file->isRead; });
        std::sort(files.begin(), files.end());
        files.erase(std::unique(files.begin(), files.end()), files.end());
        constexpr std::size_t kBatch = 256;
        for (std::size_t from = 0; from < files.size(); from += kBatch) {
            if (m_stop.stop_requested()) {
                return Error{ErrorCode::cancelled, {}, {}};
            }
            if (m_progress) {
                m_progress({ProgressStep::findingRenames, {}, from, files.size()});
            }
            const std::size_t end = std::min(files.size(), from + kBatch);
            std::vector<ObjectId> ids;
            for (std::size_t i = from; i < end; ++i) {
                ids.push_back(files[i]->version.id);
            }
            TRY_ASSIGN(const auto blobs, m_repository.readBlobs(ids, kMostComparedBytes));
            for (std::size_t i = from; i < end; ++i) {
                const BlobBytes& blob = blobs[i - from];
                if (blob && !blob->empty()) {
                    files[i]->fingerprint = Fingerprint(*blob);
                    files[i]->isRead = true;
                }
            }
        }
        return ok();
    }

    Status pairSimilar()
    {
        const Indexes touched = openFiles(m_deleted, [this](std::size_t i) { return matters(i); });
        const Indexes targets = openFiles(m_added, [](std::size_t) { return true; });
        if (touched.empty() || targets.empty()) {
            return ok();
        }
        const std::size_t most = m_rules.mostFiles;
        if (most > 0 && touched.size() > most * most / targets.size()) {
            return ok();
        }
        TRY(readContents(touched, targets));
        std::vector<Pair> pairs = similarPairs(touched, targets);
        if (pairs.empty()) {
            return ok();
        }
        // Another deleted file, though nobody else touched it, may be what the added one really was.
        Indexes wanted;
        for (const Pair& pair : pairs) {
            wanted.push_back(pair.to);
        }
        std::sort(wanted.begin(), wanted.end());
        wanted.erase(std::unique(wanted.begin(), wanted.end()), wanted.end());
        Indexes untouched = openFiles(m_deleted, [this](std::size_t i) { return !matters(i); });
        untouched.resize(std::min(untouched.size(), kMostUntouched));
        TRY(readContents(untouched, {}));
        const std::vector<Pair> others = similarPairs(untouched, wanted);
        pairs.insert(pairs.end(), others.begin(), others.end());
        pairBest(std::move(pairs));
        return ok();
    }

    template <typename Predicate>
    [[nodiscard]] static Indexes openFiles(const std::vector<Loose>& files, Predicate isWanted)
    {
        Indexes found;
        for (std::size_t i = 0; i < files.size(); ++i) {
            if (isOpen(files[i]) && isWanted(i)) {
                found.push_back(i);
            }
        }
        return found;
    }

    Status readContents(const Indexes& deleted, const Indexes& added)
    {
        std::vector<Loose*> files;
        for (const std::size_t i : deleted) {
            files.push_back(&m_deleted[i]);
        }
        for (const std::size_t i : added) {
            files.push_back(&m_added[i]);
        }
        return readContents(std::move(files));
    }

    /// Lines that few deleted files have bring pairs together; only those are compared in full.
    [[nodiscard]] std::vector<Pair> similarPairs(const Indexes& sources,
                                                 const Indexes& targets) const
    {
        std::unordered_map<std::uint64_t, std::vector<std::pair<std::size_t, std::uint64_t>>>
            having;
        for (const std::size_t from : sources) {
            for (const Fingerprint::Piece& piece : m_deleted[from].fingerprint.pieces()) {
                having[piece.digest].emplace_back(from, piece.bytes);
            }
        }
        std::vector<Pair> pairs;
        std::vector<std::uint64_t> shared(m_deleted.size());
        std::vector<std::size_t> partners;
        for (const std::size_t to : targets) {
            partners.clear();
            for (const Fingerprint::Piece& piece : m_added[to].fingerprint.pieces()) {
                const auto found = having.find(piece.digest);
                if (found == having.end() || found->second.size() > kCommonLine) {
                    continue;
                }
                for (const auto& [from, bytes] : found->second) {
                    if (shared[from] == 0) {
                        partners.push_back(from);
                    }
                    shared[from] += std::min(bytes, piece.bytes);
                }
            }
            std::sort(partners.begin(), partners.end());
            std::stable_sort(partners.begin(), partners.end(), [&](std::size_t a, std::size_t b) {
                return shared[a] > shared[b];
            });
            for (std::size_t i = 0; i < partners.size(); ++i) {
                shared[partners[i]] = 0;
                const double score = i < kMostPartners ? similarityOf(partners[i], to) : 0;
                if (score >= kRenameSimilarity) {
                    pairs.push_back(pairOf(score, partners[i], to));
                }
            }
        }
        return pairs;
    }

    Snapshots& m_repository;
    const RenameInterest& m_interest;
    const RenameRules& m_rules;
    const ProgressSink& m_progress;
    const std::stop_token& m_stop;
    RenameEvidence m_evidence;
    std::vector<Loose> m_deleted;
    std::vector<Loose> m_added;
    std::vector<Rename> m_renames;
};
}  // namespace

Result<std::vector<Rename>> findRenames(Snapshots& repository,
                                        const std::vector<FileChange>& changes,
                                        const RenameInterest& interest,
                                        const RenameRules& rules,
                                        const ProgressSink& progress,
                                        const std::stop_token& stop)
{
    return RenameFinder(repository, interest, rules, progress, stop).find(changes);
}
}  // namespace rope
