// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_forecast.cpp.
#include "core/snapshot/questions.h"

namespace rope {
namespace {
using Puts = std::vector<Placement>;

void ask(FileOutcome& file, OutcomeKind kind, QuestionKind question, std::vector<Answer> answers)
{
    file.kind = kind;
    file.question = FileQuestion{question, std::move(answers)};
    file.settled.reset();
}

Puts put(const RepoPath& path, const std::optional<FileVersion>& version)
{
    return version ? Puts{{path, *version, false}} : Puts{};
}

/// The joined content at a path; `version` where the content did not join.
Puts putJoined(const FileOutcome& file,
               const RepoPath& path,
               const std::optional<FileVersion>& version)
{
    if (file.text) {
        return {{path, {file.joinedKind, {}}, true}};
    }
    return put(path, file.settled ? file.settled : version);
}

FileChoice choiceOf(Side side)
{
    return side == Side::ours ? FileChoice::ours : FileChoice::theirs;
}

/// Each side's version at the path, and both under two names.
Result<std::vector<Answer>> answersOfSides(FileOutcome& file, NamesBeside& names)
{
    TRY_ASSIGN(file.beside, names.make(file.path, Side::theirs));
    Puts both = put(file.path, file.ours);
    const Puts beside = put(file.beside->path, file.theirs);
    both.insert(both.end(), beside.begin(), beside.end());
    std::vector<Answer> answers{{FileChoice::ours, put(file.path, file.ours)},
                                {FileChoice::theirs, put(file.path, file.theirs)},
                                {FileChoice::keepBoth, std::move(both)}};
    if (file.base) {
        answers.push_back({FileChoice::base, put(file.basePath, file.base)});
    }
    return answers;
}

void askRenamedTwice(FileOutcome& file, const JoinEntry& entry)
{
    if (file.base && file.ours && file.theirs) {
        const Puts first = putJoined(file, file.path, file.ours);
        const Puts second = putJoined(file, file.alsoAt.front(), file.theirs);
        Puts both = first;
        both.insert(both.end(), second.begin(), second.end());
        ask(file,
            OutcomeKind::renameRename,
            QuestionKind::renamedTwice,
            {{FileChoice::ours, first},
             {FileChoice::theirs, second},
             {FileChoice::keepBoth, std::move(both)}});
        return;
    }
    // One of the two names is taken by another file, so each name is asked about by itself.
    if (entry.by == Side::ours) {
        file.alsoAt.push_back(entry.otherPaths.back());
    }
    if (file.question) {
        file.kind = OutcomeKind::renameRename;
        return;  // that other file decides what can be put here
    }
    const Side other = otherSide(entry.by);
    const auto& own = entry.by == Side::ours ? file.ours : file.theirs;
    const auto& others = entry.by == Side::ours ? file.theirs : file.ours;
    ask(file,
        OutcomeKind::renameRename,
        QuestionKind::renamedTwice,
        {{choiceOf(entry.by), putJoined(file, file.path, own)},
         {choiceOf(other), put(file.path, others)}});
}

void askRenamedDeleted(FileOutcome& file, const JoinEntry& entry)
{
    const bool isOurs = entry.by == Side::ours;
    ask(file,
        OutcomeKind::renameDelete,
        isOurs ? QuestionKind::renamedDeletedByTheirs : QuestionKind::renamedDeletedByOurs,
        {{choiceOf(entry.by), put(file.path, isOurs ? file.ours : file.theirs)},
         {choiceOf(otherSide(entry.by)), {}},
         {FileChoice::base, put(file.basePath, file.base)}});
}

Status askWhere(FileOutcome& file, const JoinEntry& entry, NamesBeside& names)
{
    const auto version = file.ours ? file.ours : file.theirs;
    const auto at = [&](const RepoPath& path) {
        return putJoined(file, path, version);
    };
    std::vector<Answer> answers;
    switch (entry.concern) {
    case Concern::movedWithFolder:
        answers = {{FileChoice::follow, at(file.path)},
                   {FileChoice::stay, at(entry.otherPaths.front())}};
        ask(file, OutcomeKind::directoryRename, QuestionKind::inRenamedFolder, std::move(answers));
        return ok();
    case Concern::splitFolder:
        answers = {{FileChoice::stay, at(file.path)},
                   {FileChoice::follow, at(entry.otherPaths.at(0))},
                   {FileChoice::followOther, at(entry.otherPaths.at(1))}};
        ask(file, OutcomeKind::directoryRename, QuestionKind::inSplitFolder, std::move(answers));
        return ok();
    default:
        TRY_ASSIGN(file.beside, names.make(entry.otherPaths.front(), entry.by));
        answers = {{FileChoice::stay, at(file.path)}, {FileChoice::aside, at(file.beside->path)}};
        ask(file, OutcomeKind::directoryRename, QuestionKind::blockedByFile, std::move(answers));
        return ok();
    }
}
}  // namespace

void askDeleted(FileOutcome& file)
{
    const bool isOursLeft = file.ours.has_value();
    ask(file,
        file.basePath == file.path ? OutcomeKind::modifyDelete : OutcomeKind::renameDelete,
        isOursLeft ? QuestionKind::deletedByTheirs : QuestionKind::deletedByOurs,
        {{isOursLeft ? FileChoice::ours : FileChoice::theirs,
          put(file.path, isOursLeft ? file.ours : file.theirs)},
         {isOursLeft ? FileChoice::theirs : FileChoice::ours, {}},
         {FileChoice::base, put(file.basePath, file.base)}});
}

void askModes(FileOutcome& file)
{
    const bool isText = file.ours->id != file.theirs->id;
    const auto as = [&](const std::optional<FileVersion>& version) {
        return Puts{{file.path, *version, isText}};
    };
    ask(file,
        OutcomeKind::mode,
        QuestionKind::modes,
        {{FileChoice::ours, as(file.ours)}, {FileChoice::theirs, as(file.theirs)}});
}

Status askKinds(FileOutcome& file, NamesBeside& names)
{
    const bool isOursAside = isRegular(file.ours->kind);
    TRY_ASSIGN(file.beside, names.make(file.path, isOursAside ? Side::ours : Side::theirs));
    const RepoPath aside = file.beside->path;
    const Puts both{{isOursAside ? aside : file.path, *file.ours, false},
                    {isOursAside ? file.path : aside, *file.theirs, false}};
    std::vector<Answer> answers{{FileChoice::ours, put(file.path, file.ours)},
                                {FileChoice::theirs, put(file.path, file.theirs)},
                                {FileChoice::keepBoth, both}};
    if (file.base) {
        answers.push_back({FileChoice::base, put(file.basePath, file.base)});
    }
    ask(file, OutcomeKind::mode, QuestionKind::differentKinds, std::move(answers));
    file.alsoAt = {aside};
    return ok();
}

void askSpecial(FileOutcome& file)
{
    const bool isLink = file.ours->kind == EntryKind::symlink;
    std::vector<Answer> answers{{FileChoice::ours, put(file.path, file.ours)},
                                {FileChoice::theirs, put(file.path, file.theirs)}};
    if (file.base) {
        answers.push_back({FileChoice::base, put(file.basePath, file.base)});
    }
    ask(file,
        isLink ? OutcomeKind::symlink : OutcomeKind::submodule,
        isLink ? QuestionKind::symlink : QuestionKind::submodule,
        std::move(answers));
}

Status askAsWhole(FileOutcome& file, QuestionKind reason, NamesBeside& names)
{
    TRY_ASSIGN(auto answers, answersOfSides(file, names));
    ask(file, OutcomeKind::binary, reason, std::move(answers));
    return ok();
}

Status askAside(FileOutcome& file, Side side, NamesBeside& names)
{
    TRY_ASSIGN(const NameBeside beside, names.make(file.path, side));
    Puts puts = file.question ? file.question->answers.front().puts : file.placements({});
    for (Placement& placement : puts) {
        placement.path = placement.path == file.path ? beside.path : placement.path;
    }
    ask(file,
        OutcomeKind::directoryFile,
        QuestionKind::fileAgainstFolder,
        {{FileChoice::aside, std::move(puts)}, {choiceOf(otherSide(side)), {}}});
    file.path = beside.path;
    file.beside = beside;
    return ok();
}

void askRefusedName(FileOutcome& file)
{
    ask(file, OutcomeKind::content, QuestionKind::nameRefused, {{FileChoice::ours, {}}});
}

Status askForConcern(FileOutcome& file, const JoinEntry& entry, NamesBeside& names)
{
    switch (entry.concern) {
    case Concern::none:
        return ok();
    case Concern::renamedTwice:
        askRenamedTwice(file, entry);
        return ok();
    case Concern::renamedAndDeleted:
        askRenamedDeleted(file, entry);
        return ok();
    case Concern::renamedOntoAdded:
        if (!file.question && file.regionCount() == 0) {
            TRY_ASSIGN(auto answers, answersOfSides(file, names));
            ask(file, OutcomeKind::renameDelete, QuestionKind::renamedOnto, std::move(answers));
        }
        return ok();
    case Concern::movedWithFolder:
    case Concern::splitFolder:
    case Concern::blockedFolder:
        if (!file.question) {
            return askWhere(file, entry, names);
        }
        return ok();
    }
    return ok();
}
}  // namespace rope
