// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/trial/output_links.h"
#include "core/trial/output_text.h"

#include <QPlainTextEdit>
#include <QTimer>

#include <set>
#include <vector>

namespace rope {
/// What a command says: text in the colours that it wished, with places in files of the result to be
/// followed. It takes bytes as they come and keeps to its end while nobody scrolls.
class OutputView final : public QPlainTextEdit
{
    Q_OBJECT
public:
    /// Of more lines, the last are shown.
    static constexpr int kMostLines = 20'000;

    explicit OutputView(QWidget* parent);

    /// Files whose places can be followed, and the folder in which commands run.
    void setFiles(std::set<RepoPath> files, std::string folder);
    void clearOutput();
    /// Shows more of it: much in small parts, one after the other, so that the window stays alive; of
    /// more than can be shown in good time, the end.
    void append(std::string_view bytes);
    /// To the next (or, with -1, the previous) place in a file, and follows it.
    void goToPlace(int direction);
    [[nodiscard]] std::size_t placeCount() const { return m_places.size(); }

signals:
    /// `line` from 1.
    void placeRequested(const rope::RepoPath& path, std::size_t line);

protected:
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    struct Place
    {
        QTextCursor text;
        RepoPath path;
        std::size_t line = 0;
    };
    /// What stands in the last line of the text.
    enum class LastLine {
        none,  ///< There is no line yet.
        complete,
        unfinished,  ///< More of it may come, or something in its place.
    };
    void takePart();
    void showPart(std::string_view bytes);
    void addLine(QTextCursor& cursor, const OutputLine& line);
    void dropUnfinished(QTextCursor& cursor);
    [[nodiscard]] bool isAtEnd() const;
    void follow(std::size_t place);
    [[nodiscard]] std::optional<std::size_t> placeAt(int position) const;

    std::set<RepoPath> m_files;
    std::string m_folder;
    OutputText m_reader;
    std::string m_waiting;  ///< Not shown yet.
    QTimer m_timer;
    std::vector<Place> m_places;
    std::optional<std::size_t> m_at;  ///< The place that was followed last.
    LastLine m_lastLine = LastLine::none;
};
}  // namespace rope
