// SPDX-License-Identifier: GPL-3.0-or-later
// RecordStation: how its page is laid out.
// Tested by tst_window.cpp.
#include "core/base/assert.h"
#include "core/text/tidied_message.h"
#include "desktop/commits/change_view.h"
#include "desktop/commits/change_words.h"
#include "desktop/record/record_station.h"
#include "desktop/record/recorded_page.h"
#include "desktop/widgets/page_stack.h"
#include "desktop/widgets/pane_splitter.h"
#include "desktop/widgets/measures.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/obstacles.h"
#include "desktop/wording/record_words.h"
#include "desktop/wording/shown_text.h"

#include <QCheckBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QVBoxLayout>

#include <algorithm>
#include <utility>

namespace rope {
QWidget* RecordStation::makeWritingPage()
{
    auto* page = new QWidget(this);
    auto* row = new QHBoxLayout(page);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    row->addWidget(makeMessageSide(), 1);
    row->addWidget(makeRule(Qt::Vertical, this));
    row->addWidget(makeContentsSide());
    return page;
}

/// The message and who it is by, with what stands in the way and the button.
QWidget* RecordStation::makeMessageSide()
{
    m_message->setObjectName(QStringLiteral("messageEdit"));
    m_message->setAccessibleName(tr("Commit message"));
    m_message->setProperty("role", QStringLiteral("field"));
    useCodeFont(m_message);
    m_message->setTabChangesFocus(true);
    m_obstacle->setObjectName(QStringLiteral("recordObstacle"));
    m_name->setObjectName(QStringLiteral("identityName"));
    m_email->setObjectName(QStringLiteral("identityEmail"));

    auto* form = new QFormLayout(m_identityForm);
    form->setContentsMargins(0, 0, 0, 0);
    form->addRow(makeLabel(tr("git does not know who you are. Enter your name and address; they go "
                              "into the commit and are kept for this repository."),
                           TextRole::normal,
                           m_identityForm));
    form->addRow(tr("Name"), m_name);
    form->addRow(tr("E-mail"), m_email);

    auto* side = new QWidget(this);
    side->setAutoFillBackground(true);
    side->setBackgroundRole(QPalette::Base);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(18, 14, 18, 14);
    column->setSpacing(8);
    m_messageTitle = makeLabel(tr("Commit message"), TextRole::heading, side);
    column->addWidget(m_messageTitle);
    m_change = new ChangeView(Strand::theirs, "recordedChange", this);
    m_change->hide();
    auto* panes =
        new PaneSplitter(Qt::Vertical, {40, 60}, tr("Line between message and changes"), side);
    panes->addWidget(m_message);
    panes->addWidget(m_change);
    column->addWidget(panes, 1);
    m_comments->setObjectName(QStringLiteral("recordComments"));
    column->addWidget(m_comments);
    m_notes = new QCheckBox(tr("Save decisions and reasons as a git note on the commit"), side);
    m_notes->setObjectName(QStringLiteral("leaveNotesBox"));
    m_notes->setToolTip(tr("The commit itself stays the same. The note is pushed with it, and "
                           "whoever reads the merge sees it."));
    connect(m_notes, &QCheckBox::clicked, this, [this](bool leaves) { m_noteWish = leaves; });
    column->addWidget(m_notes);
    column->addWidget(m_identity);
    column->addWidget(m_identityForm);
    m_work->setObjectName(QStringLiteral("recordWork"));
    m_what->setObjectName(QStringLiteral("recordWhat"));
    column->addWidget(m_work);
    column->addWidget(makeFindings(side));
    column->addWidget(m_obstacle);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(m_record);
    buttons->addWidget(m_stop);
    buttons->addStretch();
    m_stop->hide();
    column->addLayout(buttons);
    return side;
}

QWidget* RecordStation::makeFindings(QWidget* parent)
{
    m_findings = new QWidget(parent);
    auto* row = new QHBoxLayout(m_findings);
    row->setContentsMargins(0, 0, 0, 0);
    m_findingsWords = makeLabel({}, TextRole::open, m_findings);
    m_findingsWords->setObjectName(QStringLiteral("recordFindings"));
    auto* look =
        makeButton(tr("Look at it"), "lookAtFindingsButton", ButtonRole::plain, m_findings);
    look->setToolTip(tr("Ctrl+3"));
    row->addWidget(m_findingsWords, 1);
    row->addWidget(look);
    connect(look, &QPushButton::clicked, this, &RecordStation::findingsRequested);
    m_findings->hide();
    return m_findings;
}

/// What the commit will hold, and every decision in it.
QWidget* RecordStation::makeContentsSide()
{
    m_decisions->setObjectName(QStringLiteral("decisionList"));
    m_decisions->setAccessibleName(tr("What was decided"));
    layOnPanel(*m_decisions);
    keepInks(*m_decisions);
    m_decisions->setWordWrap(true);
    m_decisions->setSpacing(1);
    m_decisions->setSelectionMode(QAbstractItemView::NoSelection);
    m_decisions->setFocusPolicy(Qt::TabFocus);

    m_files->setObjectName(QStringLiteral("recordedFiles"));
    m_files->setAccessibleName(tr("Files that the commit changes on your branch"));
    layOnPanel(*m_files);
    useCodeFont(m_files);
    m_files->setTextElideMode(Qt::ElideMiddle);
    m_files->setSpacing(1);
    connect(m_files, &QListWidget::currentRowChanged, this, &RecordStation::showFile);

    auto* side = new QWidget(this);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(18, 14, 18, 14);
    column->setSpacing(8);
    column->addWidget(makeLabel(tr("What will be recorded"), TextRole::heading, side));
    column->addWidget(m_what);
    column->addSpacing(8);
    m_filesTitle = makeLabel(tr("Files"), TextRole::heading, side);
    column->addWidget(m_filesTitle);
    column->addWidget(m_files, 3);
    column->addSpacing(4);
    m_decisionsTitle = makeLabel(tr("Decided"), TextRole::heading, side);
    column->addWidget(m_decisionsTitle);
    column->addWidget(m_decisions, 2);
    m_side = side;
    return side;
}

void RecordStation::resizeEvent(QResizeEvent* event)
{
    StationPage::resizeEvent(event);
    m_side->setFixedWidth(widthOfPane(*this, 430, 42));
}
}  // namespace rope
