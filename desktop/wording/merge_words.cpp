// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/wording/merge_words.h"

#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

#include <QStringList>

#include <algorithm>

namespace rope {
namespace {
/// A word that a side wrote; what is more than a word stands in quotes.
QString wordInWords(const std::string& word)
{
    const QString text = shown(word);
    return text.contains(QLatin1Char(' ')) ? QStringLiteral("“%1”").arg(text) : text;
}

QString consequenceInWords(const Consequence& c)
{
    const auto n = static_cast<std::size_t>(c.count);
    switch (c.kind) {
    case ConsequenceKind::keepsBothEdits:
        return tr("keeps both edits");
    case ConsequenceKind::dropsOurs:
        return c.name.empty() ? tr("drops %1 of ours").arg(countOf(n, "line", "lines"))
                              : tr("drops %1, by ours").arg(wordInWords(c.name));
    case ConsequenceKind::dropsTheirs:
        return c.name.empty() ? tr("drops %1 of theirs").arg(countOf(n, "line", "lines"))
                              : tr("drops %1, by theirs").arg(wordInWords(c.name));
    case ConsequenceKind::undoesOursRemoval:
        return tr("restores %1 that ours removed").arg(countOf(n, "line", "lines"));
    case ConsequenceKind::undoesTheirsRemoval:
        return tr("restores %1 that theirs removed").arg(countOf(n, "line", "lines"));
    case ConsequenceKind::theirsHasIt:
        return tr("theirs has most of it too");
    case ConsequenceKind::oursHasIt:
        return tr("ours has most of it too");
    case ConsequenceKind::repeatsLines:
        return tr("repeats %1").arg(countOf(n, "line", "lines"));
    case ConsequenceKind::twoVersions:
        return n == 1 ? tr("one line is there in two versions")
                      : tr("%1 lines are there in two versions").arg(n);
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
        return tr("%1 would be there twice").arg(shownPath(c.name));
    case ConsequenceKind::keyTwice:
        return tr("key %1 would be there twice").arg(shownPath(c.name));
    case ConsequenceKind::unreadable:
        return tr("the file would not parse: %1").arg(shownBeginning(c.name, 60).simplified());
    case ConsequenceKind::indentBroken:
        return tr("unexpected indentation");
    }
    return {};
}
}  // namespace

QString labelOf(CandidateKind kind)
{
    return tr(labelInEnglish(kind));
}

QString labelOf(const Candidate& candidate, const RegionTexts& texts)
{
    const auto number = candidate.kind == CandidateKind::greater ? greaterNumber(texts)
                                                                 : std::optional<GreaterNumber>();
    if (!number) {
        return labelOf(candidate.kind);
    }
    const QString text = shown(number->text);
    switch (number->kind) {
    case NumberKind::count:
        return number->isOurs ? tr("The greater: %1 (ours)").arg(text)
                              : tr("The greater: %1 (theirs)").arg(text);
    case NumberKind::version:
        return number->isOurs ? tr("The newer: %1 (ours)").arg(text)
                              : tr("The newer: %1 (theirs)").arg(text);
    case NumberKind::date:
        return number->isOurs ? tr("The later: %1 (ours)").arg(text)
                              : tr("The later: %1 (theirs)").arg(text);
    }
    return labelOf(candidate.kind);
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
    return inARow(words);
}

QString lossInWords(const std::vector<Consequence>& consequences)
{
    QStringList words;
    for (const Consequence& consequence : consequences) {
        if (consequence.isLoss()) {
            words << consequenceInWords(consequence);
        }
    }
    return words.join(tr(", "));
}

bool hasWarning(const std::vector<Consequence>& consequences)
{
    return std::any_of(
        consequences.begin(), consequences.end(), [](const auto& c) { return c.isWarning(); });
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

QString lostInWords(const LostDecision& lost)
{
    const QString path = shownPath(lost.decision.path);
    const QString choice = labelOfChoice(lost.decision.state.choice);
    QString what = choice.isEmpty() ? path : tr("%1 (%2)").arg(path, choice);
    switch (lost.reason) {
    case NoPlace::fileGone:
        return tr("%1: this file is no longer in conflict.").arg(what);
    case NoPlace::regionGone:
        return tr("%1: the place is gone, or has changed.").arg(what);
    case NoPlace::answerNotOffered:
        return tr("%1: the question is a different one now.").arg(what);
    case NoPlace::clashes:
        return tr("%1: what you wrote does not fit what is there now.").arg(what);
    }
    return what;
}
}  // namespace rope
