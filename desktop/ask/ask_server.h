// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/remotes.h"

#include <QObject>
#include <QTemporaryDir>

#include <deque>

class QLocalServer;
class QLocalSocket;
class QWidget;

namespace rope {
/// Answers the questions of git and ssh (a password, a passphrase, an unknown host) in a dialog of the
/// window: they start rope-splice-ask, which asks here over a local socket that only this user can
/// reach, with a token that only what we start knows. One question at a time. What is typed is neither stored nor logged. Interface thread.
class AskServer final : public QObject
{
    Q_OBJECT
public:
    explicit AskServer(QWidget* window);
    ~AskServer() override;

    /// Empty where no socket could be made: then nobody is asked.
    [[nodiscard]] Asking asking() const;

private:
    struct Question
    {
        QLocalSocket* socket = nullptr;
        QString text;
    };
    void onConnection();
    void onRead(QLocalSocket* socket);
    void askNext();

    QWidget* m_window;
    QByteArray
        m_token;  ///< That whoever asks must know: it is in the environment of what we start.
    QTemporaryDir m_folder;
    QLocalServer* m_server;
    std::deque<Question> m_questions;
    bool m_isAsking = false;
};
}  // namespace rope
