// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/wording/bytes_in_words.h"

#include <QMimeDatabase>

#include <algorithm>

namespace rope {
namespace {
constexpr std::size_t kBytesInRow = 8;  // so many fit beside the worklist and the question
constexpr std::size_t kRowsBefore = 2;
constexpr std::size_t kRows = 8;
}  // namespace

QString kindOfBytes(const std::string& bytes, const QString& name)
{
    const QByteArray data =
        QByteArray::fromRawData(bytes.data(), static_cast<qsizetype>(bytes.size()));
    const QMimeType kind = QMimeDatabase().mimeTypeForFileNameAndData(name, data);
    return kind.isDefault() ? QString() : kind.comment();
}

QString bytesAsTable(const std::string& bytes, std::size_t around)
{
    const std::size_t row = around / kBytesInRow;
    const std::size_t first = row < kRowsBefore ? 0 : row - kRowsBefore;
    QStringList rows;
    for (std::size_t i = first; i < first + kRows && i * kBytesInRow < bytes.size(); ++i) {
        QString numbers;
        QString letters;
        for (std::size_t at = i * kBytesInRow; at < (i + 1) * kBytesInRow; ++at) {
            if (at >= bytes.size()) {
                numbers += QStringLiteral("   ");
                continue;
            }
            const auto byte = static_cast<unsigned char>(bytes[at]);
            numbers += QStringLiteral("%1 ").arg(byte, 2, 16, QLatin1Char('0'));
            letters += byte >= 0x20 && byte < 0x7F ? QLatin1Char(static_cast<char>(byte))
                                                   : QLatin1Char('.');
        }
        rows << QStringLiteral("%1  %2 %3")
                    .arg(i * kBytesInRow, 8, 16, QLatin1Char('0'))
                    .arg(numbers, letters);
    }
    return rows.join(QLatin1Char('\n'));
}

std::optional<std::size_t> firstDifferingByte(const std::string& a, const std::string& b)
{
    if (a == b) {
        return std::nullopt;
    }
    const auto differs = std::mismatch(a.begin(), a.end(), b.begin(), b.end());
    return static_cast<std::size_t>(differs.first - a.begin());
}
}  // namespace rope
