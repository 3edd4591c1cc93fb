// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/remotes.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace rope {
/// Asks what is to be copied from where to where. The address is asked for its branches when its field
/// is left.
class ClonePanel final : public QWidget
{
    Q_OBJECT
public:
    explicit ClonePanel(QWidget* parent);
    /// What the address answered; answers to an address that is no longer there are dropped.
    void showLines(const QString& address, const RemoteLines& lines);
    void showAddressFailure(const QString& address, const QString& sentence);
    /// How far copying is; empty: none is made.
    void setBusy(const QString& progress);
    void showFailure(const QString& sentence);
    /// Ready for the next one.
    void clear();
    void focusAddress();

signals:
    void addressEntered(const QString& address);
    void cloneRequested(const rope::CopyRequest& request);
    void stopRequested();

private:
    void proposeFolder();
    void update();
    void requestClone();
    QLineEdit* m_address;
    QLabel* m_answer;
    QComboBox* m_branch;
    QLineEdit* m_folder;
    QLabel* m_folderWords;
    QPushButton* m_clone;
    QPushButton* m_stop;
    QLabel* m_progress;
    QString m_proposed;  ///< The folder that was filled in by us.
    QString m_asked;     ///< The address that was asked last.
    bool m_isBusy = false;
};
}  // namespace rope
