// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/wording/finding_words.h"

#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

namespace rope {
namespace {
constexpr std::size_t kMostNameBytes = 60;

QString nameOf(FindingSide side)
{
    return side == FindingSide::theirs ? tr("theirs") : tr("ours");
}

QString otherOf(FindingSide side)
{
    return side == FindingSide::theirs ? tr("ours") : tr("theirs");
}

QString inShort(const std::string& bytes)
{
    return shownBeginning(bytes, kMostNameBytes).simplified();
}

QString lineOf(const RepoPath& path, LineNumber line)
{
    return QStringLiteral("%1:%2").arg(shownPath(path)).arg(line + 1);
}

/// "in e09b3f2 “Only offer passages the tide allows”, You"
QString commitInWords(const std::optional<Commit>& commit)
{
    return commit ? tr("%1 “%2”, %3")
                        .arg(shown(commit->id.brief()),
                             shownSubject(*commit),
                             shown(commit->author.name))
                  : QString();
}

QString formatOf(const RepoPath& path)
{
    return shownPath(path.substr(path.rfind('.') + 1)).toUpper();
}
}  // namespace

QString findingTitle(const Finding& finding)
{
    const QString name = inShort(finding.name);
    switch (finding.kind) {
    case FindingKind::nameGone:
        return tr("Name is gone: %1").arg(name);
    case FindingKind::definedTwice:
        return tr("Defined twice: %1").arg(name);
    case FindingKind::importedTwice:
        return tr("Imported twice: %1").arg(name);
    case FindingKind::keyTwice:
        return tr("Key is there twice: %1").arg(name);
    case FindingKind::signatureChanged:
        return tr("Called the old way: %1").arg(name);
    case FindingKind::importGone:
        return tr("Import is gone: %1").arg(name);
    case FindingKind::fileGone:
        return tr("File is gone: %1").arg(name);
    case FindingKind::bracketsOpen:
        return tr("Unmatched bracket: %1").arg(name);
    case FindingKind::quoteOpen:
        return tr("Unmatched quote");
    case FindingKind::indentBroken:
        return tr("Unexpected indentation");
    case FindingKind::tagsUnbalanced:
        return tr("Tags do not match");
    case FindingKind::doesNotParse:
        return tr("Does not parse as %1").arg(formatOf(finding.path));
    case FindingKind::nearEdits:
        return finding.count == 0
                   ? tr("Two edits side by side")
                   : tr("Two edits only %1 apart")
                         .arg(countOf(static_cast<std::size_t>(finding.count), "line", "lines"));
    case FindingKind::sameFunction:
        return tr("Both changed %1").arg(name);
    case FindingKind::movedBlock:
        return tr("Moved and edited: %1")
            .arg(countOf(static_cast<std::size_t>(finding.count), "line", "lines"));
    case FindingKind::rewriteLeft:
        return tr("Old name left: %1").arg(name);
    case FindingKind::addedTwice:
        return tr("Added by both, at two places");
    case FindingKind::markersLeft:
        return tr("Conflict marker left");
    case FindingKind::lineRepeated:
        return tr("Line is there twice");
    case FindingKind::foreignText:
        return tr("Neither side's text");
    case FindingKind::changeDropped:
        return tr("All of %1 is lost").arg(nameOf(finding.side));
    }
    return {};
}

QString findingInWords(const Finding& finding)
{
    const QString side = nameOf(finding.side);
    const QString other = otherOf(finding.side);
    const QString name = inShort(finding.name);
    const QString instead = inShort(finding.other);
    switch (finding.kind) {
    case FindingKind::nameGone:
        return (instead.isEmpty() ? tr("%1 removed it").arg(side)
                                  : tr("%1 renamed it to %2").arg(side, instead))
               + tr("; %1 uses it in a new line").arg(other);
    case FindingKind::definedTwice:
        return tr("both sides define it here; also in line %1").arg(finding.otherLine + 1);
    case FindingKind::importedTwice:
        return tr("both sides added it; also in line %1").arg(finding.otherLine + 1);
    case FindingKind::keyTwice:
        return tr("both sides added it to one section");
    case FindingKind::signatureChanged:
        return tr("%1 made it take %2; %3 calls it with %4")
            .arg(side,
                 instead,
                 other,
                 countOf(static_cast<std::size_t>(finding.count), "argument", "arguments"));
    case FindingKind::importGone:
        return tr("%1 removed “%2”; %3 needs it here").arg(side, instead, other);
    case FindingKind::fileGone:
        return (instead.isEmpty() ? tr("%1 removed it").arg(side)
                                  : tr("%1 renamed it to %2").arg(side, instead))
               + tr("; %1 names it in a new line").arg(other);
    case FindingKind::bracketsOpen:
        return tr("brackets balance in ours and in theirs, not in the result");
    case FindingKind::quoteOpen:
        return tr("quotes are in order in ours and in theirs, not in the result");
    case FindingKind::indentBroken:
        return tr("blocks are in order in ours and in theirs, not in the result");
    case FindingKind::tagsUnbalanced:
    case FindingKind::doesNotParse:
        return tr("ours and theirs parse, the result does not: %1").arg(instead);
    case FindingKind::nearEdits:
        return finding.count == 0 ? tr("ours and theirs changed lines that touch")
                                  : tr("ours and theirs edited neighbouring lines");
    case FindingKind::sameFunction:
        return tr("ours and theirs each changed lines of it");
    case FindingKind::movedBlock:
        return tr("%1 moved it; what %2 edited in it at its old place is not here")
            .arg(side, other);
    case FindingKind::rewriteLeft:
        return tr("%1 replaced it by %2 everywhere here; a new line of %3 has the old name")
            .arg(side, instead, other);
    case FindingKind::addedTwice:
        return tr("%1 that both sides added are here and at line %2")
            .arg(countOf(static_cast<std::size_t>(finding.count), "line", "lines"))
            .arg(finding.otherLine + 1);
    case FindingKind::markersLeft:
        return tr("neither side and not the base has this line");
    case FindingKind::lineRepeated:
        return tr("once in either side: “%1”").arg(name);
    case FindingKind::foreignText:
        return tr("written outside of any region");
    case FindingKind::changeDropped:
        return tr("your decisions took this file as the other side has it");
    }
    return {};
}

QString findingInWords(const Finding& finding, const PlaceAuthors& authors)
{
    QString words = findingInWords(finding);
    words[0] = words[0].toUpper();
    QStringList commits;
    if (finding.otherPath != finding.path && !finding.otherPath.empty()) {
        words += tr(" (it was at %1)").arg(lineOf(finding.otherPath, finding.otherLine));
    }
    words += QLatin1Char('.');
    if (const QString ours = commitInWords(authors.ours); !ours.isEmpty()) {
        commits << tr("Ours: %1").arg(ours);
    }
    if (const QString theirs = commitInWords(authors.theirs); !theirs.isEmpty()) {
        commits << tr("Theirs: %1").arg(theirs);
    }
    return commits.isEmpty() ? words
                             : words + QLatin1Char('\n') + commits.join(QStringLiteral("  ·  "));
}

QString findingPlace(const Finding& finding)
{
    const QString first = lineOf(finding.path, finding.lines.begin);
    return finding.lines.size() <= 1 ? first
                                     : QStringLiteral("%1-%2").arg(first).arg(finding.lines.end);
}

QString mendInWords(const Finding& finding)
{
    if (!finding.mend) {
        return {};
    }
    switch (finding.kind) {
    case FindingKind::importGone:
        return tr("Restore “%1”").arg(inShort(finding.other));
    case FindingKind::importedTwice:
    case FindingKind::lineRepeated:
        return tr("Remove this line");
    default:
        return tr("Write %1 here").arg(inShort(finding.other));
    }
}

QString notCheckedInWords(const NotChecked& notChecked)
{
    const QString path = shownPath(notChecked.path);
    switch (notChecked.why) {
    case NotChecked::Why::tooLarge:
        return tr("%1 was not checked: it is too large, or has a line that is.").arg(path);
    case NotChecked::Why::tooDeep:
        return tr("%1 was not checked: its brackets are nested too deeply.").arg(path);
    }
    return {};
}
}  // namespace rope
