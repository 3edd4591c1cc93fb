// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_renames.cpp and tst_forecast.cpp.
#include "core/snapshot/renames.h"

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

/// A deleted or an added file, as long as it is in no rename.
struct Loose
{
    const FileChange* change = nullptr;
    FileVersion version;
    Fingerprint fingerprint;
    bool isPaired = false;
    bool isRead = false;
};

struct Pair
{
    double score = 0;
    bool hasSameName = false;
    std::size_t from = 0;
    std::size_t to = 0;
};

class RenameFinder
{
public:
    RenameFinder(Snapshots& repository, const ProgressSink& progress, const std::stop_token& stop)
        : m_repository(repository)
        , m_progress(progress)
        , m_stop(stop)
    {
    }

    Result<std::vector<Rename>> find(const std::vector<FileChange>& changes,
                                     const RenameMatters& matters)
    {
        collect(changes);
        if (m_deleted.empty() || m_added.empty()) {
            return std::vector<Rename>{};
        }
        pairEqual();
        TRY(pairSameNames(matters));
        TRY(pairSimilar(matters));
        std::sort(m_renames.begin(), m_renames.end(), [](const Rename& a, const Rename& b) {
            return a.from < b.from;
        });
        return std::move(m_renames);
    }

private:
    void collect(const std::vector<FileChange>& changes)
    {
        for (const FileChange& change : changes) {
            if (change.before && !change.after) {
                m_deleted.push_back({&change, *change.before, {}, false, false});
            } else if (!change.before && change.after) {
                m_added.push_back({&change, *change.after, {}, false, false});
            }
        }
    }

    void pair(std::size_t from, std::size_t to)
    {
        m_deleted[from].isPaired = true;
        m_added[to].isPaired = true;
        m_renames.push_back({m_deleted[from].change->path, m_added[to].change->path});
    }

    [[nodiscard]] bool hasSameName(std::size_t from, std::size_t to) const
    {
        return nameOfPath(m_deleted[from].change->path) == nameOfPath(m_added[to].change->path);
    }

    void pairEqual()
    {
        const ObjectId empty = m_repository.idOfBlob({});
        std::unordered_map<ObjectId, std::vector<std::size_t>> byId;
        for (std::size_t i = 0; i < m_deleted.size(); ++i) {
            byId[m_deleted[i].version.id].push_back(i);
        }
        for (std::size_t to = 0; to < m_added.size(); ++to) {
            const FileVersion& version = m_added[to].version;
            const auto sources = byId.find(version.id);
            if (sources == byId.end() || version.id == empty) {
                continue;
            }
            std::optional<std::size_t> best;
            for (const std::size_t from : sources->second) {
                const Loose& source = m_deleted[from];
                const bool isSameSort =
                    source.version.kind == version.kind
                    || (isRegular(source.version.kind) && isRegular(version.kind));
                if (source.isPaired || !isSameSort) {
                    continue;
                }
                if (hasSameName(from, to)) {
                    best = from;
                    break;
                }
                best = best ? best : std::optional(from);
            }
            if (best) {
                pair(*best, to);
            }
        }
    }

    [[nodiscard]] static bool isOpen(const Loose& file)
    {
        return !file.isPaired && isRegular(file.version.kind);
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

    Status pairSameNames(const RenameMatters& matters)
    {
        const auto sources = uniqueNames(m_deleted);
        const auto targets = uniqueNames(m_added);
        const auto likely = likelyFolders();
        std::map<RepoPath, std::size_t> addedAt;
        for (std::size_t i = 0; i < m_added.size(); ++i) {
            addedAt[m_added[i].change->path] = i;
        }
        std::vector<Pair> wanted;
        std::vector<Loose*> files;
        for (std::size_t from = 0; from < m_deleted.size(); ++from) {
            const Loose& source = m_deleted[from];
            const std::string_view name = nameOfPath(source.change->path);
            const auto target = targets.find(name);
            if (!isOpen(source) || target == targets.end() || !matters(*source.change)) {
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
                wanted.push_back({0, true, from, to});
                files.insert(files.end(), {&m_deleted[from], &m_added[to]});
            }
        }
        TRY(readContents(files));
        for (const Pair& candidate : wanted) {
            if (!m_added[candidate.to].isPaired
                && similarityOf(candidate.from, candidate.to) >= kSameNameSimilarity) {
                pair(candidate.from, candidate.to);
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
                m_progress({"looking for renamed files", from, files.size()});
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

    Status pairSimilar(const RenameMatters& matters)
    {
        std::vector<std::size_t> sources;
        std::vector<std::size_t> targets;
        std::vector<Loose*> files;
        for (std::size_t i = 0; i < m_deleted.size(); ++i) {
            if (isOpen(m_deleted[i]) && matters(*m_deleted[i].change)) {
                sources.push_back(i);
                files.push_back(&m_deleted[i]);
            }
        }
        for (std::size_t i = 0; i < m_added.size(); ++i) {
            if (isOpen(m_added[i])) {
                targets.push_back(i);
                files.push_back(&m_added[i]);
            }
        }
        if (sources.empty() || targets.empty()) {
            return ok();
        }
        TRY(readContents(files));
        std::vector<Pair> pairs = similarPairs(sources, targets);
        std::stable_sort(pairs.begin(), pairs.end(), [](const Pair& a, const Pair& b) {
            return a.score != b.score ? a.score > b.score : a.hasSameName > b.hasSameName;
        });
        for (const Pair& candidate : pairs) {
            if (!m_deleted[candidate.from].isPaired && !m_added[candidate.to].isPaired) {
                pair(candidate.from, candidate.to);
            }
        }
        return ok();
    }

    /// Lines that few deleted files have bring pairs together; only those are compared in full.
    [[nodiscard]] std::vector<Pair> similarPairs(const std::vector<std::size_t>& sources,
                                                 const std::vector<std::size_t>& targets) const
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
                    pairs.push_back({score, hasSameName(partners[i], to), partners[i], to});
                }
            }
        }
        return pairs;
    }

    Snapshots& m_repository;
    const ProgressSink& m_progress;
    const std::stop_token& m_stop;
    std::vector<Loose> m_deleted;
    std::vector<Loose> m_added;
    std::vector<Rename> m_renames;
};
}  // namespace

Result<std::vector<Rename>> findRenames(Snapshots& repository,
                                        const std::vector<FileChange>& changes,
                                        const RenameMatters& matters,
                                        const ProgressSink& progress,
                                        const std::stop_token& stop)
{
    return RenameFinder(repository, progress, stop).find(changes, matters);
}
}  // namespace rope
