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

const SideColours& coloursOf(Strand side)
{
    return side == Strand::ours     ? theme().ours
           : side == Strand::theirs ? theme().theirs
                                    : theme().base;
}
}  // namespace

EvidenceCard::EvidenceCard(Strand side, const QString& title, QWidget* parent)
    : QFrame(parent)
    , m_side(side)
    , m_header(new QWidget(this))
    , m_branch(new ElidedLabel(TextRole::normal, m_header))
    , m_who(makeLabel({}, TextRole::muted, m_header))
    , m_commit(new ElidedLabel(TextRole::muted, m_header))
    , m_text(new WordText(this))
{
    auto* swatch = new QLabel(m_header);
    swatch->setPixmap(strandPixmap(side, {kSwatch, kSwatch}, devicePixelRatioF()));
    swatch->setFixedSize(kSwatch, kSwatch);
    auto* titleLabel = makeLabel(title, TextRole::strong, m_header);
    titleLabel->setWordWrap(false);
    m_who->setWordWrap(false);
    m_who->setObjectName(QStringLiteral("evidenceWho"));
    m_commit->setObjectName(QStringLiteral("evidenceCommit"));
    auto* first = new QHBoxLayout;
    first->setSpacing(6);
    first->addWidget(swatch);
    first->addWidget(titleLabel);
    first->addWidget(m_branch, 1);
    first->addWidget(m_who);
    auto* header = new QVBoxLayout(m_header);
    header->setContentsMargins(8, 5, 8, 5);
    header->setSpacing(3);
    header->addLayout(first);
    auto* second = new QHBoxLayout;
    second->setContentsMargins(kSwatch + 6, 0, 0, 0);
    second->addWidget(m_commit);
    header->addLayout(second);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(1, 1, 1, 1);
    column->setSpacing(0);
    column->addWidget(m_header);
    auto* body = new QHBoxLayout;
    body->setContentsMargins(8, 2, 4, 2);
    body->addWidget(m_text);
    column->addLayout(body);
    m_commit->hide();
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void EvidenceCard::setBranch(const QString& name)
{
    m_branch->setFullText(name);
}

void EvidenceCard::setAuthorship(const QString& who,
                                 const QString& exactTime,
                                 const QString& commit)
{
    m_who->setText(who);
    m_who->setToolTip(plainToolTip(exactTime));
    m_commit->setFullText(commit);
    m_commit->setVisible(!commit.isEmpty());
}

QString EvidenceCard::commitLine() const
{
    return m_commit->isHidden() ? QString() : m_commit->fullText();
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
