// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_commit_reader.cpp.
#include "desktop/commits/commit_reader.h"

#include "desktop/commits/change_words.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"

#include <QHBoxLayout>
#include <QListWidget>
#include <QVBoxLayout>

namespace rope {
namespace {
constexpr std::size_t kMostMessageBytes = 20'000;
constexpr int kFilesWidth = 230;
}  // namespace

CommitReader::CommitReader(Strand strand, const char* objectName, QWidget* parent)
    : QWidget(parent)
    , m_message(makeLabel({}, TextRole::normal, this))
    , m_who(makeLabel({}, TextRole::muted, this))
    , m_files(new QListWidget(this))
    , m_change(new ChangeView(strand, "commitChange", this))
{
    setObjectName(QLatin1String(objectName));
    m_message->setObjectName(QStringLiteral("commitMessage"));
    m_files->setObjectName(QLatin1String(objectName) + QStringLiteral("Files"));
    m_files->setAccessibleName(tr("Files that the commit changed"));
    m_files->setFrameShape(QFrame::NoFrame);
    useCodeFont(m_files);
    m_files->setSpacing(2);
    m_files->setTextElideMode(Qt::ElideMiddle);
    m_files->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_files->setFixedWidth(kFilesWidth);
    auto* head = new QVBoxLayout;
    head->setContentsMargins(12, 8, 12, 6);
    head->setSpacing(2);
    head->addWidget(m_message);
    head->addWidget(m_who);
    auto* row = new QHBoxLayout;
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    row->addWidget(m_files);
    row->addWidget(makeRule(Qt::Vertical, this));
    row->addWidget(m_change, 1);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addLayout(head);
    column->addWidget(makeRule(Qt::Horizontal, this));
    column->addLayout(row, 1);
    connect(m_files, &QListWidget::currentRowChanged, this, &CommitReader::showFile);
}

void CommitReader::showWaiting(const ObjectId& commit)
{
    m_commit = commit;
    m_readings.clear();
    m_files->clear();
    m_change->clear();
    m_message->setText(tr("Reading %1…").arg(shown(commit.brief())));
    m_who->clear();
}

void CommitReader::showCommit(const CommitReading& reading, std::int64_t now)
{
    m_commit = reading.commit.id;
    m_readings = reading.files;
    m_message->setText(shownBeginning(reading.commit.message, kMostMessageBytes).trimmed());
    const Signature& author = reading.commit.author;
    m_who->setText(tr("%1 · %2 <%3> · %4")
                       .arg(shown(reading.commit.id.brief()),
                            shown(author.name),
                            shown(author.email),
                            relativeTime(author.time, now)));
    setPlainToolTip(*m_who, exactTime(author.time));
    m_files->clear();
    for (const FileReading& file : m_readings) {
        auto* item = new QListWidgetItem(
            QStringLiteral("%1  %2").arg(shownPath(file.change.path), changeInShort(file)),
            m_files);
        item->setToolTip(plainToolTip(shownPath(file.change.path)));
    }
    if (reading.fileCount > m_readings.size()) {
        m_files->addItem(tr("and %1 more").arg(reading.fileCount - m_readings.size()));
    }
    m_change->clear();
    m_files->setCurrentRow(0);
}

void CommitReader::showFile(int row)
{
    if (row >= 0 && static_cast<std::size_t>(row) < m_readings.size()) {
        m_change->showFile(m_readings[static_cast<std::size_t>(row)]);
    } else {
        m_change->clear();
    }
}
}  // namespace rope
