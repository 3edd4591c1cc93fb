// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/resolve/versions_view.h"

#include "core/text/text.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/side_text.h"
#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/merge_words.h"

#include <QHBoxLayout>
#include <QLocale>
#include <QVBoxLayout>

#include <algorithm>

namespace rope {
namespace {
constexpr int kPictureWidth = 150;
constexpr int kSwatch = 14;
constexpr std::size_t kMostTextBytes = 100'000;

QString sizeInWords(std::size_t bytes)
{
    return QLocale::c().formattedDataSize(
        static_cast<qint64>(bytes), 1, QLocale::DataSizeTraditionalFormat);
}

QLabel* pictureLabel(const QImage& image, const QString& name, QWidget* parent)
{
    auto* picture = new QLabel(parent);
    const bool isSmall = image.width() <= kPictureWidth && image.height() <= kPictureWidth;
    picture->setPixmap(
        isSmall ? QPixmap::fromImage(image)
                : QPixmap::fromImage(image.scaled(
                    kPictureWidth, kPictureWidth, Qt::KeepAspectRatio, Qt::SmoothTransformation)));
    picture->setAccessibleName(name);
    return picture;
}

bool isText(const std::optional<std::string>& bytes)
{
    return !bytes || !isBinary(*bytes);
}

QString firstDifference(const std::string& a, const std::string& b)
{
    const auto [left, right] = std::mismatch(a.begin(), a.end(), b.begin(), b.end());
    return a == b
               ? VersionsView::tr("ours and theirs are the same")
               : VersionsView::tr("ours and theirs differ from byte %1 on").arg(left - a.begin());
}
}  // namespace

VersionsView::VersionsView(QWidget* parent)
    : QWidget(parent)
    , m_column(new QVBoxLayout(this))
{
    setObjectName(QStringLiteral("versionsView"));
    m_column->setContentsMargins(16, 16, 16, 16);
    m_column->setSpacing(12);
}

QWidget* VersionsView::makeHead(const Side& side)
{
    auto* head = new QWidget(this);
    auto* column = new QVBoxLayout(head);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    auto* swatch = new QLabel(head);
    swatch->setPixmap(strandPixmap(side.strand, {kSwatch, kSwatch}, devicePixelRatioF()));
    swatch->setFixedSize(kSwatch, kSwatch);
    row->addWidget(swatch);
    row->addWidget(makeLabel(side.title, TextRole::strong, head), 1);
    column->addLayout(row);
    column->addWidget(makeLabel(side.branch, TextRole::muted, head));
    const QString what = side.bytes ? sizeInWords(side.bytes->size()) : tr("no such file");
    const QString words =
        side.picture.inWords.isEmpty() ? what : what + QStringLiteral(" · ") + side.picture.inWords;
    column->addWidget(makeLabel(words, TextRole::muted, head));
    return head;
}

/// Texts one above the other, each against the base: what a side did stands in full width.
void VersionsView::showTexts(const std::vector<Side>& sides, const std::optional<std::string>& base)
{
    for (const Side& side : sides) {
        m_column->addWidget(makeHead(side));
        if (!side.bytes || side.bytes->size() > kMostTextBytes) {
            continue;
        }
        auto* text = new SideText(side.strand, this);
        text->setAccessibleName(tr("Text of %1").arg(side.title));
        // Without a base the other side is what it is read against.
        const Side& other = &side == &sides.front() ? sides.back() : sides.front();
        const auto& before = base ? base : other.bytes;
        const std::string_view against = before && before->size() <= kMostTextBytes
                                             ? std::string_view(*before)
                                             : std::string_view();
        text->showSide(*side.bytes,
                       readAgainstBase({against, *side.bytes, {}}).ours,
                       base ? Strand::base : other.strand);
        m_column->addWidget(text, 1);
    }
    m_column->addStretch(1);
}

/// Pictures side by side, and where ours and theirs differ.
void VersionsView::showOthers(const std::vector<Side>& sides)
{
    auto* row = new QHBoxLayout;
    row->setSpacing(16);
    for (const Side& side : sides) {
        auto* column = new QVBoxLayout;
        column->addWidget(makeHead(side));
        if (!side.picture.image.isNull()) {
            column->addWidget(
                pictureLabel(side.picture.image, tr("Picture of %1").arg(side.title), this));
        }
        column->addStretch();
        row->addLayout(column, 1);
    }
    m_column->addLayout(row);
    const Side& theirs = sides.front();
    const Side& ours = sides.back();
    const PictureDifference difference =
        differenceBetween(ours.picture.image, theirs.picture.image);
    if (difference.isComparable) {
        m_column->addWidget(
            makeLabel(difference.pixels == 0
                          ? tr("Ours and theirs look the same, pixel by pixel.")
                          : tr("Ours and theirs differ in %1 pixels, within %2 by %3 at %4, %5:")
                                .arg(difference.pixels)
                                .arg(difference.box.width())
                                .arg(difference.box.height())
                                .arg(difference.box.left())
                                .arg(difference.box.top()),
                      TextRole::muted,
                      this));
        if (difference.pixels > 0) {
            m_column->addWidget(
                pictureLabel(difference.map, tr("Map of the pixels that differ"), this));
        }
    } else if (ours.bytes && theirs.bytes) {
        m_column->addWidget(
            makeLabel(firstDifference(*ours.bytes, *theirs.bytes), TextRole::muted, this));
    }
    m_column->addStretch(1);
}

void VersionsView::clear()
{
    // Widgets belong to this view, layouts to the column: both go.
    qDeleteAll(findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly));
    while (QLayoutItem* item = m_column->takeAt(0)) {
        delete item;
    }
}

void VersionsView::showVersions(const FileVersions* versions,
                                const QString& oursName,
                                const QString& theirsName)
{
    clear();
    if (versions == nullptr) {
        m_column->addWidget(makeLabel(tr("Reading the file's versions…"), TextRole::muted, this));
        m_column->addStretch();
        return;
    }
    std::vector<Side> sides{{tr("Theirs"), theirsName, versions->theirs, Strand::theirs, {}},
                            {tr("Base"), tr("before both"), versions->base, Strand::base, {}},
                            {tr("Ours"), oursName, versions->ours, Strand::ours, {}}};
    if (isText(versions->base) && isText(versions->ours) && isText(versions->theirs)) {
        if (versions->ours || versions->theirs) {
            sides.erase(sides.begin() + 1);  // what is gone of it stands in the sides
        }
        showTexts(sides, versions->base);
        return;
    }
    for (Side& side : sides) {
        side.picture = side.bytes ? readPicture(*side.bytes) : ReadPicture();
    }
    showOthers(sides);
}
}  // namespace rope
