// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The lines of the desk for formulas, and for pictures and recipes that are kept inside.
#include <QApplication>
#include <QComboBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QLineEdit>
#include <QMenu>
#include <QPointer>
#include <QPushButton>
#include <QToolButton>

#include "app/loom/tuning_desk.h"
#include "app/theme/theme.h"
#include "app/tries/formula_parts.h"
#include "app/widgets/curve_edit.h"
#include "app/widgets/draft_edit.h"
#include "app/widgets/formula_edit.h"
#include "app/widgets/inputs_edit.h"
#include "app/widgets/picture_dialog.h"
#include "app/widgets/text.h"
#include "core/base/guard.h"
#include "core/catalogue/description.h"
#include "core/colour/palette.h"
#include "core/files/kept_picture.h"
#include "core/files/picture.h"
#include "core/recipe/assets.h"
#include "core/recipe/ramps.h"

namespace loom {

namespace {

/// The recipe that a step of this kind keeps inside, or null.
const Recipe* inner_recipe(const Recipe& recipe, const Step& step) {
    const StepDescription* description = find_step(step.kind);
    const Parameter* holder = description ? description->parameter_of(Kind::recipe) : nullptr;
    if (!holder) return nullptr;
    const auto found = recipe.assets.find(as<std::string>(value_or_default(*holder, step.set)));
    return found == recipe.assets.end() ? nullptr : found->second->recipe.get();
}

/// All inputs of a step as sliders should show them: a recipe's dials stand where it left them unless they were moved.
Inputs shown_inputs(const Recipe& recipe, const Step& step) {
    const StepDescription& description = *find_step(step.kind);
    const Inputs set = description.inputs(step.set);
    const Recipe* inner = inner_recipe(recipe, step);
    if (!description.inner) return set;
    Inputs result;
    for (const Dial& dial : inner ? inner->dials : std::vector<Dial>{}) {
        Input input;
        input.name = dial.name, input.value = dial.value, input.max = 100;
        for (const Input& moved : set)
            if (moved.name == dial.name) input.value = moved.value;
        result.push_back(std::move(input));
    }
    return result;
}

}  // namespace

void TuningDesk::add_formula(const Address& at, const Parameter& p) {
    auto* edit = new FormulaEdit(qt(p.title));
    auto* parts = new FormulaParts(edit);
    auto* reset = reset_button(at, p.fallback);
    connect(edit, &FormulaEdit::changed, this, [this, at](const QString& text, const QString& gesture) {
        session_.set_value(at, Value(text.toStdString()), gesture);
    });
    add_row(at.parameter, qt(p.title), qt(p.help), edit, reset).refresh = [this, at, edit, parts, reset, fallback = p.fallback] {
        const auto value = value_at(session_.recipe(), at);
        if (!value) return;
        if (const Step* step = session_.recipe().step(at)) parts->show_for(session_.recipe(), *step);
        edit->set_expression(QString::fromStdString(as<std::string>(*value)));
        reset->setEnabled(*value != fallback);
    };
}

void TuningDesk::add_curve(const Address& at, const Parameter& p) {
    const QString id = qt(at.parameter);
    const bool first = curves_ == nullptr;
    if (first) {
        curves_ = new CurveEdit;
        connect(curves_, &CurveEdit::changed, this,
                [this, at](const QString& which, const CurvePoints& points, const QString& gesture) {
                    session_.set_value({at.strand, at.step, which.toStdString()}, Value(points), gesture);
                });
        add_wide_row(at.parameter, {}, curves_);
    }
    const theme::Colours& c = theme::colours();
    const bool dark = theme::scheme() == theme::Scheme::dark;
    const QColor lines[] = {c.text, QColor(dark ? "#e0665c" : "#b3261e"), QColor(dark ? "#66b86f" : "#2a7a35"),
                            QColor(dark ? "#6f9be6" : "#2458b8"), c.faint};
    const std::string_view names[] = {"all", "red", "green", "blue", "lightness"};
    const auto known = std::find(std::begin(names), std::end(names), p.id);
    curves_->add_curve(id, qt(p.title), known == std::end(names) ? c.text : lines[known - std::begin(names)]);
    // Every curve follows the recipe by a row of its own, which shows nothing besides.
    const auto refresh = [this, at, id, edit = curves_] {
        if (const auto value = value_at(session_.recipe(), at)) edit->set_points(id, as<CurvePoints>(*value));
    };
    refresh();
    const auto before = rows_.back().refresh;
    rows_.back().refresh = [before, refresh] { before(), refresh(); };
}

void TuningDesk::add_draft(const Address& at, const Parameter& p) {
    auto* edit = new DraftEdit(qt(p.title));
    connect(edit, &DraftEdit::refused, &session_, &Session::refused);
    connect(edit, &DraftEdit::changed, this, [this, at](const Draft& draft, const QString& gesture) {
        session_.set_value(at, Value(LongText(draft_text(draft))), gesture);
    });
    auto refresh = [this, at, edit] {
        const auto value = value_at(session_.recipe(), at);
        if (!value) return;
        if (const auto draft = read_draft(as<std::string>(*value)); draft && *draft != edit->draft()) edit->set_draft(*draft);
    };
    refresh();
    add_wide_row(at.parameter, qt(p.help), edit).refresh = refresh;
}

void TuningDesk::add_inputs(const Address& at, const Parameter& p, bool fixed) {
    auto* edit = new InputsEdit(fixed);
    connect(edit, &InputsEdit::changed, this,
            [this, at](const Inputs& inputs, const QString& gesture) { session_.set_value(at, Value(inputs), gesture); });
    auto refresh = [this, at, edit] {
        if (const Step* step = session_.recipe().step(at)) edit->set_inputs(shown_inputs(session_.recipe(), *step));
    };
    refresh();
    add_wide_row(at.parameter, qt(p.help), edit).refresh = refresh;
}

void TuningDesk::add_text(const Address& at, const Parameter& p) {
    const Step* step = session_.recipe().step(at);
    const Recipe* inner = step ? inner_recipe(session_.recipe(), *step) : nullptr;
    if (inner) {
        // The text is the name of one of its colourways.
        auto* box = new QComboBox;
        box->setAccessibleName(qt(p.title));
        box->addItem(tr("its own"), QString());
        for (const Colourway& each : inner->colourways)
            box->addItem(QString::fromStdString(each.name), QString::fromStdString(each.name));
        connect(box, &QComboBox::activated, this,
                [this, at, box] { session_.set_value(at, Value(box->currentData().toString().toStdString())); });
        add_row(at.parameter, qt(p.title), qt(p.help), box).refresh = [this, at, box] {
            if (const auto value = value_at(session_.recipe(), at))
                box->setCurrentIndex(std::max(0, box->findData(QString::fromStdString(as<std::string>(*value)))));
        };
        return;
    }
    auto* line = new QLineEdit;
    line->setAccessibleName(qt(p.title));
    connect(line, &QLineEdit::editingFinished, this, [this, at, line] {
        line->setModified(false);
        session_.set_value(at, Value(line->text().toStdString()));
    });
    add_row(at.parameter, qt(p.title), qt(p.help), line).refresh = [this, at, line] {
        if (const auto value = value_at(session_.recipe(), at); value && !line->isModified()) {
            line->setText(QString::fromStdString(as<std::string>(*value)));
            // A long text is read from its beginning.
            if (!line->hasFocus()) line->setCursorPosition(0);
        }
    };
}

void TuningDesk::ask_ramp(const Address& at, int count, bool palette) {
    auto* dialog = picture_dialog(this, tr("Choose a picture"));
    connect(dialog, &QFileDialog::fileSelected, this,
            [this, at, count, palette](const QString& path) { take_ramp(at, path, count, palette); });
    dialog->open();
}

void TuningDesk::take_ramp(const Address& at, const QString& path, int count, bool palette) {
    take_ramp(
        at, QFileInfo(path).fileName(), [path] { return read_picture(path.toStdString()); }, count, palette);
}

void TuningDesk::take_ramp(const Address& at, const QString& name, std::function<Result<Bundle>()> read, int count,
                           bool palette) {
    Work work;
    work.doing = "reading '" + name.toStdString() + "'";
    work.urgency = Urgency::reading;
    files_.submit<std::vector<PaletteColour>>(
        std::move(work),
        [read = std::move(read), count, palette](const WorkContext& context) -> Result<std::vector<PaletteColour>> {
            const auto picture = read();
            if (!picture) return picture.error();
            return palette ? palette_of(*picture, count, context.job) : tones_of(*picture, count, context.job);
        },
        [this, at, name, document = session_.document()](std::vector<PaletteColour>& colours) {
            if (session_.document() != document) return;
            const auto value = value_at(session_.recipe(), at);
            if (!value || !as_if<Stops>(*value)) return;
            if (colours.empty()) return emit session_.refused(tr("%1 shows nothing to take colours from.").arg(name));
            session_.set_value(at, Value(ramp_of(colours, as<Stops>(*value))));
        });
}

void TuningDesk::add_picture(const Address& at, const Parameter& p) {
    auto* button = new QPushButton;
    button->setAccessibleName(qt(p.title));
    connect(button, &QPushButton::clicked, this, [this, at] {
        auto* dialog = picture_dialog(this, tr("Choose a picture"));
        connect(dialog, &QFileDialog::fileSelected, this, [this, at](const QString& path) { keep_picture(at, path); });
        dialog->open();
    });
    add_row(at.parameter, qt(p.title), qt(p.help), button).refresh = [this, at, button] {
        const auto value = value_at(session_.recipe(), at);
        const auto found = value ? session_.recipe().assets.find(as<std::string>(*value)) : session_.recipe().assets.end();
        const bool kept = found != session_.recipe().assets.end();
        button->setText(kept ? tr("Kept inside, %1 KB. Choose another ...").arg((found->second->bytes.size() + 1023) / 1024)
                             : tr("Choose a picture ..."));
    };
}

void TuningDesk::keep_picture(const Address& at, const QString& path) {
    // Reading and checking a large picture takes its time.
    keep_file(at, path, [path]() -> Result<KeptFile> {
        auto bytes = read_kept_picture(path.toStdString());
        if (!bytes) return bytes.error();
        const std::string name = asset_name(*bytes, extension_in(path.toStdString()));
        return KeptFile{name, make_asset(name, std::move(*bytes)), tr("Picture %1").arg(QFileInfo(path).fileName())};
    });
}

void TuningDesk::keep_file(const Address& at, const QString& path, std::function<Result<KeptFile>()> read) {
    Work work;
    work.doing = "reading '" + path.toStdString() + "'";
    work.urgency = Urgency::reading;
    const auto document = session_.document();
    const QString recipe = QString::fromStdString(session_.recipe().name);
    files_.submit<KeptFile>(
        std::move(work), [read = std::move(read)](const WorkContext&) { return read(); },
        [this, at, path, document, recipe](KeptFile& kept) {
            if (session_.document() != document)
                return emit session_.refused(
                    tr("%1 was for '%2', which is no longer open; it was left out").arg(QFileInfo(path).fileName(), recipe));
            Recipe next = with_asset(session_.recipe(), kept.name, kept.asset);
            session_.apply(with_value(std::move(next), at, Value(kept.name)), kept.text);
        });
}

void TuningDesk::add_recipe(const Address& at, const Parameter& p) {
    auto* button = new QPushButton;
    button->setAccessibleName(qt(p.title));
    auto* menu = new QMenu(button);
    QAction* separator = menu->addSeparator();
    // The book may not have been read yet when the desk shows the step.
    connect(menu, &QMenu::aboutToShow, this, [this, at, menu, separator] {
        if (menu->actions().size() > 2) return;
        for (const Sample& sample : book_.samples()) {
            auto* action = new QAction(QString::fromStdString(sample.recipe.name), menu);
            connect(action, &QAction::triggered, this, [this, at, path = sample.path] { keep_recipe(at, path); });
            menu->insertAction(separator, action);
        }
    });
    connect(menu->addAction(tr("Another file ...")), &QAction::triggered, this, [this, at] {
        auto* dialog = new QFileDialog(this, tr("Choose a recipe"));
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->setFileMode(QFileDialog::ExistingFile);
        dialog->setNameFilter(tr("Recipes (*.loom *.json);;All files (*)"));
        connect(dialog, &QFileDialog::fileSelected, this, [this, at](const QString& path) { keep_recipe(at, path); });
        dialog->open();
    });
    button->setMenu(menu);
    add_row(at.parameter, qt(p.title), qt(p.help), button).refresh = [this, at, button] {
        const Step* step = session_.recipe().step(at);
        const Recipe* inner = step ? inner_recipe(session_.recipe(), *step) : nullptr;
        button->setText(inner ? QString::fromStdString(inner->name) : tr("Choose a recipe ..."));
    };
}

void TuningDesk::keep_recipe(const Address& at, const QString& path) {
    if (!session_.path().isEmpty() && QFileInfo(path) == QFileInfo(session_.path()))
        return emit session_.refused(
            tr("%1 cannot be kept inside itself; save it under another name first").arg(QFileInfo(path).fileName()));
    keep_file(at, path, [path]() -> Result<KeptFile> {
        std::string name;
        auto asset = recipe_asset(path.toStdString(), name);
        if (!asset) return asset.error();
        return KeptFile{name, *asset,
                        tr("Recipe %1").arg(QString::fromStdString((*asset)->recipe ? (*asset)->recipe->name : name))};
    });
}

}  // namespace loom
