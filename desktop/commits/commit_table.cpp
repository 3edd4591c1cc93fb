// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/commits/commit_table.h"

#include "desktop/widgets/measures.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/ruled_table.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"

#include <QAbstractTableModel>
#include <QHeaderView>

#include <algorithm>
#include <array>

namespace rope {
namespace {
constexpr std::size_t kMostToolTipBytes = 3'000;  // of a commit's message
}

class CommitTable::Model final : public QAbstractTableModel
{
public:
    using QAbstractTableModel::QAbstractTableModel;
    void setCommits(const std::vector<Commit>& commits,
                    std::int64_t now,
                    const std::map<ObjectId, QString>& remarks)
    {
        beginResetModel();
        m_commits = commits;
        m_remarks = remarks;
        m_now = now;
        endResetModel();
    }
    void setRemarks(const std::map<ObjectId, QString>& remarks)
    {
        m_remarks = remarks;
        if (!m_commits.empty()) {
            emit dataChanged(index(0, 1), index(static_cast<int>(m_commits.size()) - 1, 1));
        }
    }
    [[nodiscard]] ObjectId commitAt(int row) const
    {
        return row >= 0 && static_cast<std::size_t>(row) < m_commits.size()
                   ? m_commits[static_cast<std::size_t>(row)].id
                   : ObjectId{};
    }
    [[nodiscard]] int rowCount(const QModelIndex& parent) const override
    {
        return parent.isValid() ? 0 : static_cast<int>(m_commits.size());
    }
    [[nodiscard]] int columnCount(const QModelIndex&) const override { return 4; }
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override
    {
        const Commit& commit = m_commits[static_cast<std::size_t>(index.row())];
        if (role == Qt::FontRole && index.column() == 0) {
            return codeFont();
        }
        if (role == Qt::ToolTipRole) {
            return index.column() == 3
                       ? exactTime(commit.author.time)
                       : plainToolTip(shownBeginning(commit.message, kMostToolTipBytes));
        }
        if (role != Qt::DisplayRole) {
            return {};
        }
        switch (index.column()) {
        case 0:
            return shown(commit.id.brief());
        case 1:
            return subjectOf(commit);
        case 2:
            return shown(commit.author.name);
        default:
            return relativeTime(commit.author.time, m_now);
        }
    }
    [[nodiscard]] QVariant
    headerData(int section, Qt::Orientation orientation, int role) const override
    {
        if (role != Qt::DisplayRole || orientation != Qt::Horizontal) {
            return {};
        }
        const std::array names{CommitTable::tr("Commit"),
                               CommitTable::tr("Subject"),
                               CommitTable::tr("Author"),
                               CommitTable::tr("When")};
        return names[static_cast<std::size_t>(section)];
    }

private:
    [[nodiscard]] QString subjectOf(const Commit& commit) const
    {
        const auto remark = m_remarks.find(commit.id);
        return remark == m_remarks.end()
                   ? shownSubject(commit)
                   : QStringLiteral("%1 · %2").arg(shownSubject(commit), remark->second);
    }

    std::vector<Commit> m_commits;
    std::map<ObjectId, QString> m_remarks;
    std::int64_t m_now = 0;
};

CommitTable::CommitTable(const char* objectName, QWidget* parent)
    : QTableView(parent)
    , m_model(new Model(this))
{
    setObjectName(QLatin1String(objectName));
    setModel(m_model);
    setItemDelegate(new RuledDelegate(this));
    dressTable(*this);
    // The subject gets what room there is; the others always stand.
    horizontalHeader()->setStretchLastSection(false);
    horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    whenLookChanges(this, [this] {
        const int id = QFontMetrics(codeFont()).horizontalAdvance(QStringLiteral("0000000"));
        const int title = fontMetrics().horizontalAdvance(tr("Commit"));
        setColumnWidth(0, std::max(id, title) + atFont(*this, 34));
    });
    setColumnWidth(2, atFont(*this, 130));
    setColumnWidth(3, atFont(*this, 96));
    connect(selectionModel(),
            &QItemSelectionModel::currentRowChanged,
            this,
            [this](const QModelIndex& row) {
                if (row.isValid()) {
                    m_lastPicked = m_model->commitAt(row.row());
                    emit commitPicked(m_lastPicked);
                }
            });
}

ObjectId CommitTable::picked() const
{
    return m_model->commitAt(currentIndex().row());
}

void CommitTable::showCommits(const std::vector<Commit>& commits,
                              std::int64_t now,
                              const std::map<ObjectId, QString>& remarks)
{
    m_model->setCommits(commits, now, remarks);
    const auto same = std::find_if(commits.begin(), commits.end(), [&](const Commit& commit) {
        return commit.id == m_lastPicked;
    });
    if (same != commits.end()) {
        selectRow(static_cast<int>(same - commits.begin()));
    }
}

void CommitTable::setRemarks(const std::map<ObjectId, QString>& remarks)
{
    m_model->setRemarks(remarks);
}
}  // namespace rope
