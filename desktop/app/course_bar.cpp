// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/app/course_bar.h"

#include "desktop/widgets/measures.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QVBoxLayout>

#include <array>

namespace rope {
namespace {
constexpr int kKnotWidth = 26;
constexpr int kSegment = 36;  // rope between two knots

struct StationName
{
    Station station;
    const char* key;
    const char* title;
};

/// In the order of the course.
constexpr std::array kStations{
    StationName{Station::survey, "survey", QT_TRANSLATE_NOOP("rope::CourseBar", "Survey")},
    StationName{Station::resolve, "resolve", QT_TRANSLATE_NOOP("rope::CourseBar", "Resolve")},
    StationName{Station::check, "check", QT_TRANSLATE_NOOP("rope::CourseBar", "Check")},
    StationName{Station::record, "record", QT_TRANSLATE_NOOP("rope::CourseBar", "Record")},
    StationName{Station::push, "push", QT_TRANSLATE_NOOP("rope::CourseBar", "Push")},
};

const StationName& namesOf(Station station)
{
    return kStations.at(static_cast<std::size_t>(station));
}
}  // namespace

QString titleOf(Station station)
{
    return CourseBar::tr(namesOf(station).title);
}

const char* keyOf(Station station)
{
    return namesOf(station).key;
}

std::optional<Station> stationOf(std::string_view key)
{
    for (const StationName& names : kStations) {
        if (key == names.key) {
            return names.station;
        }
    }
    return std::nullopt;
}

KnotButton::KnotButton(const QString& name, const char* objectName, QWidget* parent)
    : QAbstractButton(parent)
{
    setText(name);
    setObjectName(QLatin1String(objectName));
    setCursor(Qt::PointingHandCursor);
    setFocusPolicy(Qt::TabFocus);
    setState(KnotState::ahead);
}

void KnotButton::setState(KnotState state)
{
    m_state = state;
    const QString word = state == KnotState::current ? tr("you are here")
                         : state == KnotState::done  ? tr("done")
                                                     : tr("ahead");
    setAccessibleName(QStringLiteral("%1, %2 %3").arg(text(), word, m_note));
    setToolTip(tr("%1: %2").arg(text(), word));
    update();
}

void KnotButton::setNote(const QString& note)
{
    m_note = note;
    setState(m_state);
    updateGeometry();
}

void KnotButton::setNoteShown(bool isShown)
{
    if (std::exchange(m_isNoteShown, isShown) != isShown) {
        updateGeometry();
        update();
    }
}

int KnotButton::noteWidth() const
{
    return m_note.isEmpty() ? 0 : fontMetrics().horizontalAdvance(m_note) + 8;
}

QSize KnotButton::sizeHint() const
{
    QFont strong = font();
    strong.setWeight(QFont::DemiBold);
    const int name = QFontMetrics(strong).horizontalAdvance(text());
    return {kKnotWidth + name + (m_isNoteShown ? noteWidth() : 0) + 8,
            std::max(30, fontMetrics().height())};
}

void KnotButton::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QPointF centre(kKnotWidth / 2.0, height() / 2.0);
    const bool isAhead = m_state == KnotState::ahead;
    painter.setPen(QPen(isAhead ? theme().muted : theme().ink, 2));
    painter.setBrush(m_state == KnotState::done ? theme().ink : theme().paper);
    painter.drawEllipse(centre, 6, 6);
    if (m_state == KnotState::current) {
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(centre, 10.5, 10.5);
    }
    QFont nameFont = font();
    nameFont.setWeight(m_state == KnotState::current ? QFont::DemiBold : QFont::Medium);
    nameFont.setUnderline(hasFocus());
    painter.setFont(nameFont);
    painter.setPen(isAhead ? theme().muted : theme().ink);
    const QRect words = rect().adjusted(kKnotWidth + 2, 0, 0, 0);
    painter.drawText(words, Qt::AlignVCenter, text());
    const int used = QFontMetrics(nameFont).horizontalAdvance(text());
    painter.setFont(font());
    painter.setPen(theme().muted);
    if (m_isNoteShown) {
        painter.drawText(words.adjusted(used + 8, 0, 0, 0), Qt::AlignVCenter, m_note);
    }
}

CourseBar::CourseBar(QWidget* parent)
    : QWidget(parent)
    , m_first(new ElidedLabel(TextRole::normal, this))
    , m_second(new ElidedLabel(TextRole::muted, this))
{
    m_row = new QHBoxLayout(this);
    m_row->setContentsMargins(10, 6, 14, 8);
    m_row->setSpacing(0);
    for (const StationName& names : kStations) {
        if (!m_knots.empty()) {
            m_row->addSpacing(kSegment);
        }
        auto* knot = new KnotButton(
            titleOf(names.station), (QByteArray(names.key) + "Knot").constData(), this);
        connect(knot, &QAbstractButton::clicked, this, [this, to = names.station] {
            emit stationRequested(to);
        });
        m_row->addWidget(knot);
        m_knots.push_back(knot);
    }
    auto* facts = new QVBoxLayout;
    facts->setSpacing(1);
    m_first->setAlignment(Qt::AlignRight);
    m_second->setAlignment(Qt::AlignRight);
    m_first->setObjectName(QStringLiteral("factsFirst"));
    m_second->setObjectName(QStringLiteral("factsSecond"));
    facts->addWidget(m_first);
    facts->addWidget(m_second);
    m_row->addSpacing(24);
    m_row->addLayout(facts, 1);
    applyStates();
}

void CourseBar::setCurrent(Station station)
{
    m_current = station;
    applyStates();
}

void CourseBar::setReached(Station station)
{
    m_reached = station;
    applyStates();
}

void CourseBar::setPassedOver(std::optional<Station> station)
{
    m_passedOver = station;
    applyStates();
}

void CourseBar::setNote(Station station, const QString& note)
{
    m_knots[static_cast<std::size_t>(station)]->setNote(note);
    fitNotes();
}

/// Where there is no room for all, what is said beside the stations stands at the present one only, or nowhere:
/// names are not cut.
void CourseBar::fitNotes()
{
    const int forFacts = atFont(*this, 150);
    int needed = forFacts;
    for (KnotButton* const knot : m_knots) {
        knot->setNoteShown(false);
        needed += knot->sizeHint().width() + kSegment;
    }
    int notes = 0;
    for (const KnotButton* const knot : m_knots) {
        notes += knot->noteWidth();
    }
    const KnotButton* const present = m_knots[static_cast<std::size_t>(m_current)];
    const bool haveAllRoom = needed + notes <= width();
    for (KnotButton* const knot : m_knots) {
        knot->setNoteShown(haveAllRoom
                           || (knot == present && needed + knot->noteWidth() <= width()));
    }
}

void CourseBar::resizeEvent(QResizeEvent* event)
{
    QWidget::resizeEvent(event);
    fitNotes();
}

void CourseBar::setFacts(const QString& first, const QString& second, const QString& secondToolTip)
{
    m_first->setFullText(first);
    m_second->setFullText(second);
    if (!secondToolTip.isEmpty()) {
        setPlainToolTip(*m_second, secondToolTip);
    }
}

QString CourseBar::facts() const
{
    return m_first->fullText() + QLatin1Char('\n') + m_second->fullText();
}

void CourseBar::setSideButton(QWidget* button)
{
    m_row->addSpacing(12);
    m_row->addWidget(button);
}

void CourseBar::applyStates()
{
    for (std::size_t i = 0; i < m_knots.size(); ++i) {
        const auto station = static_cast<Station>(i);
        const bool isDone = station < m_reached && station != m_passedOver;
        m_knots[i]->setState(station == m_current ? KnotState::current
                             : isDone             ? KnotState::done
                                                  : KnotState::ahead);
    }
    fitNotes();
    update();
}

void CourseBar::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setPen(theme().rules);
    painter.drawLine(0, height() - 1, width(), height() - 1);
    for (std::size_t i = 0; i + 1 < m_knots.size(); ++i) {
        const QRect from = m_knots[i]->geometry();
        const QRect to = m_knots[i + 1]->geometry();
        const QRect rope(from.right() + 2, from.center().y() - 1, to.left() - from.right() - 4, 4);
        if (static_cast<Station>(i) < m_reached) {
            paintStrand(painter, rope, Strand::both);
        } else {
            painter.setPen(QPen(theme().muted, 2, Qt::DashLine));
            painter.drawLine(rope.left(), rope.center().y(), rope.right(), rope.center().y());
        }
    }
}
}  // namespace rope
