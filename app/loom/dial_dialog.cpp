// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/dial_dialog.h"

#include <QDialogButtonBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/theme/theme.h"
#include "app/widgets/number_edit.h"
#include "app/widgets/number_field.h"
#include "app/widgets/text.h"
#include "core/recipe/drives.h"
#include "core/recipe/variations.h"

namespace loom {

DialDialog::DialDialog(Session& session, std::string dial, QWidget* parent)
    : QDialog(parent), session_(session), dial_(std::move(dial)) {
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Dial %1").arg(qt(dial_)));
    auto* text = new QLabel(
        tr("At 0 a value stands where the first number says, at 100 where the second does. The first may be the greater."), this);
    text->setWordWrap(true);
    text->setMinimumWidth(420);
    rows_ = new QGridLayout;
    rows_->setHorizontalSpacing(10);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
    buttons->button(QDialogButtonBox::Close)->setIcon({});
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    auto* stack = new QVBoxLayout(this);
    stack->setSpacing(12);
    stack->addWidget(text);
    stack->addLayout(rows_);
    stack->addStretch(1);
    stack->addWidget(buttons);
    connect(&session_, &Session::recipe_changed, this, &DialDialog::rebuild);
    rebuild();
}

QDoubleSpinBox* DialDialog::end(int drive, bool to) const {
    const auto& [from_field, to_field] = ends_[static_cast<std::size_t>(drive)];
    return to ? to_field : from_field;
}

void DialDialog::rebuild() {
    const Recipe& recipe = session_.recipe();
    const auto dial =
        std::find_if(recipe.dials.begin(), recipe.dials.end(), [&](const Dial& each) { return each.name == dial_; });
    if (dial == recipe.dials.end()) return reject();
    if (ends_.size() == dial->drives.size()) {
        for (std::size_t k = 0; k < ends_.size(); ++k) {
            const auto place = place_at(recipe, dial->drives[k].at);
            const double factor = place ? shown_factor(place->parameter) : 1;
            for (auto [field, value] :
                 {std::pair{ends_[k].first, dial->drives[k].from}, std::pair{ends_[k].second, dial->drives[k].to}}) {
                const QSignalBlocker quiet(field);
                if (!field->hasFocus()) field->setValue(value * factor);
            }
        }
        return;
    }
    while (QLayoutItem* item = rows_->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    ends_.clear();
    const QString heads[] = {tr("Value"), tr("At 0"), tr("At 100")};
    for (int k = 0; k < 3; ++k) {
        auto* head = new QLabel(heads[k], this);
        head->setFont(theme::strong_font());
        rows_->addWidget(head, 0, k);
    }
    for (const Drive& drive : dial->drives) {
        const auto place = place_at(recipe, drive.at);
        if (!place) continue;
        const int row = static_cast<int>(ends_.size()) + 1;
        const QString title = qt(place_title(recipe, drive.at));
        rows_->addWidget(new QLabel(title, this), row, 0);
        NumberField* fields[2];
        for (int k = 0; k < 2; ++k) {
            auto* field = fields[k] = new NumberField(this);
            suit_field(field, place->parameter);
            field->setFixedWidth(88);
            field->setAccessibleName(tr("%1 at %2").arg(title).arg(k * 100));
            field->setValue((k == 0 ? drive.from : drive.to) * shown_factor(place->parameter));
            rows_->addWidget(field, row, 1 + k);
            connect(field, &QDoubleSpinBox::valueChanged, this,
                    [this, at = drive.at, to = k == 1, factor = shown_factor(place->parameter)](double value) {
                        session_.apply(drive_ended(session_.recipe(), dial_, at, to, value / factor),
                                       tr("Range of %1").arg(qt(dial_)));
                    });
        }
        ends_.emplace_back(fields[0], fields[1]);
        auto* free = new QToolButton(this);
        free->setText(tr("Free it"));
        free->setAccessibleName(tr("Free %1 from the dial").arg(title));
        free->setFocusPolicy(Qt::StrongFocus);
        rows_->addWidget(free, row, 3);
        connect(free, &QToolButton::clicked, this, [this, at = drive.at] {
            session_.apply(freed_from(session_.recipe(), dial_, at), tr("Free a value from %1").arg(qt(dial_)));
        });
    }
}

}  // namespace loom
