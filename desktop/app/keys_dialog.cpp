// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/app/keys_dialog.h"

#include "desktop/widgets/plain_widgets.h"

#include <QAction>
#include <QDialog>
#include <QGridLayout>

namespace rope {
void showKeys(const QList<QAction*>& actions, QWidget* parent)
{
    auto* dialog = new QDialog(parent);
    dialog->setObjectName(QStringLiteral("keysDialog"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(QObject::tr("Keys"));
    auto* grid = new QGridLayout(dialog);
    grid->setContentsMargins(20, 16, 20, 16);
    grid->setHorizontalSpacing(24);
    grid->setVerticalSpacing(5);
    int row = 0;
    for (const QAction* action : actions) {
        if (action->shortcut().isEmpty() || action->text().isEmpty()) {
            continue;
        }
        auto* key = makeLabel(
            action->shortcut().toString(QKeySequence::NativeText), TextRole::code, dialog);
        key->setWordWrap(false);
        QString words = action->text();
        words.remove(QLatin1Char('&'));
        auto* meaning = makeLabel(words, TextRole::normal, dialog);
        meaning->setWordWrap(false);
        const int column = row % 2 == 0 ? 0 : 2;
        grid->addWidget(key, row / 2, column);
        grid->addWidget(meaning, row / 2, column + 1);
        ++row;
    }
    dialog->open();
}
}  // namespace rope
