// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The widgets of the Export view.
#include <QButtonGroup>
#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QIntValidator>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QRadioButton>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/export/export_view.h"
#include "app/export/map_card.h"
#include "app/export/pack_row.h"
#include "app/export/written_panel.h"
#include "app/theme/theme.h"
#include "app/widgets/text.h"

namespace loom {

namespace {

constexpr int usual_sizes[] = {512, 1024, 2048, 4096, 8192, 16384};
constexpr int least_right_width = 300, right_width = 384, caption_width = 62;

QLabel* caption(const QString& text, QWidget* parent, QWidget* buddy = nullptr) {
    auto* label = new QLabel(text, parent);
    label->setFont(theme::strong_font(12));
    label->setFixedWidth(caption_width);
    if (buddy) label->setBuddy(buddy);
    return label;
}

QLabel* faint(QWidget* parent) {
    auto* label = new QLabel(parent);
    label->setFont(theme::small_font());
    label->setForegroundRole(QPalette::PlaceholderText);
    return label;
}

}  // namespace

QWidget* ExportView::build_left() {
    auto* left = new QWidget(this);
    auto* layout = new QVBoxLayout(left);
    layout->setContentsMargins(16, 10, 16, 12);
    layout->setSpacing(9);
    auto* top = new QHBoxLayout;
    auto* title = new QLabel(tr("What is written"), left);
    title->setFont(theme::strong_font(13));
    presets_ = new QComboBox(left);
    presets_->setAccessibleName(tr("Preset"));
    presets_->setMinimumWidth(150);
    presets_->setToolTip(tr("What is chosen here can be kept in the recipe under a name"));
    keep_ = new QToolButton(left);
    keep_->setText(tr("Keep as preset…"));
    keep_->setFocusPolicy(Qt::StrongFocus);
    forget_ = new QToolButton(left);
    forget_->setText(tr("Remove"));
    forget_->setAccessibleName(tr("Remove the preset"));
    forget_->setFocusPolicy(Qt::StrongFocus);
    colourways_ = new QCheckBox(tr("Every colourway"), left);
    top->addWidget(title, 1);
    top->addWidget(colourways_);
    top->addSpacing(10);
    top->addWidget(presets_);
    top->addWidget(keep_);
    top->addWidget(forget_);
    layout->addLayout(top);
    grid_ = new QGridLayout;
    grid_->setSpacing(10);
    for (const MapInfo& info : map_table) {
        auto* card = new MapCard(info.map, left);
        connect(card, &MapCard::changed, this, &ExportView::follow);
        cards_.push_back(card);
    }
    lay_cards(3);
    layout->addLayout(grid_);

    auto* packed = new QHBoxLayout;
    pack_rows_ = new QVBoxLayout;
    pack_rows_->setSpacing(5);
    add_pack_ = new QPushButton(tr("Pack channels"), left);
    add_pack_->setToolTip(tr("Adds a picture that takes its channels from several maps"));
    auto* add_line = new QHBoxLayout;
    add_line->addWidget(add_pack_);
    add_line->addStretch(1);
    auto* pack_column = new QVBoxLayout;
    pack_column->setSpacing(5);
    pack_column->addLayout(pack_rows_);
    pack_column->addLayout(add_line);
    packed->addWidget(caption(tr("Packed"), left), 0, Qt::AlignTop);
    packed->addLayout(pack_column, 1);
    layout->addLayout(packed);

    // Boxes where several may be on, rounds where one is.
    const auto choice = [&](QButtonGroup* group, QHBoxLayout* line, const QString& text, int id, const QString& name) {
        auto* button = new QRadioButton(text, left);
        button->setAccessibleName(name);
        group->addButton(button, id);
        line->addWidget(button);
    };
    auto* size_line = new QHBoxLayout;
    size_line->setSpacing(14);
    size_line->addWidget(caption(tr("Sizes"), left));
    for (int size : usual_sizes) {
        auto* box = new QCheckBox(QString::number(size), left);
        box->setAccessibleName(tr("%1 pixels").arg(size));
        size_line->addWidget(box);
        sizes_.push_back(box);
        connect(box, &QCheckBox::toggled, this, &ExportView::follow);
    }
    own_size_ = new QLineEdit(left);
    own_size_->setAccessibleName(tr("Another size, pixels of the longer side"));
    own_size_->setPlaceholderText(tr("other"));
    own_size_->setFixedWidth(64);
    size_line->addWidget(own_size_);
    size_line->addStretch(1);
    layout->addLayout(size_line);

    auto* name_line = new QHBoxLayout;
    name_line->setSpacing(6);
    names_ = new QLineEdit(left);
    names_->setToolTip(tr("Of {name}, {map}, {size}, {width}, {height} and {colourway}; / makes folders"));
    names_->setMinimumWidth(240);
    name_shown_ = faint(left);
    name_rule_ = faint(left);
    name_line->addWidget(caption(tr("&Names"), left, names_));
    name_line->addWidget(names_, 1);
    name_line->addSpacing(6);
    name_line->addWidget(name_rule_);
    layout->addLayout(name_line);
    auto* shown_line = new QHBoxLayout;
    shown_line->setSpacing(6);
    shown_line->addWidget(caption({}, left));
    shown_line->addWidget(name_shown_, 1);
    layout->addLayout(shown_line);

    auto* material_line = new QHBoxLayout;
    material_line->setSpacing(14);
    material_line->addWidget(caption(tr("Material"), left));
    materials_ = new QButtonGroup(this);
    for (const MaterialInfo& info : material_table)
        choice(materials_, material_line, qt(info.title), static_cast<int>(info.material),
               tr("Material: %1").arg(qt(info.title)));
    material_line->addStretch(1);
    layout->addLayout(material_line);
    auto* normal_line = new QHBoxLayout;
    normal_line->setSpacing(14);
    normal_line->addWidget(caption(tr("Normals"), left));
    green_ = new QButtonGroup(this);
    choice(green_, normal_line, tr("green up"), 0, tr("Green of normals up, as OpenGL has it"));
    choice(green_, normal_line, tr("green down"), 1, tr("Green of normals down, as DirectX has it"));
    normal_line->addStretch(1);
    layout->addLayout(normal_line);

    auto* folder_line = new QHBoxLayout;
    folder_line->setSpacing(6);
    folder_ = new QLineEdit(left);
    auto* choose = new QPushButton(tr("Choose…"), left);
    choose->setAccessibleName(tr("Choose the folder"));
    folder_line->addWidget(caption(tr("&Into"), left, folder_));
    folder_line->addWidget(folder_, 1);
    folder_line->addWidget(choose);
    layout->addLayout(folder_line);
    layout->addStretch(1);

    connect(add_pack_, &QPushButton::clicked, this, [this] {
        ExportPicture picture;
        picture.pack = "orm";
        for (const char* word : {"occlusion", "roughness", "metalness"}) picture.channels.push_back(*find_channel(word));
        add_pack(picture)->name_field()->setFocus();
        follow();
    });
    connect(materials_, &QButtonGroup::idToggled, this, &ExportView::follow);
    connect(green_, &QButtonGroup::idToggled, this, &ExportView::follow);
    connect(own_size_, &QLineEdit::textChanged, this, &ExportView::follow);
    connect(names_, &QLineEdit::textChanged, this, &ExportView::follow);
    connect(folder_, &QLineEdit::textChanged, this, &ExportView::follow);
    connect(colourways_, &QCheckBox::toggled, this, &ExportView::follow);
    connect(choose, &QPushButton::clicked, this, [this] {
        auto* dialog = new QFileDialog(this, tr("Export into"), folder_->text());
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->setFileMode(QFileDialog::Directory);
        connect(dialog, &QFileDialog::fileSelected, folder_, &QLineEdit::setText);
        dialog->open();
    });
    auto* scroll = new QScrollArea(this);
    scroll->setWidget(left);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setFocusPolicy(Qt::NoFocus);
    return scroll;
}

void ExportView::lay_cards(int columns) {
    if (columns == columns_) return;
    columns_ = columns;
    for (MapCard* card : cards_) grid_->removeWidget(card);
    for (int k = 0; k < static_cast<int>(cards_.size()); ++k)
        grid_->addWidget(cards_[static_cast<std::size_t>(k)], k / columns, k % columns);
    for (int k = 0; k < 3; ++k) grid_->setColumnStretch(k, k < columns ? 1 : 0);
}

QWidget* ExportView::build_right() {
    auto* right = new QWidget(this);
    right->setObjectName("export-side");
    right->setMinimumWidth(least_right_width);
    right->setMaximumWidth(right_width);
    right->setStyleSheet("#export-side { border-left: 1px solid palette(mid); }");
    auto* layout = new QVBoxLayout(right);
    layout->setContentsMargins(19, 14, 19, 14);
    layout->setSpacing(8);
    head_ = new QLabel(right);
    head_->setFont(theme::strong_font(15));
    head_->setWordWrap(true);
    layout->addWidget(head_);
    const auto fact = [&](const QString& name) {
        auto* line = new QHBoxLayout;
        auto* label = new QLabel(name, right);
        label->setForegroundRole(QPalette::PlaceholderText);
        auto* value = new QLabel(right);
        value->setAlignment(Qt::AlignRight);
        line->addWidget(label);
        line->addWidget(value, 1);
        layout->addLayout(line);
        return value;
    };
    memory_ = fact(tr("Memory while it runs"));
    disk_ = fact(tr("On the disk"));
    time_ = fact(tr("Time on this machine"));
    write_ = new QPushButton(right);
    write_->setObjectName("write");
    write_->setMinimumHeight(36);
    write_->setProperty("primary", true);
    write_->setFont(theme::strong_font(13));
    layout->addSpacing(6);
    layout->addWidget(write_);
    panel_ = new WrittenPanel(work_, right);
    layout->addWidget(panel_, 1);
    layout->addSpacing(8);
    auto* same = new QLabel(tr("The same without a window"), right);
    same->setFont(theme::strong_font(13));
    layout->addWidget(same);
    command_ = new QPlainTextEdit(right);
    command_->setReadOnly(true);
    command_->setTabChangesFocus(true);
    command_->setAccessibleName(tr("The command that does the same"));
    command_->setFixedHeight(84);
    QFont fixed("monospace");
    fixed.setStyleHint(QFont::Monospace);
    fixed.setPixelSize(11);
    command_->setFont(fixed);
    same->setBuddy(command_);
    layout->addWidget(command_);
    copy_ = new QPushButton(tr("Copy"), right);
    copy_->setAccessibleName(tr("Copy the command"));
    auto* copy_line = new QHBoxLayout;
    copy_line->addStretch(1);
    copy_line->addWidget(copy_);
    layout->addLayout(copy_line);
    return right;
}

}  // namespace loom
