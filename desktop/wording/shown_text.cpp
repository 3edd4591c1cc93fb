// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/wording/shown_text.h"

#include "core/text/encoding.h"
#include "desktop/wording/tr.h"

#include <QStringList>

namespace rope {
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

QString editableText(std::string_view bytes)
{
    const auto size = static_cast<qsizetype>(bytes.size());
    return isUtf8(bytes) ? QString::fromUtf8(bytes.data(), size)
                         : QString::fromLatin1(bytes.data(), size);
}

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

QString countOf(std::size_t count, const char* one, const char* many)
{
    return QStringLiteral("%1 %2").arg(count).arg(tr(count == 1 ? one : many));
}

QString inARow(const QStringList& phrases)
{
    return phrases.join(QStringLiteral(" · "));
}
}  // namespace rope
