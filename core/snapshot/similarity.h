// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstdint>
#include <string_view>
#include <vector>

namespace rope {
/// A content as a bag of its lines: digests with the bytes that carry them. Lines longer than 64
/// bytes are cut in pieces, so that bytes without lines can be compared too. The CR of a CRLF line
/// end does not count, unless the content is binary; nor does a last piece without a line end, which git 2.39
/// leaves out and 2.44 counts: which files are renamed has to agree with the git that is here.
class Fingerprint
{
public:
    struct Piece
    {
        std::uint64_t digest = 0;
        std::uint64_t bytes = 0;
    };

    Fingerprint() = default;
    explicit Fingerprint(std::string_view content);

    [[nodiscard]] std::uint64_t size() const { return m_size; }  ///< Bytes of the content.
    [[nodiscard]] const std::vector<Piece>& pieces() const { return m_pieces; }  ///< By digest.

private:
    std::vector<Piece> m_pieces;
    std::uint64_t m_size = 0;
};

/// Returns which part of the larger content the two have in common, 0 to 1. Symmetric.
[[nodiscard]] double similarity(const Fingerprint& a, const Fingerprint& b);

/// From this similarity on, a deleted and an added file are one that was renamed.
inline constexpr double kRenameSimilarity = 0.5;
/// As kRenameSimilarity, where the last part of both names is the same and unique: such pairs are
/// looked at first, so they must be more alike.
inline constexpr double kSameNameSimilarity = 0.75;
}  // namespace rope
