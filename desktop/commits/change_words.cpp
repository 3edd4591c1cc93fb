// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_commit_reader.cpp.
#include "desktop/commits/change_words.h"

#include "desktop/wording/tr.h"

#include <QStringList>

namespace rope {
namespace {
QString kindRemark(const FileChange& change)
{
    if (!change.before) {
        return tr("new");
    }
    if (!change.after) {
        return tr("deleted");
    }
    if (change.before->kind == change.after->kind) {
        return {};
    }
    if (isRegular(change.before->kind) && isRegular(change.after->kind)) {
        return change.after->kind == EntryKind::executable ? tr("made executable")
                                                           : tr("no longer executable");
    }
    return tr("another kind of file");
}
}  // namespace

QString changeRemark(const FileReading& file)
{
    QStringList words;
    if (const QString kind = kindRemark(file.change); !kind.isEmpty()) {
        words << kind;
    }
    if (file.content == FileReading::Content::tooLarge) {
        words << tr("too large to be shown here");
    } else if (file.content == FileReading::Content::binary) {
        words
            << tr("no text, %1 bytes before, %2 after").arg(file.bytesBefore).arg(file.bytesAfter);
    }
    return words.join(QStringLiteral(" · "));
}

QString changeInShort(const FileReading& file)
{
    if (file.text.added + file.text.removed > 0) {
        return tr("+%1 −%2").arg(file.text.added).arg(file.text.removed);
    }
    return file.content == FileReading::Content::binary ? tr("no text") : kindRemark(file.change);
}
}  // namespace rope
