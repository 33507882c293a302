// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// One step as a card on its thread: the picture after it, its name, the value that matters, its seam.
#pragma once

#include <QWidget>

#include "app/document/render_service.h"
#include "core/recipe/recipe.h"

namespace loom {

class StepCard : public QWidget {
    Q_OBJECT
    Q_PROPERTY(bool selected READ selected)
public:
    StepCard(std::string strand, const Step& step, QWidget* parent = nullptr);

    void set_step(const Step& step);
    void set_picture(const CardPicture& picture);
    /// `lead`: the one of the selected steps that the desk shows.
    void set_selected(bool selected, bool lead);
    bool selected() const { return selected_; }
    const std::string& strand_id() const { return strand_; }
    const std::string& step_id() const { return step_.id; }
    QSize sizeHint() const override;

signals:
    void chosen(Qt::KeyboardModifiers with);
    /// Shift with an arrow key, up (-1) or down (1).
    void extended(int way);
    /// While it is dragged, in global places; `dropped` ends it.
    void dragged(const QPoint& place);
    void dropped(const QPoint& place);
    void drag_given_up();
    void menu_wanted(const QPoint& place);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;

private:
    bool cannot_repeat() const;
    QString headline() const;

    std::string strand_;
    Step step_;
    CardPicture picture_;
    bool selected_ = false, lead_ = false, dragging_ = false, choose_at_release_ = false;
    QPoint pressed_;
};

}  // namespace loom
