// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QImage>
#include <QRect>

#include <string>

namespace rope {
/// A picture out of a file's bytes, in any format that Qt reads.
struct ReadPicture
{
    QImage image;     ///< Null: it is no picture, or too large to be laid open.
    QSize size;       ///< Also of one that is too large.
    QString inWords;  ///< "120 by 80 pixels, 32 bits, partly transparent"; empty for no picture.
};

/// Reads at most as many pixels as a screen wall has; larger ones are told in words.
[[nodiscard]] ReadPicture readPicture(const std::string& bytes);

/// Where two pictures of one size differ.
struct PictureDifference
{
    bool isComparable = false;  ///< Both are there and of one size.
    int pixels = 0;
    QRect box;   ///< Around all of them.
    QImage map;  ///< Of their size: differing pixels dark, the rest a pale copy of the first.
};

[[nodiscard]] PictureDifference differenceBetween(const QImage& first, const QImage& second);
}  // namespace rope
