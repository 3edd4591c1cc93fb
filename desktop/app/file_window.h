// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "desktop/app/external_copies.h"
#include "desktop/course/journal_writer.h"

#include <QMainWindow>

class QLabel;
class QPushButton;

namespace rope {
class KeyHints;
class NoticeBar;
class ResolveStation;

/// What another program asks to be resolved: three files, and where the result goes.
struct FileRequest
{
    std::string base;  ///< Empty, missing, or an empty file: both sides have added it.
    std::string ours;
    std::string theirs;
    std::string result;
    std::vector<std::string> labels;  ///< Of base, ours and theirs; else none.
};

/// A window with the Resolve station alone, on one file that belongs to no repository. What is decided is
/// kept, and is there again when the same three files are given once more, until the result was saved.
class FileWindow final : public QMainWindow
{
    Q_OBJECT
public:
    /// Errors: those of reading; `invalidInput` for what is no text, with its path as subject.
    [[nodiscard]] static Result<std::unique_ptr<FileWindow>> open(const FileRequest& request);
    ~FileWindow() override;

    /// kExitClean once the result was saved with nothing open; else kExitMustDecide.
    [[nodiscard]] int exitCode() const { return m_exitCode; }

    /// Saves and closes; asks where something is open.
    void save();

protected:
    void closeEvent(QCloseEvent* event) override;

private:
    FileWindow(const FileRequest& request, const std::shared_ptr<const Forecast>& forecast);
    void layOut();
    void addMenus();
    void takeUpDecisions(const std::string& standing);
    void saveTo(const std::string& path);
    void saveElsewhere();
    void onChanged();
    [[nodiscard]] const SplicedText& text() const { return *m_splice->files().front().text; }

    FileRequest m_request;
    std::unique_ptr<Journal> m_journal;
    std::unique_ptr<JournalWriter> m_writer;
    std::unique_ptr<Splice> m_splice;
    ExternalCopies* m_copies;
    NoticeBar* m_notice;
    ResolveStation* m_resolve;
    KeyHints* m_hints;
    QPushButton* m_save;
    int m_exitCode;
};
}  // namespace rope
