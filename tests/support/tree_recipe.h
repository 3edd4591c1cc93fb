// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "tests/support/scratch_repository.h"

#include <QByteArray>
#include <QFileInfo>

namespace rope::test {
/// Content in short: "%10" is ten numbered lines, "%10/3=x" the same with line 3 being x (from 0;
/// several with more slashes), "\0" a NUL, "\e" nothing at all; anything else stands for itself.
inline QByteArray recipeContent(QByteArray text)
{
    if (text == "\\e") {
        return {};
    }
    if (!text.startsWith('%')) {
        return text.replace("\\0", QByteArray(1, '\0')).replace("\\n", "\n") + "\n";
    }
    const QList<QByteArray> parts = text.mid(1).split('/');
    QList<QByteArray> lines;
    for (int i = 0; i < parts.first().toInt(); ++i) {
        lines << "this is line " + QByteArray::number(i);
    }
    for (qsizetype i = 1; i < parts.size(); ++i) {
        const qsizetype at = parts[i].indexOf('=');
        lines[parts[i].left(at).toInt()] = parts[i].mid(at + 1);
    }
    return lines.join('\n') + "\n";
}

/// Brings a working tree on: steps parted by ';', each one of
/// `path=content`, `-path` removes, `old>new` renames, `@path=target` a link, `+path` executable.
inline void applyRecipe(ScratchRepository& scratch, const QByteArray& recipe)
{
    for (const QByteArray& step : recipe.split(';')) {
        const qsizetype equals = step.indexOf('=');
        const qsizetype arrow = step.indexOf('>');
        if (step.isEmpty()) {
            continue;
        }
        if (step.startsWith('-')) {
            scratch.remove(step.mid(1).constData());
        } else if (step.startsWith('+')) {
            QFile::setPermissions(scratch.filePath(step.mid(1).constData()),
                                  QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
        } else if (step.startsWith('@')) {
            const QString link = scratch.filePath(step.mid(1, equals - 1).constData());
            QFile::remove(link);
            QFile::link(QString::fromUtf8(step.mid(equals + 1)), link);
        } else if (arrow >= 0 && (equals < 0 || arrow < equals)) {
            const QString target = scratch.filePath(step.mid(arrow + 1).constData());
            QDir().mkpath(QFileInfo(target).path());
            QFile::rename(scratch.filePath(step.left(arrow).constData()), target);
        } else {
            scratch.write(step.left(equals).constData(), recipeContent(step.mid(equals + 1)));
        }
        const bool isGone = step.startsWith('-') || (arrow >= 0 && (equals < 0 || arrow < equals));
        if (isGone) {  // a folder without files is none to git, and could be in the way of a file
            const QByteArray path = step.startsWith('-') ? step.mid(1) : step.left(arrow);
            QDir().rmpath(QFileInfo(scratch.filePath(path.constData())).path());
        }
    }
}

/// Branches `ours` and `theirs` from a base, each brought on by its recipe.
inline void makeBranches(ScratchRepository& s,
                         const QByteArray& base,
                         const QByteArray& ours,
                         const QByteArray& theirs)
{
    applyRecipe(s, base);
    s.commit("base");
    s.git("switch -q -c theirs");
    applyRecipe(s, theirs);
    s.commit("theirs");
    s.git("switch -q -c ours main");
    applyRecipe(s, ours);
    s.commit("ours");
}
}  // namespace rope::test
