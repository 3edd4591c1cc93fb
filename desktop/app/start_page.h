// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QStringList>
#include <QWidget>

class QListWidget;

namespace rope {
/// What stands in the window before a repository is open: recent ones and a folder chooser.
class StartPage final : public QWidget
{
    Q_OBJECT
public:
    explicit StartPage(QWidget* parent);
    void setRecent(const QStringList& folders);
    /// Says what was left in a recent repository: "a splice is open".
    void setLeft(const QString& folder, const QString& words);

signals:
    void folderChosen(const QString& folder);
    void chooserRequested();

private:
    QListWidget* m_recent;
};
}  // namespace rope
