// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_ask_server.cpp.
#include "desktop/ask/ask_server.h"

#include "core/base/process_tree.h"
#include "desktop/ask/ask_dialog.h"
#include "desktop/wording/shown_text.h"

#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QLocalServer>
#include <QLocalSocket>
#include <QPointer>
#include <QUuid>

#include <cstring>
#include <unistd.h>

namespace rope {
namespace {
constexpr std::uint32_t kMostQuestionBytes = 20'000;

constexpr const char* kFolderName = "rope-splice-";

QString folderTemplate()
{
    return QStringLiteral("%1/%2%3-XXXXXX")
        .arg(QDir::tempPath(), QLatin1String(kFolderName))
        .arg(QCoreApplication::applicationPid());
}

/// Folders of windows that were killed.
void removeLeftFolders()
{
    const QFileInfoList left =
        QDir(QDir::tempPath())
            .entryInfoList({QLatin1String(kFolderName) + QStringLiteral("*-??????")},
                           QDir::Dirs | QDir::NoSymLinks | QDir::NoDotAndDotDot);
    for (const QFileInfo& folder : left) {
        bool isNumber = false;
        const int process = folder.fileName().section(QLatin1Char('-'), 2, 2).toInt(&isNumber);
        if (isNumber && folder.ownerId() == ::geteuid() && !isRunning(process)) {
            QFile::remove(folder.filePath() + QStringLiteral("/ask"));
            QDir().rmdir(folder.filePath());  // only if nothing else is in it
        }
    }
}

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
    , m_token(QUuid::createUuid().toByteArray(QUuid::Id128))
    , m_folder(folderTemplate())
    , m_server(new QLocalServer(this))
{
    removeLeftFolders();
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
               : Asking{program.toStdString(),
                        m_server->fullServerName().toStdString() + ":" + m_token.toStdString()};
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
    const QByteArray said = socket->readAll().mid(sizeof size);
    if (!said.startsWith(m_token + '\n')) {
        socket->abort();
        return;
    }
    const QByteArray question = said.mid(m_token.size() + 1);
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
