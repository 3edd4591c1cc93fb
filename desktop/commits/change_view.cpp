// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_commit_reader.cpp.
#include "desktop/commits/change_view.h"

#include "core/merge/region_reading.h"
#include "desktop/commits/change_words.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/side_text.h"
#include "desktop/wording/shown_text.h"

#include <QVBoxLayout>

#include <algorithm>

namespace rope {
namespace {
constexpr std::size_t kMostExcerpts = 60;  // each is a text of its own
constexpr std::size_t kMostExcerptBytes = 60'000;
}  // namespace

ChangeView::ChangeView(Strand strand, const char* objectName, QWidget* parent)
    : QScrollArea(parent)
    , m_strand(strand)
{
    setObjectName(QLatin1String(objectName));
    setFrameShape(QFrame::NoFrame);
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    viewport()->setAutoFillBackground(true);
    viewport()->setBackgroundRole(QPalette::Base);
    clear();
}

void ChangeView::clear()
{
    m_page = new QWidget(this);
    m_page->setAutoFillBackground(true);
    m_page->setBackgroundRole(QPalette::Base);
    auto* column = new QVBoxLayout(m_page);
    column->setContentsMargins(10, 6, 10, 10);
    column->setSpacing(6);
    setWidget(m_page);
}

void ChangeView::showFile(const FileReading& file)
{
    clear();
    setAccessibleName(tr("What changed in %1").arg(shownPath(file.change.path)));
    auto* column = qobject_cast<QVBoxLayout*>(m_page->layout());
    const QString remark = changeRemark(file);
    if (!remark.isEmpty()) {
        column->addWidget(makeLabel(remark, TextRole::muted, m_page));
    }
    std::size_t shownCount = 0;
    for (const Excerpt& excerpt : file.text.excerpts) {
        if (shownCount == kMostExcerpts || excerpt.afterText.size() > kMostExcerptBytes
            || excerpt.beforeText.size() > kMostExcerptBytes) {
            break;
        }
        ++shownCount;
        column->addWidget(
            makeLabel(tr("line %1").arg(excerpt.after.begin + 1), TextRole::muted, m_page));
        auto* text = new SideText(m_strand, m_page);
        text->setAccessibleName(tr("From line %1").arg(excerpt.after.begin + 1));
        const RegionTexts texts{excerpt.beforeText, excerpt.beforeText, excerpt.afterText};
        text->showSide(excerpt.afterText, readAgainstBase(texts).theirs, Strand::base);
        column->addWidget(text);
    }
    if (shownCount < file.text.excerpts.size()) {
        column->addWidget(makeLabel(
            tr("%1 more stretches are not shown.").arg(file.text.excerpts.size() - shownCount),
            TextRole::muted,
            m_page));
    }
    if (file.text.excerpts.empty() && remark.isEmpty()) {
        column->addWidget(makeLabel(tr("Its text did not change."), TextRole::muted, m_page));
    }
    column->addStretch();
}
}  // namespace rope
