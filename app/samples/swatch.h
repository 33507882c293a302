// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// One sample of the book: its picture with pinked edges, its name, real width, and a dot for each colourway, which shows it.
#pragma once

#include <QImage>
#include <QWidget>

#include "core/recipe/recipe.h"

namespace loom {

/// A click or Enter opens its recipe.
class Swatch : public QWidget {
    Q_OBJECT
public:
    Swatch(Recipe recipe, QString path, QWidget* parent = nullptr);
    void set_picture(const QImage& image);
    const Recipe& recipe() const { return recipe_; }
    const QString& path() const { return path_; }
    bool has_picture() const { return !picture_.isNull(); }
    static constexpr int least_width = 276;
    /// As wide as that, and as high as its picture wants then.
    void fit(int width);

    /// The colourway that is shown; -1: as the recipe is.
    int colourway() const { return colourway_; }
    /// The recipe in that colourway.
    Recipe shown() const;
    void show_colourway(int index);
    /// Where a colourway's dot is; nothing if it has none.
    QRectF dot(int index) const;

signals:
    void opened();
    void colourway_chosen();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void enterEvent(QEnterEvent* event) override;
    void leaveEvent(QEvent* event) override;
    bool event(QEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    Recipe recipe_;
    QString path_;
    QImage picture_;
    bool hovered_ = false;
    int colourway_ = -1;
};

}  // namespace loom
