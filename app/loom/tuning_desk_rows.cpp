// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The lines of the desk: one editor for each kind of parameter.
#include <QAbstractItemView>
#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/loom/aside_picture.h"
#include "app/loom/join_card.h"
#include "app/loom/tuning_desk.h"
#include "app/theme/theme.h"
#include "app/tries/choice_pictures.h"
#include "app/tries/plane_choice.h"
#include "app/widgets/colour_button.h"
#include "app/widgets/curve_icon.h"
#include "app/widgets/gradient_editor.h"
#include "app/widgets/number_edit.h"
#include "app/widgets/pair_edit.h"
#include "app/widgets/text.h"
#include "core/catalogue/description.h"
#include "core/recipe/fields.h"
#include "core/recipe/variations.h"

namespace loom {

namespace {

/// Each choice shows its curve: small in the closed list, large in the open one.
void set_curves(QComboBox& box, const Parameter& p, double screen_scale) {
    constexpr int side = ChoicePictures::side;
    box.setIconSize({side / 2, side / 2});
    box.view()->setIconSize({side, side});
    for (std::size_t k = 0; k < p.choices.size(); ++k)
        box.setItemIcon(static_cast<int>(k), curve_icon([&](double x) { return p.curve(k, x); }, side, screen_scale));
}

}  // namespace

namespace {

/// Back to the default; says whether there is anything to go back from.
class ResetButton : public QToolButton {
public:
    ResetButton() { say(); }

protected:
    void changeEvent(QEvent* event) override {
        QToolButton::changeEvent(event);
        if (event->type() == QEvent::EnabledChange) say();
    }

private:
    void say() {
        setToolTip(isEnabled() ? TuningDesk::tr("Changed: click for the default") : TuningDesk::tr("As it is by default"));
    }
};

}  // namespace

QToolButton* TuningDesk::reset_button(const Address& at, const Value& fallback) {
    auto* button = new ResetButton;
    button->setText(QString::fromUtf8("●"));
    button->setFixedSize(20, 20);
    button->setStyleSheet("QToolButton { padding: 0; font-size: 9px; }");
    button->setFocusPolicy(Qt::StrongFocus);
    button->setAccessibleName(tr("Default for %1").arg(QString::fromStdString(at.parameter)));
    connect(button, &QToolButton::clicked, this, [this, at, fallback] { session_.set_value(at, fallback); });
    return button;
}

void TuningDesk::add_number(const Address& at, const Parameter& p) {
    auto* edit = new NumberEdit(p, qt(p.title));
    auto* reset = reset_button(at, p.fallback);
    connect(edit, &NumberEdit::changed, this,
            [this, at](double value, const QString& gesture) { session_.set_value(at, Value(value), gesture); });
    add_row(at.parameter, qt(p.title), qt(p.help), edit, reset).refresh = [this, at, edit, reset, fallback = p.fallback] {
        const auto value = value_at(session_.recipe(), at);
        if (!value) return;
        edit->set_value(as<double>(*value));
        reset->setEnabled(*value != fallback);
    };
}

void TuningDesk::add_pair(const Pair& pair) {
    const Step& step = *session_.selected_step();
    const StepDescription& description = *find_step(step.kind);
    const auto address = [&](std::string_view id) { return Address{session_.selection().strand, step.id, std::string(id)}; };
    const Address ats[2] = {address(pair.across), address(pair.down)};
    NumberEdit* edits[2];
    QToolButton* resets[2];
    auto *labels = new QWidget, *after = new QWidget;
    for (QWidget* side : {labels, after}) {
        auto* stack = new QVBoxLayout(side);
        stack->setContentsMargins(0, 0, 0, 0);
        stack->setSpacing(4);
    }
    for (int k = 0; k < 2; ++k) {
        const Parameter& p = *description.parameter(ats[k].parameter);
        edits[k] = new NumberEdit(p, qt(p.title));
        edits[k]->field()->setFixedWidth(66);
        edits[k]->setToolTip(qt(p.help));
        resets[k] = reset_button(ats[k], p.fallback);
        QWidget* label = row_label(ats[k].parameter, qt(p.title), qt(p.help));
        label->setFixedHeight(edits[k]->sizeHint().height());
        labels->layout()->addWidget(label);
        after->layout()->addWidget(resets[k]);
        connect(edits[k], &NumberEdit::changed, this,
                [this, at = ats[k]](double value, const QString& gesture) { session_.set_value(at, Value(value), gesture); });
    }
    auto* edit = new PairEdit(edits[0], edits[1], qt(pair.title));
    connect(edit, &PairEdit::changed, this,
            [this, ats = std::vector<Address>{ats[0], ats[1]}](double across, double down, const QString& gesture) {
                session_.set_values({{ats[0], Value(across)}, {ats[1], Value(down)}}, gesture);
            });
    rows_.push_back({ats[0].parameter, Row::Form::line, labels, edit, after, section_});
    rows_.back().second = ats[1].parameter;
    rows_.back().refresh = [this, ats = std::vector<Address>{ats[0], ats[1]}, edit,
                            resets = std::vector<QToolButton*>{resets[0], resets[1]},
                            fallbacks = std::vector<Value>{description.parameter(pair.across)->fallback,
                                                           description.parameter(pair.down)->fallback}] {
        for (std::size_t k = 0; k < 2; ++k) {
            const auto value = value_at(session_.recipe(), ats[k]);
            if (!value) return;
            (k == 0 ? edit->across() : edit->down())->set_value(as<double>(*value));
            resets[k]->setEnabled(*value != fallbacks[k]);
        }
        edit->follow();
    };
}

void TuningDesk::add_parameter(const Address& at, const Parameter& p) {
    auto present = [this, at] { return value_at(session_.recipe(), at); };
    switch (p.kind) {
        case Kind::number:
        case Kind::count: return add_number(at, p);
        case Kind::strand: return add_strand_choice(at, qt(p.title), qt(p.help));
        case Kind::toggle: {
            auto* box = new QCheckBox;
            box->setAccessibleName(qt(p.title));
            connect(box, &QCheckBox::clicked, this, [this, at](bool on) { session_.set_value(at, Value(on)); });
            add_row(at.parameter, qt(p.title), qt(p.help), box).refresh = [present, box] {
                if (const auto value = present()) box->setChecked(as<bool>(*value));
            };
            return;
        }
        case Kind::choice: {
            if (!p.planes_of.empty()) return add_taken(at, p);
            auto* box = new QComboBox;
            box->setAccessibleName(qt(p.title));
            for (const Choice& choice : p.choices) box->addItem(qt(choice.title), qt(choice.id));
            if (p.curve)
                set_curves(*box, p, devicePixelRatioF());
            else if (p.visual)
                if (const Step* step = session_.recipe().step(at)) new ChoicePictures(*find_step(step->kind), p, box);
            connect(box, &QComboBox::activated, this,
                    [this, at, box] { session_.set_value(at, Value(box->currentData().toString().toStdString())); });
            auto* reset = reset_button(at, p.fallback);
            add_row(at.parameter, qt(p.title), qt(p.help), box, reset).refresh = [present, box, reset, fallback = p.fallback] {
                const auto value = present();
                if (!value) return;
                box->setCurrentIndex(box->findData(QString::fromStdString(as<std::string>(*value))));
                reset->setEnabled(*value != fallback);
            };
            return;
        }
        case Kind::colour: {
            auto* button = new ColourButton;
            button->setAccessibleName(qt(p.title));
            connect(button, &ColourButton::changed, this,
                    [this, at](const Colour& colour, const QString& gesture) { session_.set_value(at, Value(colour), gesture); });
            auto* reset = reset_button(at, p.fallback);
            add_row(at.parameter, qt(p.title), qt(p.help), button, reset).refresh = [present, button, reset,
                                                                                     fallback = p.fallback] {
                const auto value = present();
                if (!value) return;
                button->set_colour(as<Colour>(*value));
                reset->setEnabled(*value != fallback);
            };
            return;
        }
        case Kind::text: return p.lines ? add_lines(at, p) : p.offers ? add_offers(at, p) : add_text(at, p);
        case Kind::formula: return add_formula(at, p);
        case Kind::draft: return add_draft(at, p);
        case Kind::inputs: {
            const Step* step = session_.recipe().step(at);
            // The dials of a recipe within have their ranges from there.
            return add_inputs(at, p, step && find_step(step->kind)->inner);
        }
        case Kind::picture: return add_picture(at, p);
        case Kind::recipe: return add_recipe(at, p);
        case Kind::drawing: return add_drawing(at, p);
        case Kind::strokes: return add_strokes(at, p);
        case Kind::moves: return add_moves(at, p);
        case Kind::outline: return add_outline(at, p);
        case Kind::curve: return add_curve(at, p);
        case Kind::stops: {
            auto* editor = new GradientEditor(qt(p.title));
            connect(editor, &GradientEditor::changed, this,
                    [this, at](const Stops& stops, const QString& gesture) { session_.set_value(at, Value(stops), gesture); });
            connect(editor, &GradientEditor::picture_wanted, this,
                    [this, at](int count, bool palette) { ask_ramp(at, count, palette); });
            connect(editor, &GradientEditor::reference_wanted, this, [this, at](int count, bool palette) {
                if (reference_planes_)
                    take_ramp(
                        at, tr("The reference"), [planes = reference_planes_]() -> Result<Bundle> { return *planes; }, count,
                        palette);
            });
            connect(editor, &GradientEditor::ramps_wanted, this, [this, at, editor] {
                editor->set_reference(reference_planes_ != nullptr);
                std::vector<std::pair<QString, Stops>> known;
                for (const Address& other : places(session_.recipe()))
                    if (const auto there = place_at(session_.recipe(), other);
                        there->parameter.kind == Kind::stops && other != at)
                        known.emplace_back(qt(place_title(session_.recipe(), other)), as<Stops>(there->value));
                editor->set_known(std::move(known));
            });
            auto* reset = reset_button(at, p.fallback);
            add_row(at.parameter, qt(p.title), qt(p.help), editor, reset).refresh = [this, at, present, editor, reset,
                                                                                     fallback = p.fallback] {
                const auto value = present();
                const Step* step = session_.recipe().step(at);
                if (!value || !step) return;
                editor->set_stops(as<Stops>(*value), interpolation_of(step->set));
                reset->setEnabled(*value != fallback);
            };
            return;
        }
    }
}

void TuningDesk::add_taken(const Address& at, const Parameter& p) {
    auto* box = new PlaneChoice(p);
    box->setAccessibleName(qt(p.title));
    connect(box, &QComboBox::activated, this,
            [this, at, box] { session_.set_value(at, Value(box->currentData().toString().toStdString())); });
    auto* reset = reset_button(at, p.fallback);
    add_row(at.parameter, qt(p.title), qt(p.help), box, reset).refresh = [this, at, &p, box, reset] {
        const auto value = value_at(session_.recipe(), at);
        if (!value) return;
        const Step* step = session_.recipe().step(at);
        const Parameter* names = step && p.planes_of != own_planes ? find_step(step->kind)->parameter(p.planes_of) : nullptr;
        box->show_for(session_.recipe(), names ? as<std::string>(value_or_default(*names, step->set)) : at.strand,
                      as<std::string>(*value));
        reset->setEnabled(*value != p.fallback);
    };
}

void TuningDesk::add_aside(const StepDescription& description) {
    auto* line = new QWidget;
    auto* picture = new AsidePicture(description, line);
    auto* caption = new QLabel(qt(description.aside.title), line);
    caption->setFont(theme::small_font());
    caption->setForegroundRole(QPalette::PlaceholderText);
    caption->setWordWrap(true);
    auto* layout = new QHBoxLayout(line);
    layout->setContentsMargins(0, 2, 0, 2);
    layout->addWidget(picture);
    layout->addWidget(caption, 1);
    add_wide_row("aside", qt(description.aside.title), line).refresh = [this, picture] {
        if (const Step* step = session_.selected_step()) picture->show_for(session_.recipe(), *step);
    };
}

void TuningDesk::add_seed(const Address& at) {
    Parameter p = find_field(step_fields(), "seed")->parameter;
    p.slider_max = 99;
    auto* edit = new NumberEdit(p, tr("Seed"));
    auto set = [this, at](double value, const QString& gesture) { session_.set_value(at, Value(value), gesture); };
    connect(edit, &NumberEdit::changed, this, set);
    auto* reroll = new QToolButton;
    reroll->setText(tr("Reroll"));
    reroll->setToolTip(tr("Another seed"));
    reroll->setAccessibleName(tr("Reroll the seed"));
    reroll->setFocusPolicy(Qt::StrongFocus);
    auto present = [this, at] {
        const auto value = value_at(session_.recipe(), at);
        return value ? as<double>(*value) : 0.0;
    };
    connect(reroll, &QToolButton::clicked, this,
            [set, present, most = p.max] { set(present() >= most ? 0.0 : present() + 1, {}); });
    // Beside the slider, so that the fields of all rows stand in one line.
    static_cast<QHBoxLayout*>(edit->layout())->insertWidget(0, reroll);
    add_row("seed", at.step.empty() ? tr("Seed of all") : tr("Seed"), tr("Another number gives another piece of the same stuff."),
            edit)
        .refresh = [edit, present] { edit->set_value(present()); };
}

void TuningDesk::add_strand_choice(const Address& at, const QString& label, const QString& help) {
    auto* box = new QComboBox;
    box->setAccessibleName(label);
    box->addItem(at.parameter == "where" ? tr("everywhere") : tr("none"), QString());
    for (const StrandRef& strand : session_.recipe().strands)
        if (strand->id != at.strand) box->addItem(QString::fromStdString(strand->name), QString::fromStdString(strand->id));
    auto show = [this, at, box] {
        if (const auto value = value_at(session_.recipe(), at))
            box->setCurrentIndex(box->findData(QString::fromStdString(as<std::string>(*value))));
    };
    connect(box, &QComboBox::activated, this, [this, at, box, show] {
        session_.set_value(at, Value(box->currentData().toString().toStdString()));
        show();  // a choice that was refused goes back
    });
    add_row(at.parameter, label, help, box).refresh = show;
}

void TuningDesk::add_route(Map map) {
    const std::string id(map_id(map));
    QString label = QString::fromStdString(id);
    label[0] = label[0].toUpper();
    auto* line = new QWidget;
    auto* on = new QCheckBox(line);
    on->setAccessibleName(tr("Feed %1").arg(label));
    auto* blend = new BlendBox(line);
    blend->setAccessibleName(tr("Blend into %1").arg(label));
    blend->setAccessibleDescription(blend->accessibleName());
    auto* amount = new NumberEdit(percent_parameter(id), tr("Amount for %1").arg(label), line);
    auto* layout = new QHBoxLayout(line);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(on);
    layout->addWidget(blend);
    layout->addWidget(amount, 1);
    auto present = [this, map]() -> std::optional<Route> {
        const Strand* strand = session_.selected_strand();
        if (!strand || !strand->routes.contains(map)) return std::nullopt;
        return strand->routes.at(map);
    };
    auto set = [this, map, label](std::optional<Route> route, const QString& gesture) {
        session_.apply(with_route(session_.recipe(), session_.selection().strand, map, route), tr("Route to %1").arg(label),
                       {gesture, QString::fromStdString(session_.selection().strand) + "/" + label});
    };
    connect(on, &QCheckBox::clicked, this,
            [set](bool checked) { set(checked ? std::optional<Route>(Route{}) : std::nullopt, {}); });
    connect(blend, &QComboBox::activated, this, [set, present, blend] {
        Route route = present().value_or(Route{});
        route.blend = blend->blend();
        set(route, {});
    });
    connect(amount, &NumberEdit::changed, this, [set, present](double value, const QString& gesture) {
        Route route = present().value_or(Route{});
        route.amount = value;
        set(route, gesture);
    });
    const QString help = map == Map::brushing
                             ? tr("Whether the lit surface shines as if it were brushed along this strand's lines, and how much.")
                             : tr("Whether this strand's tone goes into the %1 map, and how.").arg(label.toLower());
    add_row(id, label, help, line).refresh = [present, on, blend, amount] {
        const auto route = present();
        on->setChecked(route.has_value());
        blend->setEnabled(route.has_value());
        amount->setEnabled(route.has_value());
        blend->set_blend(route ? route->blend : Blend::normal);
        amount->set_value(route ? route->amount : 0);
    };
}

}  // namespace loom
