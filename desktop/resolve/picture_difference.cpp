// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/resolve/picture_difference.h"

#include "desktop/widgets/theme.h"
#include "desktop/wording/tr.h"

#include <QBuffer>
#include <QImageReader>

#include <algorithm>

namespace rope {
namespace {
constexpr qint64 kMostPixels = 50'000'000;

bool isPartlyTransparent(const QImage& image)
{
    if (!image.hasAlphaChannel()) {
        return false;
    }
    const QImage whole = image.convertToFormat(QImage::Format_ARGB32);
    for (int y = 0; y < whole.height(); ++y) {
        const auto* line = reinterpret_cast<const QRgb*>(whole.constScanLine(y));
        if (std::any_of(
                line, line + whole.width(), [](QRgb pixel) { return qAlpha(pixel) < 255; })) {
            return true;
        }
    }
    return false;
}
}  // namespace

ReadPicture readPicture(const std::string& bytes)
{
    QByteArray data = QByteArray::fromRawData(bytes.data(), static_cast<qsizetype>(bytes.size()));
    QBuffer buffer(&data);
    buffer.open(QIODevice::ReadOnly);
    QImageReader reader(&buffer);
    ReadPicture picture;
    picture.size = reader.size();
    const qint64 pixels = qint64(picture.size.width()) * picture.size.height();
    if (pixels > kMostPixels) {
        picture.inWords = tr("A picture of %1 by %2 pixels, too large to be shown here")
                              .arg(picture.size.width())
                              .arg(picture.size.height());
        return picture;
    }
    picture.image = reader.read();
    if (picture.image.isNull()) {
        return {};
    }
    picture.size = picture.image.size();
    picture.inWords = tr("%1 by %2 pixels, %3 bits")
                          .arg(picture.size.width())
                          .arg(picture.size.height())
                          .arg(picture.image.depth());
    if (isPartlyTransparent(picture.image)) {
        picture.inWords += tr(", partly transparent");
    }
    return picture;
}

PictureDifference differenceBetween(const QImage& first, const QImage& second)
{
    PictureDifference difference;
    if (first.isNull() || second.isNull() || first.size() != second.size()) {
        return difference;
    }
    difference.isComparable = true;
    const QImage a = first.convertToFormat(QImage::Format_ARGB32);
    const QImage b = second.convertToFormat(QImage::Format_ARGB32);
    difference.map = QImage(a.size(), QImage::Format_ARGB32);
    const QRgb dark = theme().openInk.rgb();
    for (int y = 0; y < a.height(); ++y) {
        const auto* left = reinterpret_cast<const QRgb*>(a.constScanLine(y));
        const auto* right = reinterpret_cast<const QRgb*>(b.constScanLine(y));
        auto* map = reinterpret_cast<QRgb*>(difference.map.scanLine(y));
        for (int x = 0; x < a.width(); ++x) {
            if (left[x] == right[x]) {
                const int grey = 255 - (255 - qGray(left[x])) / 4;
                map[x] = qRgb(grey, grey, grey);
                continue;
            }
            map[x] = dark;
            ++difference.pixels;
            difference.box |= QRect(x, y, 1, 1);
        }
    }
    return difference;
}
}  // namespace rope
