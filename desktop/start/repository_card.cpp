// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_start_page.cpp.
#include "desktop/start/repository_card.h"

#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/small_rope_chart.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"

#include <QContextMenuEvent>
#include <QDir>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QVBoxLayout>

namespace rope {
namespace {
constexpr std::int64_t kOldAfterSeconds = 7LL * 24 * 60 * 60;
constexpr int kSlowMs = 4000;
constexpr int kRing = 3;  // room around the card for the ring of the focus

QString underHome(const QString& folder)
{
    const QString home = QDir::homePath();
    return folder.startsWith(home + QLatin1Char('/')) ? QLatin1Char('~') + folder.mid(home.size())
                                                      : folder;
}

/// What kind of repository it is, where it is not the usual one.
QStringList kindInWords(const RecentPlace& place)
{
    QStringList words;
    const QString of = shown(place.workingTree.of).section(QLatin1Char('/'), -1);
    if (place.workingTree.kind == WorkingTreeKind::Kind::submodule) {
        words << RepositoryCard::tr("submodule of %1").arg(of);
    } else if (place.workingTree.kind == WorkingTreeKind::Kind::further) {
        words << RepositoryCard::tr("working tree of %1").arg(of);
    } else if (!place.hasWorkingTree) {
        words << RepositoryCard::tr("bare: it has no working tree");
    }
    if (!place.hasCommit) {
        words << RepositoryCard::tr("no commit yet");
    }
    return words;
}

QString standingInWords(const RecentPlace& place)
{
    if (!place.hasRemote) {
        return RepositoryCard::tr("no remote: it is only here");
    }
    const QString upstream = shown(place.upstream);
    if (place.upstream.empty()) {
        return RepositoryCard::tr("follows no shared branch");
    }
    if (place.ahead == 0 && place.behind == 0) {
        return RepositoryCard::tr("level with %1").arg(upstream);
    }
    QStringList parts;
    if (place.ahead > 0) {
        parts << RepositoryCard::tr("%1 ahead").arg(place.ahead);
    }
    if (place.behind > 0) {
        parts << RepositoryCard::tr("%1 behind").arg(place.behind);
    }
    return (place.behind > 0 ? RepositoryCard::tr("%1 %2") : RepositoryCard::tr("%1 of %2"))
        .arg(parts.join(QStringLiteral(" · ")), upstream);
}

QString leftInWords(const RecentPlace& place)
{
    QStringList parts;
    if (place.hasOpenSplice) {
        parts << RepositoryCard::tr("◇ open splice: %1 decided").arg(place.decided);
    }
    if (place.putAway == 1) {
        parts << RepositoryCard::tr("◌ 1 splice put away: %1, %2")
                     .arg(shown(place.putAwayTheirs), relativeTime(place.putAwayAt, place.readAt));
    } else if (place.putAway > 1) {
        parts << RepositoryCard::tr("◌ %1 splices put away").arg(place.putAway);
    }
    if (place.uncommitted > 0) {
        parts << RepositoryCard::tr("%1 not committed")
                     .arg(countOf(place.uncommitted, "file", "files"));
    }
    return !parts.isEmpty() ? parts.join(QStringLiteral(" · "))
           : place.hasWorkingTree && place.hasCommit
               ? RepositoryCard::tr("no splice open, everything committed")
               : RepositoryCard::tr("no splice open");
}
}  // namespace

RepositoryCard::RepositoryCard(QString folder, QWidget* parent)
    : QFrame(parent)
    , m_folder(std::move(folder))
    , m_name(makeLabel(QFileInfo(m_folder).fileName(), TextRole::strong, this))
    , m_gone(makeLabel(tr("gone"), TextRole::open, this))
    , m_path(new ElidedLabel(TextRole::code, this))
    , m_chart(new SmallRopeChart(this))
    , m_branch(makeLabel(tr("Looking…"), TextRole::strong, this))
    , m_standing(makeLabel({}, TextRole::normal, this))
    , m_asked(makeLabel({}, TextRole::muted, this))
    , m_left(makeLabel({}, TextRole::muted, this))
    , m_goOn(makeButton(tr("Go on"), "goOnButton", ButtonRole::plain, this))
    , m_lookAgain(makeButton(tr("Look again"), "lookAgainButton", ButtonRole::plain, this))
    , m_find(makeButton(tr("Find it…"), "findPlaceButton", ButtonRole::plain, this))
    , m_forget(makeButton(tr("Forget it"), "forgetPlaceButton", ButtonRole::plain, this))
{
    setObjectName(QStringLiteral("repositoryCard"));
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    m_path->setFullText(underHome(m_folder));
    m_left->setObjectName(QStringLiteral("cardLeft"));
    m_asked->setObjectName(QStringLiteral("cardAsked"));
    m_standing->setObjectName(QStringLiteral("cardStanding"));
    m_branch->setObjectName(QStringLiteral("cardBranch"));
    for (QLabel* label : {m_name, m_branch, m_standing, m_asked, m_left, m_gone}) {
        label->setTextInteractionFlags(Qt::NoTextInteraction);  // a click opens the card
    }
    m_gone->setWordWrap(false);
    auto* head = new QHBoxLayout;
    head->addWidget(m_name, 1);
    head->addWidget(m_gone);
    auto* words = new QVBoxLayout;
    words->setSpacing(2);
    words->addWidget(m_branch);
    words->addWidget(m_standing);
    words->addWidget(m_asked);
    auto* middle = new QHBoxLayout;
    middle->setSpacing(14);
    middle->addWidget(m_chart, 0, Qt::AlignVCenter);
    middle->addLayout(words, 1);
    auto* foot = new QHBoxLayout;
    foot->addWidget(m_left, 1);
    foot->addWidget(m_lookAgain);
    foot->addWidget(m_find);
    foot->addWidget(m_forget);
    foot->addWidget(m_goOn);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(15 + kRing, 10 + kRing, 15 + kRing, 10 + kRing);
    column->setSpacing(6);
    column->addLayout(head);
    column->addWidget(m_path);
    column->addLayout(middle, 1);
    column->addWidget(makeRule(Qt::Horizontal, this));
    column->addLayout(foot);
    for (QWidget* later : {static_cast<QWidget*>(m_gone),
                           static_cast<QWidget*>(m_goOn),
                           static_cast<QWidget*>(m_lookAgain),
                           static_cast<QWidget*>(m_find),
                           static_cast<QWidget*>(m_forget)}) {
        later->hide();
    }
    setAccessibleName(tr("Repository %1").arg(m_name->text()));
    m_slow.setSingleShot(true);
    m_slow.setInterval(kSlowMs);
    connect(&m_slow, &QTimer::timeout, this, [this] {
        m_branch->setText(tr("Still looking: it is slow to answer."));
    });
    m_slow.start();
    connect(m_goOn, &QPushButton::clicked, this, &RepositoryCard::openRequested);
    connect(m_lookAgain, &QPushButton::clicked, this, &RepositoryCard::lookAgainRequested);
    connect(m_find, &QPushButton::clicked, this, &RepositoryCard::findRequested);
    connect(m_forget, &QPushButton::clicked, this, &RepositoryCard::forgetRequested);
}

QString RepositoryCard::words() const
{
    return QStringList{
        m_folder, m_name->text(), m_branch->text(), m_standing->text(), m_left->text()}
        .join(QLatin1Char(' '));
}

void RepositoryCard::showPlace(const RecentPlace& place)
{
    m_isGone = false;
    m_slow.stop();
    m_branch->setText(place.branch.empty() ? tr("on no branch") : shown(place.branch));
    m_standing->setText((kindInWords(place) << standingInWords(place)).join(QStringLiteral(" · ")));
    m_isOld = place.askedAt && place.readAt - *place.askedAt > kOldAfterSeconds;
    const QString when = place.askedAt ? relativeTime(*place.askedAt, place.readAt) : QString();
    m_askedWords = !place.hasRemote ? QString()
                   : !place.askedAt ? tr("never fetched")
                   : m_isOld        ? tr("as of %1, may have changed").arg(when)
                                    : tr("as of %1").arg(when);
    showAsking({});
    m_left->setText(leftInWords(place));
    setTextRole(m_left, place.hasOpenSplice ? TextRole::open : TextRole::muted);
    m_chart->show();
    m_chart->setCounts(place.ahead, place.behind);
    m_goOn->setVisible(place.hasOpenSplice);
    for (QWidget* other : {static_cast<QWidget*>(m_gone),
                           static_cast<QWidget*>(m_lookAgain),
                           static_cast<QWidget*>(m_find),
                           static_cast<QWidget*>(m_forget)}) {
        other->hide();
    }
    setTextRole(m_name, TextRole::strong);
    setAccessibleDescription(
        QStringList{m_branch->text(), m_standing->text(), m_askedWords, m_left->text()}.join(
            QStringLiteral(", ")));
    update();
}

void RepositoryCard::showGone(const QString& why, const QString& lastKnown)
{
    m_isGone = true;
    m_slow.stop();
    m_branch->setText(why);
    m_standing->setText(lastKnown);
    m_asked->clear();
    m_left->clear();
    m_chart->hide();
    m_goOn->hide();
    m_gone->show();
    m_lookAgain->show();
    m_find->show();
    m_forget->show();
    setTextRole(m_name, TextRole::muted);
    setAccessibleDescription(tr("gone: %1").arg(why));
    update();
}

void RepositoryCard::showAsking(const QString& progress)
{
    setTextRole(m_asked, progress.isEmpty() && m_isOld ? TextRole::open : TextRole::muted);
    m_asked->setText(progress.isEmpty() ? m_askedWords : progress);
}

void RepositoryCard::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF frame =
        QRectF(rect()).adjusted(kRing + 0.5, kRing + 0.5, -kRing - 0.5, -kRing - 0.5);
    painter.setBrush(m_isGone ? theme().panel : theme().paper);
    painter.setPen(QPen(theme().rules, 1, m_isGone ? Qt::DashLine : Qt::SolidLine));
    painter.drawRoundedRect(frame, 5, 5);
    if (hasFocus()) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(theme().ink, 1.5));
        painter.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 7, 7);
    }
}

void RepositoryCard::mouseReleaseEvent(QMouseEvent* event)
{
    if (event->button() == Qt::LeftButton && rect().contains(event->pos()) && !m_isGone) {
        emit openRequested();
    }
}

void RepositoryCard::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
        if (m_isGone) {
            emit lookAgainRequested();
        } else {
            emit openRequested();
        }
    } else if (event->key() == Qt::Key_Delete && m_isGone) {
        emit forgetRequested();
    } else {
        QFrame::keyPressEvent(event);
    }
}

void RepositoryCard::contextMenuEvent(QContextMenuEvent* event)
{
    auto* const menu = new QMenu(this);
    menu->setObjectName(QStringLiteral("cardMenu"));
    menu->setAttribute(Qt::WA_DeleteOnClose);
    if (!m_isGone) {
        connect(
            menu->addAction(tr("Open")), &QAction::triggered, this, &RepositoryCard::openRequested);
    }
    connect(menu->addAction(tr("Remove from this list")),
            &QAction::triggered,
            this,
            &RepositoryCard::forgetRequested);
    menu->popup(event->globalPos());
}

void RepositoryCard::focusInEvent(QFocusEvent* event)
{
    QFrame::focusInEvent(event);
    update();
}

void RepositoryCard::focusOutEvent(QFocusEvent* event)
{
    QFrame::focusOutEvent(event);
    update();
}
}  // namespace rope
