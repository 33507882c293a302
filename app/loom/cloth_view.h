// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The cloth: one tile or repeated, zoomed and moved, with the picture before the selected step while a key is held.
#pragma once

#include <QPixmap>
#include <QWidget>

#include "app/document/render_service.h"
#include "app/document/try_service.h"

class QComboBox;
class QLabel;
class QStackedWidget;
class QToolButton;

namespace loom {

class ClothHand;
class LitView;
struct Touch;

/// The picture itself.
class ClothCanvas : public QWidget {
    Q_OBJECT
public:
    explicit ClothCanvas(QWidget* parent = nullptr);

    void show_picture(const ClothPicture& picture);
    void set_tile(Size design);
    void set_repeat(int count);  ///< 1: the tile alone
    int repeat() const { return repeat_; }
    /// Moves the cloth so that the corner where tiles meet is in the middle of the view.
    void set_half(bool half);
    /// The picture that stands for "before", under a label.
    void set_before(bool on, const QString& label = tr("before"));
    /// A round glass at the pointer that shows each pixel of the picture as four by four.
    void set_loupe(bool on);
    bool shows_loupe() const { return loupe_on_; }
    /// Another picture of the tile, shown left of a line that is dragged over the cloth; a null one takes the line away.
    void set_aside(const QImage& image, const QString& name);
    const QImage& aside() const { return aside_; }
    /// A map of the recipe, shown instead of its colour; a null one brings that back.
    void set_instead(const QImage& map, const QString& name);
    /// Where the line stands, 0..1 of the view's width.
    double wipe() const { return wipe_; }
    void set_wipe(double place);
    bool shows_before() const { return before_on_ && !before_.isNull(); }
    /// Screen pixels per design pixel; 0 fits the cloth into the view.
    void set_zoom(double zoom);
    double zoom() const;
    bool fits() const { return zoom_ == 0; }
    const QImage& image() const { return cloth_.image; }
    /// The picture that is seen: the cloth, a map, or what was before.
    const QImage& seen() const { return shows_before() ? before_ : !instead_.isNull() ? instead_ : cloth_.image; }
    const ClothPicture& cloth() const { return cloth_; }
    QPointF centre() const { return centre_; }
    /// What can be done by hand on the cloth; not owned. The first that takes a press has it.
    void set_hands(std::vector<ClothHand*> hands) { hands_ = std::move(hands); }
    /// Lays a picture of `place` over what is shown, within `part` and along the hand's `way` alone, fading out beside it; all in
    /// shares of the tile, and they may go over its edges. `width`: of the way, as a share of the tile's.
    void show_part(const QImage& picture, const QRectF& place, const QRectF& part, const QPolygonF& way, double width);
    QRectF tile_rect() const;  ///< the tile on the screen that handles belong to

signals:
    void zoom_changed();
    /// A click on the cloth that moved nothing.
    void clicked(const QPointF& place);

protected:
    void paintEvent(QPaintEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void keyReleaseEvent(QKeyEvent* event) override;
    void tabletEvent(QTabletEvent* event) override;
    void leaveEvent(QEvent* event) override;
    bool event(QEvent* event) override;

private:
    void paint_loupe(QPainter& painter) const;
    /// One picture, repeated as the cloth is.
    /// The picture, or the smallest of its halves that is no smaller than what is shown.
    const QImage& fitting(const QImage& picture, double shrink) const;
    /// After a part of the picture has changed.
    void renew_halves(const QRect& within);
    void paint_tiles(QPainter& painter, const QImage& picture) const;
    /// What of the view the cloth covers: all of it where it is repeated.
    QRectF covered() const;
    /// The cloth is never lost: of the tile alone some stays in view, and a repeated one has no end.
    void keep_in_view();
    void paint_wipe(QPainter& painter) const;
    void paint_label(QPainter& painter, const QString& text, bool at_right) const;
    bool on_line(const QPointF& place) const;
    QRectF middle_tile() const;
    double fitting_zoom() const;
    void zoom_about(double factor, const QPointF& place);

    ClothPicture cloth_;
    QImage before_, aside_, instead_;
    /// Of the picture that was last shown below half its size, by the key of its cache.
    mutable std::vector<QImage> halves_;
    mutable qint64 halves_of_ = 0;
    QString aside_name_, before_name_, instead_name_;
    double wipe_ = 0.5;
    bool wiping_ = false, moved_ = false;
    bool before_on_ = false, loupe_on_ = false;
    Size design_{1024, 1024};
    int repeat_ = 1;
    double zoom_ = 0;
    QPointF centre_{0.5, 0.5};  ///< place of the tile, in tiles, in the middle of the view
    QPoint held_;
    /// Pen and mouse alike; true if a hand has it.
    bool press_hand(const Touch& touch);
    bool drag_hand(const Touch& touch);
    bool key_hand(QKeyEvent* event, bool pressed);
    std::vector<ClothHand*> hands_;
    ClothHand* holding_ = nullptr;
};

/// Canvas with its line of choices above.
class ClothView : public QWidget {
    Q_OBJECT
public:
    explicit ClothView(QWidget* parent = nullptr);
    ClothCanvas* canvas() const { return canvas_; }
    void show_picture(const ClothPicture& picture);
    void show_busy(bool busy);
    void set_tile(Size design);
    /// What the lit cloth and maps other than the colour are made of.
    void set_recipe(const Recipe& recipe);
    void set_repeat(bool on);
    void set_lit(bool on);
    void set_map(Map map);
    Map map() const;
    bool shows_lit() const;
    LitView* lit() const { return lit_; }
    /// As large as it is made: the tile, or the shape under its lamp.
    const QImage& seen() const;
    QToolButton* lit_button() const { return lit_button_; }
    QComboBox* map_field() const { return map_; }
    /// What the buttons say.
    void show_alone(bool alone);
    void show_apart(bool apart);
    QToolButton* tile_button() const { return tile_; }
    QToolButton* repeat_button() const { return repeat_; }
    QToolButton* alone_button() const { return alone_; }

signals:
    void alone_wanted(bool alone);

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void refresh();
    void ask_map();
    ClothCanvas* canvas_;
    LitView* lit_;
    QStackedWidget* ways_;
    TryService maps_{1024};
    std::uint64_t map_ticket_ = 0;
    std::optional<Recipe> recipe_;
    QComboBox* map_;
    QToolButton *tile_, *repeat_, *lit_button_, *one_, *fit_, *alone_;
    QLabel* state_;
    bool busy_ = false;
};

}  // namespace loom
