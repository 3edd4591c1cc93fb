// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/wording/merge_words.h"

#include "core/text/encoding.h"

#include <QCoreApplication>
#include <QStringList>

#include <algorithm>

namespace rope {
namespace {
QString tr(const char* text)
{
    return QCoreApplication::translate("words", text);
}

constexpr const char* kSeparator = " · ";

QString joined(const QStringList& parts)
{
    return parts.join(QString::fromUtf8(kSeparator));
}

QString consequenceInWords(const Consequence& c)
{
    const auto n = static_cast<std::size_t>(c.count);
    switch (c.kind) {
    case ConsequenceKind::keepsBothEdits:
        return tr("keeps both edits");
    case ConsequenceKind::dropsOurs:
        return tr("drops %1 of ours").arg(countOf(n, "edit", "edits"));
    case ConsequenceKind::dropsTheirs:
        return tr("drops %1 of theirs").arg(countOf(n, "edit", "edits"));
    case ConsequenceKind::repeatsLines:
        return tr("repeats %1").arg(countOf(n, "line", "lines"));
    case ConsequenceKind::opensBlockTwice:
        return tr("opens a block twice");
    case ConsequenceKind::bracketsLeftOpen:
        return tr("leaves %1 open").arg(countOf(n, "bracket", "brackets"));
    case ConsequenceKind::bracketsExtra:
        return tr("closes %1 too many").arg(countOf(n, "bracket", "brackets"));
    case ConsequenceKind::quotesUnbalanced:
        return tr("leaves a quote open");
    case ConsequenceKind::bracketsBalance:
        return tr("brackets balance");
    }
    return {};
}
}  // namespace

QString shown(std::string_view bytes)
{
    const auto size = static_cast<qsizetype>(bytes.size());
    return isUtf8(bytes) ? QString::fromUtf8(bytes.data(), size)
                         : QString::fromLatin1(bytes.data(), size);
}

QString shownPath(std::string_view path)
{
    QString text = shown(path);
    for (QChar& c : text) {
        if (c.unicode() < 0x20) {
            c = QChar(0x2400 + c.unicode());  // the control pictures block
        }
    }
    return text;
}

QString countOf(std::size_t count, const char* one, const char* many)
{
    return QStringLiteral("%1 %2").arg(count).arg(tr(count == 1 ? one : many));
}

QString labelOf(CandidateKind kind)
{
    switch (kind) {
    case CandidateKind::wordSplice:
        return tr("Word splice");
    case CandidateKind::ours:
        return tr("Ours");
    case CandidateKind::theirs:
        return tr("Theirs");
    case CandidateKind::oursTheirs:
        return tr("Ours, then theirs");
    case CandidateKind::theirsOurs:
        return tr("Theirs, then ours");
    case CandidateKind::unionOfLines:
        return tr("Lines of both, once");
    case CandidateKind::greater:
        return tr("The greater value");
    case CandidateKind::base:
        return tr("Base");
    case CandidateKind::neither:
        return tr("Neither");
    }
    return {};
}

QString labelOfChoice(const std::string& choice)
{
    if (const auto kind = candidateKindNamed(choice)) {
        return labelOf(*kind).toLower();
    }
    if (choice == kOwnText) {
        return tr("by hand");
    }
    if (choice == nameOf(FileChoice::keepBoth)) {
        return tr("both kept");
    }
    return choice == nameOf(FileChoice::aside) ? tr("kept under a second name")
                                               : QString::fromStdString(choice);
}

QString consequencesInWords(const std::vector<Consequence>& consequences)
{
    QStringList words;
    for (const Consequence& consequence : consequences) {
        // With a warning to read, remarks that all is well are noise.
        if (!hasWarning(consequences) || consequence.isWarning()) {
            words << consequenceInWords(consequence);
        }
    }
    return joined(words);
}

bool hasWarning(const std::vector<Consequence>& consequences)
{
    return std::any_of(
        consequences.begin(), consequences.end(), [](const auto& c) { return c.isWarning(); });
}

QString questionInShort(const FileQuestion& question)
{
    switch (question.kind) {
    case QuestionKind::deletedByOurs:
        return tr("deleted by ours, edited by theirs");
    case QuestionKind::deletedByTheirs:
        return tr("deleted by theirs, edited by ours");
    case QuestionKind::binary:
        return tr("changed on both sides");
    case QuestionKind::tooLarge:
        return tr("too large to join by lines");
    case QuestionKind::modes:
        return tr("executable on one side only");
    case QuestionKind::symlink:
        return tr("link changed on both sides");
    case QuestionKind::submodule:
        return tr("submodule moved on both sides");
    case QuestionKind::differentKinds:
        return tr("not the same kind of file");
    case QuestionKind::fileAgainstFolder:
        return tr("a file against a folder");
    }
    return {};
}

QString questionInWords(const FileOutcome& outcome, const SideNames& names)
{
    ROPE_ASSERT(outcome.question.has_value(), "no question to put in words");
    switch (outcome.question->kind) {
    case QuestionKind::deletedByOurs:
        return tr("%1 deleted this file, %2 went on editing it. Keep the edited file, or let it "
                  "go?")
            .arg(names.ours, names.theirs);
    case QuestionKind::deletedByTheirs:
        return tr("%1 deleted this file, %2 went on editing it. Keep the edited file, or let it "
                  "go?")
            .arg(names.theirs, names.ours);
    case QuestionKind::binary:
        return tr("Both %1 and %2 changed this file, and it holds no lines that could be joined. "
                  "Which one is it to be?")
            .arg(names.ours, names.theirs);
    case QuestionKind::tooLarge:
        return tr("Both %1 and %2 changed this file, and it is too large to be joined line by "
                  "line. Which one is it to be?")
            .arg(names.ours, names.theirs);
    case QuestionKind::modes:
        return tr("Both %1 and %2 added this file, but only one of them made it executable. Whose "
                  "is right?")
            .arg(names.ours, names.theirs);
    case QuestionKind::symlink:
        return tr("Both %1 and %2 changed where this link points. Whose is right?")
            .arg(names.ours, names.theirs);
    case QuestionKind::submodule:
        return tr("Both %1 and %2 moved this submodule to another commit. Whose is right?")
            .arg(names.ours, names.theirs);
    case QuestionKind::differentKinds:
        return tr("%1 and %2 have different kinds of file here. Which one is it to be?")
            .arg(names.ours, names.theirs);
    case QuestionKind::fileAgainstFolder:
        return tr("One side has a file here, the other a folder. The folder stays; the file can be "
                  "kept as %1.")
            .arg(shownPath(outcome.question->beside));
    }
    return {};
}

QString answerInWords(const FileOutcome& outcome, FileChoice choice, const SideNames& names)
{
    const QuestionKind kind = outcome.question ? outcome.question->kind : QuestionKind::binary;
    const QString beside = shownPath(outcome.question ? outcome.question->beside : RepoPath());
    switch (choice) {
    case FileChoice::ours:
        if (kind == QuestionKind::fileAgainstFolder) {
            return outcome.ours ? tr("Keep the file beside the folder") : tr("Let the file go");
        }
        return outcome.ours ? tr("Keep it as %1 has it").arg(names.ours)
                            : tr("Let it go, as %1 did").arg(names.ours);
    case FileChoice::theirs:
        if (kind == QuestionKind::fileAgainstFolder) {
            return outcome.theirs ? tr("Keep the file beside the folder") : tr("Let the file go");
        }
        return outcome.theirs ? tr("Take it as %1 has it").arg(names.theirs)
                              : tr("Let it go, as %1 did").arg(names.theirs);
    case FileChoice::base:
        return tr("Put it back as it was before both");
    case FileChoice::keepBoth:
        return tr("Keep both: ours here, theirs as %1").arg(beside);
    case FileChoice::aside:
        return tr("Keep the file as %1").arg(beside);
    }
    return {};
}

QString forecastInWords(const FileOutcome& outcome)
{
    QStringList words;
    if (outcome.regionCount() > 0) {
        words << countOf(outcome.regionCount(), "region", "regions");
    }
    if (outcome.question) {
        words << questionInShort(*outcome.question);
    }
    if (!words.isEmpty()) {
        return joined(words);
    }
    if (outcome.text && outcome.text->hasConvertedLineEnds()) {
        return tr("joins cleanly, line ends converted");
    }
    return outcome.settled == outcome.ours && outcome.ours == outcome.theirs
               ? tr("the same on both sides")
               : tr("joins cleanly");
}

QString forecastInWords(const Forecast& forecast)
{
    const std::size_t incoming = forecast.divergence.theirsOnly.size();
    switch (forecast.divergence.relation) {
    case Relation::same:
        return tr("the same commit");
    case Relation::oursAhead:
        return tr("all of it is already here");
    case Relation::theirsAhead:
        return tr("%1 in · fast-forward").arg(incoming);
    case Relation::unrelated:
        return tr("no commit in common");
    case Relation::diverged:
        break;
    }
    if (forecast.isClean()) {
        return tr("%1 in · joins cleanly").arg(incoming);
    }
    QStringList open;
    if (forecast.regionCount() > 0) {
        open << countOf(forecast.regionCount(), "region", "regions");
    }
    if (forecast.questionCount() > 0) {
        open << countOf(forecast.questionCount(), "question", "questions");
    }
    return tr("%1 in · %2 in %3")
        .arg(incoming)
        .arg(open.join(tr(" and ")), countOf(forecast.openFileCount(), "file", "files"));
}

QString nameOfOrigin(LineOrigin origin)
{
    switch (origin) {
    case LineOrigin::base:
        return tr("unchanged");
    case LineOrigin::ours:
        return tr("from ours");
    case LineOrigin::theirs:
        return tr("from theirs");
    case LineOrigin::both:
        return tr("from both sides");
    case LineOrigin::hand:
        return tr("written by hand");
    }
    return {};
}
}  // namespace rope
