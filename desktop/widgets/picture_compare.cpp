// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_picture_compare.cpp.
#include "desktop/widgets/picture_compare.h"

#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QSlider>
#include <QVBoxLayout>
#include <QWheelEvent>

#include <algorithm>
#include <array>
#include <cmath>

namespace rope {
namespace {
constexpr double kMostZoom = 32;
constexpr double kLeastZoom = 1.0 / 32;
constexpr int kMostFittedZoom = 8;  // of small pictures, in whole steps, so that pixels stay pixels
constexpr int kPictureGap = 12;
constexpr int kChequer = 8;

/// Below what is transparent.
void paintChequer(QPainter& painter, const QRectF& rect)
{
    painter.save();
    painter.setClipRect(rect);
    painter.fillRect(rect, theme().paper);
    const QColor dark = theme().panel;
    for (int row = 0; row * kChequer < rect.height(); ++row) {
        for (int column = row % 2; column * kChequer < rect.width(); column += 2) {
            painter.fillRect(QRectF(rect.left() + column * kChequer,
                                    rect.top() + row * kChequer,
                                    kChequer,
                                    kChequer),
                             dark);
        }
    }
    painter.restore();
}
}  // namespace

/// Where the pictures are painted. Zoom and position are the same for all.
class PictureCompare::Canvas final : public QWidget
{
public:
    explicit Canvas(const PictureCompare& owner, QWidget* parent)
        : QWidget(parent)
        , m_owner(owner)
    {
        setMinimumHeight(120);
        setCursor(Qt::OpenHandCursor);
    }

    void fit()
    {
        m_zoom = 0;
        m_offset = {};
        update();
    }

    void zoomBy(double factor)
    {
        m_zoom = std::clamp(zoom() * factor, kLeastZoom, kMostZoom);
        update();
    }

    void setMix(int percent)
    {
        m_mix = percent / 100.0;
        update();
    }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter painter(this);
        painter.fillRect(rect(), theme().paper);
        painter.setRenderHint(QPainter::SmoothPixmapTransform, zoom() < 1);
        const auto& versions = m_owner.m_versions;
        if (versions.empty()) {
            return;
        }
        switch (m_owner.m_mode) {
        case Mode::beside:
            for (std::size_t i = 0; i < versions.size(); ++i) {
                paintPicture(painter, cell(i), versions[i].image, 1);
            }
            break;
        case Mode::over:
            paintPicture(painter, rect(), versions.front().image, 1);
            paintPicture(painter, rect(), versions.back().image, m_mix);
            break;
        case Mode::inTurn:
            paintPicture(painter,
                         rect(),
                         (m_owner.m_isFirstShown ? versions.front() : versions.back()).image,
                         1);
            break;
        case Mode::difference:
            paintPicture(painter, rect(), m_owner.m_difference, 1);
            break;
        }
    }

    void wheelEvent(QWheelEvent* event) override
    {
        zoomBy(event->angleDelta().y() > 0 ? 1.25 : 0.8);
        event->accept();
    }
    void mousePressEvent(QMouseEvent* event) override { m_grip = event->position() - m_offset; }
    void mouseMoveEvent(QMouseEvent* event) override
    {
        m_offset = event->position() - m_grip;
        update();
    }

private:
    [[nodiscard]] QRect cell(std::size_t index) const
    {
        const int count = static_cast<int>(m_owner.m_versions.size());
        const int each = (width() - kPictureGap * (count - 1)) / count;
        return {static_cast<int>(index) * (each + kPictureGap), 0, each, height()};
    }

    /// What was set, or what fits all of them in.
    [[nodiscard]] double zoom() const
    {
        if (m_zoom > 0) {
            return m_zoom;
        }
        QSize largest(1, 1);
        for (const Version& version : m_owner.m_versions) {
            largest = largest.expandedTo(version.image.size());
        }
        const QSize room = m_owner.m_mode == Mode::beside ? cell(0).size() : size();
        const double fitting = std::min(double(room.width()) / largest.width(),
                                        double(room.height()) / largest.height());
        return fitting >= 1 ? std::min(std::floor(fitting), double(kMostFittedZoom))
                            : std::max(fitting, kLeastZoom);
    }

    void
    paintPicture(QPainter& painter, const QRect& place, const QImage& image, double opacity) const
    {
        if (image.isNull()) {
            painter.setPen(theme().muted);
            painter.drawText(place, Qt::AlignCenter, tr("no picture"));
            return;
        }
        const QSizeF size = QSizeF(image.size()) * zoom();
        const QPointF corner(place.left() + (place.width() - size.width()) / 2 + m_offset.x(),
                             place.top() + (place.height() - size.height()) / 2 + m_offset.y());
        const QRectF target(corner, size);
        painter.save();
        painter.setClipRect(place);
        if (opacity >= 1) {
            paintChequer(painter, target.intersected(place));
        }
        painter.setOpacity(opacity);
        painter.drawImage(target, image);
        painter.setOpacity(1);
        painter.setPen(theme().rules);
        painter.drawRect(target);
        painter.restore();
    }

    const PictureCompare& m_owner;
    double m_zoom = 0;  ///< 0: as it fits.
    double m_mix = 0.5;
    QPointF m_offset;
    QPointF m_grip;
};

PictureCompare::PictureCompare(QWidget* parent)
    : QWidget(parent)
    , m_canvas(new Canvas(*this, this))
    , m_modes(new QHBoxLayout)
    , m_group(new QButtonGroup(this))
    , m_slider(new QSlider(Qt::Horizontal, this))
    , m_shown(makeLabel({}, TextRole::muted, this))
{
    setObjectName(QStringLiteral("pictureCompare"));
    setAccessibleName(tr("Pictures"));
    setFocusPolicy(Qt::StrongFocus);
    m_modes->setSpacing(0);
    const std::array modes{std::pair(tr("side by side"), "picturesBesideButton"),
                           std::pair(tr("Overlay"), "picturesOverButton"),
                           std::pair(tr("Blink"), "picturesInTurnButton"),
                           std::pair(tr("Difference"), "picturesDifferenceButton")};
    for (std::size_t i = 0; i < modes.size(); ++i) {
        QPushButton* button =
            makeButton(modes[i].first, modes[i].second, ButtonRole::segment, this);
        m_modes->addWidget(button);
        m_group->addButton(button, static_cast<int>(i));
        connect(button, &QPushButton::toggled, this, [this, i](bool isOn) {
            if (isOn) {
                setMode(static_cast<Mode>(i));
            }
        });
    }
    m_modes->addStretch();
    m_slider->setRange(0, 100);
    m_slider->setValue(50);
    m_slider->setObjectName(QStringLiteral("picturesSlider"));
    m_slider->setAccessibleName(tr("How much of ours is seen over theirs"));
    connect(m_slider, &QSlider::valueChanged, this, &PictureCompare::setMix);
    m_shown->setObjectName(QStringLiteral("pictureShown"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    column->addLayout(m_modes);
    column->addWidget(m_canvas, 1);
    column->addWidget(m_slider);
    column->addWidget(m_shown);
    m_group->button(0)->setChecked(true);
}

void PictureCompare::setPictures(std::vector<Version> versions, const QImage& difference)
{
    m_versions = std::move(versions);
    m_difference = difference;
    m_group->button(static_cast<int>(Mode::difference))->setEnabled(!difference.isNull());
    m_canvas->fit();
    setMode(m_mode == Mode::difference && difference.isNull() ? Mode::beside : m_mode);
}

void PictureCompare::setMode(Mode mode)
{
    m_mode = mode;
    m_group->button(static_cast<int>(mode))->setChecked(true);
    m_slider->setVisible(mode == Mode::over);
    nameWhatIsShown();
    m_canvas->update();
}

void PictureCompare::setMix(int percent)
{
    m_slider->setValue(percent);
    m_canvas->setMix(percent);
    nameWhatIsShown();
}

void PictureCompare::showOther()
{
    m_isFirstShown = !m_isFirstShown;
    nameWhatIsShown();
    m_canvas->update();
}

/// In words, for those who cannot see it and for all who wonder.
void PictureCompare::nameWhatIsShown()
{
    if (m_versions.empty()) {
        m_shown->clear();
        return;
    }
    const QString& first = m_versions.front().title;
    const QString& last = m_versions.back().title;
    switch (m_mode) {
    case Mode::beside: {
        QStringList titles;
        for (const Version& version : m_versions) {
            titles << version.title;
        }
        m_shown->setText(titles.join(QStringLiteral(" · "))
                         + tr(", from the left. The wheel zooms, dragging moves, 0 fits them in."));
        break;
    }
    case Mode::over:
        m_shown->setText(
            tr("%1 below, %2 of %3 over it")
                .arg(first, QString::number(m_slider->value()) + QLatin1Char('%'), last));
        break;
    case Mode::inTurn:
        m_shown->setText(tr("%1 is shown. The space key shows the other one.")
                             .arg(m_isFirstShown ? first : last));
        break;
    case Mode::difference:
        m_shown->setText(tr("Dark: the pixels in which %1 and %2 differ").arg(first, last));
        break;
    }
}

void PictureCompare::keyPressEvent(QKeyEvent* event)
{
    switch (event->key()) {
    case Qt::Key_Space:
        if (m_mode != Mode::inTurn) {
            setMode(Mode::inTurn);
        }
        showOther();
        break;
    case Qt::Key_Plus:
        m_canvas->zoomBy(1.25);
        break;
    case Qt::Key_Minus:
        m_canvas->zoomBy(0.8);
        break;
    case Qt::Key_0:
        m_canvas->fit();
        break;
    default:
        QWidget::keyPressEvent(event);
    }
}
}  // namespace rope
