// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QImage>
#include <QWidget>

#include <vector>

class QButtonGroup;
class QHBoxLayout;
class QLabel;
class QSlider;

namespace rope {
/// Pictures of a file's versions, all at one zoom and one position: side by side, one over the other
/// with a slider, in turn at the press of a key, or where two of them differ.
/// The wheel zooms, dragging moves, `0` fits them in again, the space key shows the other one.
class PictureCompare final : public QWidget
{
    Q_OBJECT
public:
    enum class Mode { beside, over, inTurn, difference };

    struct Version
    {
        QString title;
        QImage image;  ///< Null: there is none.
    };

    explicit PictureCompare(QWidget* parent);
    /// The first and the last of them are compared; `difference` is a map of where they differ, or null.
    void setPictures(std::vector<Version> versions, const QImage& difference);
    void setMode(Mode mode);
    [[nodiscard]] Mode mode() const { return m_mode; }
    /// How much of the last one is seen over the first, 0 to 100.
    void setMix(int percent);
    void showOther();

    [[nodiscard]] QSize sizeHint() const override { return {400, 320}; }

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    class Canvas;
    void nameWhatIsShown();

    Canvas* m_canvas;
    QHBoxLayout* m_modes;
    QButtonGroup* m_group;
    QSlider* m_slider;
    QLabel* m_shown;
    std::vector<Version> m_versions;
    QImage m_difference;
    Mode m_mode = Mode::beside;
    bool m_isFirstShown = true;
};
}  // namespace rope
