// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_logbook_round.cpp.
#include "desktop/logbook/decision_list.h"

#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/shown_text.h"

#include <QPainter>
#include <QStyledItemDelegate>

#include <algorithm>
#include <functional>

namespace rope {
namespace {
constexpr std::size_t kMostLines = 14;

QString placeOf(const LoggedDecision& decision)
{
    QString place = decision.line > 0 ? DecisionList::tr("line %1").arg(decision.line)
                    : decision.isOdd  ? DecisionList::tr("the file")
                                      : DecisionList::tr("question");
    if (!decision.commit.isEmpty()) {
        place = QStringLiteral("%1 · %2").arg(decision.commit, place);
    }
    return decision.reason.isEmpty() ? place : DecisionList::tr("%1 · with a reason").arg(place);
}
}  // namespace

namespace {
/// What was said about a decision, each with whether it is to be looked at.
std::vector<std::pair<QString, bool>> wordsOf(const LoggedDecision& decision)
{
    std::vector<std::pair<QString, bool>> words;
    if (!decision.otherwise.isEmpty()) {
        words.emplace_back(decision.otherwise, true);
    }
    if (!decision.reason.isEmpty()) {
        words.emplace_back(DecisionList::tr("Why: %1").arg(decision.reason), false);
    }
    return words;
}
}  // namespace

class DecisionList::Model final : public QAbstractListModel
{
public:
    using QAbstractListModel::QAbstractListModel;

    void setRows(std::vector<LoggedDecision> rows)
    {
        beginResetModel();
        m_rows = std::move(rows);
        endResetModel();
    }
    [[nodiscard]] const LoggedDecision& row(int index) const
    {
        return m_rows[static_cast<std::size_t>(index)];
    }
    [[nodiscard]] int rowCount(const QModelIndex& parent) const override
    {
        return parent.isValid() ? 0 : static_cast<int>(m_rows.size());
    }
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override
    {
        const LoggedDecision& decision = row(index.row());
        const QString choice =
            decision.choice.isEmpty() ? DecisionList::tr("open") : decision.choice;
        switch (role) {
        case Qt::DisplayRole:
            return shownPath(decision.path);
        case Qt::AccessibleTextRole: {
            QStringList offered;
            for (const OfferedThen& other : decision.others) {
                offered << other.label;
            }
            QStringList lines(decision.lines.begin(), decision.lines.end());
            QStringList said;
            for (const auto& one : wordsOf(decision)) {
                said << one.first;
            }
            return DecisionList::tr("%1, %2: %3. %4. %5 Also offered: %6")
                .arg(shownPath(decision.path),
                     placeOf(decision),
                     choice,
                     said.join(QLatin1Char(' ')),
                     lines.join(QLatin1Char(' ')),
                     offered.join(QStringLiteral("; ")));
        }
        default:
            return {};
        }
    }
    /// Rows change their height when another one is the current one.
    void tellHeights() { emit layoutChanged(); }

private:
    std::vector<LoggedDecision> m_rows;
};

namespace {
class DecisionDelegate final : public QStyledItemDelegate
{
public:
    using RowOf = std::function<const LoggedDecision&(int)>;
    DecisionDelegate(const QListView& list, RowOf rowOf, QObject* parent)
        : QStyledItemDelegate(parent)
        , m_list(list)
        , m_rowOf(std::move(rowOf))
    {
    }

    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override
    {
        const int line = option.fontMetrics.height();
        int height = headHeight(option) + 10;
        if (isOpen(index)) {
            const LoggedDecision& decision = m_rowOf(index.row());
            const auto lines = static_cast<int>(std::min(decision.lines.size(), kMostLines));
            const int offered = static_cast<int>(decision.others.size());
            const auto words = wordsOf(decision).size();
            height += words > 0 ? static_cast<int>(words) * (line + 2) + 6 : 0;
            height += lines > 0 ? line + lines * codeHeight() + 14 : 0;
            height += offered > 0 ? line + offered * (line + 4) + 8 : 0;
        }
        return {100, height};
    }

    void paint(QPainter* painter,
               const QStyleOptionViewItem& option,
               const QModelIndex& index) const override
    {
        const LoggedDecision& decision = m_rowOf(index.row());
        const QRect rect = option.rect;
        const int line = headHeight(option);
        if (isOpen(index)) {
            painter->fillRect(rect, theme().paper);
            painter->fillRect(QRect(rect.left(), rect.top(), 4, rect.height()), theme().ink);
        }
        painter->setPen(theme().rules);
        painter->drawLine(rect.bottomLeft(), rect.bottomRight());
        const QRect head(rect.left() + 14, rect.top() + 5, rect.width() - 28, line);
        paintKnot(*painter,
                  QRect(head.left(), head.top(), 16, line),
                  decision.choice.isEmpty() || decision.isOdd ? Knot::open
                  : decision.isByHand                         ? Knot::decidedByHand
                                                              : Knot::decided);
        painter->setFont(option.font);
        painter->setPen(theme().ink);
        const QString choice =
            decision.choice.isEmpty() ? DecisionList::tr("open") : decision.choice;
        const int choiceWidth =
            std::min(option.fontMetrics.horizontalAdvance(choice), head.width() / 2);
        painter->setPen(decision.isOdd ? theme().openInk : theme().ink);
        painter->drawText(head,
                          Qt::AlignRight | Qt::AlignVCenter,
                          option.fontMetrics.elidedText(choice, Qt::ElideRight, choiceWidth + 1));
        QRect words = head.adjusted(22, 0, -choiceWidth - 10, 0);
        const QString place = placeOf(decision);
        const QString path =
            QFontMetrics(codeFont())
                .elidedText(shownPath(decision.path),
                            Qt::ElideLeft,
                            words.width() - option.fontMetrics.horizontalAdvance(place) - 8);
        painter->setFont(codeFont());
        painter->setPen(theme().ink);
        painter->drawText(words, Qt::AlignVCenter, path);
        words.setLeft(words.left() + QFontMetrics(codeFont()).horizontalAdvance(path) + 8);
        painter->setFont(option.font);
        painter->setPen(theme().muted);
        painter->drawText(words, Qt::AlignVCenter, place);
        if (isOpen(index)) {
            paintOpen(*painter, option, decision, head.bottom() + 4);
        }
    }

private:
    static int codeHeight() { return QFontMetrics(codeFont()).height() + 1; }
    /// Room for a path too, whose letters may reach further down than those of words.
    static int headHeight(const QStyleOptionViewItem& option)
    {
        return std::max(option.fontMetrics.height(), codeHeight());
    }

    [[nodiscard]] bool isOpen(const QModelIndex& index) const
    {
        return m_list.currentIndex() == index;
    }

    /// The text that was chosen with its rail, then what had been offered besides.
    static void paintOpen(QPainter& painter,
                          const QStyleOptionViewItem& option,
                          const LoggedDecision& decision,
                          int top)
    {
        const int left = option.rect.left() + 36;
        const int right = option.rect.right() - 14;
        const int line = option.fontMetrics.height();
        const auto heading = [&](const QString& text) {
            painter.setFont(option.font);
            painter.setPen(theme().muted);
            painter.drawText(QRect(left, top, right - left, line), Qt::AlignVCenter, text);
            top += line;
        };
        for (const auto& [words, isWarning] : wordsOf(decision)) {
            painter.setFont(option.font);
            painter.setPen(isWarning ? theme().openInk : theme().ink);
            painter.drawText(QRect(left, top, right - left, line + 2),
                             Qt::AlignVCenter,
                             option.fontMetrics.elidedText(words, Qt::ElideRight, right - left));
            top += line + 2;
        }
        top += wordsOf(decision).empty() ? 0 : 6;
        if (!decision.lines.empty()) {
            heading(decision.isOdd ? DecisionList::tr("As it was recorded")
                                   : DecisionList::tr("Text chosen"));
            painter.setFont(codeFont());
            for (std::size_t i = 0; i < std::min(decision.lines.size(), kMostLines); ++i) {
                const QRect row(left, top, right - left, codeHeight());
                if (decision.isOdd && static_cast<int>(i) == decision.oddLine) {
                    painter.fillRect(row, theme().openFill);
                }
                paintStrand(painter,
                            QRect(row.left(), row.top(), 10, row.height()),
                            i < decision.origins.size() ? strandOf(decision.origins[i])
                                                        : Strand::hand);
                painter.setPen(theme().ink);
                painter.drawText(
                    row.adjusted(18, 0, 0, 0),
                    Qt::AlignVCenter | Qt::TextExpandTabs,
                    QFontMetrics(codeFont())
                        .elidedText(decision.lines[i], Qt::ElideRight, row.width() - 18));
                top += codeHeight();
            }
            top += 8;
        }
        if (!decision.others.empty()) {
            heading(DecisionList::tr("Also offered"));
            for (const OfferedThen& other : decision.others) {
                const QRect row(left, top, right - left, line + 4);
                const int labelWidth = option.fontMetrics.horizontalAdvance(other.label);
                painter.setPen(theme().ink);
                painter.drawText(row, Qt::AlignVCenter, other.label);
                painter.setPen(theme().muted);
                painter.drawText(row,
                                 Qt::AlignRight | Qt::AlignVCenter,
                                 option.fontMetrics.elidedText(other.consequences,
                                                               Qt::ElideRight,
                                                               row.width() - labelWidth - 16));
                top += line + 4;
            }
        }
    }

    const QListView& m_list;
    RowOf m_rowOf;
};
}  // namespace

DecisionList::DecisionList(QWidget* parent)
    : QListView(parent)
    , m_model(new Model(this))
{
    setObjectName(QStringLiteral("loggedDecisions"));
    setAccessibleName(tr("Decisions"));
    setModel(m_model);
    setItemDelegate(new DecisionDelegate(
        *this, [this](int row) -> const LoggedDecision& { return m_model->row(row); }, this));
    layOnPanel(*this);
    setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    connect(selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this] {
        m_model->tellHeights();
        scrollTo(currentIndex());
    });
}

void DecisionList::show(std::vector<LoggedDecision> decisions)
{
    m_model->setRows(std::move(decisions));
    if (m_model->rowCount({}) > 0) {
        setCurrentIndex(m_model->index(0, 0));
    }
}

void DecisionList::go(int direction)
{
    const int count = m_model->rowCount({});
    if (count > 0) {
        const int next = (currentIndex().row() + direction + count) % count;
        setCurrentIndex(m_model->index(next, 0));
    }
}
}  // namespace rope
