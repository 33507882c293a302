// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/export/map_card.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QPainter>

#include "app/theme/theme.h"
#include "app/widgets/elided_label.h"
#include "app/widgets/text.h"

namespace loom {

namespace {
constexpr int picture_side = 98, margin = 8;
}

QComboBox* format_box(const QString& name, QWidget* parent) {
    auto* box = new QComboBox(parent);
    box->setAccessibleName(name);
    // A list is called by what it shows; what it is for is its description.
    box->setAccessibleDescription(name);
    for (const PictureFormatInfo& info : picture_format_table) box->addItem(qt(info.title), static_cast<int>(info.format));
    return box;
}
PictureFormat format_in(const QComboBox* box) { return static_cast<PictureFormat>(box->currentData().toInt()); }
void set_format(QComboBox* box, PictureFormat format) { box->setCurrentIndex(box->findData(static_cast<int>(format))); }

MapCard::MapCard(Map map, QWidget* parent) : QFrame(parent), map_(map) {
    const QString title = qt(map_info(map).title);
    on_ = new QCheckBox(title, this);
    on_->setFont(theme::strong_font(12));
    on_->setAccessibleName(tr("Write %1").arg(title));
    note_ = new ElidedLabel(this);
    note_->setFont(theme::small_font());
    note_->setForegroundRole(QPalette::PlaceholderText);
    format_ = format_box(tr("Format of %1").arg(title), this);
    file_ = new ElidedLabel(this);
    file_->setFont(theme::small_font());
    size_ = new QLabel(this);
    size_->setFont(theme::small_font());
    size_->setForegroundRole(QPalette::PlaceholderText);
    auto* side = new QVBoxLayout;
    side->setSpacing(5);
    side->addWidget(on_);
    side->addWidget(note_);
    side->addWidget(format_);
    side->addStretch(1);
    auto* foot = new QHBoxLayout;
    foot->addWidget(file_, 1);
    foot->addWidget(size_);
    auto* layout = new QGridLayout(this);
    layout->setContentsMargins(margin, margin, margin, margin);
    layout->setHorizontalSpacing(9);
    layout->setVerticalSpacing(4);
    layout->setColumnMinimumWidth(0, picture_side);
    layout->setRowMinimumHeight(0, picture_side);
    layout->setColumnStretch(1, 1);
    layout->addLayout(side, 0, 1);
    layout->addLayout(foot, 1, 0, 1, 2);
    setFixedHeight(picture_side + 2 * margin + 22);
    connect(on_, &QCheckBox::toggled, this, &MapCard::changed);
    connect(format_, &QComboBox::currentIndexChanged, this, &MapCard::changed);
}

void MapCard::show_picture(const QImage& picture) {
    picture_ = picture;
    update();
}

void MapCard::show_note(const QString& note) { note_->setText(note); }

void MapCard::show_file(const QString& name, const QString& size) { file_->setText(name), size_->setText(size); }

void MapCard::set_picture(const std::optional<ExportPicture>& picture) {
    const QSignalBlocker one(on_), other(format_);
    on_->setChecked(picture.has_value());
    if (picture) set_format(format_, picture->format);
    format_->setEnabled(on_->isChecked());
    update();
}

std::optional<ExportPicture> MapCard::picture() const {
    format_->setEnabled(on_->isChecked());
    if (!on_->isChecked()) return std::nullopt;
    return ExportPicture{map_, "", {}, format_in(format_)};
}

void MapCard::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.setPen(c.line);
    painter.setBrush(on_->isChecked() ? c.card : c.panel);
    painter.drawRoundedRect(rect().adjusted(0, 0, -1, -1), 3, 3);
    const QRect frame(margin, margin, picture_side, picture_side);
    if (picture_.isNull()) return painter.fillRect(frame, c.line);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    // What is not written is there, but faint.
    painter.setOpacity(on_->isChecked() ? 1 : 0.35);
    const QSize size = picture_.size().scaled(frame.size() * devicePixelRatioF(), Qt::KeepAspectRatio);
    QImage shown = picture_.scaled(size, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
    shown.setDevicePixelRatio(devicePixelRatioF());
    const QSizeF laid = QSizeF(size) / devicePixelRatioF();
    painter.drawImage(QPointF(frame.x() + (frame.width() - laid.width()) / 2, frame.y() + (frame.height() - laid.height()) / 2),
                      shown);
}

}  // namespace loom
