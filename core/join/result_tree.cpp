// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice.cpp.
#include "core/join/result_tree.h"

#include "core/join/found_file.h"
#include "core/join/result_edits.h"
#include "core/merge/marked_text.h"

#include <algorithm>
#include <unordered_map>

namespace rope {
namespace {
bool isPutByHand(const FileOutcome& file)
{
    return file.question && file.question->kind == QuestionKind::putByHand;
}

void putAsAnswered(const DecidedFile& file, ResultEdits& edits)
{
    for (const RepoPath& path : pathsOf(*file.outcome)) {
        edits.leave(path);
        edits.allow(path);
    }
    edits.replace(file.outcome->path, {}, nullptr);  // whatever the join would put there
    for (const Placement& put : file.outcome->placements(file.choice)) {
        edits.replace(put.path, put.version, nullptr);
    }
}
}  // namespace

Result<ResultSnapshot> resultTree(const Join& join, std::span<const DecidedFile> decided)
{
    std::unordered_map<const FileOutcome*, const DecidedFile*> decisions;
    for (const DecidedFile& file : decided) {
        decisions[file.stoodFor == nullptr ? file.outcome : file.stoodFor] = &file;
    }
    TRY_ASSIGN(ResultEdits edits, ResultEdits::of(join));
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
                TRY(edits.put(put.path, put.version, nullptr));
                continue;
            }
            auto bytes = file.text->encoded(decision ? decision->text : file.text->cleanText());
            if (!bytes) {
                return Error{ErrorCode::invalidInput, put.path, {}, Reason::unencodable};
            }
            TRY(edits.put(put.path,
                          {put.version.kind, {}},
                          std::make_shared<const std::string>(std::move(*bytes))));
        }
    }
    for (const DecidedFile& file : decided) {
        if (isPutByHand(*file.outcome)) {
            putAsAnswered(file, edits);
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
        edits.replace(file.outcome->path,
                      FileVersion{file.outcome->joinedKind, {}},
                      std::make_shared<const std::string>(std::move(*bytes)));
    }
    TRY_ASSIGN(auto list, edits.finish());
    return ResultSnapshot{join.ours.tree, std::move(list)};
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
