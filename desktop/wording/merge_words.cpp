// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/wording/merge_words.h"

#include "core/snapshot/repo_paths.h"
#include "core/text/encoding.h"
#include "desktop/wording/relative_time.h"
#include "desktop/wording/tr.h"

#include <QStringList>

#include <algorithm>

namespace rope {
namespace {
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
    case ConsequenceKind::twoVersions:
        return n == 1 ? tr("one line stands in two versions")
                      : tr("%1 lines stand in two versions").arg(n);
    case ConsequenceKind::usesNameOursRemoved:
        return tr("uses %1, which ours removed").arg(shownPath(c.name));
    case ConsequenceKind::usesNameTheirsRemoved:
        return tr("uses %1, which theirs removed").arg(shownPath(c.name));
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
    case ConsequenceKind::definesTwice:
        return tr("defines %1 twice").arg(shownPath(c.name));
    case ConsequenceKind::importsTwice:
        return tr("%1 would stand twice").arg(shownPath(c.name));
    case ConsequenceKind::keyTwice:
        return tr("key %1 would stand twice").arg(shownPath(c.name));
    case ConsequenceKind::unreadable:
        return tr("the file cannot be read then: %1").arg(shownBeginning(c.name, 60).simplified());
    case ConsequenceKind::indentBroken:
        return tr("indent belongs to no block");
    }
    return {};
}
}  // namespace

QString editableText(std::string_view bytes)
{
    const auto size = static_cast<qsizetype>(bytes.size());
    return isUtf8(bytes) ? QString::fromUtf8(bytes.data(), size)
                         : QString::fromLatin1(bytes.data(), size);
}

namespace {
constexpr QChar kHiddenSign = u'\u25c6';

/// Whether a character cannot be seen, breaks the line, or turns the direction of reading.
bool isHidden(QChar c)
{
    const char16_t code = c.unicode();
    return (code >= 0x7f && code < 0xa0) || code == 0xad || code == 0x61c || code == 0x180e
           || (code >= 0x200b && code <= 0x200f) || (code >= 0x2028 && code <= 0x202e)
           || (code >= 0x2060 && code <= 0x206f) || code == 0xfeff;
}

/// A visible sign for a control character or a hidden one; else itself.
QChar visible(QChar c)
{
    const char16_t code = c.unicode();
    if (code < 0x20) {
        return {static_cast<char16_t>(0x2400 + code)};  // the control pictures block
    }
    return isHidden(c) ? kHiddenSign : c;
}
}  // namespace

QString shown(std::string_view bytes)
{
    QString text = editableText(bytes);
    for (QChar& c : text) {
        c = isHidden(c) ? kHiddenSign : c;
    }
    return text;
}

QString shownWords(std::string_view bytes)
{
    QString text = shown(bytes);
    text.replace(QStringLiteral("\r\n"), QStringLiteral("\n"));
    for (QChar& c : text) {
        c = c == QLatin1Char('\n') || c == QLatin1Char('\t') ? c : visible(c);
    }
    return text;
}

QString shownPath(std::string_view path)
{
    QString text = shown(path);
    for (QChar& c : text) {
        c = visible(c);
    }
    return text;
}

QString shownCommand(std::string_view command)
{
    constexpr int kMostInARow = 3;
    constexpr int kLongestWord = 40;
    const QString text = shownPath(command);
    QString told;
    int word = 0;
    for (qsizetype i = 0; i < text.size();) {
        qsizetype end = i;
        while (end < text.size() && text[end] == text[i]) {
            ++end;
        }
        const qsizetype run = end - i;
        const bool isCounted = run > kMostInARow && (text[i] == kHiddenSign || text[i].isSpace());
        told += isCounted ? QStringLiteral(" %1×%2 ").arg(run).arg(text[i]) : text.mid(i, run);
        word = text[i].isSpace() || isCounted ? 0 : word + static_cast<int>(run);
        if (word > kLongestWord) {
            told += QChar(u'\u200b');  // the line may be broken here
            word = 0;
        }
        i = end;
    }
    return told;
}

QString countOf(std::size_t count, const char* one, const char* many)
{
    return QStringLiteral("%1 %2").arg(count).arg(tr(count == 1 ? one : many));
}

QString labelOf(CandidateKind kind)
{
    return tr(labelInEnglish(kind));
}

QString labelOf(const Candidate& candidate, const RegionTexts& texts)
{
    return candidate.kind == CandidateKind::greater
               ? tr("The later of the two: %1").arg(shown(decidingNumber(texts)))
               : labelOf(candidate.kind);
}

QString earlierInWords(const EarlierSource& source, std::int64_t now)
{
    if (!source.here.empty()) {
        return tr("as decided in %1").arg(shownPath(source.here));
    }
    const QString when = relativeTime(source.at, now);
    return source.commit.isNull()
               ? tr("as you decided %1, not recorded").arg(when)
               : tr("as in %1 by %2, %3").arg(shown(source.commit.brief()), shown(source.by), when);
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
    if (choice == nameOf(FileChoice::aside)) {
        return tr("kept under a second name");
    }
    if (choice == nameOf(FileChoice::follow) || choice == nameOf(FileChoice::followOther)) {
        return tr("moved with its folder");
    }
    if (choice == nameOf(FileChoice::found)) {
        return tr("as found");
    }
    return choice == nameOf(FileChoice::stay) ? tr("left in its place")
                                              : QString::fromStdString(choice);
}

QString stepInWords(const Splice& splice,
                    const std::vector<SlotChange>& step,
                    const SlotState& before,
                    const SlotState& after)
{
    if (step.size() > 1) {
        return tr("answers for %1 places").arg(step.size());
    }
    const SlotPlace place = step.front().place;
    const SpliceFile& file = splice.files()[place.file];
    const QString path = shownPath(file.outcome->path);
    QString where = path.mid(path.lastIndexOf(QLatin1Char('/')) + 1);
    if (place.slot != SlotPlace::kQuestion && file.text->isRegion(place.slot)) {
        where = tr("region %1 of %2").arg(file.text->regionOf(place.slot) + 1).arg(where);
    }
    const bool isTyping =
        before.text != after.text && (after.choice == kOwnText || after.choice == before.choice);
    return isTyping               ? tr("typing in %1").arg(where)
           : after.choice.empty() ? tr("%1 left open").arg(where)
                                  : tr("“%1” for %2").arg(labelOfChoice(after.choice), where);
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

namespace {
/// Of a file that was put there by hand, or taken away.
bool isGoneByHand(const FileQuestion& question)
{
    const Answer* const found = question.answerOf(FileChoice::found);
    return found != nullptr && found->puts.empty();
}
}  // namespace

QString questionInShort(const FileQuestion& question)
{
    switch (question.kind) {
    case QuestionKind::deletedByOurs:
        return tr("deleted by ours, edited by theirs");
    case QuestionKind::deletedByTheirs:
        return tr("deleted by theirs, edited by ours");
    case QuestionKind::renamedDeletedByOurs:
        return tr("deleted by ours, renamed by theirs");
    case QuestionKind::renamedDeletedByTheirs:
        return tr("deleted by theirs, renamed by ours");
    case QuestionKind::renamedTwice:
        return tr("two new names for one file");
    case QuestionKind::renamedOnto:
        return tr("renamed onto another file");
    case QuestionKind::inRenamedFolder:
        return tr("new in a folder that was renamed");
    case QuestionKind::inSplitFolder:
        return tr("new in a folder that was split");
    case QuestionKind::blockedByFile:
        return tr("its folder was renamed, its name is taken there");
    case QuestionKind::binary:
        return tr("changed on both sides");
    case QuestionKind::tooLarge:
        return tr("too large to join by lines");
    case QuestionKind::notByLines:
    case QuestionKind::programLeftOut:
        return tr("not to be joined by lines");
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
    case QuestionKind::nameRefused:
        return tr("a name that git does not check out");
    case QuestionKind::putByHand:
        return isGoneByHand(question) ? tr("removed by hand") : tr("put there by hand");
    }
    return {};
}

namespace {
/// Where an answer puts the file; empty if nowhere.
QString placeOf(const FileOutcome& outcome, FileChoice choice)
{
    const Answer* const answer = outcome.question ? outcome.question->answerOf(choice) : nullptr;
    return answer && !answer->puts.empty() ? shownPath(answer->puts.back().path) : QString();
}

QString changedByBoth(const SideNames& names, const QString& why)
{
    return tr("Both %1 and %2 changed this file, and %3. Which one is it to be?")
        .arg(names.ours, names.theirs, why);
}

QString questionAboutNames(const FileOutcome& outcome, const SideNames& names)
{
    const QString oldPath = shownPath(outcome.basePath);
    const bool isOursNew = outcome.ours.has_value();
    const QString& adder = isOursNew ? names.ours : names.theirs;
    const QString& mover = isOursNew ? names.theirs : names.ours;
    switch (outcome.question->kind) {
    case QuestionKind::renamedDeletedByOurs:
        return tr("%1 renamed %2 to this name, %3 deleted it. Keep the renamed file, or let it go?")
            .arg(names.theirs, oldPath, names.ours);
    case QuestionKind::renamedDeletedByTheirs:
        return tr("%1 renamed %2 to this name, %3 deleted it. Keep the renamed file, or let it go?")
            .arg(names.ours, oldPath, names.theirs);
    case QuestionKind::renamedTwice:
        return outcome.ours && outcome.theirs && outcome.base
                   ? tr("%1 renamed %2 to %3, %4 renamed it to %5. What is it to be called?")
                         .arg(names.ours,
                              oldPath,
                              placeOf(outcome, FileChoice::ours),
                              names.theirs,
                              placeOf(outcome, FileChoice::theirs))
                   : tr("Each side gave one file another name, and this is one of them. Is it to "
                        "be here?");
    case QuestionKind::renamedOnto:
        return tr("One side renamed a file to this name and the other deleted that file, but added "
                  "another one of this name. Which one is it to be?");
    case QuestionKind::inRenamedFolder:
        return tr("%1 added this file in a folder that %2 renamed. Where is it to be?")
            .arg(adder, mover);
    case QuestionKind::inSplitFolder:
        return tr("%1 added this file in a folder whose files %2 moved to several others. Where is "
                  "it to be?")
            .arg(adder, mover);
    case QuestionKind::blockedByFile:
        return tr("%1 added this file in a folder that %2 renamed, but in the new folder its name "
                  "is taken. Where is it to be?")
            .arg(adder, mover);
    default:
        return {};
    }
}
}  // namespace

QString asidesInWords(const TreeJoin& join, const FileOutcome& outcome)
{
    QStringList lines;
    for (const auto& [path, aside] : join.asides) {
        const auto isNear = [&p = path](const Placement& put) {
            return put.path == p || liesIn(put.path, p) || liesIn(p, put.path);
        };
        const bool isAsked =
            outcome.question
            && std::any_of(outcome.question->answers.begin(),
                           outcome.question->answers.end(),
                           [&](const Answer& answer) {
                               return std::any_of(answer.puts.begin(), answer.puts.end(), isNear);
                           });
        if (isAsked) {
            lines << tr("If %1 cannot stay where it is, it is kept as %2.")
                         .arg(shownPath(path), shownPath(aside));
        }
    }
    return lines.join(QLatin1Char('\n'));
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
    case QuestionKind::renamedDeletedByOurs:
    case QuestionKind::renamedDeletedByTheirs:
    case QuestionKind::renamedTwice:
    case QuestionKind::renamedOnto:
    case QuestionKind::inRenamedFolder:
    case QuestionKind::inSplitFolder:
    case QuestionKind::blockedByFile:
        return questionAboutNames(outcome, names);
    case QuestionKind::binary:
        return changedByBoth(names, tr("it holds no lines that could be joined"));
    case QuestionKind::tooLarge:
        return changedByBoth(names, tr("it is too large to be joined line by line"));
    case QuestionKind::notByLines:
        return changedByBoth(
            names, tr("the repository's attributes say that it is not to be joined by lines"));
    case QuestionKind::programLeftOut:
        return changedByBoth(
            names,
            tr("the merge program that the repository's own configuration names for "
               "it was not run"));
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
            .arg(placeOf(outcome, FileChoice::aside));
    case QuestionKind::nameRefused:
        return tr("%1 added a file under a name that git does not put into a working tree here. It "
                  "can only be left out.")
            .arg(names.theirs);
    case QuestionKind::putByHand:
        return isGoneByHand(*outcome.question) ? tr(
                   "Somebody removed this file by hand after the join had begun. Is it to stay "
                   "away?")
               : !outcome.base && !outcome.ours && !outcome.theirs
                   ? tr("Neither side has this file: somebody added it by hand after the join had "
                        "begun. Is it to stay?")
                   : tr("What stands here is neither side's, and no join of them: somebody put it "
                        "there by hand after the join had begun. Is it to stay?");
    }
    return {};
}

namespace {
QString sideInWords(const FileOutcome& outcome, FileChoice choice, const SideNames& names)
{
    const bool isOurs = choice == FileChoice::ours;
    const QString& side = isOurs ? names.ours : names.theirs;
    const QuestionKind kind = outcome.question ? outcome.question->kind : QuestionKind::binary;
    const QString place = placeOf(outcome, choice);
    if (place.isEmpty() && kind == QuestionKind::putByHand && !outcome.base) {
        return tr("Leave it out, as %1 does").arg(side);
    }
    if (place.isEmpty()) {
        return kind == QuestionKind::fileAgainstFolder ? tr("Let the file go")
                                                       : tr("Let it go, as %1 did").arg(side);
    }
    if (kind == QuestionKind::renamedTwice || kind == QuestionKind::renamedDeletedByOurs
        || kind == QuestionKind::renamedDeletedByTheirs) {
        return tr("Call it %1, as %2 did").arg(place, side);
    }
    return isOurs ? tr("Keep it as %1 has it").arg(side) : tr("Take it as %1 has it").arg(side);
}
}  // namespace

QString answerInWords(const FileOutcome& outcome, FileChoice choice, const SideNames& names)
{
    const QString place = placeOf(outcome, choice);
    switch (choice) {
    case FileChoice::ours:
    case FileChoice::theirs:
        return sideInWords(outcome, choice, names);
    case FileChoice::base:
        return place.isEmpty() ? tr("Leave it out") : tr("Put it back as it was before both");
    case FileChoice::keepBoth:
        return outcome.question && outcome.question->kind == QuestionKind::renamedTwice
                   ? tr("Keep it under both names")
                   : tr("Keep both: the second as %1").arg(place);
    case FileChoice::aside:
        return tr("Keep the file as %1").arg(place);
    case FileChoice::follow:
    case FileChoice::followOther:
        return tr("Move it along to %1").arg(place);
    case FileChoice::stay:
        return tr("Leave it at %1").arg(place);
    case FileChoice::found:
        return isGoneByHand(*outcome.question) ? tr("It stays away") : tr("It stays as it is");
    }
    return {};
}

QString chunkInWords(ChunkKind kind, const SideNames& names)
{
    switch (kind) {
    case ChunkKind::ours:
        return tr("%1 changed this, %2 left it as it was in the base: it joined by itself.")
            .arg(names.ours, names.theirs);
    case ChunkKind::theirs:
        return tr("%1 changed this, %2 left it as it was in the base: it joined by itself.")
            .arg(names.theirs, names.ours);
    case ChunkKind::alike:
        return tr("Both sides changed this in the same way: it joined by itself.");
    case ChunkKind::unchanged:
    case ChunkKind::region:
        break;
    }
    return {};
}

QString fileRemarkInWords(const FileOutcome& outcome, bool isOurs)
{
    const auto& side = isOurs ? outcome.ours : outcome.theirs;
    const RepoPath& path = isOurs ? outcome.oursPath : outcome.theirsPath;
    QStringList parts;
    if (side && outcome.base) {
        if (path != outcome.basePath) {
            parts << tr("Renamed from %1 to %2.").arg(shownPath(outcome.basePath), shownPath(path));
        }
        if (side->kind != outcome.base->kind) {
            parts << (side->kind == EntryKind::executable ? tr("Made executable.")
                      : side->kind == EntryKind::file && outcome.base->kind == EntryKind::executable
                          ? tr("Made not executable any more.")
                          : tr("Made another kind of entry."));
        }
    }
    return parts.join(QLatin1Char(' '));
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
    if (outcome.text && outcome.text->hasConvertedForm()) {
        return tr("joins cleanly, encoding converted");
    }
    if (outcome.text && outcome.text->hasConvertedLineEnds()) {
        return tr("joins cleanly, line ends converted");
    }
    if (outcome.isRenamed() && outcome.base) {
        return tr("joins cleanly, was %1").arg(shownPath(outcome.basePath));
    }
    return outcome.settled == outcome.ours && outcome.ours == outcome.theirs
               ? tr("the same on both sides")
               : tr("joins cleanly");
}

namespace {
/// What joining gives, as numbers.
struct ForecastCounts
{
    Relation relation = Relation::same;
    std::size_t incoming = 0;
    std::size_t regions = 0;
    std::size_t questions = 0;
    std::size_t openFiles = 0;
};

QString openInWords(const ForecastCounts& counts)
{
    QStringList open;
    if (counts.regions > 0) {
        open << countOf(counts.regions, "region", "regions");
    }
    if (counts.questions > 0) {
        open << countOf(counts.questions, "question", "questions");
    }
    return tr("%1 in %2").arg(open.join(tr(" and ")), countOf(counts.openFiles, "file", "files"));
}

QString forecastInWords(const ForecastCounts& counts)
{
    switch (counts.relation) {
    case Relation::same:
        return tr("the same commit");
    case Relation::oursAhead:
        return tr("all of it is already here");
    case Relation::theirsAhead:
        return tr("%1 in · fast-forward").arg(counts.incoming);
    case Relation::unrelated:
        return tr("no commit in common");
    case Relation::diverged:
        break;
    }
    return counts.openFiles == 0 ? tr("%1 in · joins cleanly").arg(counts.incoming)
                                 : tr("%1 in · %2").arg(counts.incoming).arg(openInWords(counts));
}

ForecastCounts countsOf(const PairOutcome& outcome)
{
    ForecastCounts counts{outcome.relation, outcome.secondCommits, 0, 0, 0};
    for (const PairFile& file : outcome.files) {
        counts.regions += file.regions;
        counts.questions += file.isQuestion ? 1U : 0U;
        counts.openFiles += file.isOpen() ? 1U : 0U;
    }
    return counts;
}
}  // namespace

QString forecastInWords(const Forecast& forecast)
{
    return forecastInWords(ForecastCounts{forecast.divergence.relation,
                                          forecast.divergence.theirsOnly.size(),
                                          forecast.regionCount(),
                                          forecast.questionCount(),
                                          forecast.openFileCount()});
}

QString forecastInWords(const PairOutcome& outcome)
{
    return outcome.kind == PairOutcome::Kind::unknown && outcome.relation != Relation::unrelated
               ? tr("no forecast")
               : forecastInWords(countsOf(outcome));
}

QString otherWayInWords(const PairOutcome& outcome, const QString& first, const QString& second)
{
    const QString commits = countOf(outcome.firstCommits, "commit", "commits");
    switch (outcome.relation) {
    case Relation::same:
    case Relation::unrelated:
        return {};
    case Relation::oursAhead:
        return tr("The other way round, %1 into %2 is a fast-forward: %3.")
            .arg(first, second, commits);
    case Relation::theirsAhead:
        return tr("The other way round there is nothing to do: %2 has all of %1.")
            .arg(first, second);
    case Relation::diverged:
        break;
    }
    return outcome.open == 0 ? tr("The other way round, %1 into %2 joins cleanly too: %3.")
                                   .arg(first, second, commits)
                             : tr("The other way round, %1 into %2 meets the same: %3.")
                                   .arg(first, second, openInWords(countsOf(outcome)));
}

QString nameClashInWords(const NameClash& clash)
{
    return tr("%1 and %2 differ only in case or normalisation: on some file systems one would "
              "replace the other.")
        .arg(shownPath(clash.first), shownPath(clash.second));
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

QString shownBeginning(std::string_view bytes, std::size_t mostBytes)
{
    if (bytes.size() <= mostBytes) {
        return shown(bytes);
    }
    // Whole characters only: in UTF-8 those that go on begin with the bits 10.
    std::size_t cut = mostBytes;
    while (cut > 0 && (static_cast<unsigned char>(bytes[cut]) & 0xc0U) == 0x80U) {
        --cut;
    }
    return shown(bytes.substr(0, cut)) + QStringLiteral("…");
}

QString shownSubject(const Commit& commit)
{
    constexpr std::size_t kMostBytes = 400;
    const std::string_view message(commit.message);
    const QString subject = shownBeginning(message.substr(0, message.find('\n')), kMostBytes);
    return shownPath(subject.toStdString());
}

QString lostInWords(const LostDecision& lost)
{
    const QString path = shownPath(lost.decision.path);
    const QString choice = labelOfChoice(lost.decision.state.choice);
    QString what = choice.isEmpty() ? path : tr("%1 (%2)").arg(path, choice);
    switch (lost.reason) {
    case NoPlace::fileGone:
        return tr("%1: the join no longer asks about this file.").arg(what);
    case NoPlace::regionGone:
        return tr("%1: the place is not there any more, or reads otherwise now.").arg(what);
    case NoPlace::answerNotOffered:
        return tr("%1: the question is another one now.").arg(what);
    case NoPlace::clashes:
        return tr("%1: what you wrote does not fit what stands there now.").arg(what);
    }
    return what;
}
}  // namespace rope
