// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/widgets/evidence_card.h"

#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QPainterPath>
#include <QVBoxLayout>

namespace rope {
namespace {
constexpr int kSwatch = 14;
}  // namespace

EvidenceCard::EvidenceCard(Strand side, const QString& title, QWidget* parent)
    : QFrame(parent)
    , m_side(side)
    , m_title(title)
    , m_header(new QWidget(this))
    , m_branch(makeLabel({}, TextRole::normal, m_header))
    , m_who(makeLabel({}, TextRole::muted, m_header))
    , m_commitBeside(new ElidedLabel(TextRole::muted, m_header))
    , m_commitBelow(new ElidedLabel(TextRole::muted, m_header))
    , m_remark(makeLabel({}, TextRole::normal, m_header))
    , m_fold(makeButton({}, "foldButton", ButtonRole::link, m_header))
    , m_text(new SideText(side, this))
{
    auto* swatch = new QLabel(m_header);
    whenLookChanges(swatch, [swatch, side] {
        swatch->setPixmap(strandPixmap(side, {kSwatch, kSwatch}, swatch->devicePixelRatioF()));
    });
    swatch->setFixedSize(kSwatch, kSwatch);
    swatch->setAccessibleName(tr("How lines of %1 are marked").arg(title));
    auto* titleLabel = makeLabel(title, TextRole::strong, m_header);
    titleLabel->setWordWrap(false);
    m_who->setWordWrap(false);
    m_who->setObjectName(QStringLiteral("evidenceWho"));
    m_branch->setWordWrap(false);
    m_fold->hide();
    connect(m_fold, &QPushButton::clicked, this, &EvidenceCard::foldRequested);
    connect(m_text, &SideText::foldClicked, this, &EvidenceCard::foldRequested);
    m_commitBeside->setObjectName(QStringLiteral("evidenceCommit"));
    auto* first = new QHBoxLayout;
    first->setSpacing(6);
    first->addWidget(swatch);
    first->addWidget(titleLabel);
    first->addWidget(m_branch);
    first->addWidget(m_commitBeside, 1);
    first->addStretch(0);
    first->addWidget(m_who);
    first->addWidget(m_fold);
    auto* header = new QVBoxLayout(m_header);
    header->setContentsMargins(8, 4, 8, 4);
    header->setSpacing(2);
    header->addLayout(first);
    auto* second = new QHBoxLayout;
    second->setContentsMargins(kSwatch + 6, 0, 0, 0);
    second->addWidget(m_commitBelow);
    header->addLayout(second);
    m_remark->setObjectName(QStringLiteral("evidenceRemark"));
    m_remark->setContentsMargins(kSwatch + 6, 0, 0, 0);
    m_remark->hide();
    header->addWidget(m_remark);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(1, 1, 1, 1);
    column->setSpacing(0);
    column->addWidget(m_header);
    auto* body = new QHBoxLayout;
    body->setContentsMargins(0, 3, 2, 3);
    body->addWidget(m_text);
    column->addLayout(body);
    m_commitBelow->hide();
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Preferred);
}

void EvidenceCard::setBranch(const QString& name)
{
    m_branch->setText(name);
    m_text->setAccessibleName(tr("Text of %1, %2").arg(m_title, name));
}

void EvidenceCard::setAuthorship(const QString& who,
                                 const QString& exactTime,
                                 const QString& commit)
{
    m_who->setText(who);
    setPlainToolTip(*m_who, exactTime);
    m_commitText = commit;
    m_commitBeside->setFullText(commit);
    m_commitBelow->setFullText(commit);
    placeCommit();
}

void EvidenceCard::setRemark(const QString& sentence)
{
    m_remark->setText(sentence);
    m_remark->setVisible(!sentence.isEmpty());
}

void EvidenceCard::setFoldButton(const QString& words)
{
    m_fold->setText(words);
    m_fold->setVisible(!words.isEmpty());
}

/// The commit stands in the heading's first line if at least half of it can be read there.
void EvidenceCard::placeCommit()
{
    const int taken =
        m_header->fontMetrics().horizontalAdvance(m_title + m_branch->text() + m_who->text());
    const int room = width() - taken - 100;
    const bool isBeside = 2 * room >= m_header->fontMetrics().horizontalAdvance(m_commitText);
    m_commitBeside->setVisible(isBeside);
    m_commitBelow->setVisible(!isBeside && !m_commitText.isEmpty());
}

void EvidenceCard::resizeEvent(QResizeEvent* event)
{
    QFrame::resizeEvent(event);
    placeCommit();
}

int EvidenceCard::headerHeight() const
{
    return m_header->geometry().bottom() + 1;
}

void EvidenceCard::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF frame = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5);
    QPainterPath outline;
    outline.addRoundedRect(frame, 4, 4);
    painter.fillPath(outline, theme().paper);
    painter.save();
    painter.setClipPath(outline);
    painter.fillRect(QRect(0, 0, width(), headerHeight()), coloursOf(m_side).fill);
    painter.restore();
    painter.setPen(theme().rules);
    painter.drawPath(outline);
    painter.drawLine(QPointF(0.5, headerHeight() + 0.5),
                     QPointF(width() - 0.5, headerHeight() + 0.5));
}
}  // namespace rope
