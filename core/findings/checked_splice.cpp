// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_one_sided_file.cpp.
#include "core/findings/checked_splice.h"

#include "core/findings/finding.h"

#include <algorithm>
#include <set>

namespace rope {
namespace {
constexpr std::size_t kBatch = 500;  // files read at once

/// Texts of versions by id, as far as they are text and not too large.
class TextReader
{
public:
    explicit TextReader(Snapshots& snapshots)
        : m_snapshots(snapshots)
    {
    }

    Status read(const std::vector<ObjectId>& ids, const std::stop_token& stop)
    {
        for (std::size_t begin = 0; begin < ids.size(); begin += kBatch) {
            if (stop.stop_requested()) {
                return Error{ErrorCode::cancelled, {}, {}};
            }
            const auto batch = std::span(ids).subspan(begin, std::min(kBatch, ids.size() - begin));
            TRY_ASSIGN(const auto blobs, m_snapshots.readBlobs(batch, kMostCheckedBytes));
            for (std::size_t i = 0; i < batch.size(); ++i) {
                m_bytes += blobs[i] ? blobs[i]->size() : 0;
                m_texts[batch[i]] = blobs[i] && !isBinary(*blobs[i]) ? blobs[i] : nullptr;
            }
            if (m_bytes > kMostOneSidedBytes) {
                break;
            }
        }
        return ok();
    }

    [[nodiscard]] SharedText textOf(const std::optional<FileVersion>& version) const
    {
        const auto found = version ? m_texts.find(version->id) : m_texts.end();
        return found == m_texts.end() ? nullptr : found->second;
    }

private:
    Snapshots& m_snapshots;
    std::unordered_map<ObjectId, SharedText> m_texts;
    std::size_t m_bytes = 0;
};

void want(const std::optional<FileVersion>& version, std::set<ObjectId>& ids)
{
    if (version && isRegular(version->kind)) {
        ids.insert(version->id);
    }
}

/// Changes of one side at paths that no outcome tells of.
std::vector<const FileChange*> oneSided(const std::vector<FileChange>& changes,
                                        const std::set<RepoPath>& told)
{
    std::vector<const FileChange*> own;
    for (const FileChange& change : changes) {
        if (!told.contains(change.path) && own.size() < kMostOneSidedFiles) {
            own.push_back(&change);
        }
    }
    return own;
}

CheckedFile checkedFile(const FileOutcome& file, const TextReader& texts)
{
    CheckedFile checked{file.path, file.basePath, file.oursPath, file.theirsPath, {}, {}, {}};
    if (file.text) {
        const auto shared = [&](const Text& text, bool exists) {
            // The texts live as long as the join.
            return exists ? SharedText(file.text, &text.bytes()) : SharedText();
        };
        checked.base = shared(file.text->base(), file.base.has_value());
        checked.ours = shared(file.text->ours(), file.ours.has_value());
        checked.theirs = shared(file.text->theirs(), file.theirs.has_value());
    } else {
        checked.base = texts.textOf(file.base);
        checked.ours = texts.textOf(file.ours);
        checked.theirs = texts.textOf(file.theirs);
    }
    return checked;
}

CheckedFile checkedFile(const FileChange& change, bool isOfOurs, const TextReader& texts)
{
    CheckedFile checked;
    checked.path = change.path;
    checked.basePath = change.before ? change.path : RepoPath();
    checked.base = texts.textOf(change.before);
    RepoPath& kept = isOfOurs ? checked.theirsPath : checked.oursPath;
    kept = checked.basePath;
    (isOfOurs ? checked.theirs : checked.ours) = checked.base;
    RepoPath& changed = isOfOurs ? checked.oursPath : checked.theirsPath;
    changed = change.after ? change.path : RepoPath();
    (isOfOurs ? checked.ours : checked.theirs) = texts.textOf(change.after);
    return checked;
}

/// One origin for each line of a version that was taken as it is.
std::vector<LineOrigin>
originsOfSide(const SharedText& base, const std::string& text, LineOrigin own)
{
    std::vector<LineOrigin> origins;
    for (const LineNumber partner : lineUp(base ? std::string_view(*base) : "", text)) {
        origins.push_back(partner == kNoLine ? own : LineOrigin::base);
    }
    return origins;
}

std::shared_ptr<const CheckedResult>
takenFrom(const SharedText& base, const SharedText& text, LineOrigin own)
{
    auto result = std::make_shared<CheckedResult>();
    result->text = text;
    if (text) {
        result->origins = originsOfSide(base, *text, own);
    }
    return result;
}
}  // namespace

Result<std::vector<CheckedFile>> readCheckedFiles(Snapshots& snapshots,
                                                  const Join& join,
                                                  const std::vector<OwnedOutcome>& own,
                                                  const std::stop_token& stop)
{
    std::set<RepoPath> told;
    std::set<ObjectId> ids;
    for (const FileOutcome& file : join.files) {
        told.insert({file.path, file.basePath, file.oursPath, file.theirsPath});
        if (!file.text) {
            for (const auto& version : {file.base, file.ours, file.theirs}) {
                want(version, ids);
            }
        }
    }
    const auto byOurs = oneSided(join.oursChanges, told);
    const auto byTheirs = oneSided(join.theirsChanges, told);
    for (const auto* changes : {&byOurs, &byTheirs}) {
        for (const FileChange* change : *changes) {
            want(change->before, ids);
            want(change->after, ids);
            told.insert(change->path);
        }
    }
    std::vector<const FileOutcome*> others;
    for (const OwnedOutcome& outcome : own) {
        if (told.insert(outcome->path).second) {
            others.push_back(outcome.get());
            for (const auto& version : {outcome->base, outcome->ours, outcome->theirs}) {
                want(version, ids);
            }
        }
    }
    TextReader texts(snapshots);
    TRY(texts.read({ids.begin(), ids.end()}, stop));
    std::vector<CheckedFile> files;
    for (const FileOutcome& file : join.files) {
        files.push_back(checkedFile(file, texts));
    }
    for (const FileChange* change : byOurs) {
        files.push_back(checkedFile(*change, true, texts));
    }
    for (const FileChange* change : byTheirs) {
        files.push_back(checkedFile(*change, false, texts));
    }
    for (const FileOutcome* other : others) {
        files.push_back(checkedFile(*other, texts));
    }
    std::sort(files.begin() + static_cast<std::ptrdiff_t>(join.files.size()),
              files.end(),
              [](const auto& a, const auto& b) { return a.path < b.path; });
    return files;
}

std::shared_ptr<const CheckedResult> resultOf(const SpliceFile& file, const CheckedFile& checked)
{
    if (file.openCount() > 0) {
        auto open = std::make_shared<CheckedResult>();
        open->isOpen = true;
        return open;
    }
    const auto choice = fileChoiceNamed(file.answer.choice);
    if (choice == FileChoice::found) {
        const auto& found = file.outcome->found;
        return takenFrom(
            checked.base, found && !isBinary(*found) ? found : nullptr, LineOrigin::hand);
    }
    for (const Placement& put : file.outcome->placements(choice)) {
        if (!put.isJoinedText || !file.text) {
            if (file.outcome->theirs && put.version == *file.outcome->theirs) {
                return takenFrom(checked.base, checked.theirs, LineOrigin::theirs);
            }
            if (file.outcome->ours && put.version == *file.outcome->ours) {
                return takenFrom(checked.base, checked.ours, LineOrigin::ours);
            }
            continue;
        }
        auto result = std::make_shared<CheckedResult>();
        LineNumber line = 0;
        std::string whole;
        for (std::size_t slot = 0; slot < file.text->slotCount(); ++slot) {
            whole += file.text->text(slot);
            const auto origins = file.text->origins(slot);
            result->origins.insert(result->origins.end(), origins.begin(), origins.end());
            const auto count = static_cast<LineNumber>(origins.size());
            if (file.text->isRegion(slot)) {
                result->regions.push_back({line, line + count});
            }
            line += count;
        }
        result->text = std::make_shared<const std::string>(std::move(whole));
        return result;
    }
    return std::make_shared<const CheckedResult>();
}

namespace {
/// What became of a file that needed nobody: the version that the join took.
std::shared_ptr<const CheckedResult> resultOf(const FileOutcome& settled,
                                              const CheckedFile& checked)
{
    if (!settled.settled) {
        return std::make_shared<const CheckedResult>();
    }
    return settled.settled == settled.theirs
               ? takenFrom(checked.base, checked.theirs, LineOrigin::theirs)
               : takenFrom(checked.base, checked.ours, LineOrigin::ours);
}

/// What became of a file that only one side changed: that side's version.
std::shared_ptr<const CheckedResult> resultOf(const CheckedFile& oneSided)
{
    const bool isOfTheirs =
        oneSided.ours == oneSided.base && oneSided.oursPath == oneSided.basePath;
    return isOfTheirs ? takenFrom(oneSided.base, oneSided.theirs, LineOrigin::theirs)
                      : takenFrom(oneSided.base, oneSided.ours, LineOrigin::ours);
}
}  // namespace

std::optional<std::size_t>
checkedFileOf(const SpliceFile& file, const Join& join, const std::vector<CheckedFile>& files)
{
    if (!file.own || file.stoodFor != nullptr) {
        const FileOutcome* const joined = file.own ? file.stoodFor : file.outcome;
        return static_cast<std::size_t>(joined - join.files.data());
    }
    const auto oneSided = files.begin() + static_cast<std::ptrdiff_t>(join.files.size());
    const auto found = std::lower_bound(
        oneSided, files.end(), file.outcome->path, [](const CheckedFile& a, const RepoPath& path) {
            return a.path < path;
        });
    return found != files.end() && found->path == file.outcome->path
               ? std::optional(static_cast<std::size_t>(found - files.begin()))
               : std::nullopt;
}

std::vector<std::shared_ptr<const CheckedResult>>
settledResults(const Join& join, const std::vector<CheckedFile>& files)
{
    auto open = std::make_shared<CheckedResult>();
    open->isOpen = true;
    std::vector<std::shared_ptr<const CheckedResult>> results;
    for (std::size_t i = 0; i < files.size(); ++i) {
        const bool isWorkedOn =
            i < join.files.size() && (join.files[i].needsDecision() || join.files[i].text);
        results.push_back(isWorkedOn              ? open
                          : i < join.files.size() ? resultOf(join.files[i], files[i])
                                                  : resultOf(files[i]));
    }
    return results;
}

std::vector<std::shared_ptr<const CheckedResult>> resultsOf(const Splice& splice,
                                                            const std::vector<CheckedFile>& files)
{
    const Join& join = *splice.legs().front();
    auto results = settledResults(join, files);
    for (const SpliceFile& file : splice.files()) {
        const auto index =
            file.leg == 0 ? checkedFileOf(file, join, files) : std::optional<std::size_t>();
        if (index) {
            results[*index] = resultOf(file, files[*index]);
        }
    }
    return results;
}
}  // namespace rope
