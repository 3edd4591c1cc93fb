// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_resolve_station.cpp.
#include "desktop/resolve/side_cards.h"

#include "desktop/widgets/evidence_card.h"

#include <QScrollBar>
#include <QVBoxLayout>

#include <algorithm>

namespace rope {
namespace {
constexpr int kLeastBaseLinesFolded = 4;  // a shorter base is shown whole

void showSide(SideText& text,
              std::string_view side,
              const SideReading& reading,
              bool isUnchanged,
              Strand against)
{
    if (isUnchanged && side.empty()) {
        text.showRemark(SideCards::tr("nothing here"));
    } else if (isUnchanged) {
        text.showRemark(SideCards::tr("left as in the base"));
    } else {
        text.showSide(side, reading, against);
    }
}

constexpr std::size_t kLeastHiddenIndent = 8;

QString linesInWords(LineNumber first, std::size_t count)
{
    if (count == 0) {
        return SideCards::tr("before line %1").arg(first + 1);
    }
    return count == 1 ? SideCards::tr("line %1").arg(first + 1)
                      : SideCards::tr("lines %1–%2").arg(first + 1).arg(first + count);
}
}  // namespace

SideCards::SideCards(QWidget* parent, const QString& prefix)
    : QScrollArea(parent)
{
    auto* cards = new QWidget(this);
    m_theirs = new EvidenceCard(Strand::theirs, tr("Theirs"), cards);
    m_base = new EvidenceCard(Strand::base, tr("Base"), cards);
    m_ours = new EvidenceCard(Strand::ours, tr("Ours"), cards);
    const auto name = [&](EvidenceCard* card, const char* side) {
        QString own = QLatin1String(side);
        if (!prefix.isEmpty()) {
            own[0] = own[0].toUpper();
        }
        card->setObjectName(prefix + own);
    };
    name(m_theirs, "theirsCard");
    name(m_base, "baseCard");
    name(m_ours, "oursCard");
    auto* column = new QVBoxLayout(cards);
    column->setContentsMargins(12, 8, 12, 8);
    column->setSpacing(8);
    for (EvidenceCard* card : {m_theirs, m_base, m_ours}) {
        column->addWidget(card);
    }
    column->addStretch();
    setWidget(cards);
    setWidgetResizable(true);
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFocusPolicy(Qt::NoFocus);
    for (EvidenceCard* card : {m_theirs, m_base, m_ours}) {
        connect(
            card->text().horizontalScrollBar(), &QScrollBar::valueChanged, this, [this](int to) {
                for (EvidenceCard* other : {m_theirs, m_base, m_ours}) {
                    other->text().horizontalScrollBar()->setValue(to);
                }
            });
    }
    setFocusProxy(&m_theirs->text());
    connect(m_base, &EvidenceCard::foldRequested, this, [this] {
        m_isBaseUnfolded = !m_isBaseUnfolded;
        showBase();
    });
}

void SideCards::showPlace(const Place& place)
{
    m_texts = place.texts;
    m_around = place.around;
    m_isBaseUnfolded = false;
    m_theirs->setBranch(place.names.theirs);
    m_theirs->setRemark(place.theirsRemark);
    m_ours->setBranch(place.names.ours);
    m_ours->setRemark(place.oursRemark);
    m_base->setBranch(place.baseName);
    m_basePlace = place.hasBase ? linesInWords(place.firstBaseLine, splitLines(m_texts.base).size())
                                : tr("the file did not exist");
    setFacts({});
    showSides();
}

void SideCards::addBelow(QWidget* widget)
{
    auto* column = static_cast<QVBoxLayout*>(this->widget()->layout());
    column->insertWidget(column->count() - 1, widget);  // before the stretch
}

void SideCards::clear()
{
    m_texts = {};
    m_around = {};
}

void SideCards::setFacts(const PlaceFacts& facts)
{
    m_theirs->setAuthorship(facts.theirs.who, facts.theirs.exactTime, facts.theirs.commit);
    m_ours->setAuthorship(facts.ours.who, facts.ours.exactTime, facts.ours.commit);
}

void SideCards::setAgainst(Against against, When when)
{
    m_against = against;
    if (when == When::now) {
        showSides();
    }
}

void SideCards::setBlanksShown(bool areShown)
{
    m_areBlanksShown = areShown;
    for (EvidenceCard* card : {m_theirs, m_base, m_ours}) {
        card->text().setBlanksShown(areShown);
    }
    showSides();
}

/// What all lines are indented by says nothing and takes room: where it is much, and no blanks are looked
/// at, it is not shown, and the base's heading says so.
void SideCards::hideIndent(const LinesAround& around)
{
    std::size_t common = ~std::size_t{0};
    const auto take = [&common](const std::vector<std::string_view>& lines) {
        for (const std::string_view line : lines) {
            const std::size_t indent = line.find_first_not_of(' ');
            const bool isBlank =
                indent == std::string_view::npos || line[indent] == '\n' || line[indent] == '\r';
            common = isBlank ? common : std::min(common, indent);
        }
    };
    for (const std::string_view side : {m_texts.theirs, m_texts.base, m_texts.ours}) {
        take(splitLines(side));
    }
    take(around.before);
    take(around.after);
    const bool lookAtBlanks =
        m_areBlanksShown || m_reading.theirs.onlyBlanksDiffer || m_reading.ours.onlyBlanksDiffer;
    const bool isHidden =
        !lookAtBlanks && common != ~std::size_t{0} && common >= kLeastHiddenIndent;
    const int blanks = isHidden ? static_cast<int>(common) : 0;
    for (EvidenceCard* card : {m_theirs, m_base, m_ours}) {
        card->text().setHiddenIndent(blanks);
    }
    m_base->setAuthorship(
        blanks == 0 ? m_basePlace
                    : tr("%1 · %2 blanks of indent hidden").arg(m_basePlace).arg(blanks),
        {},
        {});
}

void SideCards::showSides()
{
    const bool eachOther = m_against == Against::eachOther;
    m_reading = eachOther ? readAgainstEachOther(m_texts) : readAgainstBase(m_texts);
    laySides(m_around);
    m_isAroundShown = fits();
    if (!m_isAroundShown) {
        laySides({});
    }
}

bool SideCards::fits() const
{
    const QLayout& column = *widget()->layout();
    int height = column.contentsMargins().top() + column.contentsMargins().bottom();
    for (const EvidenceCard* card : {m_theirs, m_base, m_ours}) {
        height += card->sizeHint().height() + column.spacing();
    }
    return height <= viewport()->height();
}

void SideCards::resizeEvent(QResizeEvent* event)
{
    QScrollArea::resizeEvent(event);
    const bool hasAround = !m_around.before.empty() || !m_around.after.empty();
    if (hasAround && (m_isAroundShown != fits() || !m_isAroundShown)) {
        showSides();
    }
}

void SideCards::laySides(const LinesAround& around)
{
    const bool eachOther = m_against == Against::eachOther;
    hideIndent(around);
    for (EvidenceCard* card : {m_theirs, m_ours}) {
        card->text().setAround(around.before, around.after);
    }
    const auto isUnchanged = [&](std::string_view side) {
        return !eachOther && side == m_texts.base;
    };
    showSide(m_theirs->text(),
             m_texts.theirs,
             m_reading.theirs,
             isUnchanged(m_texts.theirs),
             eachOther ? Strand::ours : Strand::base);
    showSide(m_ours->text(),
             m_texts.ours,
             m_reading.ours,
             isUnchanged(m_texts.ours),
             eachOther ? Strand::theirs : Strand::base);
    showBase();
}

void SideCards::showBase()
{
    const auto lines = static_cast<int>(m_reading.base.size());
    const auto differing = static_cast<int>(
        std::count_if(m_reading.base.begin(), m_reading.base.end(), [](const BaseLine& l) {
            return !l.isKept();
        }));
    const bool isFoldable = lines >= kLeastBaseLinesFolded && differing < lines;
    const bool isFolded = isFoldable && !m_isBaseUnfolded;
    m_base->setFoldButton(!isFoldable ? QString()
                          : isFolded  ? tr("show all %1").arg(lines)
                                      : tr("only what differs"));
    m_base->text().setVisible(m_against == Against::base || lines > 0);
    m_base->text().showBase(m_texts.base, m_reading.base, isFolded);
}

void SideCards::setSideways(bool isSideways)
{
    for (EvidenceCard* card : {m_theirs, m_base, m_ours}) {
        card->text().setSideways(isSideways);
    }
}
}  // namespace rope
