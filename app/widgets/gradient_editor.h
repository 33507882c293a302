// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A gradient as a ramp with its stops under it. A click on the ramp adds a stop that changes nothing yet (it takes
// the colour and the grain of its place); stops are dragged, pulled off, and given place, colour and grain as numbers.
#pragma once

#include <QImage>
#include <QWidget>

#include "app/widgets/colour_button.h"
#include "app/widgets/number_edit.h"
#include "core/structures/ramp.h"

class QMenu;
class QToolButton;

namespace loom {

/// A ramp from left to right, each stop with its grain.
QImage ramp_image(const Stops& stops, Interpolation interpolation, const QSize& size);

/// The ramp and its handles.
class GradientStrip : public QWidget {
    Q_OBJECT
public:
    explicit GradientStrip(QWidget* parent = nullptr);
    void set_stops(const Stops& stops, Interpolation interpolation);
    const Stops& stops() const { return stops_; }
    int chosen() const { return chosen_; }
    void choose(int index);
    void remove_chosen();
    void add_at(double place);
    void change_chosen(const Stop& stop, const QString& gesture);
    QPoint stop_place(int index) const;
    QSize sizeHint() const override { return {300, 46}; }

signals:
    void changed(const loom::Stops& stops, const QString& gesture);
    void chosen_changed();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    QRect ramp_area() const;
    double place_at(int x) const;
    void sort_keeping_chosen();

    Stops stops_;
    Interpolation interpolation_ = Interpolation::oklab;
    int chosen_ = 0;
    bool held_ = false;
    Stops lifted_;  ///< the stops without the one that is pulled off, while it is
    GestureSource gestures_;
};

class GradientEditor : public QWidget {
    Q_OBJECT
public:
    explicit GradientEditor(const QString& accessible_name, QWidget* parent = nullptr);
    void set_stops(const Stops& stops, Interpolation interpolation);
    GradientStrip* strip() const { return strip_; }
    NumberEdit* place() const { return place_; }
    NumberEdit* grain() const { return grain_; }
    ColourButton* colour() const { return colour_; }
    /// Ramps to choose from besides those of the library.
    void set_known(std::vector<std::pair<QString, Stops>> known) { known_ = std::move(known); }
    /// Whether there is a reference picture to take a ramp from.
    void set_reference(bool there) { reference_ = there; }
    /// What can be done with the whole ramp; it fills itself when it is about to show.
    QMenu* ramps_menu() const { return ramps_; }

signals:
    void changed(const loom::Stops& stops, const QString& gesture);
    /// The menu of ramps is about to fill itself: the time to say which are known.
    void ramps_wanted();
    /// To take a ramp from a picture: by equal shares of its tones, or its `count` main colours.
    void picture_wanted(int count, bool palette);
    /// The same from the picture that the recipe is held against.
    void reference_wanted(int count, bool palette);

private:
    void show_chosen();
    void fill_ramps();
    void take(const Stops& stops);
    GradientStrip* strip_;
    ColourButton* colour_;
    NumberEdit *place_, *grain_;
    QToolButton *add_, *remove_;
    QMenu* ramps_;
    std::vector<std::pair<QString, Stops>> known_;
    Interpolation interpolation_ = Interpolation::oklab;
    bool reference_ = false;
};

}  // namespace loom
