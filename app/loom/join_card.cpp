// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/join_card.h"

#include <QContextMenuEvent>
#include <QGridLayout>
#include <QPainter>
#include <QWheelEvent>

#include "app/theme/theme.h"
#include "app/widgets/text.h"

namespace loom {

BlendBox::BlendBox(QWidget* parent) : QComboBox(parent) {
    for (Blend each : blends_by_want()) {
        addItem(qt(blend_name(each).title), static_cast<int>(each));
        setItemData(count() - 1, qt(blend_name(each).help), Qt::ToolTipRole);
    }
    setMaxVisibleItems(20);
    setFocusPolicy(Qt::StrongFocus);
}

void BlendBox::set_blend(Blend blend) { setCurrentIndex(findData(static_cast<int>(blend))); }
Blend BlendBox::blend() const { return static_cast<Blend>(currentData().toInt()); }

void BlendBox::showPopup() {
    if (pictured_) return emit pictures_wanted();
    QComboBox::showPopup();
}

void BlendBox::wheelEvent(QWheelEvent* event) {
    if (hasFocus())
        QComboBox::wheelEvent(event);
    else
        event->ignore();
}

JoinCard::JoinCard(QWidget* parent) : QWidget(parent) {
    setFixedSize(theme::card_width - 8, 80);
    blend_ = new BlendBox(this);
    blend_->set_pictured(true);
    blend_->setStyleSheet(
        QString("QComboBox { border: 1px solid transparent; background: transparent; font-weight: 600; padding: 0; "
                "min-height: 14px; } QComboBox:focus { border: 1px solid %1; padding: 0; } "
                "QComboBox::drop-down { width: 12px; }")
            .arg(theme::colours().accent.name()));
    amount_ = new QSlider(Qt::Horizontal, this);
    amount_->setRange(0, 100);
    shown_ = new QLabel(this);
    shown_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    within_ = new QCheckBox(tr("Keep within"), this);
    within_->setFont(theme::small_font());
    within_->setToolTip(tr("Shows this strand only where the strand to its left shows."));
    lift_ = new QCheckBox(tr("Lift height"), this);
    lift_->setFont(theme::small_font());
    lift_->setToolTip(
        tr("Lets the bumps of what lies beneath show through: they light this strand, and its height lies upon theirs."));
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(7, 3, 7, 3);
    grid->setHorizontalSpacing(4);
    grid->setVerticalSpacing(0);
    grid->addWidget(blend_, 0, 0, 1, 2);
    grid->addWidget(amount_, 1, 0);
    grid->addWidget(shown_, 1, 1);
    grid->addWidget(within_, 2, 0, 1, 2);
    grid->addWidget(lift_, 3, 0, 1, 2);
    grid->setColumnStretch(0, 1);

    connect(blend_, &QComboBox::currentIndexChanged, this, [this] {
        if (updating_) return;
        join_.blend = blend_->blend();
        report(gestures_.current());
    });
    connect(amount_, &QSlider::sliderPressed, this, [this] { gestures_.begin(); });
    connect(amount_, &QSlider::sliderReleased, this, [this] { gestures_.end(); });
    connect(amount_, &QSlider::valueChanged, this, [this](int value) {
        if (updating_) return;
        join_.amount = value;
        shown_->setText(tr("%1 %").arg(value));
        report(gestures_.current());
    });
    connect(within_, &QCheckBox::toggled, this, [this](bool on) {
        if (updating_) return;
        join_.within = on;
        report({});
    });
    connect(lift_, &QCheckBox::toggled, this, [this](bool on) {
        if (updating_) return;
        join_.lift = on;
        report({});
    });
}

void JoinCard::report(const QString& gesture) { emit changed(join_, gesture); }

void JoinCard::set_join(const Join& join, bool first, const QString& strand_name) {
    updating_ = true;
    join_ = join;
    first_ = first;
    blend_->set_blend(join.blend);
    blend_->setAccessibleName(tr("Blend of %1").arg(strand_name));
    // Of a list the name that is read is what it shows.
    blend_->setAccessibleDescription(blend_->accessibleName());
    amount_->setAccessibleName(tr("Amount of %1").arg(strand_name));
    lift_->setAccessibleName(tr("Lift the height beneath through %1").arg(strand_name));
    within_->setAccessibleName(tr("Keep %1 within the strand to its left").arg(strand_name));
    if (!amount_->isSliderDown()) amount_->setValue(static_cast<int>(join.amount + 0.5));
    shown_->setText(tr("%1 %").arg(join.amount, 0, 'f', 0));
    within_->setChecked(join.within);
    lift_->setChecked(join.lift);
    // The first strand lies on nothing: there is no blend to choose.
    for (QWidget* widget : {static_cast<QWidget*>(blend_), static_cast<QWidget*>(within_), static_cast<QWidget*>(lift_)}) {
        // The place stays, so that all amounts stand in one line.
        QSizePolicy policy = widget->sizePolicy();
        policy.setRetainSizeWhenHidden(true);
        widget->setSizePolicy(policy);
        widget->setVisible(!first);
    }
    updating_ = false;
    update();
}

void JoinCard::set_selected(bool selected) {
    selected_ = selected;
    update();
}

void JoinCard::mousePressEvent(QMouseEvent*) { emit chosen(); }
void JoinCard::contextMenuEvent(QContextMenuEvent* event) { emit menu_wanted(event->globalPos()); }

void JoinCard::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(selected_ ? c.accent : c.line, selected_ ? 1.6 : 1));
    painter.setBrush(c.card);
    painter.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 3, 3);
    if (!first_) return;
    painter.setPen(c.text);
    painter.setFont(theme::strong_font(12));
    painter.drawText(QRect(8, 3, 80, 18), Qt::AlignLeft | Qt::AlignVCenter, tr("Base"));
    painter.setPen(c.faint);
    painter.setFont(theme::small_font());
    painter.drawText(QRect(8, height() - 21, width() - 16, 16), Qt::AlignLeft | Qt::AlignVCenter, tr("first strand"));
}

}  // namespace loom
