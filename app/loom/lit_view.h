// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The cloth under a lamp: on a shape, with its maps, while the lamp is dragged over it.
#pragma once

#include <QImage>
#include <QTimer>
#include <QWidget>
#include <map>

#include "app/document/lit_service.h"

class QButtonGroup;
class QLabel;
class QSlider;
class QToolButton;

namespace loom {

/// The picture; a drag moves the lamp, the wheel how often the tile is repeated.
class LitCanvas : public QWidget {
    Q_OBJECT
public:
    explicit LitCanvas(QWidget* parent = nullptr);
    void show_picture(const QImage& picture);
    const QImage& picture() const { return picture_; }
    const LitLight& light() const { return light_; }
    void set_light(const LitLight& light);

signals:
    void light_moved(const loom::LitLight& light);
    void repeats_wanted(double factor);
    void resized();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    QPointF lamp_place() const;
    void move_lamp(const QPointF& to);
    QImage picture_;
    LitLight light_;
};

class SampleBook;
class ScenePlaces;

class LitView : public QWidget {
    Q_OBJECT
public:
    explicit LitView(QWidget* parent = nullptr);
    /// Is followed while the view is visible.
    void set_recipe(const Recipe& recipe);
    /// From which the corner of the halt is covered.
    void set_book(const SampleBook& book);
    ScenePlaces* places() const { return places_; }
    LitCanvas* canvas() const { return canvas_; }
    QToolButton* shape_button(LitShape shape) const;
    QSlider* exposure() const { return exposure_; }
    LitShape shape() const;
    double repeats() const { return repeats_; }
    /// Milliseconds the last picture took.
    double spent() const { return spent_; }
    /// Whether the picture shows the recipe and the lamp as they are.
    bool settled() const { return shown_ && !service_.busy() && !rest_.isActive(); }
    QVariantMap state() const;
    void set_state(const QVariantMap& state);

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    void ask_maps();
    void ask_picture();
    void ask_places();
    int finest_maps() const;
    double scene_px(double wide_cm) const;
    bool enough_maps() const;
    LitService service_;
    LitCanvas* canvas_;
    QButtonGroup* shapes_;
    ScenePlaces* places_;
    QSlider* exposure_;
    QLabel* note_;
    std::optional<Recipe> recipe_;
    double repeats_ = 1, spent_ = 0;
    double quick_pixels_ = 640.0 * 640.0;                         ///< of pictures while the lamp moves
    int finest_ = 0;                                              ///< of the maps that were asked for last
    std::map<ScenePlace, std::pair<const Recipe*, int>> beside_;  ///< asked for, and how large
    QTimer rest_;                                                 ///< runs while the lamp moves, and a moment after
    bool stale_ = true, own_lamp_ = false, shown_ = false;
    std::uint64_t ticket_ = 0;
};

}  // namespace loom
