// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_renames.cpp.
#include "core/snapshot/similarity.h"

#include "core/base/digest.h"
#include "core/text/text.h"

#include <algorithm>
#include <array>

namespace rope {
namespace {
constexpr std::size_t kLongestPiece = 64;

/// The piece that starts at `from`, without the CR of a CRLF.
std::uint64_t digestOfPiece(std::string_view piece, bool isText)
{
    if (isText && piece.ends_with("\r\n")) {
        std::array<char, kLongestPiece> plain{};
        const std::size_t length = piece.size() - 1;
        std::copy_n(piece.begin(), length - 1, plain.begin());
        plain[length - 1] = '\n';
        return digest64({plain.data(), length});
    }
    return digest64(piece);
}
}  // namespace

Fingerprint::Fingerprint(std::string_view content)
    : m_size(content.size())
{
    const bool isText = !isBinary(content);
    m_pieces.reserve(content.size() / 32);
    for (std::size_t from = 0; from < content.size();) {
        const std::string_view ahead = content.substr(from, kLongestPiece);
        const std::size_t end = ahead.find('\n');
        const std::string_view piece =
            end == std::string_view::npos ? ahead : ahead.substr(0, end + 1);
        if (end == std::string_view::npos && piece.size() < kLongestPiece) {
            break;  // git 2.39 counts no last piece that nothing ends, and which files are renamed hangs on it
        }
        const bool hasCarriage = isText && piece.ends_with("\r\n");
        m_pieces.push_back({digestOfPiece(piece, isText), piece.size() - (hasCarriage ? 1 : 0)});
        from += piece.size();
    }
    std::sort(m_pieces.begin(), m_pieces.end(), [](const Piece& a, const Piece& b) {
        return a.digest < b.digest;
    });
    std::size_t kept = 0;
    for (const Piece& piece : m_pieces) {
        if (kept > 0 && m_pieces[kept - 1].digest == piece.digest) {
            m_pieces[kept - 1].bytes += piece.bytes;
        } else {
            m_pieces[kept++] = piece;
        }
    }
    m_pieces.resize(kept);
}

double similarity(const Fingerprint& a, const Fingerprint& b)
{
    const std::uint64_t larger = std::max(a.size(), b.size());
    if (larger == 0) {
        return 0;
    }
    std::uint64_t common = 0;
    auto left = a.pieces().begin();
    auto right = b.pieces().begin();
    while (left != a.pieces().end() && right != b.pieces().end()) {
        if (left->digest < right->digest) {
            ++left;
        } else if (right->digest < left->digest) {
            ++right;
        } else {
            common += std::min(left->bytes, right->bytes);
            ++left;
            ++right;
        }
    }
    return static_cast<double>(common) / static_cast<double>(larger);
}
}  // namespace rope
