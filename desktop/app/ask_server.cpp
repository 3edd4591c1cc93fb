// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_ask_server.cpp.
#include "desktop/app/ask_server.h"

#include "desktop/app/ask_dialog.h"
#include "desktop/wording/merge_words.h"

#include <QCoreApplication>
#include <QFileInfo>
#include <QLocalServer>
#include <QLocalSocket>
#include <QPointer>

#include <cstring>

namespace rope {
namespace {
constexpr std::uint32_t kMostQuestionBytes = 20'000;

QString askProgram()
{
    const QString own = QCoreApplication::applicationDirPath();
    for (const char* place : {"/rope-splice-ask", "/../bin/rope-splice-ask"}) {
        const QFileInfo program(own + QLatin1String(place));
        if (program.isExecutable()) {
            return program.canonicalFilePath();
        }
    }
    return {};
}
}  // namespace

AskServer::AskServer(QWidget* window)
    : QObject(window)
    , m_window(window)
    , m_server(new QLocalServer(this))
{
    m_server->setSocketOptions(QLocalServer::UserAccessOption);
    connect(m_server, &QLocalServer::newConnection, this, &AskServer::onConnection);
    if (m_folder.isValid()) {
        m_server->listen(m_folder.filePath(QStringLiteral("ask")));
    }
}

AskServer::~AskServer() = default;

Asking AskServer::asking() const
{
    const QString program = askProgram();
    return !m_server->isListening() || program.isEmpty()
               ? Asking{}
               : Asking{program.toStdString(), m_server->fullServerName().toStdString()};
}

void AskServer::onConnection()
{
    while (QLocalSocket* socket = m_server->nextPendingConnection()) {
        connect(socket, &QLocalSocket::readyRead, this, [this, socket] { onRead(socket); });
        connect(socket, &QLocalSocket::disconnected, socket, &QObject::deleteLater);
        onRead(socket);
    }
}

void AskServer::onRead(QLocalSocket* socket)
{
    const QByteArray head = socket->peek(sizeof(std::uint32_t));
    std::uint32_t size = 0;
    if (head.size() < static_cast<qsizetype>(sizeof size)) {
        return;
    }
    std::memcpy(&size, head.constData(), sizeof size);
    if (size > kMostQuestionBytes) {
        socket->abort();
        return;
    }
    if (socket->bytesAvailable() < static_cast<qint64>(sizeof size + size)) {
        return;
    }
    const QByteArray question = socket->readAll().mid(sizeof size);
    m_questions.push_back({socket, shownWords(question.toStdString()).trimmed()});
    askNext();
}

void AskServer::askNext()
{
    if (m_isAsking || m_questions.empty()) {
        return;
    }
    m_isAsking = true;
    const Question question = m_questions.front();
    m_questions.pop_front();
    auto* dialog = new AskDialog(question.text, m_window);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    const QPointer<QLocalSocket> socket(question.socket);
    // Who asked may give up first: the push was stopped, say.
    connect(question.socket, &QLocalSocket::disconnected, dialog, &QDialog::reject);
    connect(dialog, &QDialog::finished, this, [this, dialog, socket](int result) {
        if (socket) {
            if (result == QDialog::Accepted) {
                socket->write("+" + dialog->answer().toUtf8());
                socket->flush();
            }
            socket->disconnectFromServer();
        }
        m_isAsking = false;
        askNext();
    });
    dialog->open();
}
}  // namespace rope
