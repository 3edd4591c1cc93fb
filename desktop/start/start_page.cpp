// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_start_page.cpp.
#include "desktop/start/start_page.h"

#include "desktop/start/clone_panel.h"
#include "desktop/start/repository_card.h"
#include "desktop/widgets/measures.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"

#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMimeData>
#include <QPainter>
#include <QPainterPath>
#include <QScrollArea>
#include <QUrl>
#include <QVBoxLayout>

#include <algorithm>

namespace rope {
namespace {
constexpr qreal kRopeWidth = 13;
constexpr int kTwoColumnsFrom = 720;  // of the cards' own width

/// Two strands that become one rope: what the program is for.
class RopePicture final : public QWidget
{
public:
    explicit RopePicture(QWidget* parent)
        : QWidget(parent)
    {
        setFixedHeight(92);
    }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        const qreal join = width() * 0.48;
        const qreal middle = height() / 2.0;
        const auto strand = [&](qreal from) {
            QPainterPath path(QPointF(0, from));
            path.lineTo(join * 0.45, from);
            path.cubicTo({join * 0.75, from}, {join * 0.75, middle}, {join, middle});
            return path;
        };
        paintRope(painter, strand(18), kRopeWidth, Strand::ours);
        paintRope(painter, strand(height() - 18), kRopeWidth, Strand::theirs);
        QPainterPath rope(QPointF(join, middle));
        rope.lineTo(width(), middle);
        paintRope(painter, rope, kRopeWidth, Strand::both);
        painter.fillRect(QRectF(join - 3, middle - 11, 5, 22), theme().ink);
    }
};
}  // namespace

StartPage::StartPage(QWidget* parent)
    : StationPage(parent)
    , m_clone(new ClonePanel(this))
    , m_filter(makeFilter(tr("Filter by name, folder or branch"), "recentFilter", this))
    , m_askAll(makeButton(tr("Fetch all"), "askAllButton", ButtonRole::plain, this))
    , m_count(makeLabel({}, TextRole::muted, this))
    , m_empty(makeLabel({}, TextRole::muted, this))
{
    setAcceptDrops(true);
    setAutoFillBackground(true);
    setBackgroundRole(QPalette::Base);
    m_filter->installEventFilter(this);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    row->addWidget(makeLeft());
    row->addWidget(makeRule(Qt::Vertical, this));
    row->addWidget(makeRight(), 1);
    connect(m_filter, &QLineEdit::textChanged, this, &StartPage::layCards);
    connect(m_askAll, &QPushButton::clicked, this, &StartPage::askAllRequested);
}

QWidget* StartPage::makeLeft()
{
    auto* left = new QWidget(this);
    m_left = left;
    left->setAutoFillBackground(true);
    left->setBackgroundRole(QPalette::Window);
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(24, 20, 24, 20);
    column->setSpacing(8);
    column->addWidget(new RopePicture(left));
    auto* title = makeLabel(tr("Rope Splice"), TextRole::strong, left);
    QFont large = title->font();
    large.setPointSizeF(large.pointSizeF() * 1.6);
    title->setFont(large);
    column->addWidget(title);
    column->addWidget(makeLabel(tr("Merges two diverged branches and shows every conflict. Nothing "
                                   "changes until you record."),
                                TextRole::muted,
                                left));
    column->addSpacing(8);
    auto* choose =
        makeButton(tr("Open a repository…"), "openRepositoryButton", ButtonRole::primary, left);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(choose);
    buttons->addStretch();
    column->addLayout(buttons);
    column->addWidget(makeLabel(tr("or drop a folder anywhere here"), TextRole::muted, left));
    m_demo = makeButton(
        tr("Try it with made-up repositories"), "tryDemoButton", ButtonRole::plain, left);
    setPlainToolTip(*m_demo,
                    tr("Makes a small team's repositories in a folder of their own and opens yours. "
                       "Nothing else is touched, and no network is needed."));
    column->addWidget(m_demo, 0, Qt::AlignLeft);
    connect(m_demo, &QPushButton::clicked, this, &StartPage::demoRequested);
    column->addSpacing(10);
    column->addWidget(makeRule(Qt::Horizontal, left));
    column->addSpacing(10);
    column->addWidget(m_clone);
    column->addStretch();
    connect(choose, &QPushButton::clicked, this, &StartPage::chooserRequested);
    return left;
}

void StartPage::resizeEvent(QResizeEvent* event)
{
    StationPage::resizeEvent(event);
    m_left->setFixedWidth(widthOfPane(*this, 372, 45));
}

QWidget* StartPage::makeRight()
{
    auto* right = new QWidget(this);
    auto* head = new QHBoxLayout;
    head->setSpacing(10);
    auto* title = makeLabel(tr("Recent repositories"), TextRole::strong, right);
    title->setWordWrap(false);
    head->addWidget(title);
    m_count->setWordWrap(false);
    head->addWidget(m_count);
    head->addStretch(1);
    m_filter->setMinimumWidth(120);
    head->addWidget(m_filter);
    head->addWidget(m_askAll);
    auto* cards = new QWidget(right);
    m_grid = new QGridLayout;
    m_grid->setContentsMargins(0, 0, 0, 0);
    m_grid->setSpacing(8);
    auto* cardColumn = new QVBoxLayout(cards);
    cardColumn->setContentsMargins(0, 0, 8, 0);
    cardColumn->addLayout(m_grid);
    m_empty->setObjectName(QStringLiteral("recentEmpty"));
    cardColumn->addWidget(m_empty);
    m_asOf = makeLabel(
        tr("Ahead and behind are as of the last fetch. Opening a repository contacts no remote."),
        TextRole::muted,
        cards);
    cardColumn->addWidget(m_asOf);
    cardColumn->addStretch(1);
    m_scroll = new QScrollArea(right);
    m_scroll->setObjectName(QStringLiteral("recentCards"));
    m_scroll->setFrameShape(QFrame::NoFrame);
    m_scroll->setWidgetResizable(true);
    m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_scroll->setFocusPolicy(Qt::NoFocus);
    m_scroll->viewport()->installEventFilter(this);
    m_scroll->setWidget(cards);
    m_scroll->viewport()->setBackgroundRole(QPalette::Base);
    cards->setBackgroundRole(QPalette::Base);
    auto* column = new QVBoxLayout(right);
    column->setContentsMargins(22, 18, 14, 14);
    column->setSpacing(12);
    column->addLayout(head);
    column->addWidget(m_scroll, 1);
    return right;
}

void StartPage::setRecent(const QStringList& folders)
{
    qDeleteAll(m_cards);
    m_cards.clear();
    m_inView.clear();
    for (const QString& folder : folders) {
        auto* card = new RepositoryCard(folder, m_scroll->widget());
        connect(card, &RepositoryCard::openRequested, this, [this, folder] {
            emit folderChosen(folder);
        });
        connect(card, &RepositoryCard::lookAgainRequested, this, [this, folder] {
            emit lookAgainRequested(folder);
        });
        connect(card, &RepositoryCard::findRequested, this, [this, folder] { find(folder); });
        connect(card, &RepositoryCard::forgetRequested, this, [this, folder] {
            emit forgetRequested(folder);
        });
        card->installEventFilter(this);
        m_cards.push_back(card);
    }
    std::erase_if(m_places, [&](const auto& known) { return !folders.contains(known.first); });
    for (const auto& [folder, place] : m_places) {
        card(folder)->showPlace(place);
    }
    m_count->setText(folders.isEmpty() ? QString()
                                       : tr("%1, the latest first").arg(folders.size()));
    m_askAll->setVisible(!folders.isEmpty());
    m_filter->setVisible(!folders.isEmpty());
    layCards();
    if (!m_inView.empty()) {
        setFocusProxy(m_inView.front());
    }
}

RepositoryCard* StartPage::card(const QString& folder) const
{
    const auto found = std::find_if(m_cards.begin(), m_cards.end(), [&](const RepositoryCard* c) {
        return c->folder() == folder;
    });
    return found == m_cards.end() ? nullptr : *found;
}

void StartPage::showPlace(const QString& folder, const RecentPlace& place)
{
    if (RepositoryCard* const own = card(folder)) {
        m_places[folder] = place;
        own->showPlace(place);
        emit statusChanged();
    }
}

void StartPage::showGone(const QString& folder, const QString& why, const QString& lastKnown)
{
    if (RepositoryCard* const own = card(folder)) {
        m_places.erase(folder);
        own->showGone(why, lastKnown);
        emit statusChanged();
    }
}

void StartPage::showAsking(const QString& folder, const QString& progress)
{
    if (RepositoryCard* const own = card(folder)) {
        own->showAsking(progress);
    }
}

void StartPage::setAsking(bool isAsking)
{
    m_askAll->setText(isAsking ? tr("Stop fetching") : tr("Fetch all"));
}

QString StartPage::status() const
{
    std::size_t open = 0;
    std::size_t putAway = 0;
    for (const auto& [folder, place] : m_places) {
        open += place.hasOpenSplice ? 1U : 0U;
        putAway += place.putAway;
    }
    QStringList parts;
    if (open > 0) {
        parts << (open == 1 ? tr("1 splice is open") : tr("%1 splices are open").arg(open));
    }
    if (putAway > 0) {
        parts << (putAway == 1 ? tr("1 is put away") : tr("%1 are put away").arg(putAway));
    }
    return parts.join(QStringLiteral(", "));
}

int StartPage::columns() const
{
    return m_scroll->viewport()->width() >= kTwoColumnsFrom ? 2 : 1;
}

void StartPage::layCards()
{
    m_inView.clear();
    for (RepositoryCard* const card : m_cards) {
        m_grid->removeWidget(card);
        const bool isWanted = card->words().contains(m_filter->text(), Qt::CaseInsensitive);
        card->setVisible(isWanted);
        if (isWanted) {
            m_inView.push_back(card);
        }
    }
    const auto across = static_cast<std::size_t>(columns());
    for (std::size_t i = 0; i < m_inView.size(); ++i) {
        m_grid->addWidget(m_inView[i], static_cast<int>(i / across), static_cast<int>(i % across));
    }
    for (int column = 0; column < 2; ++column) {
        m_grid->setColumnStretch(column, column < columns() ? 1 : 0);
    }
    m_empty->setVisible(m_inView.empty());
    m_asOf->setVisible(!m_inView.empty());
    m_empty->setText(m_cards.empty()
                         ? tr("Open the folder of a git repository to see where your branch and the "
                              "shared ones stand. Nothing changes until you record a merge.")
                         : tr("None of them matches “%1”.").arg(m_filter->text()));
}

void StartPage::setMakingDemo(bool isMaking)
{
    m_demo->setEnabled(!isMaking);
    m_demo->setText(isMaking ? tr("Making them…") : tr("Try it with made-up repositories"));
}

void StartPage::moveFocus(int step)
{
    const auto here = std::find_if(m_inView.begin(),
                                   m_inView.end(),
                                   [](const RepositoryCard* card) { return card->hasFocus(); });
    focusCard(here == m_inView.end() ? 0 : here - m_inView.begin() + step);
}

void StartPage::focusCard(std::ptrdiff_t at)
{
    if (at >= 0 && at < static_cast<std::ptrdiff_t>(m_inView.size())) {
        RepositoryCard* const card = m_inView[static_cast<std::size_t>(at)];
        card->setFocus();
        m_scroll->ensureWidgetVisible(card);
    }
}

void StartPage::keyPressEvent(QKeyEvent* event)
{
    switch (event->key()) {
    case Qt::Key_Right:
        moveFocus(1);
        break;
    case Qt::Key_Left:
        moveFocus(-1);
        break;
    case Qt::Key_Down:
        moveFocus(columns());
        break;
    case Qt::Key_Up:
        moveFocus(-columns());
        break;
    case Qt::Key_Home:
        focusCard(0);
        break;
    case Qt::Key_End:
        focusCard(static_cast<std::ptrdiff_t>(m_inView.size()) - 1);
        break;
    default:
        if (!event->text().isEmpty() && event->text().at(0).isPrint()) {
            m_filter->setFocus();  // typing filters
            m_filter->setText(m_filter->text() + event->text());
        } else {
            QWidget::keyPressEvent(event);
        }
    }
}

bool StartPage::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::Resize && m_scroll != nullptr && watched == m_scroll->viewport()) {
        layCards();
        return false;
    }
    if (event->type() == QEvent::KeyPress && qobject_cast<RepositoryCard*>(watched) != nullptr) {
        auto* pressed = static_cast<QKeyEvent*>(event);
        switch (pressed->key()) {
        case Qt::Key_Return:
        case Qt::Key_Enter:
        case Qt::Key_Delete:
        case Qt::Key_Tab:
        case Qt::Key_Backtab:
            return false;  // the card's own
        default:
            keyPressEvent(pressed);
            return true;
        }
    }
    if (event->type() == QEvent::KeyPress && watched == m_filter) {
        const auto* pressed = static_cast<QKeyEvent*>(event);
        const bool isOpening = pressed->key() == Qt::Key_Return || pressed->key() == Qt::Key_Enter;
        if (pressed->key() == Qt::Key_Down || isOpening) {
            if (!m_inView.empty()) {
                m_inView.front()->setFocus();
                if (isOpening && !m_inView.front()->isGone()) {
                    emit folderChosen(m_inView.front()->folder());
                }
            }
            return true;
        }
        if (pressed->key() == Qt::Key_Escape) {
            m_filter->clear();
            moveFocus(0);
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

namespace {
/// The one folder that is dragged; empty if it is anything else.
QString folderIn(const QMimeData& data)
{
    const QList<QUrl> urls = data.urls();
    const QString path = urls.size() == 1 ? urls.front().toLocalFile() : QString();
    return QFileInfo(path).isDir() ? path : QString();
}
}  // namespace

/// It may have been moved: the person says where to.
void StartPage::find(const QString& folder)
{
    auto* dialog = new QFileDialog(this, tr("Where is %1 now?").arg(QFileInfo(folder).fileName()));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::Directory);
    dialog->setOption(QFileDialog::ShowDirsOnly);
    connect(dialog, &QFileDialog::fileSelected, this, [this, folder](const QString& chosen) {
        emit foundElsewhere(folder, chosen);
    });
    dialog->open();
}

void StartPage::dragEnterEvent(QDragEnterEvent* event)
{
    if (!folderIn(*event->mimeData()).isEmpty()) {
        event->acceptProposedAction();
    }
}

void StartPage::dropEvent(QDropEvent* event)
{
    const QString folder = folderIn(*event->mimeData());
    if (!folder.isEmpty()) {
        event->acceptProposedAction();
        emit folderChosen(folder);
    }
}

std::vector<KeyHint> StartPage::hints() const
{
    return {{tr("Ctrl+O"), tr("open a folder")},
            {tr("Ctrl+N"), tr("clone")},
            {tr("Enter"), tr("open the card")},
            {tr("Ctrl+R"), tr("fetch all")},
            {tr("Delete"), tr("forget a gone one")}};
}

std::vector<KeyHint> StartPage::keys() const
{
    return {{tr("Arrows"), tr("from card to card")},
            {tr("Enter"), tr("open the card")},
            {tr("Letters"), tr("filter")},
            {tr("Delete"), tr("forget a gone one")}};
}
}  // namespace rope
