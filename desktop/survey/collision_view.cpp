// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_collision_view.cpp.
#include "desktop/survey/collision_view.h"

#include "desktop/commits/two_changes_view.h"
#include "desktop/widgets/page_stack.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/ruled_table.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QListWidget>
#include <QScrollArea>
#include <QShortcut>
#include <QVBoxLayout>

#include <algorithm>

namespace rope {
namespace {
constexpr int kRightWidth = 360;
constexpr int kPairRole = Qt::UserRole + 1;  ///< first * 1000 + second
}  // namespace

CollisionView::CollisionView(QWidget* parent)
    : QWidget(parent)
    , m_table(new CollisionTable(this))
    , m_scroll(new QScrollArea(this))
    , m_list(new QListWidget(this))
    , m_filter(makeFilter(tr("Filter pairs by branch, person or file"), "pairFilter", this))
    , m_pages(new PageStack(this))
    , m_summary(makeLabel({}, TextRole::strong, this))
    , m_progress(makeLabel({}, TextRole::muted, this))
    , m_stop(makeButton(tr("Stop"), "stopCollisionsButton", ButtonRole::plain, this))
    , m_pairTitle(makeLabel({}, TextRole::heading, this))
    , m_people(makeLabel({}, TextRole::muted, this))
    , m_sentence(makeLabel({}, TextRole::normal, this))
    , m_since(makeLabel({}, TextRole::muted, this))
    , m_files(new QListWidget(this))
    , m_read(makeButton(tr("Read the regions"), "readPairButton", ButtonRole::plain, this))
    , m_copy(makeButton(tr("Copy a note for both"), "copyNoteButton", ButtonRole::primary, this))
{
    m_summary->setObjectName(QStringLiteral("collisionSummary"));
    m_progress->setObjectName(QStringLiteral("collisionProgress"));
    m_sentence->setObjectName(QStringLiteral("pairSentence"));
    m_list->setObjectName(QStringLiteral("pairList"));
    m_list->setAccessibleName(tr("Pairs of branches, most places to decide first"));
    m_files->setObjectName(QStringLiteral("pairFiles"));
    m_files->setAccessibleName(tr("Files that both changed"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    row->addWidget(makeLeft(), 1);
    row->addWidget(makeRule(Qt::Vertical, this));
    row->addWidget(makeRight());
    m_since->setObjectName(QStringLiteral("pairSince"));
    connect(m_table, &CollisionTable::picked, this, &CollisionView::showPair);
    connect(m_table, &CollisionTable::opened, this, &CollisionView::read);
    connect(m_read, &QPushButton::clicked, this, &CollisionView::read);
    connect(m_list, &QListWidget::itemActivated, this, &CollisionView::read);
    connect(m_files, &QListWidget::itemActivated, this, &CollisionView::read);
    connect(m_files, &QListWidget::currentRowChanged, this, [this](int file) {
        if (file >= 0 && m_pages->currentWidget() == m_readingPage) {
            read();
        }
    });
    connect(m_filter, &QLineEdit::textChanged, this, &CollisionView::fillList);
    connect(m_list, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
        if (item != nullptr) {
            const auto pair = item->data(kPairRole).toULongLong();
            m_table->setCurrent(
                {static_cast<std::size_t>(pair / 1000), static_cast<std::size_t>(pair % 1000)});
        }
    });
    connect(m_copy, &QPushButton::clicked, this, &CollisionView::copyNote);
    connect(m_stop, &QPushButton::clicked, this, [this] {
        if (m_isWorking) {
            emit stopRequested();
        } else {
            emit startRequested();
        }
    });
    for (const auto& [key, by] : {std::pair(Qt::Key_J, 1), std::pair(Qt::Key_K, -1)}) {
        auto* next = new QShortcut(QKeySequence(Qt::ControlModifier | key), this);
        next->setContext(Qt::WidgetWithChildrenShortcut);
        connect(next, &QShortcut::activated, this, [this, by = by] { step(by); });
    }
    auto* copy = new QShortcut(QKeySequence::Copy, m_table);
    copy->setContext(Qt::WidgetShortcut);
    connect(copy, &QShortcut::activated, this, &CollisionView::copyNote);
    setFocusProxy(m_table);
    showProgress(0, 0, {});
    m_copy->setEnabled(false);
}

QWidget* CollisionView::makeLeft()
{
    auto* left = new QWidget(this);
    left->setAutoFillBackground(true);
    left->setBackgroundRole(QPalette::Base);
    auto* table = makeButton(tr("table"), "collisionTableButton", ButtonRole::segment, left);
    auto* list = makeButton(tr("list"), "collisionListButton", ButtonRole::segment, left);
    table->setChecked(true);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(18, 10, 14, 0);
    head->setSpacing(0);
    head->addWidget(m_summary, 1);
    head->addWidget(table);
    head->addWidget(list);
    auto* words = makeLabel(tr("Every shared branch is merged with every other in memory; nothing "
                               "is changed. Each cell shows what merging its row with its column "
                               "would give. The closer the diamonds, the more there is to decide."),
                            TextRole::muted,
                            left);
    words->setContentsMargins(18, 0, 14, 0);
    m_scroll->setObjectName(QStringLiteral("collisionScroll"));
    m_scroll->setFrameShape(QFrame::NoFrame);
    m_scroll->setWidget(m_table);
    m_scroll->viewport()->setBackgroundRole(QPalette::Base);
    m_scroll->setFocusPolicy(Qt::NoFocus);
    auto* listPage = new QWidget(left);
    auto* listColumn = new QVBoxLayout(listPage);
    listColumn->setContentsMargins(18, 6, 14, 6);
    m_list->setFrameShape(QFrame::NoFrame);
    m_list->setWordWrap(true);
    m_list->setItemDelegate(new RuledDelegate(m_list));
    listColumn->addWidget(m_filter);
    listColumn->addWidget(m_list, 1);
    m_pages->addWidget(m_scroll);
    m_pages->addWidget(listPage);
    m_readingPage = makeReadingPage();
    m_pages->addWidget(m_readingPage);
    connect(table, &QPushButton::clicked, this, [this] { m_pages->setCurrentIndex(0); });
    connect(list, &QPushButton::clicked, this, [this] {
        m_pages->setCurrentIndex(1);
        m_filter->setFocus();
    });
    auto* foot = new QHBoxLayout;
    foot->setContentsMargins(18, 6, 14, 8);
    foot->addWidget(m_progress, 1);
    foot->addWidget(m_stop);
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    column->addLayout(head);
    column->addWidget(words);
    column->addWidget(m_pages, 1);
    column->addWidget(makeRule(Qt::Horizontal, left));
    column->addLayout(foot);
    return left;
}

/// What both made of a file of the pair, in place of the table.
QWidget* CollisionView::makeReadingPage()
{
    auto* page = new QWidget(this);
    m_readingTitle = makeLabel({}, TextRole::heading, page);
    m_readingTitle->setObjectName(QStringLiteral("pairReadingTitle"));
    auto* back = makeButton(tr("Back to the pairs"), "leaveReadingButton", ButtonRole::plain, page);
    connect(back, &QPushButton::clicked, this, &CollisionView::leaveReading);
    auto* leave = new QShortcut(QKeySequence(Qt::Key_Escape), page);
    leave->setContext(Qt::WidgetWithChildrenShortcut);
    connect(leave, &QShortcut::activated, this, &CollisionView::leaveReading);
    m_changes = new TwoChangesView("pair", page);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(18, 6, 14, 6);
    head->addWidget(m_readingTitle, 1);
    head->addWidget(back);
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addLayout(head);
    column->addWidget(makeRule(Qt::Horizontal, page));
    column->addWidget(m_changes, 1);
    return page;
}

/// The file that is picked in the pair's list, else the first: what does not fit comes first.
void CollisionView::read()
{
    const auto pair = m_table->current();
    if (!pair || m_model.outcome(*pair).files.empty()) {
        return;
    }
    const auto& files = m_model.outcome(*pair).files;
    const int row = std::max(0, m_files->currentRow());
    emit readingRequested(*pair, files[static_cast<std::size_t>(row)].path);
}

void CollisionView::showReading(BranchPair pair, const PairReading& reading)
{
    if (!m_table->current() || !(*m_table->current() == pair)) {
        return;  // another one is looked at meanwhile
    }
    m_changes->setPairNames(shortName(m_model.branches[pair.first]),
                            shortName(m_model.branches[pair.second]));
    m_changes->showChanges(reading.first, reading.second);
    m_readingTitle->setText(tr("%1, as both have it").arg(shownPath(reading.path)));
    m_since->setText(sinceInWords(m_model, pair, reading));
    m_since->setVisible(!m_since->text().isEmpty());
    if (m_pages->currentWidget() != m_readingPage) {
        m_pages->setCurrentWidget(m_readingPage);
        m_files->setFocus();
    }
}

void CollisionView::leaveReading()
{
    m_pages->setCurrentIndex(0);
    m_table->setFocus();
}

QWidget* CollisionView::makeRight()
{
    auto* right = new QWidget(this);
    right->setFixedWidth(kRightWidth);
    layOnPanel(*m_files);
    keepInks(*m_files);
    keepInks(*m_list);
    useCodeFont(m_files);
    m_files->setSpacing(2);
    auto* column = new QVBoxLayout(right);
    column->setContentsMargins(14, 12, 14, 12);
    column->setSpacing(8);
    column->addWidget(m_pairTitle);
    column->addWidget(m_people);
    column->addWidget(m_sentence);
    column->addWidget(m_since);
    column->addWidget(m_files, 1);
    column->addWidget(m_read, 0, Qt::AlignLeft);
    column->addWidget(makeLabel(tr("The note holds the sentence, the files and the two commits, as "
                                   "text to send to both. Nothing is sent from here."),
                                TextRole::muted,
                                right));
    column->addWidget(m_copy);
    return right;
}

void CollisionView::showModel(const CollisionModel& model)
{
    m_model = model;
    m_table->setModel(model);
    m_summary->setText(model.branches.size() < 2
                           ? tr("There are no two shared branches to compare.")
                           : collisionsInWords(model));
    if (const auto pair = m_table->current()) {
        showPair(*pair);
    } else if (const auto colliding = model.colliding(); !colliding.empty()) {
        m_table->setCurrent(colliding.front());
    }
    fillList();
}

void CollisionView::fillList()
{
    const QSignalBlocker blocker(m_list);
    m_list->clear();
    std::vector<BranchPair> pairs = m_model.colliding();
    for (const auto& [pair, outcome] : m_model.pairs) {
        if (outcome.kind != PairOutcome::Kind::collides) {
            pairs.push_back(pair);
        }
    }
    for (const BranchPair& pair : pairs) {
        const QString words = pairInWords(m_model, pair);
        bool isWanted = words.contains(m_filter->text(), Qt::CaseInsensitive);
        for (const PairFile& file : m_model.outcome(pair).files) {
            isWanted = isWanted
                       || (file.isOpen()
                           && shownPath(file.path).contains(m_filter->text(), Qt::CaseInsensitive));
        }
        if (isWanted) {
            auto* item = new QListWidgetItem(words, m_list);
            item->setData(kPairRole,
                          QVariant::fromValue<qulonglong>(pair.first * 1000 + pair.second));
            const bool collides = m_model.outcome(pair).kind == PairOutcome::Kind::collides;
            setInk(*item, collides ? TextRole::open : TextRole::normal);
        }
    }
}

void CollisionView::showPair(BranchPair pair)
{
    const CollisionBranch& first = m_model.branches[pair.first];
    const CollisionBranch& second = m_model.branches[pair.second];
    const PairOutcome& outcome = m_model.outcome(pair);
    const bool isAsBefore = m_shownPair && *m_shownPair == pair;
    m_shownPair = pair;
    if (!isAsBefore) {
        m_since->hide();
        if (m_pages->currentWidget() == m_readingPage) {
            m_pages->setCurrentIndex(0);
        }
    }
    m_pairTitle->setText(tr("%1 and %2").arg(shortName(first), shortName(second)));
    const auto person = [this](const CollisionBranch& branch, std::size_t commits) {
        return tr("%1 on %2 · %3 of its own, last %4")
            .arg(shown(branch.tip.author.name),
                 shortName(branch),
                 countOf(commits, "commit", "commits"),
                 relativeTime(branch.tip.committer.time, m_model.readAt));
    };
    m_people->setText(person(first, outcome.firstCommits) + QLatin1Char('\n')
                      + person(second, outcome.secondCommits));
    m_sentence->setText(pairInWords(m_model, pair));
    const int picked = isAsBefore ? m_files->currentRow() : -1;
    const QSignalBlocker blocker(m_files);
    m_files->clear();
    for (const PairFile& file : outcome.files) {
        auto* item = new QListWidgetItem(
            tr("%1  %2").arg(shownPath(file.path),
                             file.isQuestion     ? tr("one side must be chosen")
                             : file.regions == 0 ? tr("clean")
                                                 : countOf(file.regions, "region", "regions")),
            m_files);
        setInk(*item, file.isOpen() ? TextRole::open : TextRole::muted);
    }
    m_files->setCurrentRow(picked);
    m_files->setVisible(!outcome.files.empty());
    m_read->setVisible(!outcome.files.empty());
    m_copy->setEnabled(outcome.kind != PairOutcome::Kind::notYet);
    const QSize cell(120, 80);
    m_scroll->ensureVisible(m_table->width() * static_cast<int>(pair.first)
                                / std::max(1, static_cast<int>(m_model.branches.size())),
                            m_table->height() * static_cast<int>(pair.second)
                                / std::max(1, static_cast<int>(m_model.branches.size())),
                            cell.width(),
                            cell.height());
}

void CollisionView::showProgress(std::size_t known, std::size_t all, const QString& now)
{
    m_isWorking = !now.isEmpty();
    m_progress->setText(
        all == 0 ? QString()
        : m_isWorking
            ? tr("%1 of %2 pairs known. Now %3. Nothing is touched.").arg(known).arg(all).arg(now)
        : known < all ? tr("%1 of %2 pairs known.").arg(known).arg(all)
                      : tr("All %1 pairs are known.").arg(all));
    m_stop->setText(m_isWorking ? tr("Stop") : tr("Go on"));
    m_stop->setVisible(m_isWorking || known < all);
}

void CollisionView::step(int by)
{
    const auto colliding = m_model.colliding();
    if (colliding.empty()) {
        return;
    }
    const auto at = m_table->current()
                        ? std::find(colliding.begin(), colliding.end(), *m_table->current())
                        : colliding.end();
    const auto count = static_cast<int>(colliding.size());
    const int from =
        at == colliding.end() ? (by > 0 ? -1 : 0) : static_cast<int>(at - colliding.begin());
    m_table->setCurrent(colliding[static_cast<std::size_t>((from + by + count) % count)]);
}

void CollisionView::copyNote()
{
    if (const auto pair = m_table->current()) {
        QGuiApplication::clipboard()->setText(noteForBoth(m_model, *pair));
    }
}

QString CollisionView::status() const
{
    return m_model.pairs.empty() ? QString()
                                 : tr("%1 of %2 known pairs conflict")
                                       .arg(m_model.colliding().size())
                                       .arg(m_model.pairs.size());
}
}  // namespace rope
