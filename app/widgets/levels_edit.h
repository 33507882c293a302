// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Levels as a line over the tones: where it begins and ends, and how far its middle is pulled.
#pragma once

#include "app/widgets/tone_field.h"
#include "core/catalogue/description.h"

class QToolButton;

namespace loom {

class NumberField;

class LevelsField : public ToneField {
    Q_OBJECT
public:
    enum Which { dark_end, middle, light_end };
    /// By ToneHandle. The middle is a power.
    using Tones = std::array<double, 6>;
    using Changes = std::vector<std::pair<ToneHandle, double>>;

    explicit LevelsField(QWidget* parent = nullptr);
    void set_tones(const Tones& tones);

signals:
    void changed(const loom::LevelsField::Changes& changes, const QString& gesture);

protected:
    CurvePoints handles() const override;
    double out(double in) const override;
    std::pair<double, double> kept() const override;
    void move_handle(int handle, const CurvePoint& to, const QString& gesture) override;

private:
    double tone(ToneHandle handle) const { return tones_[static_cast<std::size_t>(handle)]; }
    Tones tones_{0, 0, 1, 1, 0, 1};
};

/// The field, and a button that puts its ends where the tones end, but for a share that may be lost.
class LevelsEdit : public QWidget {
    Q_OBJECT
public:
    explicit LevelsEdit(QWidget* parent = nullptr);
    LevelsField* field() const { return field_; }
    QToolButton* automatic_button() const { return automatic_; }
    /// Percent of the area at either end.
    NumberField* share_field() const { return share_; }

signals:
    /// To have the ends at these tones.
    void automatic_wanted(double dark, double light);

private:
    LevelsField* field_;
    QToolButton* automatic_;
    NumberField* share_;
};

}  // namespace loom
