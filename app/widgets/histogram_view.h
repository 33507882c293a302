// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The tones of a picture.
#pragma once

#include <QWidget>
#include <optional>

#include "core/measure/measure.h"

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
    QSize sizeHint() const override { return {280, 150}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Histogram histogram_;
    std::optional<Histogram> reference_;
    QString caption_;
};

}  // namespace loom
