// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice.cpp.
#include "core/splice/result_tree.h"

#include "core/merge/marked_text.h"
#include "core/splice/found_file.h"

#include <algorithm>
#include <map>
#include <unordered_map>

namespace rope {
namespace {
/// Collects edits; what is put somewhere wins over what leaves that place.
class ResultMaker
{
public:
    void leave(const RepoPath& path) { m_edits.try_emplace(path, ResultEdit{path, {}, nullptr}); }

    /// Puts other bytes where a side's version has been put, or stands.
    void replace(const RepoPath& path, const std::optional<FileVersion>& version, BlobBytes bytes)
    {
        m_edits[path] = {path, version, std::move(bytes)};
    }

    Status put(const RepoPath& path, const FileVersion& version, BlobBytes bytes)
    {
        ResultEdit& edit = m_edits[path];
        const bool isOther = edit.version && (*edit.version != version || edit.bytes || bytes);
        if (isOther) {
            return Error{ErrorCode::invalidInput, path, {}, Reason::pathTwice};
        }
        edit = {path, version, std::move(bytes)};
        return ok();
    }

    std::vector<ResultEdit> edits()
    {
        std::vector<ResultEdit> list;
        for (auto& [path, edit] : m_edits) {
            list.push_back(std::move(edit));
        }
        return list;
    }

private:
    std::map<RepoPath, ResultEdit> m_edits;
};

bool isPutByHand(const FileOutcome& file)
{
    return file.question && file.question->kind == QuestionKind::putByHand;
}

void putAsAnswered(const DecidedFile& file, ResultMaker& maker)
{
    for (const RepoPath& path : pathsOf(*file.outcome)) {
        maker.leave(path);
    }
    maker.replace(file.outcome->path, {}, nullptr);  // whatever the join would put there
    for (const Placement& put : file.outcome->placements(file.choice)) {
        maker.replace(put.path, put.version, nullptr);
    }
}
}  // namespace

Result<ResultSnapshot> resultTree(const Join& join, std::span<const DecidedFile> decided)
{
    std::unordered_map<const FileOutcome*, const DecidedFile*> decisions;
    for (const DecidedFile& file : decided) {
        decisions[file.stoodFor == nullptr ? file.outcome : file.stoodFor] = &file;
    }
    ResultMaker maker;
    for (const TreeEdit& edit : settledEdits(join)) {
        if (!edit.version) {
            maker.leave(edit.path);
        } else {
            TRY(maker.put(edit.path, *edit.version, nullptr));
        }
    }
    for (const FileOutcome& file : join.files) {
        if (!file.question && !file.text) {
            continue;
        }
        const auto found = decisions.find(&file);
        const DecidedFile* const decision = found == decisions.end() ? nullptr : found->second;
        if (decision != nullptr && decision->stoodFor == &file) {
            continue;
        }
        for (const Placement& put :
             file.placements(decision ? decision->choice : std::optional<FileChoice>{})) {
            if (!put.isJoinedText) {
                TRY(maker.put(put.path, put.version, nullptr));
                continue;
            }
            auto bytes = file.text->encoded(decision ? decision->text : file.text->cleanText());
            if (!bytes) {
                return Error{ErrorCode::invalidInput, put.path, {}, Reason::unencodable};
            }
            TRY(maker.put(put.path,
                          {put.version.kind, {}},
                          std::make_shared<const std::string>(std::move(*bytes))));
        }
    }
    for (const DecidedFile& file : decided) {
        if (isPutByHand(*file.outcome)) {
            putAsAnswered(file, maker);
            continue;
        }
        const bool isOfJoin = std::any_of(join.files.begin(), join.files.end(), [&](const auto& f) {
            return &f == file.outcome;
        });
        if (isOfJoin || file.text == file.outcome->text->cleanText()) {
            continue;
        }
        auto bytes = file.outcome->text->encoded(file.text);
        if (!bytes) {
            return Error{ErrorCode::invalidInput, file.outcome->path, {}, Reason::unencodable};
        }
        maker.replace(file.outcome->path,
                      FileVersion{file.outcome->joinedKind, {}},
                      std::make_shared<const std::string>(std::move(*bytes)));
    }
    return ResultSnapshot{join.ours.tree, maker.edits()};
}

std::vector<LineNumber> leftoverMarkers(const FileOutcome& file, std::string_view text)
{
    std::vector<LineNumber> found;
    LineNumber number = 0;
    for (const std::string_view line : splitLines(text)) {
        if (looksLikeMarker(line) && !file.ownMarkers.contains(std::string(line))) {
            found.push_back(number);
        }
        ++number;
    }
    return found;
}
}  // namespace rope
