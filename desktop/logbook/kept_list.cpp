// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_logbook_round.cpp.
#include "desktop/logbook/kept_list.h"

#include "desktop/widgets/plain_widgets.h"
#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace rope {
namespace {
constexpr std::size_t kMostShown = 6;  // the newest

QString inWords(const KeptWork& kept, std::int64_t now)
{
    const QString when = relativeTime(kept.at, now);
    return kept.isWork ? KeptList::tr("Uncommitted work in %1, saved %2")
                             .arg(countOf(kept.files, "file", "files"), when)
                       : KeptList::tr("%1 “%2”, from %3, kept for an earlier splice")
                             .arg(shown(kept.id.brief()), shownPath(kept.subject), when);
}
}  // namespace

KeptList::KeptList(QWidget* parent)
    : QWidget(parent)
    , m_rows(new QWidget(this))
    , m_column(new QVBoxLayout(m_rows))
{
    setObjectName(QStringLiteral("keptList"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 8, 12, 8);
    column->setSpacing(4);
    column->addWidget(makeLabel(tr("Kept here, but not in this logbook"), TextRole::heading, this));
    QLabel* whence =
        makeLabel(tr("By another working tree, an earlier version, or a journal that is "
                     "gone. It stays until you say otherwise."),
                  TextRole::muted,
                  this);
    whence->setWordWrap(true);
    column->addWidget(whence);
    column->addWidget(m_rows);
    m_column->setContentsMargins(0, 0, 0, 0);
    m_column->setSpacing(4);
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    hide();
}

void KeptList::show(const std::vector<KeptWork>& kept, std::int64_t now)
{
    for (QWidget* row : m_rows->findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly)) {
        row->hide();
        row->deleteLater();  // it may be the one whose button is telling of a click
    }
    for (std::size_t i = 0; i < std::min(kept.size(), kMostShown); ++i) {
        addRow(kept[i], now);
    }
    if (kept.size() > kMostShown) {
        m_column->addWidget(
            makeLabel(tr("and %1 older").arg(kept.size() - kMostShown), TextRole::muted, m_rows));
    }
    setVisible(!kept.empty());
}

void KeptList::addRow(const KeptWork& kept, std::int64_t now)
{
    auto* row = new QWidget(m_rows);
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(makeLabel(inWords(kept, now), TextRole::normal, row), 1);
    const auto add = [&](const QString& text, const char* name, auto act) {
        QPushButton* button = makeButton(text, name, ButtonRole::plain, row);
        button->setAccessibleDescription(inWords(kept, now));
        layout->addWidget(button);
        connect(button, &QPushButton::clicked, this, act);
    };
    if (kept.isWork) {
        add(tr("Bring back"), "bringKeptBack", [this, kept] { emit bringBackRequested(kept); });
    }
    add(tr("Delete"), "deleteKept", [this, kept] { emit deleteRequested(kept); });
    m_column->addWidget(row);
}
}  // namespace rope
