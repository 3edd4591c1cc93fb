// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/wording/together_words.h"

#include "desktop/wording/tr.h"

namespace rope {
namespace {
}  // namespace

QString labelOf(TogetherChoice choice)
{
    switch (choice) {
    case TogetherChoice::ours:
        return tr("All as ours");
    case TogetherChoice::theirs:
        return tr("All as theirs");
    case TogetherChoice::oursTheirs:
        return tr("Both everywhere, ours first");
    case TogetherChoice::theirsOurs:
        return tr("Both everywhere, theirs first");
    case TogetherChoice::leaveOpen:
        return tr("Leave all open");
    }
    return {};
}

QString lossInWords(const TogetherLoss& loss, TogetherChoice choice, const SideNames& names)
{
    QStringList parts;
    const auto givesUp = [&parts](std::size_t lines, const QString& side) {
        if (lines > 0) {
            parts << tr("gives up %1 that %2 added").arg(countOf(lines, "line", "lines"), side);
        }
    };
    if (choice != TogetherChoice::leaveOpen) {
        givesUp(loss.theirsLines, names.theirs);
        givesUp(loss.oursLines, names.ours);
    }
    if (loss.filesGone > 0) {
        parts << tr("%1 not in the result").arg(countOf(loss.filesGone, "file", "files"));
    }
    if (loss.handTexts > 0) {
        parts << tr("replaces %1 written by hand").arg(countOf(loss.handTexts, "text", "texts"));
    }
    if (loss.leftOut > 0) {
        parts << (loss.leftOut == 1 ? tr("1 stays as it is")
                                    : tr("%1 stay as they are").arg(loss.leftOut));
    }
    if (parts.isEmpty()) {
        parts << (choice == TogetherChoice::leaveOpen ? tr("takes the decisions back")
                                                      : tr("no added line is given up"));
    }
    return parts.join(QStringLiteral(" · "));
}
}  // namespace rope
