// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QWidget>
#include <optional>

#include "core/measure/measure.h"

namespace loom {

/// The tiling measures of the cloth in one line; amber where something will be seen.
class MeasuresBar : public QWidget {
    Q_OBJECT
public:
    explicit MeasuresBar(QWidget* parent = nullptr);
    void show_measures(const Measures& measures);
    /// Those of a reference picture, beside ours; nothing takes them away.
    void show_reference(const std::optional<Measures>& measures);
    /// Greys the numbers while they belong to an older cloth.
    void set_stale(bool stale);
    bool stale() const { return stale_; }
    const Measures& measures() const { return measures_; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Measures measures_;
    std::optional<Measures> reference_;
    bool known_ = false, stale_ = false;
};

}  // namespace loom
