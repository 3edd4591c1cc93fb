// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_virtual_base.cpp.
#include "core/join/virtual_base.h"

#include "core/history/divergence.h"
#include "core/join/result_edits.h"
#include "core/merge/marked_text.h"

namespace rope {
namespace {
constexpr std::size_t kMarkerLength = 7;
constexpr std::size_t kLongerPerLevel = 2;

/// What a join leaves in a virtual base, where a person would be asked.
std::vector<Placement> placementsUnasked(const FileOutcome& file, const ObjectId& emptyBlob)
{
    if (!file.question) {
        return file.placements({});
    }
    const auto asBase = [&]() -> std::vector<Placement> {
        return file.base ? std::vector<Placement>{{file.path, *file.base, false}}
                         : std::vector<Placement>{};
    };
    switch (file.question->kind) {
    case QuestionKind::deletedByOurs:
    case QuestionKind::deletedByTheirs:
    case QuestionKind::renamedDeletedByOurs:
    case QuestionKind::renamedDeletedByTheirs:
    case QuestionKind::symlink:
    case QuestionKind::submodule:
    case QuestionKind::differentKinds:
        return asBase();
    case QuestionKind::binary:
    case QuestionKind::tooLarge:
    case QuestionKind::notByLines:
    case QuestionKind::programLeftOut:
        if (!file.base || !isRegular(file.base->kind)) {
            return {{file.path, {file.ours->kind, emptyBlob}, false}};
        }
        return asBase();
    case QuestionKind::renamedTwice:
        return file.question->answerOf(FileChoice::keepBoth)
                   ? file.question->answerOf(FileChoice::keepBoth)->puts
                   : file.question->answers.front().puts;
    case QuestionKind::renamedOnto:
    case QuestionKind::inRenamedFolder:
    case QuestionKind::inSplitFolder:
    case QuestionKind::blockedByFile:
    case QuestionKind::modes:
    case QuestionKind::fileAgainstFolder:
    case QuestionKind::nameRefused:
    case QuestionKind::putByHand:
        return file.question->answers.front().puts;
    }
    return {};
}

/// One commit, or several taken as one that has them as parents.
struct Tip
{
    std::vector<ObjectId> commits;
    ObjectId tree;
};

class BaseJoiner
{
public:
    BaseJoiner(History& history,
               Overlay& snapshots,
               CommitGraph& graph,
               const std::shared_ptr<MergeRules>& rules,
               const ProgressSink& progress,
               const std::stop_token& stop)
        : m_history(history)
        , m_snapshots(snapshots)
        , m_graph(graph)
        , m_rules(rules)
        , m_progress(progress)
        , m_stop(stop)
    {
    }

    Result<VirtualBase> joinAll(std::span<const ObjectId> bases, std::size_t level)
    {
        TRY_ASSIGN(const auto commits, m_history.readCommits(bases));
        Tip whole{{bases.front()}, commits.front().tree};
        std::vector<TwinPaths> twins;
        std::map<RepoPath, RepoPath> madeUp;
        for (std::size_t i = 1; i < bases.size(); ++i) {
            const Tip next{{bases[i]}, commits[i].tree};
            TRY_ASSIGN(VirtualBase joined, joinTwo(whole, next, level));
            whole.commits.push_back(bases[i]);
            whole.tree = joined.tree;
            twins.insert(twins.end(), joined.twins.begin(), joined.twins.end());
            madeUp.merge(joined.madeUp);
        }
        return VirtualBase{whole.tree, std::move(twins), std::move(madeUp)};
    }

private:
    Result<VirtualBase> joinTwo(const Tip& ours, const Tip& theirs, std::size_t level)
    {
        if (m_progress) {
            m_progress({ProgressStep::joiningBases, {}, level, 0});
        }
        TRY_ASSIGN(const auto bases, findBases(m_graph, ours.commits, theirs.commits, m_stop));
        VirtualBase base;
        if (bases.size() == 1) {
            TRY_ASSIGN(const auto commits, m_history.readCommits(bases));
            base.tree = commits.front().tree;
        } else if (bases.size() > 1) {
            TRY_ASSIGN(base, joinAll(bases, level + 1));
        }
        const TreeJoinOptions options{
            false, false, std::move(base.twins), m_rules, std::move(base.madeUp)};
        TRY_ASSIGN(
            const TreeJoin join,
            joinTrees(m_snapshots, base.tree, ours.tree, theirs.tree, options, m_progress, m_stop));
        return hold(join, ours.tree, level);
    }

    Result<VirtualBase> hold(const TreeJoin& join, const ObjectId& oursTree, std::size_t level)
    {
        VirtualBase base;
        const MarkerStyle style{"ours", "base", "theirs", kMarkerLength + kLongerPerLevel * level};
        const ObjectId emptyBlob = m_snapshots.holdBlob({});
        TRY_ASSIGN(ResultEdits edits, ResultEdits::of(join));
        for (const FileOutcome& file : join.files) {
            if (!file.question && !file.text) {
                continue;
            }
            if (file.question && file.question->kind == QuestionKind::renamedTwice
                && !file.alsoAt.empty() && file.ours && file.theirs) {
                base.twins.emplace_back(file.path, file.alsoAt.front());
            }
            for (Placement& put : placementsUnasked(file, emptyBlob)) {
                if (put.isJoinedText) {
                    const std::string joined = file.text->isClean() ? file.text->cleanText()
                                                                    : clashText(*file.text, style);
                    put.version.id =
                        m_snapshots.holdBlob(file.text->encoded(joined).value_or(joined));
                }
                noteMadeUp(file, put.path, base);
                TRY(edits.put(put.path, put.version, nullptr));
            }
        }
        for (const auto& [path, aside] : join.asides) {
            base.madeUp[aside] = path;
        }
        TRY_ASSIGN(const auto list, edits.finish());
        TRY_ASSIGN(base.tree, m_snapshots.holdResult({oursTree, list}));
        return base;
    }

    static void noteMadeUp(const FileOutcome& file, const RepoPath& put, VirtualBase& base)
    {
        if (file.beside && file.beside->path == put) {
            base.madeUp[put] = file.ours ? file.oursPath : file.theirsPath;
        }
    }

    History& m_history;
    Overlay& m_snapshots;
    CommitGraph& m_graph;
    const std::shared_ptr<MergeRules>& m_rules;
    const ProgressSink& m_progress;
    const std::stop_token& m_stop;
};
}  // namespace

Result<VirtualBase> joinBases(History& history,
                              Overlay& snapshots,
                              CommitGraph& graph,
                              std::span<const ObjectId> bases,
                              const std::shared_ptr<MergeRules>& rules,
                              const ProgressSink& progress,
                              const std::stop_token& stop)
{
    return BaseJoiner(history, snapshots, graph, rules, progress, stop).joinAll(bases, 1);
}
}  // namespace rope
