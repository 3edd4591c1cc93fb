// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/app/about_dialog.h"

#include "desktop/widgets/plain_widgets.h"

#include <QDialog>
#include <QVBoxLayout>

namespace rope {
void showAbout(QWidget* parent)
{
    auto* dialog = new QDialog(parent);
    dialog->setObjectName(QStringLiteral("aboutDialog"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(QObject::tr("About Rope Splice"));
    auto* column = new QVBoxLayout(dialog);
    column->setContentsMargins(24, 20, 24, 20);
    column->setSpacing(8);
    column->addWidget(makeLabel(
        QObject::tr("Rope Splice %1").arg(QLatin1String(ROPE_VERSION)), TextRole::strong, dialog));
    column->addWidget(
        makeLabel(QObject::tr("Merges two diverged branches: shows where both stand and every "
                              "conflict, takes your decisions, and records the result. Nothing in "
                              "your branches or files changes before that."),
                  TextRole::normal,
                  dialog));
    column->addWidget(
        makeLabel(QObject::tr("What you decide is kept in the repository's own git folder, under "
                              "rope-splice. What went wrong is noted in your state folder, under "
                              "rope-splice; contents of files are never noted."),
                  TextRole::normal,
                  dialog));
    column->addWidget(makeLabel(
        QObject::tr(
            "Free software under the GNU General Public License, version 3 or later, without "
            "any warranty."),
        TextRole::muted,
        dialog));
    column->addStretch();
    dialog->setMinimumWidth(460);
    dialog->open();
}
}  // namespace rope
