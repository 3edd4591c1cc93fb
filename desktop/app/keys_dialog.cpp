// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/app/keys_dialog.h"

#include "desktop/app/marks_legend.h"
#include "desktop/widgets/plain_widgets.h"

#include <QAction>
#include <QDialog>
#include <QGridLayout>
#include <QScrollArea>
#include <QTabWidget>
#include <QVBoxLayout>

#include <utility>

namespace rope {
namespace {
/// Two columns, each read from top to bottom.
QGridLayout* layKeys(const KeySection& section, QWidget* parent)
{
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(16);
    grid->setVerticalSpacing(4);
    const int perColumn = (static_cast<int>(section.keys.size()) + 1) / 2;
    for (int i = 0; i < static_cast<int>(section.keys.size()); ++i) {
        const auto& [key, meaning] = section.keys[static_cast<std::size_t>(i)];
        auto* keyLabel = makeLabel(key, TextRole::code, parent);
        auto* meaningLabel = makeLabel(meaning, TextRole::normal, parent);
        keyLabel->setWordWrap(false);
        meaningLabel->setWordWrap(false);
        const int column = i < perColumn ? 0 : 3;
        grid->addWidget(keyLabel, i % perColumn, column);
        grid->addWidget(meaningLabel, i % perColumn, column + 1);
    }
    grid->setColumnMinimumWidth(2, 16);
    grid->setColumnStretch(4, 1);
    return grid;
}
}  // namespace

void KeySection::add(const QList<QAction*>& actions)
{
    for (const QAction* action : actions) {
        if (!action->shortcut().isEmpty() && !action->text().isEmpty()) {
            QString words = action->text();
            words.remove(QLatin1Char('&'));
            keys.push_back({action->shortcut().toString(QKeySequence::NativeText), words});
        }
    }
}

void showKeys(const std::vector<KeySection>& sections, QWidget* parent)
{
    auto* dialog = new QDialog(parent);
    dialog->setObjectName(QStringLiteral("keysDialog"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(QObject::tr("Keys and marks"));
    auto* page = new QWidget(dialog);
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(20, 16, 20, 16);
    column->setSpacing(6);
    for (const KeySection& section : sections) {
        if (!section.keys.empty()) {
            column->addWidget(makeLabel(section.title, TextRole::heading, page));
            column->addLayout(layKeys(section, page));
            column->addSpacing(8);
        }
    }
    column->addStretch();
    auto* pages = new QTabWidget(dialog);
    pages->setObjectName(QStringLiteral("keysPages"));
    pages->setDocumentMode(true);
    QWidget* marks = makeMarksLegend(dialog);
    for (const auto& [content, title] : {std::pair(page, QObject::tr("Keys")),
                                         std::pair(marks, QObject::tr("What the marks mean"))}) {
        auto* scroll = new QScrollArea(pages);
        scroll->setWidget(content);
        scroll->setWidgetResizable(true);
        scroll->setFrameShape(QFrame::NoFrame);
        pages->addTab(scroll, title);
    }
    auto* layout = new QVBoxLayout(dialog);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(pages);
    const QSize wanted = page->sizeHint().expandedTo(marks->sizeHint()) + QSize(24, 44);
    dialog->resize(wanted.boundedTo(parent->size() - QSize(40, 40)));
    dialog->open();
}
}  // namespace rope
