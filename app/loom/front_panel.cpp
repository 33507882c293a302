// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/front_panel.h"

#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/theme/theme.h"
#include "app/widgets/number_edit.h"
#include "app/widgets/text.h"
#include "core/recipe/edits.h"

namespace loom {

namespace {

constexpr int swatch = 128, swatches_across = 4;

QLabel* line(const QString& text, const QFont& font, bool faint) {
    auto* label = new QLabel(text);
    label->setFont(font);
    label->setWordWrap(true);
    label->setTextFormat(Qt::PlainText);
    if (faint) label->setForegroundRole(QPalette::PlaceholderText);
    return label;
}

}  // namespace

FrontPanel::FrontPanel(Session& session, QWidget* parent) : QScrollArea(parent), session_(session) {
    setWidgetResizable(true);
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFocusPolicy(Qt::NoFocus);
    later_.setSingleShot(true);
    later_.setInterval(150);
    connect(&later_, &QTimer::timeout, this, &FrontPanel::order);
    connect(&session_, &Session::recipe_changed, this, &FrontPanel::follow);
    connect(&service_, &TryService::ready, this, [this](quint64 ticket, int index, const QImage& image) {
        if (ticket != ticket_) return;
        --missing_;
        if (!image.isNull())
            pictured_[static_cast<std::size_t>(index)]->setIcon(
                QIcon(QPixmap::fromImage(image.scaled(swatch * 2, swatch * 2, Qt::KeepAspectRatio, Qt::SmoothTransformation))));
    });
}

NumberEdit* FrontPanel::dial(const std::string& name) const {
    const auto found = dials_.find(name);
    return found == dials_.end() ? nullptr : found->second;
}

QToolButton* FrontPanel::colourway(const std::string& name) const {
    const auto found = colourways_.find(name);
    return found == colourways_.end() ? nullptr : found->second;
}

void FrontPanel::follow() {
    if (!isVisible()) return;
    const Recipe& recipe = session_.recipe();
    std::string shape = recipe.name;
    for (const Dial& dial : recipe.dials) shape += "|" + dial.name;
    shape += "#";
    for (const Colourway& colourway : recipe.colourways) shape += "|" + colourway.name;
    if (shape != shape_) {
        shape_ = shape;
        rebuild();
    }
    for (const Dial& dial : recipe.dials) dials_.at(dial.name)->set_value(dial.value);
    const std::string present = present_colourway(recipe);
    for (const auto& [name, button] : colourways_) button->setChecked(name == present);
    if (!colourways_.empty()) later_.start();
}

void FrontPanel::rebuild() {
    const Recipe& recipe = session_.recipe();
    dials_.clear(), colourways_.clear(), pictured_.clear();
    ticket_ = 0;
    form_ = new QWidget;
    auto* stack = new QVBoxLayout(form_);
    stack->setContentsMargins(24, 20, 24, 20);
    stack->setSpacing(8);
    stack->addWidget(line(qt(recipe.name), theme::strong_font(20), false));
    stack->addWidget(line(tr("What this recipe offers at its front. The strands it is made of are a key away (Ctrl+Shift+D)."),
                          theme::small_font(), true));
    stack->addSpacing(10);
    if (!recipe.colourways.empty()) {
        stack->addWidget(line(tr("Colourways"), theme::strong_font(13), false));
        auto* grid = new QGridLayout;
        grid->setSpacing(8);
        int place = 0;
        for (const Colourway& each : recipe.colourways) {
            auto* button = new QToolButton(form_);
            button->setText(qt(each.name).replace('&', "&&"));
            button->setAccessibleName(tr("Colourway %1").arg(qt(each.name)));
            button->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
            button->setIconSize({swatch - 16, swatch - 16});
            button->setFixedSize(swatch, swatch + 16);
            button->setCheckable(true);
            button->setFocusPolicy(Qt::StrongFocus);
            connect(button, &QToolButton::clicked, this, [this, name = each.name] {
                session_.apply(with_colourway(session_.recipe(), name), tr("Colourway %1").arg(qt(name)));
                follow();
            });
            grid->addWidget(button, place / swatches_across, place % swatches_across);
            ++place;
            colourways_[each.name] = button, pictured_.push_back(button);
        }
        grid->setColumnStretch(swatches_across, 1);
        stack->addLayout(grid);
        stack->addSpacing(10);
    }
    stack->addWidget(line(tr("Dials"), theme::strong_font(13), false));
    if (recipe.dials.empty())
        stack->addWidget(line(tr("There are none yet. At the desk, click the name of a value and make a dial of it."),
                              theme::text_font(), true));
    auto* rows = new QGridLayout;
    rows->setHorizontalSpacing(14);
    rows->setVerticalSpacing(10);
    for (const Dial& dial : recipe.dials) {
        auto* edit = new NumberEdit(percent_parameter(dial.name), qt(dial.name), form_);
        auto* label = line(qt(dial.name), theme::text_font(), false);
        label->setMinimumWidth(140);
        const int row = static_cast<int>(dials_.size());
        rows->addWidget(label, row, 0);
        rows->addWidget(edit, row, 1);
        connect(edit, &NumberEdit::changed, this, [this, name = dial.name](double value, const QString& gesture) {
            session_.apply(with_dial(session_.recipe(), name, value), tr("Dial %1").arg(qt(name)), {gesture, qt(name)});
        });
        dials_[dial.name] = edit;
    }
    rows->setColumnStretch(1, 1);
    stack->addLayout(rows);
    stack->addSpacing(10);
    seed_ = new QPushButton(form_);
    seed_->setText(tr("Another piece of it"));
    seed_->setToolTip(tr("Another seed: the same material, laid anew"));
    connect(seed_, &QPushButton::clicked, this,
            [this] { session_.apply(with_seed(session_.recipe(), session_.recipe().seed + 1), tr("Another seed")); });
    stack->addWidget(seed_, 0, Qt::AlignLeft);
    stack->addStretch(1);
    if (QWidget* old = takeWidget()) old->deleteLater();
    setWidget(form_);
}

void FrontPanel::order() {
    std::vector<TryOrder> orders;
    for (const Colourway& each : session_.recipe().colourways)
        orders.push_back({with_colourway(session_.recipe(), each.name), own_picture});
    missing_ = static_cast<int>(orders.size());
    ticket_ = service_.submit(std::move(orders));
}

void FrontPanel::showEvent(QShowEvent* event) {
    QScrollArea::showEvent(event);
    follow();
}

void FrontPanel::hideEvent(QHideEvent* event) {
    QScrollArea::hideEvent(event);
    later_.stop();
    service_.stop();
    missing_ = 0;
}

}  // namespace loom
