// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/export/pack_row.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QToolButton>

#include "app/export/map_card.h"
#include "app/theme/theme.h"
#include "app/widgets/text.h"

namespace loom {

namespace {

/// Every channel there is, as it is and from 1, with the word that stands for it.
void fill(QComboBox* box) {
    box->addItem(PackRow::tr("black"), QString());
    const QStringList words = qt(channel_words()).split(", ");
    for (const QString& word : words) box->addItem(word, word);
    for (const QString& word : words) box->addItem(PackRow::tr("1 − %1").arg(word), "1-" + word);
}

}  // namespace

PackRow::PackRow(QWidget* parent) : QWidget(parent) {
    name_ = new QLineEdit("packed", this);
    name_->setAccessibleName(tr("Name of the packed picture"));
    name_->setFixedWidth(84);
    auto* line = new QHBoxLayout(this);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(5);
    line->addWidget(name_);
    const QString names[] = {tr("R"), tr("G"), tr("B"), tr("A")};
    const QString spoken[] = {tr("Red takes"), tr("Green takes"), tr("Blue takes"), tr("Alpha takes")};
    for (int k = 0; k < 4; ++k) {
        auto* label = new QLabel(names[k], this);
        label->setFont(theme::small_font());
        label->setForegroundRole(QPalette::PlaceholderText);
        channels_[k] = new QComboBox(this);
        channels_[k]->setAccessibleName(spoken[k]);
        channels_[k]->setAccessibleDescription(spoken[k]);
        channels_[k]->setMinimumWidth(60);
        channels_[k]->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        if (k == 3) channels_[k]->addItem(tr("none"), "-");
        fill(channels_[k]);
        line->addWidget(label);
        line->addWidget(channels_[k], 1);
        connect(channels_[k], &QComboBox::currentIndexChanged, this, &PackRow::changed);
    }
    format_ = format_box(tr("Format of the packed picture"), this);
    line->addWidget(format_);
    auto* remove = new QToolButton(this);
    remove->setText(tr("Remove"));
    remove->setAccessibleName(tr("Remove the packed picture"));
    remove->setFocusPolicy(Qt::StrongFocus);
    line->addWidget(remove);
    connect(name_, &QLineEdit::textEdited, this, &PackRow::changed);
    connect(format_, &QComboBox::currentIndexChanged, this, &PackRow::changed);
    connect(remove, &QToolButton::clicked, this, &PackRow::removed);
}

void PackRow::set_picture(const ExportPicture& picture) {
    const QSignalBlocker blocker(this);
    name_->setText(QString::fromStdString(picture.pack));
    for (std::size_t k = 0; k < 4; ++k) {
        const bool there = k < picture.channels.size();
        const QString word = there ? QString::fromStdString(channel_text(picture.channels[k])) : QString(k == 3 ? "-" : "");
        channels_[k]->setCurrentIndex(std::max(0, channels_[k]->findData(word)));
    }
    set_format(format_, picture.format);
}

ExportPicture PackRow::picture() const {
    ExportPicture picture;
    picture.pack = name_->text().trimmed().isEmpty() ? "packed" : name_->text().trimmed().toStdString();
    picture.format = format_in(format_);
    for (const QComboBox* box : channels_) {
        const QString word = box->currentData().toString();
        if (word == "-") break;
        picture.channels.push_back(find_channel(word.toStdString()).value_or(Channel{}));
    }
    return picture;
}

}  // namespace loom
