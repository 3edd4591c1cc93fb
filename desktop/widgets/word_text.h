// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/text_join.h"

#include <QPlainTextEdit>

namespace rope {
/// A read-only piece of code, as tall as its text up to a limit, with words marked.
/// Text can be selected and copied; struck words are part of it.
class WordText final : public QPlainTextEdit
{
    Q_OBJECT
public:
    explicit WordText(QWidget* parent);

    enum class Side { ours, theirs };
    /// Shows what a side did to the base: its words, new ones marked, removed ones struck.
    void showEdit(std::string_view base, std::string_view side, Side which);
    /// Shows a text of a region, words that ours or theirs brought marked with their colours.
    void showOutcome(std::string_view outcome, const RegionTexts& texts);
    void showPlain(std::string_view text);
    /// Shows a remark instead of text, e.g. that nothing stands there.
    void showRemark(const QString& remark);

    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override;

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void begin();
    void append(std::string_view bytes, const QTextCharFormat& format);
    void finish();
    int m_widestLine = 0;  ///< Pixels.
};
}  // namespace rope
