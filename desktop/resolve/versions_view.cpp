// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/resolve/versions_view.h"

#include "core/text/text.h"
#include "desktop/widgets/picture_compare.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/side_text.h"
#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/bytes_in_words.h"
#include "desktop/wording/question_words.h"
#include "desktop/wording/shown_text.h"

#include <QHBoxLayout>
#include <QLocale>
#include <QVBoxLayout>

#include <algorithm>

namespace rope {
namespace {
constexpr int kSwatch = 14;
constexpr std::size_t kMostTextBytes = 100'000;

QString sizeInWords(std::size_t bytes)
{
    return QLocale::c().formattedDataSize(
        static_cast<qint64>(bytes), 1, QLocale::DataSizeTraditionalFormat);
}

bool isText(const std::optional<std::string>& bytes)
{
    return !bytes || !isBinary(*bytes);
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
    whenLookChanges(swatch, [swatch, strand = side.strand] {
        swatch->setPixmap(strandPixmap(strand, {kSwatch, kSwatch}, swatch->devicePixelRatioF()));
    });
    swatch->setFixedSize(kSwatch, kSwatch);
    swatch->setAccessibleName(tr("How what comes from %1 is marked").arg(side.title));
    row->addWidget(swatch);
    row->addWidget(makeLabel(side.title, TextRole::strong, head), 1);
    column->addLayout(row);
    column->addWidget(makeLabel(side.branch, TextRole::muted, head));
    const QString what = !side.commit.isEmpty() ? side.commit
                         : side.bytes           ? sizeInWords(side.bytes->size())
                                                : tr("no such file");
    const QString words =
        side.picture.inWords.isEmpty() ? what : what + QStringLiteral(" · ") + side.picture.inWords;
    column->addWidget(makeLabel(words, TextRole::muted, head));
    return head;
}

/// A side's text in full width, read against another one.
void VersionsView::showText(const Side& side,
                            const std::optional<std::string>& before,
                            Strand beforeStrand)
{
    if (!side.bytes || side.bytes->size() > kMostTextBytes) {
        return;
    }
    auto* text = new SideText(side.strand, this);
    text->setAccessibleName(tr("Text of %1").arg(side.title));
    const std::string_view against =
        before && before->size() <= kMostTextBytes ? std::string_view(*before) : std::string_view();
    text->showSide(*side.bytes, readAgainstBase({against, *side.bytes, {}}).ours, beforeStrand);
    m_column->addWidget(text, 1);
}

/// Texts one above the other, each against the base: what a side did stands in full width.
void VersionsView::showTexts(const std::vector<Side>& sides, const std::optional<std::string>& base)
{
    for (const Side& side : sides) {
        m_column->addWidget(makeHead(side));
        // Without a base the other side is what it is read against.
        const Side& other = &side == &sides.front() ? sides.back() : sides.front();
        showText(side, base ? base : other.bytes, base ? Strand::base : other.strand);
    }
    m_column->addStretch(1);
}

void VersionsView::showHeads(const std::vector<Side>& sides)
{
    auto* row = new QHBoxLayout;
    row->setSpacing(16);
    for (const Side& side : sides) {
        row->addWidget(makeHead(side), 1, Qt::AlignTop);
    }
    m_column->addLayout(row);
}

void VersionsView::addSentence(const QString& sentence)
{
    m_column->addWidget(makeLabel(sentence, TextRole::normal, this));
}

void VersionsView::showPictures(const std::vector<Side>& sides)
{
    const Side& theirs = sides.front();
    const Side& ours = sides.back();
    const PictureDifference difference =
        differenceBetween(ours.picture.image, theirs.picture.image);
    if (difference.isComparable) {
        addSentence(difference.pixels == 0
                        ? tr("Ours and theirs look the same, pixel by pixel.")
                        : tr("%1 pixels differ, all in the %2×%3 area at (%4, %5).")
                              .arg(difference.pixels)
                              .arg(difference.box.width())
                              .arg(difference.box.height())
                              .arg(difference.box.left())
                              .arg(difference.box.top()));
    }
    addCompare(sides, difference.pixels > 0 ? difference.map : QImage());
}

void VersionsView::addCompare(const std::vector<Side>& sides, const QImage& differenceMap)
{
    auto* compare = new PictureCompare(this);
    std::vector<PictureCompare::Version> versions;
    versions.reserve(sides.size());
    for (const Side& side : sides) {
        versions.push_back({side.title, side.picture.image});
    }
    compare->setPictures(std::move(versions), differenceMap);
    m_column->addWidget(compare, 1);
}

/// What was put there by hand first, then what the sides have, as far as there is such a file.
/// `sides`: theirs, base, ours
void VersionsView::showFound(std::vector<Side> sides, const FileOutcome& outcome)
{
    const std::optional<std::string> base = sides[1].bytes;
    const bool isAlike = sides.front().bytes == sides.back().bytes;
    if (isAlike) {
        sides.back().title = tr("Theirs and ours");
        sides.erase(sides.begin());
    }
    const bool isBaseTold = sides.back().bytes || (!isAlike && sides.front().bytes);
    std::erase_if(sides, [&](const Side& side) {
        return !side.bytes || (isBaseTold && side.strand == Strand::base);
    });
    if (outcome.found) {
        sides.insert(
            sides.begin(),
            {tr("In your files"), tr("put there by hand"), *outcome.found, Strand::hand, {}, {}});
    }
    if (std::all_of(sides.begin(), sides.end(), [](const Side& s) { return isText(s.bytes); })) {
        showTexts(sides, base);
        return;
    }
    for (Side& side : sides) {
        side.picture = readPicture(*side.bytes);
    }
    showHeads(sides);
    if (std::any_of(
            sides.begin(), sides.end(), [](const Side& s) { return !s.picture.image.isNull(); })) {
        addCompare(sides, {});
    } else {
        m_column->addStretch(1);
    }
}

/// Where two files of no known lines begin to differ.
void VersionsView::showBytes(const Side& ours, const Side& theirs)
{
    const auto differs = firstDifferingByte(*ours.bytes, *theirs.bytes);
    addSentence(differs ? tr("Ours and theirs differ from byte %1 on.").arg(*differs)
                        : tr("Ours and theirs are the same."));
    for (const Side* side : {&theirs, &ours}) {
        m_column->addWidget(makeLabel(side->title, TextRole::strong, this));
        QLabel* table =
            makeLabel(bytesAsTable(*side->bytes, differs.value_or(0)), TextRole::code, this);
        table->setWordWrap(false);
        table->setAccessibleName(tr("Bytes of %1").arg(side->title));
        m_column->addWidget(table);
        if (!differs) {
            break;
        }
    }
}

void VersionsView::showOthers(const std::vector<Side>& sides, const QString& name)
{
    showHeads(sides);
    const Side& theirs = sides.front();
    const Side& ours = sides.back();
    const bool arePictures = std::any_of(
        sides.begin(), sides.end(), [](const Side& side) { return !side.picture.image.isNull(); });
    if (arePictures) {
        showPictures(sides);
        return;
    }
    const Side& present = ours.bytes ? ours : theirs;
    if (present.bytes && present.picture.inWords.isEmpty()) {
        const QString kind = kindOfBytes(*present.bytes, name);
        if (!kind.isEmpty()) {
            addSentence(tr("Kind of file: %1").arg(kind));
        }
    }
    if (ours.bytes && theirs.bytes) {
        showBytes(ours, theirs);
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
                                const FileOutcome& outcome,
                                const SideNames& names)
{
    clear();
    if (versions == nullptr) {
        m_column->addWidget(makeLabel(tr("Reading the file's versions…"), TextRole::muted, this));
        m_column->addStretch();
        return;
    }
    // Where the sides call the file by different names, those tell more than the branches.
    const auto place = [&](const QString& branch, const RepoPath& path) {
        const bool isNamed = outcome.oursPath != outcome.theirsPath && !path.empty();
        return isNamed ? branch + QLatin1Char('\n') + shownPath(path) : branch;
    };
    std::vector<Side> sides{{tr("Theirs"),
                             place(names.theirs, outcome.theirsPath),
                             versions->theirs,
                             Strand::theirs,
                             versions->theirsCommit,
                             {}},
                            {tr("Base"),
                             place(tr("before both"), outcome.basePath),
                             versions->base,
                             Strand::base,
                             versions->baseCommit,
                             {}},
                            {tr("Ours"),
                             place(names.ours, outcome.oursPath),
                             versions->ours,
                             Strand::ours,
                             versions->oursCommit,
                             {}}};
    if (outcome.question && outcome.question->kind == QuestionKind::putByHand) {
        showFound(std::move(sides), outcome);
        return;
    }
    if (!versions->oursCommit.isEmpty() || !versions->theirsCommit.isEmpty()) {
        showHeads(sides);
        addSentence(versions->relation);
        m_column->addStretch(1);
        return;
    }
    if (isText(versions->base) && isText(versions->ours) && isText(versions->theirs)) {
        if (versions->ours && versions->ours == versions->theirs) {
            showHeads(sides);
            addSentence(tr("Both have the same text:"));
            sides.erase(sides.begin(), sides.begin() + 2);
            showText(sides.front(), versions->base, Strand::base);
            m_column->addStretch(1);
            return;
        }
        if (versions->ours || versions->theirs) {
            sides.erase(sides.begin() + 1);  // what is gone of it stands in the sides
        }
        showTexts(sides, versions->base);
        return;
    }
    for (Side& side : sides) {
        side.picture = side.bytes ? readPicture(*side.bytes) : ReadPicture();
    }
    showOthers(sides, shownPath(outcome.path));
}
}  // namespace rope
