// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/resolve/versions_view.h"

#include "core/text/text.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/merge_words.h"

#include <QHBoxLayout>
#include <QLocale>
#include <QPlainTextEdit>
#include <QVBoxLayout>

namespace rope {
namespace {
constexpr int kPictureWidth = 180;
constexpr int kSwatch = 14;
constexpr std::size_t kMostTextBytes = 100'000;

QString sizeInWords(std::size_t bytes)
{
    return QLocale::c().formattedDataSize(
        static_cast<qint64>(bytes), 1, QLocale::DataSizeTraditionalFormat);
}

/// The content as a person can look at it: a picture, a text, or null for other bytes.
QWidget* makeContent(const std::string& bytes, QWidget* parent)
{
    const QImage image = QImage::fromData(QByteArray::fromStdString(bytes));
    if (!image.isNull()) {
        auto* picture = new QLabel(parent);
        picture->setPixmap(QPixmap::fromImage(image.scaled(
            kPictureWidth, kPictureWidth, Qt::KeepAspectRatio, Qt::SmoothTransformation)));
        picture->setAccessibleName(
            VersionsView::tr("Picture, %1 by %2").arg(image.width()).arg(image.height()));
        return picture;
    }
    if (isBinary(bytes)) {
        return nullptr;
    }
    auto* text =
        new QPlainTextEdit(shown(std::string_view(bytes).substr(0, kMostTextBytes)), parent);
    text->setReadOnly(true);
    text->setFont(codeFont());
    text->setLineWrapMode(QPlainTextEdit::NoWrap);
    return text;
}
}  // namespace

VersionsView::VersionsView(QWidget* parent)
    : QWidget(parent)
    , m_row(new QHBoxLayout(this))
{
    setObjectName(QStringLiteral("versionsView"));
    m_row->setContentsMargins(16, 16, 16, 16);
    m_row->setSpacing(16);
}

void VersionsView::addVersion(const QString& title,
                              const QString& branch,
                              const std::optional<std::string>& bytes,
                              Strand strand)
{
    auto* column = new QVBoxLayout;
    column->setSpacing(6);
    auto* head = new QHBoxLayout;
    auto* swatch = new QLabel(this);
    swatch->setPixmap(strandPixmap(strand, {kSwatch, kSwatch}, devicePixelRatioF()));
    swatch->setFixedSize(kSwatch, kSwatch);
    head->addWidget(swatch);
    head->addWidget(makeLabel(title, TextRole::strong, this), 1);
    column->addLayout(head);
    column->addWidget(makeLabel(branch, TextRole::muted, this));
    column->addWidget(
        makeLabel(bytes ? sizeInWords(bytes->size()) : tr("no such file"), TextRole::muted, this));
    QWidget* content = bytes ? makeContent(*bytes, this) : nullptr;
    if (content != nullptr) {
        column->addWidget(content);
    }
    if (qobject_cast<QPlainTextEdit*>(content) == nullptr) {
        column->addStretch();
    }
    m_row->addLayout(column, 1);
}

void VersionsView::showVersions(const FileVersions* versions,
                                const QString& oursName,
                                const QString& theirsName)
{
    // Widgets belong to this view, layouts to the row: both go.
    qDeleteAll(findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly));
    while (QLayoutItem* item = m_row->takeAt(0)) {
        delete item;
    }
    if (versions == nullptr) {
        m_row->addWidget(makeLabel(tr("Reading the file's versions…"), TextRole::muted, this));
        return;
    }
    addVersion(tr("Theirs"), theirsName, versions->theirs, Strand::theirs);
    addVersion(tr("Base"), tr("before both"), versions->base, Strand::base);
    addVersion(tr("Ours"), oursName, versions->ours, Strand::ours);
}
}  // namespace rope
