// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/levels_edit.h"

#include <QHBoxLayout>
#include <QSettings>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"
#include "app/widgets/number_field.h"
#include "app/widgets/tone_counts.h"

namespace loom {

namespace {
constexpr const char* share_key = "levels/share";
constexpr double usual_share = 0.1;
}  // namespace

LevelsField::LevelsField(QWidget* parent) : ToneField(parent) {
    setAccessibleName(tr("Levels"));
    setToolTip(
        tr("Drag the ends of the line: across for the tones that become darkest and lightest, up and down for what they "
           "become. Drag its middle up to lighten, down to darken. Page Up and Page Down choose a handle, arrows move it."));
}

void LevelsField::set_tones(const Tones& tones) {
    if (tones == tones_) return;
    tones_ = tones;
    update();
    emit chosen_changed();
}

CurvePoints LevelsField::handles() const {
    const double dark = tone(ToneHandle::black), light = tone(ToneHandle::white);
    const double between = (dark + light) / 2;
    return {{dark, tone(ToneHandle::out_black)}, {between, out(between)}, {light, tone(ToneHandle::out_white)}};
}

double LevelsField::out(double in) const {
    const double dark = tone(ToneHandle::black), range = std::max(1e-5, tone(ToneHandle::white) - dark);
    const double share = std::pow(std::clamp((in - dark) / range, 0.0, 1.0), 1 / std::max(1e-3, tone(ToneHandle::middle)));
    return tone(ToneHandle::out_black) + (tone(ToneHandle::out_white) - tone(ToneHandle::out_black)) * share;
}

std::pair<double, double> LevelsField::kept() const { return {tone(ToneHandle::black), tone(ToneHandle::white)}; }

void LevelsField::move_handle(int handle, const CurvePoint& to, const QString& gesture) {
    Changes changes;
    const double dark = tone(ToneHandle::black), light = tone(ToneHandle::white), rise = std::clamp(to.out, 0.0, 1.0);
    if (handle == dark_end) {
        changes = {{ToneHandle::black, std::clamp(to.in, 0.0, std::max(0.0, light - tone_step))}, {ToneHandle::out_black, rise}};
    } else if (handle == light_end) {
        changes = {{ToneHandle::white, std::clamp(to.in, std::min(1.0, dark + tone_step), 1.0)}, {ToneHandle::out_white, rise}};
    } else {
        const double low = tone(ToneHandle::out_black), range = tone(ToneHandle::out_white) - low;
        if (std::abs(range) < tone_step) return;
        // Half of the range comes out as this share of what goes out.
        const double share = std::clamp((to.out - low) / range, 0.02, 0.98);
        changes = {{ToneHandle::middle, std::round(100 * std::log(0.5) / std::log(share)) / 100}};
    }
    for (const auto& [which, value] : changes) tones_[static_cast<std::size_t>(which)] = value;
    update();
    emit changed(changes, gesture);
    emit chosen_changed();
}

LevelsEdit::LevelsEdit(QWidget* parent) : QWidget(parent) {
    field_ = new LevelsField(this);
    automatic_ = new QToolButton(this);
    automatic_->setText(tr("Automatic"));
    automatic_->setFont(theme::small_font());
    automatic_->setToolTip(tr("The line's ends where the tones end, but for the share beside it"));
    automatic_->setFocusPolicy(Qt::StrongFocus);
    share_ = new NumberField(this);
    share_->setRange(0, 20);
    share_->setDecimals(1);
    share_->setSingleStep(0.1);
    share_->setSuffix(" %");
    share_->setFixedWidth(58);
    share_->setAccessibleName(tr("Share of the area that may be lost at either end"));
    share_->setToolTip(share_->accessibleName());
    share_->setValue(QSettings().value(share_key, usual_share).toDouble());
    auto* line = new QHBoxLayout;
    line->setSpacing(6);
    line->addStretch(1);
    line->addWidget(automatic_);
    line->addWidget(share_);
    auto* stack = new QVBoxLayout(this);
    stack->setContentsMargins(0, 0, 0, 0);
    stack->setSpacing(5);
    stack->addWidget(field_, 1);
    stack->addLayout(line);
    connect(share_, &QDoubleSpinBox::valueChanged, this, [](double share) { QSettings().setValue(share_key, share); });
    connect(automatic_, &QToolButton::clicked, this, [this] {
        const ToneEnds ends = tone_ends(field_->histogram(), share_->value() / 100);
        emit automatic_wanted(ends.dark, ends.light);
    });
}

}  // namespace loom
