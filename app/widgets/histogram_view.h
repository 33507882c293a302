// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The tones of a picture, and handles on them for parameters that stand for tones.
#pragma once

#include <QWidget>
#include <array>
#include <optional>
#include <vector>

#include "app/widgets/number_edit.h"
#include "core/measure/measure.h"

class QToolButton;

namespace loom {

class HistogramView : public QWidget {
    Q_OBJECT
public:
    explicit HistogramView(QWidget* parent = nullptr);

    void set_histogram(const Histogram& histogram, const QString& caption);
    const Histogram& histogram() const { return histogram_; }
    /// Of a reference picture, as an outline; nothing takes it away.
    void set_reference(const std::optional<Histogram>& histogram);
    const std::optional<Histogram>& reference() const { return reference_; }
    /// By ToneHandle. The middle is a power and lies where it makes half of the range; what black and white become has a strip of
    /// its own below.
    using Handles = std::array<double, 6>;
    void set_handles(const Handles& tones);
    void clear_handles();
    bool has_handles() const { return has_handles_; }
    /// Place of a handle in this widget, for tests and tooltips.
    QPoint handle_place(ToneHandle handle) const;
    QToolButton* automatic_button() const { return automatic_; }

    QSize sizeHint() const override { return {280, 150}; }

signals:
    /// To have black and white where the tones end.
    void automatic_wanted();
    void handle_moved(loom::ToneHandle handle, double value, const QString& gesture);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    QRect plot() const;
    double& value_of(ToneHandle handle) { return tones_[static_cast<std::size_t>(handle)]; }
    double tone_of(ToneHandle handle) const;
    int foot() const;
    void move_to(ToneHandle handle, double tone);

    Histogram histogram_;
    std::optional<Histogram> reference_;
    QString caption_;
    bool has_handles_ = false;
    Handles tones_{};
    ToneHandle held_ = ToneHandle::none, chosen_ = ToneHandle::black;
    GestureSource gestures_;
    QToolButton* automatic_;
};

}  // namespace loom
