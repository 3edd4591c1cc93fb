// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_forecast.cpp.
#include "core/snapshot/content_join.h"

#include "core/merge/marked_text.h"
#include "core/snapshot/questions.h"

#include <algorithm>
#include <unordered_map>

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

/// Joins one file with the program that its rule names.
Status joinByProgram(Snapshots& repository,
                     OpenFile& file,
                     const MergeRule& rule,
                     const Blobs& blobs,
                     NamesBeside& names,
                     const std::stop_token& stop)
{
    FileOutcome& outcome = file.outcome;
    const std::string base = bytesOf(blobs, outcome.base);
    TRY_ASSIGN(const ProgramOutcome joined,
               repository.runMergeProgram(rule,
                                          outcome.path,
                                          base,
                                          bytesOf(blobs, outcome.ours),
                                          bytesOf(blobs, outcome.theirs)));
    if (!joined.isClean) {
        return askAsWhole(outcome, QuestionKind::notByLines, names);
    }
    return setResult(outcome, base, joined.bytes, stop);
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
Status joinText(OpenFile& file,
                const MergeRule& rule,
                const Blobs& blobs,
                bool isBaseStored,
                NamesBeside& names,
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
            return ok();
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
            return askAsWhole(outcome, QuestionKind::renamedOnto, names);
        }
        outcome.text = std::make_shared<const TextJoin>(std::move(*clash));
        return ok();
    }
    if (rule.how == MergeRule::How::unionOfLines && !joined->isClean()) {
        const std::string text = unionText(*joined);
        return setResult(
            outcome, bytesOf(blobs, outcome.base), joined->encoded(text).value_or(text), stop);
    }
    outcome.text = std::make_shared<const TextJoin>(std::move(joined).value());
    return ok();
}

/// What keeps a file from being joined by lines, if anything.
std::optional<QuestionKind> obstacle(const std::vector<ObjectId>& ids, const Blobs& blobs)
{
    const auto isTooLarge = [&](const ObjectId& id) {
        return blobs.at(id) == nullptr;
    };
    if (std::any_of(ids.begin(), ids.end(), isTooLarge)) {
        return QuestionKind::tooLarge;
    }
    const bool hasBinary = std::any_of(
        ids.begin(), ids.end(), [&](const ObjectId& id) { return isBeyondLines(*blobs.at(id)); });
    return hasBinary ? std::optional(QuestionKind::binary) : std::nullopt;
}

constexpr std::size_t kFilesAtOnce = 32;  // whose contents are read together

/// Joins what is wanted, a few files at a time so that not all contents are held at once.
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
        TRY(m_snapshots.expectBlobs(blobsOfAll(files)));
        for (std::size_t from = 0; from < files.size(); from += kFilesAtOnce) {
            const auto first = files.begin() + static_cast<std::ptrdiff_t>(from);
            const std::vector<OpenFile*> some(
                first,
                first + static_cast<std::ptrdiff_t>(std::min(kFilesAtOnce, files.size() - from)));
            TRY_ASSIGN(const Blobs blobs, readAll(blobsOfAll(some)));
            for (std::size_t i = 0; i < some.size(); ++i) {
                TRY(tell(*some[i], from + i, files.size()));
                TRY(joinOne(*some[i], blobs));
            }
        }
        return ok();
    }

private:
    static std::vector<ObjectId> blobsOfAll(const std::vector<OpenFile*>& files)
    {
        std::vector<ObjectId> ids;
        for (const OpenFile* file : files) {
            const auto own = blobsOf(*file);
            ids.insert(ids.end(), own.begin(), own.end());
        }
        return ids;
    }

    Result<Blobs> readAll(const std::vector<ObjectId>& ids)
    {
        TRY_ASSIGN(const auto read, m_snapshots.readBlobs(ids, kMostTextBytes));
        Blobs blobs;
        for (std::size_t i = 0; i < ids.size(); ++i) {
            blobs[ids[i]] = read[i];
        }
        return blobs;
    }

    [[nodiscard]] Status tell(const OpenFile& file, std::size_t done, std::size_t total) const
    {
        if (m_stop.stop_requested()) {
            return Error{ErrorCode::cancelled, file.outcome.path, {}};
        }
        if (m_progress) {
            m_progress({"joining " + file.outcome.path, done, total});
        }
        return ok();
    }

    Status joinOne(OpenFile& file, const Blobs& blobs)
    {
        FileOutcome& outcome = file.outcome;
        const MergeRule rule = m_rules.rule(outcome.path);
        const auto reason = obstacle(blobsOf(file), blobs);
        const bool isProgram = rule.how == MergeRule::How::program && outcome.ours && outcome.theirs
                               && reason != QuestionKind::tooLarge;
        if (isProgram && !rule.isAllowed) {
            return askAsWhole(outcome, QuestionKind::programLeftOut, m_names);
        }
        if (isProgram) {
            return joinByProgram(m_snapshots, file, rule, blobs, m_names, m_stop);
        }
        if (reason || rule.how == MergeRule::How::whole) {
            return askAsWhole(outcome, reason.value_or(QuestionKind::notByLines), m_names);
        }
        const bool isBaseStored = outcome.base && m_snapshots.isStored(outcome.base->id);
        return joinText(file, rule, blobs, isBaseStored, m_names, m_stop);
    }

    Snapshots& m_snapshots;
    const MergeRules& m_rules;
    NamesBeside& m_names;
    const ProgressSink& m_progress;
    const std::stop_token& m_stop;
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
