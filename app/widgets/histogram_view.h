// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The tones of a picture, and handles on them for parameters that stand for tones.
#pragma once

#include <QWidget>
#include <vector>

#include "app/widgets/number_edit.h"
#include "core/measure/measure.h"

namespace loom {

class HistogramView : public QWidget {
    Q_OBJECT
public:
    explicit HistogramView(QWidget* parent = nullptr);

    void set_histogram(const Histogram& histogram, const QString& caption);
    /// Shows handles for black, middle and white; the middle lies where its power makes half of the range.
    void set_handles(double black, double middle, double white);
    void clear_handles();
    bool has_handles() const { return has_handles_; }
    /// Place of a handle in this widget, for tests and tooltips.
    QPoint handle_place(ToneHandle handle) const;

    QSize sizeHint() const override { return {280, 150}; }

signals:
    void handle_moved(loom::ToneHandle handle, double value, const QString& gesture);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    QRect plot() const;
    double tone_of(ToneHandle handle) const;
    void move_to(ToneHandle handle, double tone);

    Histogram histogram_;
    QString caption_;
    bool has_handles_ = false;
    double black_ = 0, middle_ = 1, white_ = 1;
    ToneHandle held_ = ToneHandle::none, chosen_ = ToneHandle::black;
    GestureSource gestures_;
};

}  // namespace loom
