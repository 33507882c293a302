// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/export/written_list.h"

#include <QPainter>

#include "app/theme/theme.h"

namespace loom {

namespace {
constexpr int row_height = 30, size_width = 70, state_width = 48;
}

WrittenList::WrittenList(QWidget* parent) : QWidget(parent) {
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    setAccessibleName(tr("Files"));
}

void WrittenList::show_files(std::vector<File> files) {
    const bool resized = files.size() != files_.size();
    files_ = std::move(files);
    QStringList said;
    for (const File& file : files_) said << QString("%1 %2 %").arg(file.name).arg(file.share * 100, 0, 'f', 0);
    setAccessibleDescription(said.join(", "));
    if (resized) updateGeometry();
    update();
}

QSize WrittenList::sizeHint() const { return {240, static_cast<int>(files_.size()) * row_height}; }

void WrittenList::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    for (std::size_t k = 0; k < files_.size(); ++k) {
        const File& file = files_[k];
        const QRect row(0, static_cast<int>(k) * row_height, width(), row_height - 6);
        const bool done = file.share >= 1;
        painter.setFont(theme::small_font());
        painter.setPen(c.text);
        const QRect name = row.adjusted(0, 0, -size_width - state_width, 0);
        painter.drawText(name, Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(file.name, Qt::ElideMiddle, name.width() - 6));
        painter.setPen(c.faint);
        painter.drawText(QRect(name.right(), row.top(), size_width, row.height()), Qt::AlignRight | Qt::AlignVCenter, file.size);
        painter.setFont(theme::strong_font(11));
        painter.setPen(done ? c.good : c.text);
        painter.drawText(row, Qt::AlignRight | Qt::AlignVCenter,
                         done               ? tr("done")
                         : file.share > 0.0 ? tr("%1 %").arg(file.share * 100, 0, 'f', 0)
                                            : tr("waits"));
        painter.fillRect(QRect(0, row.bottom() + 1, width(), 3), c.line);
        painter.fillRect(QRectF(0, row.bottom() + 1, width() * std::min(1.0, file.share), 3), done ? c.good : c.accent);
    }
}

}  // namespace loom
