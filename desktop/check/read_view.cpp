// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_check_round.cpp.
#include "desktop/check/read_view.h"

#include "desktop/widgets/page_stack.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/wording/finding_words.h"
#include "desktop/wording/shown_text.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>

#include <algorithm>

namespace rope {
namespace {
constexpr int kRestMs = 1000;  // at a glance nothing is read
constexpr std::size_t kMostComparedBytes = 4'000'000;

/// Lines of the text that are no longer, or not yet, as in the other, and the first of each stretch.
struct Differing
{
    std::vector<int> lines;
    std::vector<int> stretches;
};

Differing differingLines(const Reading& reading)
{
    Differing differing;
    int next = 0;
    bool isInStretch = false;
    for (const MarkedLine& mark : reading.marks) {
        const bool isKept = mark.kind == MarkedLine::Kind::kept;
        const int line =
            mark.kind == MarkedLine::Kind::removed ? next : static_cast<int>(mark.line);
        if (!isKept) {
            differing.lines.push_back(line);
            if (!isInStretch) {
                differing.stretches.push_back(line);
            }
        }
        isInStretch = !isKept;
        next = mark.kind == MarkedLine::Kind::removed ? next : line + 1;
    }
    return differing;
}
}  // namespace

ReadView::ReadView(QWidget* parent)
    : QWidget(parent)
    , m_pages(new PageStack(this))
    , m_result(new ResultView(m_pages))
    , m_note(makeLabel({}, TextRole::muted, m_pages))
    , m_reader(1, this)
{
    m_result->setForReading();
    m_result->setTitleVisible(false);
    // Resolve has a result of its own: each part is to be found by a name of its own.
    for (QObject* part : m_result->findChildren<QObject*>()) {
        if (!part->objectName().isEmpty()) {
            part->setObjectName(QStringLiteral("read:") + part->objectName());
        }
    }
    m_note->setObjectName(QStringLiteral("readNote"));
    m_note->setAlignment(Qt::AlignCenter);
    m_note->setMargin(48);
    m_pages->addWidget(m_result);
    m_pages->addWidget(m_note);
    m_pages->setCurrentIndex(1);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(makeHead());
    column->addWidget(makeRule(Qt::Horizontal, this));
    column->addWidget(makeFindingBar());
    column->addWidget(m_pages, 1);
    setFocusProxy(m_result);
    setAutoFillBackground(true);
    setBackgroundRole(QPalette::Base);
    m_lookTimer.setSingleShot(true);
    m_lookTimer.setInterval(kRestMs);
    connect(&m_lookTimer, &QTimer::timeout, this, &ReadView::look);
    connect(&m_result->code(), &CodeView::scrolled, this, [this] { m_lookTimer.start(); });
    connect(m_result, &ResultView::settled, this, &ReadView::compare);
    connect(m_result, &ResultView::typed, this, &ReadView::typed);
    connect(m_result, &ResultView::leaveRequested, this, &ReadView::leaveRequested);
}

QWidget* ReadView::makeHead()
{
    auto* head = new QWidget(this);
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(12, 4, 12, 4);
    row->setSpacing(4);
    m_path = new ElidedLabel(TextRole::strong, head);
    m_path->setObjectName(QStringLiteral("readPath"));
    row->addWidget(m_path, 1);
    m_tabs = new QButtonGroup(this);
    const std::pair<QString, const char*> tabs[] = {{tr("What I receive"), "receiveTab"},
                                                    {tr("What the team receives"), "teamTab"},
                                                    {tr("Whole result"), "wholeTab"}};
    for (const auto& [text, name] : tabs) {
        QPushButton* tab = makeButton(text, name, ButtonRole::tab, head);
        tab->setCheckable(true);
        m_tabs->addButton(tab, static_cast<int>(m_tabs->buttons().size()));
        row->addWidget(tab);
    }
    m_tabs->button(static_cast<int>(m_compared))->setChecked(true);
    connect(m_tabs, &QButtonGroup::idClicked, this, [this](int id) {
        setCompared(static_cast<Compared>(id));
    });
    m_against = new ElidedLabel(TextRole::muted, head);
    m_against->setObjectName(QStringLiteral("readAgainst"));
    row->addSpacing(12);
    row->addWidget(m_against);
    return head;
}

QWidget* ReadView::makeFindingBar()
{
    m_bar = new QWidget(this);
    m_bar->setObjectName(QStringLiteral("findingBar"));
    m_bar->setAutoFillBackground(true);
    m_bar->setBackgroundRole(QPalette::Window);
    m_barTitle = makeLabel({}, TextRole::open, m_bar);
    m_barTitle->setObjectName(QStringLiteral("findingTitle"));
    m_barWords = makeLabel({}, TextRole::normal, m_bar);
    m_barWords->setObjectName(QStringLiteral("findingWords"));
    m_mend = makeButton({}, "mendButton", ButtonRole::plain, m_bar);
    m_mend->setToolTip(tr("Alt+1"));
    m_fine = makeButton({}, "fineButton", ButtonRole::plain, m_bar);
    m_fine->setToolTip(tr("Alt+2"));
    auto* column = new QVBoxLayout(m_bar);
    column->setContentsMargins(12, 6, 12, 8);
    column->setSpacing(4);
    column->addWidget(m_barTitle);
    column->addWidget(m_barWords);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    row->addWidget(m_mend);
    row->addWidget(m_fine);
    row->addStretch();
    column->addLayout(row);
    connect(m_mend, &QPushButton::clicked, this, &ReadView::mendRequested);
    connect(m_fine, &QPushButton::clicked, this, &ReadView::fineRequested);
    m_bar->hide();
    return m_bar;
}

void ReadView::setNames(const SideNames& names)
{
    m_names = names;
}

void ReadView::showFile(Splice& splice, std::size_t file)
{
    const bool isSame =
        m_splice == &splice && m_result->shows(file) && m_pages->currentIndex() == 0;
    m_splice = &splice;
    m_file = file;
    static_cast<ElidedLabel*>(m_path)->setFullText(shownPath(splice.files()[file].outcome->path));
    if (isSame) {
        return;
    }
    m_found.clear();
    m_current.clear();
    m_pages->setCurrentIndex(0);
    m_result->showFile(splice, file);
    showBar();
}

void ReadView::showNote(const QString& heading, const QString& words)
{
    clear();
    static_cast<ElidedLabel*>(m_path)->setFullText(heading);
    m_note->setText(words);
}

void ReadView::clear()
{
    m_result->flushTyping();
    m_reader.supersede();
    m_lookTimer.stop();
    m_result->clear();
    m_splice = nullptr;
    m_found.clear();
    m_current.clear();
    m_isCompared = false;
    static_cast<ElidedLabel*>(m_path)->setFullText({});
    m_against->clear();
    m_note->clear();
    m_pages->setCurrentIndex(1);
    showBar();
}

void ReadView::setEditable(bool isEditable)
{
    m_isEditable = isEditable;
    m_result->setReadOnly(!isEditable || m_areTextsReadOnly);
    m_mend->setEnabled(isEditable && !m_areTextsReadOnly);
    m_fine->setEnabled(isEditable);
}

void ReadView::setTextsReadOnly(bool isReadOnly)
{
    m_areTextsReadOnly = isReadOnly;
    m_mend->setToolTip(
        isReadOnly ? tr("A rebase is changed commit by commit: Alt+Left leads there.") : QString());
    setEditable(m_isEditable);
}

void ReadView::setCompared(Compared compared)
{
    m_compared = compared;
    m_tabs->button(static_cast<int>(compared))->setChecked(true);
    compare();
}

std::string ReadView::otherBytes() const
{
    const TextJoin& join = m_splice->files()[m_file].text->join();
    return m_compared == Compared::ours ? join.ours().bytes() : join.theirs().bytes();
}

/// Reads the text against the side, beside the interface.
void ReadView::compare()
{
    m_reader.supersede();
    m_isCompared = false;
    m_isReadTold = false;
    if (m_splice == nullptr) {
        return;
    }
    const std::string text = m_result->shownBytes();
    showRemarks();
    if (m_compared == Compared::none || text.size() > kMostComparedBytes) {
        m_against->setFullText(m_compared == Compared::none ? tr("as it will be recorded")
                                                        : tr("too large to be compared here"));
        m_result->setReading(nullptr);
        m_stretches.clear();
        m_unseen = {std::max(m_result->code().lineCount() - 1, 0)};
        m_isCompared = true;
        m_lookTimer.start();
        return;
    }
    m_against->setFullText(m_compared == Compared::ours ? tr("result against %1").arg(m_names.ours)
                                                    : tr("result against %1").arg(m_names.theirs));
    // What I receive is theirs' work, what the team receives mine.
    const Strand strand = m_compared == Compared::ours ? Strand::theirs : Strand::ours;
    m_reader.run(
        [text, other = otherBytes(), strand](const std::stop_token&) {
            auto reading = std::make_shared<Reading>();
            reading->marks = markLines(other, text);
            reading->other = other;
            reading->strand = strand;
            return std::shared_ptr<const Reading>(std::move(reading));
        },
        [this, text](const std::shared_ptr<const Reading>& reading) {
            takeReading(text, reading);
        });
}

void ReadView::takeReading(const std::string& text, std::shared_ptr<const Reading> reading)
{
    if (m_splice == nullptr || m_result->shownBytes() != text) {
        return;  // somebody types: it is compared again when they pause
    }
    const Differing differing = differingLines(*reading);
    m_stretches = differing.stretches;
    m_unseen = differing.lines;
    m_isCompared = true;
    m_result->setReading(std::move(reading));
    m_lookTimer.start();
}

/// What rests in view has been read.
void ReadView::look()
{
    if (m_splice == nullptr || !m_isCompared || !isVisible()) {
        return;
    }
    const int first = m_result->code().firstVisibleLine();
    const int last = m_result->code().lastVisibleLine();
    std::erase_if(m_unseen, [&](int line) {
        return line >= first && (line <= last || last >= m_result->code().lineCount() - 1);
    });
    if (m_unseen.empty() && !m_isReadTold) {
        m_isReadTold = true;
        emit readToEnd();
    }
}

void ReadView::setFindings(const std::vector<FoundItem>& found, const std::string& current)
{
    const bool isOther = current != m_current;
    m_found = found;
    m_current = current;
    showRemarks();
    showBar();
    for (const FoundItem& item : m_found) {
        if (item.finding.key == current && isOther) {
            m_result->goToLine(item.finding.lines.begin);
        }
    }
    m_lookTimer.start();
}

void ReadView::showRemarks()
{
    const std::string text = m_splice == nullptr ? std::string() : m_result->shownBytes();
    const auto lines = splitLines(text);
    std::vector<LineRemark> remarks;
    for (const FoundItem& item : m_found) {
        const LineNumber line = item.finding.lines.begin;
        if (item.isFine || line >= lines.size()) {
            continue;
        }
        std::size_t at = lines[line].find(item.finding.name);
        std::size_t length = item.finding.name.size();
        if (at == std::string_view::npos || length == 0) {
            at = std::min(lines[line].find_first_not_of(" \t"), lines[line].size());
            length = lines[line].find_last_not_of(" \t\r\n") + 1 - at;
        }
        remarks.push_back(
            {static_cast<std::size_t>(lines[line].data() - text.data()) + at,
             length,
             (isRemark(item.finding.kind) ? QStringLiteral("◦ ") : QStringLiteral("◇ "))
                 + findingTitle(item.finding),
             !isRemark(item.finding.kind)});
    }
    m_result->setRemarks(std::move(remarks));
}

void ReadView::showBar()
{
    const auto found = std::find_if(m_found.begin(), m_found.end(), [this](const auto& item) {
        return item.finding.key == m_current;
    });
    m_bar->setVisible(found != m_found.end());
    if (found == m_found.end()) {
        return;
    }
    const Finding& finding = found->finding;
    setTextRole(m_barTitle,
                found->isFine || isRemark(finding.kind) ? TextRole::strong : TextRole::open);
    m_barTitle->setText(findingTitle(finding));
    m_barWords->setText(findingInWords(finding, found->authors));
    const QString mend = mendInWords(finding);
    m_mend->setText(mend);
    m_mend->setVisible(!mend.isEmpty() && !found->isFine);
    m_fine->setText(found->isFine ? tr("Stop ignoring it") : tr("Ignore"));
}

void ReadView::goToChange(int direction)
{
    if (m_stretches.empty()) {
        return;
    }
    const int here = m_result->code().lineAt(m_result->code().caret());
    auto next = direction > 0 ? std::upper_bound(m_stretches.begin(), m_stretches.end(), here)
                              : std::lower_bound(m_stretches.begin(), m_stretches.end(), here);
    if (direction < 0) {
        next = next == m_stretches.begin() ? m_stretches.end() : next;
        --next;
    } else if (next == m_stretches.end()) {
        next = m_stretches.begin();
    }
    m_result->goToLine(static_cast<LineNumber>(*next));
}
}  // namespace rope
