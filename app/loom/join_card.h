// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The foot of a strand: how it is joined onto what lies left of it.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QWidget>

#include "app/widgets/number_edit.h"
#include "core/recipe/recipe.h"

namespace loom {

/// Names a blend; arrow keys and the wheel step through them one by one. Where pictures are to be had it asks for them instead of
/// showing its list.
class BlendBox : public QComboBox {
    Q_OBJECT
public:
    explicit BlendBox(QWidget* parent = nullptr);
    void set_blend(Blend blend);
    Blend blend() const;
    void set_pictured(bool on) { pictured_ = on; }
    void showPopup() override;

signals:
    void pictures_wanted();

protected:
    void wheelEvent(QWheelEvent* event) override;

private:
    bool pictured_ = false;
};

class JoinCard : public QWidget {
    Q_OBJECT
public:
    explicit JoinCard(QWidget* parent = nullptr);
    void set_join(const Join& join, bool first, const QString& strand_name);
    void set_selected(bool selected);
    BlendBox* blend_box() const { return blend_; }
    QSlider* amount_slider() const { return amount_; }
    QCheckBox* within_box() const { return within_; }
    QCheckBox* lift_box() const { return lift_; }

signals:
    void changed(const loom::Join& join, const QString& gesture);
    void chosen();
    void menu_wanted(const QPoint& place);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;

private:
    void report(const QString& gesture);
    Join join_;
    bool selected_ = false, updating_ = false, first_ = false;
    BlendBox* blend_;
    QSlider* amount_;
    QLabel* shown_;
    QCheckBox *within_, *lift_;
    GestureSource gestures_;
};

}  // namespace loom
