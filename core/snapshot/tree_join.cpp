// SPDX-License-Identifier: GPL-3.0-or-later
// Two lists of changes against the base are walked side by side:
//   only ours changed it      stays as ours has it
//   only theirs changed it    taken over
//   both made the same of it  stays
//   one deleted, one edited   a question
//   both edited or added it   texts are joined by lines; anything else is a question
// and last, a file that ends up where the other side has a folder moves aside.
// Tested by tst_tree_join.cpp.
#include "core/snapshot/tree_join.h"

#include <algorithm>
#include <set>

namespace rope {
namespace {
/// Larger texts are asked as a whole: git, too, takes files over half a gigabyte for binary.
constexpr std::uint64_t kMostTextBytes = 512'000'000;

/// The mode three versions lead to; both sides differing from the base alike or not decides.
EntryKind joinedKindOf(const FileOutcome& file)
{
    if (!file.base || !isRegular(file.base->kind)) {
        return file.ours->kind;
    }
    return file.ours->kind == file.base->kind ? file.theirs->kind : file.ours->kind;
}

void ask(FileOutcome& file,
         OutcomeKind kind,
         QuestionKind question,
         std::vector<FileChoice> choices)
{
    file.kind = kind;
    file.question = FileQuestion{question, std::move(choices), {}};
}

class TreeJoiner
{
public:
    TreeJoiner(Repository& repository, const ProgressSink& progress, const std::stop_token& stop)
        : m_repository(repository)
        , m_progress(progress)
        , m_stop(stop)
    {
    }

    Result<TreeJoin> join(const ObjectId& base, const ObjectId& ours, const ObjectId& theirs)
    {
        TRY_ASSIGN(m_join.oursChanges, treeChanges(m_repository, base, ours, m_stop));
        TRY_ASSIGN(m_join.theirsChanges, treeChanges(m_repository, base, theirs, m_stop));
        pairUp();
        TRY(joinContents());
        moveFilesOutOfFolders();
        return std::move(m_join);
    }

private:
    void pairUp()
    {
        auto ours = m_join.oursChanges.begin();
        const auto oursEnd = m_join.oursChanges.end();
        for (const FileChange& theirs : m_join.theirsChanges) {
            while (ours != oursEnd && ours->path < theirs.path) {
                ++ours;
            }
            if (ours == oursEnd || ours->path != theirs.path) {
                m_join.theirsEdits.push_back({theirs.path, theirs.after});
                continue;
            }
            FileOutcome file;
            file.path = theirs.path;
            file.base = theirs.before;
            file.ours = ours->after;
            file.theirs = theirs.after;
            classify(file);
            m_join.files.push_back(std::move(file));
        }
    }

    /// Settles or asks what can be told without reading contents; leaves the rest to joinContents().
    static void classify(FileOutcome& file)
    {
        using enum FileChoice;
        file.kind = file.base ? OutcomeKind::content : OutcomeKind::bothAdded;
        if (file.ours == file.theirs) {
            file.settled = file.ours;
        } else if (!file.ours) {
            ask(file, OutcomeKind::modifyDelete, QuestionKind::deletedByOurs, {theirs, ours, base});
        } else if (!file.theirs) {
            ask(file,
                OutcomeKind::modifyDelete,
                QuestionKind::deletedByTheirs,
                {ours, theirs, base});
        } else if (!isRegular(file.ours->kind) || !isRegular(file.theirs->kind)) {
            classifySpecial(file);
        } else {
            file.joinedKind = joinedKindOf(file);
            const EntryKind joinedMode = file.joinedKind;
            const ObjectId baseId =
                file.base && isRegular(file.base->kind) ? file.base->id : ObjectId{};
            if (!file.base && file.ours->kind != file.theirs->kind) {
                ask(file, OutcomeKind::mode, QuestionKind::modes, {ours, theirs});
            } else if (file.ours->id == file.theirs->id || file.theirs->id == baseId) {
                file.settled = FileVersion{joinedMode, file.ours->id};
            } else if (file.ours->id == baseId) {
                file.settled = FileVersion{joinedMode, file.theirs->id};
            }
        }
    }

    static void classifySpecial(FileOutcome& file)
    {
        using enum FileChoice;
        std::vector<FileChoice> choices{ours, theirs};
        if (file.base) {
            choices.push_back(base);
        }
        if (file.ours->kind != file.theirs->kind) {
            choices.push_back(keepBoth);
            ask(file, OutcomeKind::mode, QuestionKind::differentKinds, choices);
            file.question->beside = file.path + "~theirs";
        } else if (file.ours->kind == EntryKind::symlink) {
            ask(file, OutcomeKind::symlink, QuestionKind::symlink, choices);
        } else {
            ask(file, OutcomeKind::submodule, QuestionKind::submodule, choices);
        }
    }

    [[nodiscard]] static bool wantsText(const FileOutcome& file)
    {
        if (file.settled || !file.ours || !file.theirs || !isRegular(file.ours->kind)
            || !isRegular(file.theirs->kind)) {
            return false;
        }
        return !file.question
               || (file.question->kind == QuestionKind::modes && file.ours->id != file.theirs->id);
    }

    /// The blobs of base (if any), ours and theirs, in this order.
    static std::vector<ObjectId> blobsOf(const FileOutcome& file)
    {
        std::vector<ObjectId> ids;
        if (file.base && isRegular(file.base->kind)) {
            ids.push_back(file.base->id);
        }
        ids.insert(ids.end(), {file.ours->id, file.theirs->id});
        return ids;
    }

    Status joinContents()
    {
        std::vector<FileOutcome*> wanted;
        std::vector<ObjectId> ids;
        for (FileOutcome& file : m_join.files) {
            if (wantsText(file)) {
                const auto own = blobsOf(file);
                ids.insert(ids.end(), own.begin(), own.end());
                wanted.push_back(&file);
            }
        }
        TRY_ASSIGN(const auto sizes, m_repository.blobSizes(ids));
        std::size_t next = 0;
        std::uint64_t done = 0;
        for (FileOutcome* file : wanted) {
            if (m_stop.stop_requested()) {
                return Error{ErrorCode::cancelled, file->path, {}};
            }
            if (m_progress) {
                m_progress({"joining " + file->path, done++, wanted.size()});
            }
            const auto own = blobsOf(*file);
            const bool isLarge =
                std::any_of(sizes.begin() + static_cast<std::ptrdiff_t>(next),
                            sizes.begin() + static_cast<std::ptrdiff_t>(next + own.size()),
                            [](std::uint64_t size) { return size > kMostTextBytes; });
            next += own.size();
            if (isLarge) {
                askAsWhole(*file, QuestionKind::tooLarge);
                continue;
            }
            TRY(joinText(*file, own));
        }
        return ok();
    }

    static void askAsWhole(FileOutcome& file, QuestionKind question)
    {
        using enum FileChoice;
        std::vector<FileChoice> choices{ours, theirs, keepBoth};
        if (file.base) {
            choices.push_back(base);
        }
        ask(file, OutcomeKind::binary, question, choices);
        file.question->beside = file.path + "~theirs";
    }

    Status joinText(FileOutcome& file, const std::vector<ObjectId>& ids)
    {
        TRY_ASSIGN(const auto blobs, m_repository.readBlobs(ids));
        if (std::any_of(
                blobs.begin(), blobs.end(), [](const BlobBytes& b) { return isBinary(*b); })) {
            askAsWhole(file, QuestionKind::binary);
            return ok();
        }
        const bool hasBase = blobs.size() == 3;
        // Added on both sides, one of them empty: git takes the other, as a change of nothing.
        const std::string base = hasBase ? *blobs[0] : std::string();
        auto joined = joinTexts(base, *blobs[hasBase ? 1 : 0], *blobs[hasBase ? 2 : 1], m_stop);
        if (!joined) {
            return std::move(joined).error();
        }
        file.text = std::make_shared<const TextJoin>(std::move(joined).value());
        return ok();
    }

    /// A path that is a file here and a folder there: the folder stays, the file moves aside.
    void moveFilesOutOfFolders()
    {
        std::set<RepoPath> folders;
        const auto addFolders = [&folders](const RepoPath& path) {
            for (std::size_t slash = path.find('/'); slash != RepoPath::npos;
                 slash = path.find('/', slash + 1)) {
                folders.insert(path.substr(0, slash));
            }
        };
        for (const auto* changes : {&m_join.oursChanges, &m_join.theirsChanges}) {
            for (const FileChange& change : *changes) {
                if (change.after) {
                    addFolders(change.path);
                }
            }
        }
        for (FileOutcome& file : m_join.files) {
            if (folders.contains(file.path) && (file.ours.has_value() != file.theirs.has_value())) {
                moveAside(file);
            }
        }
        for (const FileChange& change : m_join.oursChanges) {
            if (change.after && folders.contains(change.path) && !hasOutcome(change.path)) {
                addAside(change, true);
            }
        }
        for (const FileChange& change : m_join.theirsChanges) {
            if (change.after && folders.contains(change.path) && !hasOutcome(change.path)) {
                std::erase_if(m_join.theirsEdits,
                              [&](const TreeEdit& edit) { return edit.path == change.path; });
                addAside(change, false);
            }
        }
        std::sort(m_join.files.begin(), m_join.files.end(), [](const auto& a, const auto& b) {
            return a.path < b.path;
        });
    }

    [[nodiscard]] bool hasOutcome(const RepoPath& path) const
    {
        return std::any_of(m_join.files.begin(), m_join.files.end(), [&](const auto& f) {
            return f.path == path;
        });
    }

    void addAside(const FileChange& change, bool isOurs)
    {
        FileOutcome file;
        file.path = change.path;
        file.base = change.before;
        (isOurs ? file.ours : file.theirs) = change.after;
        moveAside(file);
        m_join.files.push_back(std::move(file));
    }

    static void moveAside(FileOutcome& file)
    {
        using enum FileChoice;
        const bool isOurs = file.ours.has_value();
        ask(file,
            OutcomeKind::directoryFile,
            QuestionKind::fileAgainstFolder,
            {aside, isOurs ? theirs : ours});
        file.question->beside = file.path + (isOurs ? "~ours" : "~theirs");
        file.settled.reset();
    }

    Repository& m_repository;
    const ProgressSink& m_progress;
    const std::stop_token& m_stop;
    TreeJoin m_join;
};
}  // namespace

bool TreeJoin::isClean() const
{
    return std::none_of(
        files.begin(), files.end(), [](const FileOutcome& file) { return file.needsDecision(); });
}

Result<TreeJoin> joinTrees(Repository& repository,
                           const ObjectId& base,
                           const ObjectId& ours,
                           const ObjectId& theirs,
                           const ProgressSink& progress,
                           const std::stop_token& stop)
{
    return TreeJoiner(repository, progress, stop).join(base, ours, theirs);
}
}  // namespace rope
