// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_collision_view.cpp.
#include "desktop/facts/collision_model.h"

#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

#include <algorithm>

namespace rope {
namespace {
QString whoOf(const CollisionBranch& branch)
{
    return shown(branch.tip.author.name);
}

std::size_t openFiles(const PairOutcome& outcome)
{
    return static_cast<std::size_t>(
        std::count_if(outcome.files.begin(), outcome.files.end(), [](const PairFile& file) {
            return file.isOpen();
        }));
}

QString fileInWords(const PairFile& file)
{
    if (file.isQuestion) {
        return tr("one side must be chosen");
    }
    return file.regions == 0 ? tr("clean") : countOf(file.regions, "region", "regions");
}
}  // namespace

const PairOutcome& CollisionModel::outcome(BranchPair pair) const
{
    static const PairOutcome kNotYet;
    const auto found = pairs.find(pair);
    return found == pairs.end() ? kNotYet : found->second;
}

std::size_t CollisionModel::meets(std::size_t branch) const
{
    return static_cast<std::size_t>(
        std::count_if(pairs.begin(), pairs.end(), [branch](const auto& known) {
            return known.second.kind == PairOutcome::Kind::collides
                   && (known.first.first == branch || known.first.second == branch);
        }));
}

std::vector<BranchPair> CollisionModel::colliding() const
{
    std::vector<BranchPair> found;
    for (const auto& [pair, outcome] : pairs) {
        if (outcome.kind == PairOutcome::Kind::collides) {
            found.push_back(pair);
        }
    }
    std::stable_sort(found.begin(), found.end(), [this](const auto& a, const auto& b) {
        return outcome(a).open > outcome(b).open;
    });
    return found;
}

QString shortName(const CollisionBranch& branch)
{
    const std::size_t slash = branch.name.find('/');
    const bool hasRemote = branch.ref.starts_with("refs/remotes/") && slash != std::string::npos;
    return shown(hasRemote ? branch.name.substr(slash + 1) : branch.name);
}

QString cellWords(const PairOutcome& outcome)
{
    switch (outcome.kind) {
    case PairOutcome::Kind::notYet:
        return tr("not yet");
    case PairOutcome::Kind::joins:
        return tr("clean");
    case PairOutcome::Kind::collides:
        return QString::number(outcome.open);
    case PairOutcome::Kind::contained:
        return tr("contained");
    case PairOutcome::Kind::unknown:
        return tr("unknown");
    }
    return {};
}

QString pairInWords(const CollisionModel& model, BranchPair pair)
{
    const CollisionBranch& first = model.branches[pair.first];
    const CollisionBranch& second = model.branches[pair.second];
    const QString names =
        tr("%1 (%2) and %3 (%4)")
            .arg(shortName(first), whoOf(first), shortName(second), whoOf(second));
    const PairOutcome& outcome = model.outcome(pair);
    switch (outcome.kind) {
    case PairOutcome::Kind::notYet:
        return tr("%1: not known yet.").arg(names);
    case PairOutcome::Kind::joins:
        return tr("%1 merge cleanly.").arg(names);
    case PairOutcome::Kind::contained:
        return tr("%1: one of them contains all of the other.").arg(names);
    case PairOutcome::Kind::unknown:
        return tr("%1 cannot be merged in memory: they have no commit in common, or part of the "
                  "history is not here.")
            .arg(names);
    case PairOutcome::Kind::collides:
        break;
    }
    return tr("%1: whoever merges second will have %2 in %3 to decide.")
        .arg(names,
             countOf(outcome.open, "place", "places"),
             countOf(openFiles(outcome), "file", "files"));
}

QString collisionsInWords(const CollisionModel& model)
{
    const auto colliding = model.colliding();
    std::size_t open = 0;
    for (const BranchPair& pair : colliding) {
        open += model.outcome(pair).open;
    }
    if (colliding.empty()) {
        return model.pairs.size() == model.pairCount() ? tr("No two of them collide.")
                                                       : tr("No collision is known yet.");
    }
    const QString places = countOf(open, "place", "places");
    return colliding.size() == 1 ? tr("1 pair conflicts, in %1").arg(places)
                                 : tr("%1 pairs conflict, in %2").arg(colliding.size()).arg(places);
}

QString sinceInWords(const CollisionModel& model, BranchPair pair, const PairReading& reading)
{
    const Commit* since = reading.since();
    if (since == nullptr) {
        return {};
    }
    const bool isFirst = reading.firstCommit && since == &*reading.firstCommit;
    return tr("Since %1, when %2 “%3” by %4 came on %5.")
        .arg(relativeTime(since->committer.time, model.readAt),
             shown(since->id.brief()),
             shownSubject(*since),
             shown(since->author.name),
             shortName(model.branches[isFirst ? pair.first : pair.second]));
}

QString noteForBoth(const CollisionModel& model, BranchPair pair)
{
    QString note = pairInWords(model, pair) + QLatin1Char('\n');
    for (const PairFile& file : model.outcome(pair).files) {
        if (file.isOpen()) {
            note += QStringLiteral("  %1: %2\n").arg(shownPath(file.path), fileInWords(file));
        }
    }
    for (const std::size_t branch : {pair.first, pair.second}) {
        const Commit& tip = model.branches[branch].tip;
        note += tr("%1 is at %2 “%3”, %4\n")
                    .arg(shortName(model.branches[branch]),
                         shown(tip.id.brief()),
                         shownSubject(tip),
                         exactTime(tip.committer.time));
    }
    return note;
}
}  // namespace rope
