// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_forecast.cpp.
#include "core/snapshot/content_join.h"

#include "core/merge/marked_text.h"
#include "core/snapshot/questions.h"

#include <algorithm>
#include <unordered_map>
#include <utility>

namespace rope {
namespace {
/// Larger texts are asked as a whole: git, too, takes files over half a gigabyte for binary.
constexpr std::uint64_t kMostTextBytes = 512'000'000;

using Blobs = std::unordered_map<ObjectId, BlobBytes>;

bool isJoinable(const std::optional<FileVersion>& version)
{
    return version && isRegular(version->kind);
}

/// Whether a side's version is to be joined first with the file it was renamed from.
bool hasTextOrigin(const std::optional<JoinEntry::Origin>& origin)
{
    return origin && isRegular(origin->base.version.kind) && isRegular(origin->other.version.kind);
}

bool wantsText(const OpenFile& file)
{
    const FileOutcome& outcome = file.outcome;
    if (hasTextOrigin(file.origins.ours) || hasTextOrigin(file.origins.theirs)) {
        const bool isOneSided = !outcome.ours || !outcome.theirs;
        return isOneSided || (isJoinable(outcome.ours) && isJoinable(outcome.theirs));
    }
    if (outcome.settled || !isJoinable(outcome.ours) || !isJoinable(outcome.theirs)) {
        return false;
    }
    return !outcome.question
           || (outcome.question->kind == QuestionKind::modes
               && outcome.ours->id != outcome.theirs->id);
}

std::vector<ObjectId> blobsOf(const OpenFile& file)
{
    std::vector<ObjectId> ids;
    for (const auto* version : {&file.outcome.base, &file.outcome.ours, &file.outcome.theirs}) {
        if (isJoinable(*version)) {
            ids.push_back((*version)->id);
        }
    }
    for (const Side side : kSides) {
        if (hasTextOrigin(file.origins[side])) {
            ids.push_back(file.origins[side]->base.version.id);
            ids.push_back(file.origins[side]->other.version.id);
        }
    }
    return ids;
}

std::string bytesOf(const Blobs& blobs, const std::optional<FileVersion>& version)
{
    return isJoinable(version) ? *blobs.at(version->id) : std::string();
}

/// A side's version joined with what the other side made of the same file under its old name.
Result<TextJoin> joinOrigin(const Blobs& blobs,
                            const JoinEntry::Origin& origin,
                            const FileVersion& own,
                            Side side,
                            const std::stop_token& stop)
{
    std::string ours = *blobs.at(own.id);
    std::string theirs = *blobs.at(origin.other.version.id);
    if (side == Side::theirs) {
        std::swap(ours, theirs);
    }
    return joinTexts(*blobs.at(origin.base.version.id),
                     std::move(ours),
                     std::move(theirs),
                     stop,
                     LegacyText::decoded);
}

/// A clean outcome that something else than the lines decided: both sides, as it were, made it.
Status setResult(FileOutcome& outcome,
                 const std::string& base,
                 const std::string& result,
                 const std::stop_token& stop)
{
    auto joined = joinTexts(base, result, result, stop, LegacyText::decoded);
    if (!joined) {
        return std::move(joined).error();
    }
    outcome.text = std::make_shared<const TextJoin>(std::move(joined).value());
    return ok();
}

/// What keeps a file from being joined by lines and is to be asked, if anything.
using Obstacle = std::optional<QuestionKind>;

/// Joins one file with the program that its rule names.
Result<Obstacle> joinByProgram(Snapshots& repository,
                               FileOutcome& outcome,
                               const MergeRule& rule,
                               const Blobs& blobs,
                               const std::stop_token& stop)
{
    const std::string base = bytesOf(blobs, outcome.base);
    TRY_ASSIGN(const ProgramOutcome joined,
               repository.runMergeProgram(rule,
                                          outcome.path,
                                          base,
                                          bytesOf(blobs, outcome.ours),
                                          bytesOf(blobs, outcome.theirs)));
    if (!joined.isClean) {
        return Obstacle(QuestionKind::notByLines);
    }
    TRY(setResult(outcome, base, joined.bytes, stop));
    return Obstacle();
}

void noteMarkers(std::set<std::string>& markers, const Text& text)
{
    for (LineNumber i = 0; i < text.lineCount(); ++i) {
        if (looksLikeMarker(text.line(i))) {
            markers.insert(std::string(text.line(i)));
        }
    }
}

/// Joins one file whose blobs are read and hold lines.
Result<Obstacle> joinText(OpenFile& file,
                          const MergeRule& rule,
                          const Blobs& blobs,
                          bool isBaseStored,
                          const std::stop_token& stop)
{
    FileOutcome& outcome = file.outcome;
    PerSide<std::string> texts{bytesOf(blobs, outcome.ours), bytesOf(blobs, outcome.theirs)};
    const PerSide<const std::optional<FileVersion>*> own{&outcome.ours, &outcome.theirs};
    std::optional<TextJoin> clash;  // an inner join that alone is to be decided
    bool isInnerClean = true;
    for (const Side side : kSides) {
        if (!hasTextOrigin(file.origins[side]) || !*own[side]) {
            continue;
        }
        TRY_ASSIGN(TextJoin inner, joinOrigin(blobs, *file.origins[side], **own[side], side, stop));
        for (const Text* version : {&inner.base(), &inner.ours(), &inner.theirs()}) {
            noteMarkers(outcome.ownMarkers, *version);
        }
        if (!*own[otherSide(side)]) {
            outcome.joinedKind = (*own[side])->kind;
            outcome.text = std::make_shared<const TextJoin>(std::move(inner));
            return Obstacle();
        }
        const std::string text = inner.isClean()
                                     ? inner.cleanText()
                                     : markedText(inner, {.length = rule.markerLength + 2}).text;
        if (!inner.isClean() && texts[otherSide(side)].empty()) {
            clash = inner;  // an empty file gives way, and nothing else than this is to be decided
        }
        texts[side] = inner.encoded(text).value_or(text);
        isInnerClean = isInnerClean && inner.isClean();
    }
    auto joined = joinTexts(
        bytesOf(blobs, outcome.base), texts.ours, texts.theirs, stop, LegacyText::decoded);
    if (!joined) {
        return std::move(joined).error();
    }
    outcome.settled.reset();
    if (isBaseStored) {
        noteMarkers(outcome.ownMarkers, joined->base());
    }
    for (const Side side : kSides) {
        if (!hasTextOrigin(file.origins[side])) {
            noteMarkers(outcome.ownMarkers, side == Side::ours ? joined->ours() : joined->theirs());
        }
    }
    if (!isInnerClean && joined->isClean()) {
        // The clash inside must not pass for joined because the rest fits.
        if (!clash) {
            return Obstacle(QuestionKind::renamedOnto);
        }
        outcome.text = std::make_shared<const TextJoin>(std::move(*clash));
        return Obstacle();
    }
    if (rule.how == MergeRule::How::unionOfLines && !joined->isClean()) {
        const std::string text = unionText(*joined);
        TRY(setResult(
            outcome, bytesOf(blobs, outcome.base), joined->encoded(text).value_or(text), stop));
        return Obstacle();
    }
    outcome.text = std::make_shared<const TextJoin>(std::move(joined).value());
    return Obstacle();
}

/// What the contents of a file have against being joined by lines.
Obstacle obstacle(const std::vector<ObjectId>& ids, const Blobs& blobs)
{
    const auto isTooLarge = [&](const ObjectId& id) {
        return blobs.at(id) == nullptr;
    };
    if (std::any_of(ids.begin(), ids.end(), isTooLarge)) {
        return QuestionKind::tooLarge;
    }
    const bool hasBinary = std::any_of(
        ids.begin(), ids.end(), [&](const ObjectId& id) { return isBeyondLines(*blobs.at(id)); });
    return hasBinary ? Obstacle(QuestionKind::binary) : std::nullopt;
}

/// Joins what is wanted, each file as soon as its contents are there, while those of others are read. What
/// needs more from the place than contents waits until all are read.
class ContentJoiner
{
public:
    ContentJoiner(Snapshots& snapshots,
                  const MergeRules& rules,
                  NamesBeside& names,
                  const ProgressSink& progress,
                  const std::stop_token& stop)
        : m_snapshots(snapshots)
        , m_rules(rules)
        , m_names(names)
        , m_progress(progress)
        , m_stop(stop)
    {
    }

    Status joinAll(const std::vector<OpenFile*>& files)
    {
        std::vector<ObjectId> ids;
        std::vector<std::size_t> ends;  // where each file's contents end among all
        for (const OpenFile* file : files) {
            const auto own = blobsOf(*file);
            ROPE_ASSERT(!own.empty(), "what is joined by lines has contents");
            ids.insert(ids.end(), own.begin(), own.end());
            ends.push_back(ids.size());
        }
        TRY(m_snapshots.expectBlobs(ids));
        Blobs blobs;  // of the file whose turn it is
        std::size_t next = 0;
        const auto take = [&](std::size_t place, const BlobBytes& bytes) -> Status {
            blobs[ids[place]] = bytes;
            if (place + 1 == ends[next]) {
                TRY(tell(*files[next], next, files.size()));
                TRY(joinOne(*files[next], std::exchange(blobs, {})));
                ++next;
            }
            return ok();
        };
        TRY(m_snapshots.eachBlob(ids, kMostTextBytes, take));
        for (Waiting& waiting : m_waiting) {
            TRY(finish(waiting));
        }
        return ok();
    }

private:
    /// A file that is to be asked about, or joined by a program.
    struct Waiting
    {
        OpenFile* file = nullptr;
        Obstacle obstacle;
        MergeRule rule;
        Blobs blobs;  ///< For the program.
    };

    [[nodiscard]] Status tell(const OpenFile& file, std::size_t done, std::size_t total) const
    {
        if (m_stop.stop_requested()) {
            return Error{ErrorCode::cancelled, file.outcome.path, {}};
        }
        if (m_progress) {
            m_progress({ProgressStep::joiningFile, file.outcome.path, done, total});
        }
        return ok();
    }

    Status joinOne(OpenFile& file, Blobs blobs)
    {
        const FileOutcome& outcome = file.outcome;
        const MergeRule rule = m_rules.rule(outcome.path);
        auto reason = obstacle(blobsOf(file), blobs);
        const bool isProgram = rule.how == MergeRule::How::program && outcome.ours && outcome.theirs
                               && reason != QuestionKind::tooLarge;
        if (isProgram && rule.isAllowed) {
            m_waiting.push_back({&file, {}, rule, std::move(blobs)});
            return ok();
        }
        if (isProgram) {
            reason = QuestionKind::programLeftOut;
        } else if (rule.how == MergeRule::How::whole && !reason) {
            reason = QuestionKind::notByLines;
        }
        if (!reason) {
            const bool isBaseStored = outcome.base && m_snapshots.isStored(outcome.base->id);
            TRY_ASSIGN(reason, joinText(file, rule, blobs, isBaseStored, m_stop));
        }
        if (reason) {
            m_waiting.push_back({&file, reason, rule, {}});
        }
        return ok();
    }

    Status finish(Waiting& waiting)
    {
        FileOutcome& outcome = waiting.file->outcome;
        if (!waiting.obstacle) {
            TRY_ASSIGN(waiting.obstacle,
                       joinByProgram(m_snapshots, outcome, waiting.rule, waiting.blobs, m_stop));
        }
        return waiting.obstacle ? askAsWhole(outcome, *waiting.obstacle, m_names) : ok();
    }

    Snapshots& m_snapshots;
    const MergeRules& m_rules;
    NamesBeside& m_names;
    const ProgressSink& m_progress;
    const std::stop_token& m_stop;
    std::vector<Waiting> m_waiting;
};
}  // namespace

Status joinContents(Snapshots& repository,
                    std::vector<OpenFile>& files,
                    MergeRules& rules,
                    NamesBeside& names,
                    const ProgressSink& progress,
                    const std::stop_token& stop)
{
    std::vector<OpenFile*> wanted;
    std::vector<RepoPath> paths;
    for (OpenFile& file : files) {
        if (wantsText(file)) {
            wanted.push_back(&file);
            paths.push_back(file.outcome.path);
        }
    }
    TRY(rules.load(repository, paths));
    return ContentJoiner(repository, rules, names, progress, stop).joinAll(wanted);
}
}  // namespace rope
