// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/tuning_desk.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/loom/join_card.h"
#include "app/theme/theme.h"
#include "app/widgets/text.h"
#include "app/widgets/colour_button.h"
#include "app/widgets/curve_edit.h"
#include "app/widgets/elided_label.h"
#include "app/widgets/gradient_editor.h"
#include "app/widgets/levels_edit.h"
#include "app/widgets/number_field.h"
#include "app/widgets/number_edit.h"
#include "app/widgets/pair_edit.h"
#include "app/widgets/tab_order.h"
#include "app/widgets/tone_counts.h"
#include "app/tries/seed_strip.h"
#include "app/document/scheduler.h"
#include "core/recipe/idle_steps.h"
#include "core/catalogue/description.h"
#include "core/recipe/fields.h"
#include "core/recipe/strand_planes.h"

namespace loom {

namespace {

constexpr int narrow_desk = 520, low_desk = 220;  ///< pixels below which nothing stands beside the rows, or below them

/// What decides whether the form is built anew: what is selected and which of its lines matter.
bool has_mask(const Strand& strand) { return !strand.mask.empty() || !strand.from_of(ChainKind::mask).empty(); }

std::string shape_of(const Session& session) {
    const Selection& selection = session.selection();
    std::string shape = selection.strand + "/" + selection.step + (theme::scheme() == theme::Scheme::dark ? "!" : "");
    for (const StrandRef& strand : session.recipe().strands) shape += "|" + strand->id + ":" + strand->name;
    if (const Step* step = session.selected_step()) {
        shape += "|" + step->kind + std::string(gate_word(step->gate.of));
        if (const StepDescription* description = find_step(step->kind))
            for (const Parameter& p : description->parameters) {
                shape += relevant(*description, p, step->set) ? '1' : '0';
                // The recipe within says which colourways and dials there are.
                if (p.kind == Kind::recipe) shape += as<std::string>(value_or_default(p, step->set));
            }
    } else if (const Strand* strand = session.selected_strand()) {
        for (const Field<Strand>& field : strand_fields()) shape += matters(strand_fields(), field, *strand) ? '1' : '0';
        shape += has_mask(*strand) ? 'm' : '-';
        for (const auto& [map, route] : strand->routes) shape += std::string(map_id(map)) + (is_smooth(route.blend) ? "~" : "-");
        for (std::string_view plane : planes_of_strand(session.recipe(), strand->id)) shape += plane;
    } else {
        for (const Dial& dial : session.recipe().dials) shape += "|" + dial.name;
    }
    return shape;
}

}  // namespace

namespace {

ToneOf tone_of_channel(const Parameter& channel, const Values& set) {
    const auto& word = as<std::string>(value_or_default(channel, set));
    for (std::size_t k = 0; k < channel.choices.size(); ++k)
        if (channel.choices[k].id == word) return static_cast<ToneOf>(k);
    return ToneOf::all;
}

/// The pair that a parameter belongs to, if both of it are shown.
const Pair* pair_of(const StepDescription& step, const Parameter& p, const Values& set) {
    for (const Pair& pair : step.pairs)
        if ((pair.across == p.id || pair.down == p.id) && relevant(step, *step.parameter(pair.across), set) &&
            relevant(step, *step.parameter(pair.down), set))
            return &pair;
    return nullptr;
}

}  // namespace

TuningDesk::TuningDesk(Session& session, Brush& brush, const SampleBook& book, QWidget* parent)
    : QWidget(parent), session_(session), brush_(brush), book_(book), files_("desk", [this](const QString& why) {
          emit session_.refused(why);
      }) {
    title_ = new QLabel(this);
    title_->setFont(theme::strong_font(15));
    summary_ = new ElidedLabel(this);
    summary_->setFont(theme::small_font());
    summary_->setForegroundRole(QPalette::PlaceholderText);
    notice_ = new QLabel(this);
    notice_->setWordWrap(true);
    notice_->hide();
    exchange_ = new QToolButton(this);
    exchange_->setText(tr("Exchange"));
    exchange_->setToolTip(tr("Another kind of step in this place; name, amount, where and like parameters stay (Ctrl+Shift+E)"));
    exchange_->setFocusPolicy(Qt::StrongFocus);
    connect(exchange_, &QToolButton::clicked, this, &TuningDesk::exchange_wanted);
    bypass_ = new QToolButton(this);
    bypass_->setText(tr("Bypass"));
    bypass_->setCheckable(true);
    bypass_->setFocusPolicy(Qt::StrongFocus);
    reset_ = new QToolButton(this);
    reset_->setText(tr("Reset"));
    reset_->setToolTip(tr("All parameters of this step back to their defaults"));
    reset_->setFocusPolicy(Qt::StrongFocus);
    scroll_ = new QScrollArea(this);
    scroll_->setWidgetResizable(true);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll_->setFocusPolicy(Qt::NoFocus);
    histogram_ = new HistogramView(this);
    histogram_->setMinimumWidth(150);
    histogram_->setMaximumWidth(220);

    levels_ = new LevelsEdit(this);
    levels_->setMinimumWidth(150);
    levels_->setMaximumWidth(260);
    levels_->hide();

    auto* head = new QHBoxLayout;
    head->setSpacing(10);
    head->addWidget(title_);
    head->addWidget(summary_, 1);
    head->addWidget(exchange_);
    head->addWidget(bypass_);
    head->addWidget(reset_);
    body_ = new QBoxLayout(QBoxLayout::LeftToRight);
    body_->setSpacing(18);
    body_->addWidget(scroll_, 5);
    body_->addWidget(histogram_, 2);
    body_->addWidget(levels_, 3);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, 8, 14, 8);
    layout->setSpacing(6);
    layout->addLayout(head);
    layout->addWidget(notice_);
    layout->addLayout(body_, 1);
    seeds_ = new SeedStrip(session, this);
    layout->addWidget(seeds_);

    connect(bypass_, &QToolButton::clicked, this, [this] {
        if (const Step* step = session_.selected_step())
            session_.set_value({session_.selection().strand, step->id, "on"}, Value(!step->on));
    });
    connect(reset_, &QToolButton::clicked, this, [this] {
        if (const Step* step = session_.selected_step())
            session_.apply(step_reset(session_.recipe(), session_.selection().strand, step->id),
                           tr("Reset %1").arg(QString::fromStdString(step_title(*step))));
    });
    connect(levels_->field(), &LevelsField::changed, this, &TuningDesk::set_tones);
    connect(levels_, &LevelsEdit::automatic_wanted, this, [this](double dark, double light) {
        set_tones({{ToneHandle::black, dark}, {ToneHandle::white, light}}, {});
    });
    scroll_->viewport()->installEventFilter(this);
    connect(&session_, &Session::recipe_changed, this, &TuningDesk::refresh);
    connect(&session_, &Session::selection_changed, this, &TuningDesk::refresh);
    refresh();
}

QWidget* TuningDesk::editor(std::string_view parameter) const {
    for (const Row& row : rows_) {
        const auto* pair = qobject_cast<const PairEdit*>(row.editor);
        if (row.id == parameter) return pair ? pair->across() : row.editor;
        if (pair && row.second == parameter) return pair->down();
    }
    return nullptr;
}

void TuningDesk::show_cards(const CardPictures& cards) {
    cards_ = cards;
    show_histogram();
}

void TuningDesk::show_reference(const QImage& picture, std::shared_ptr<const Bundle> planes) {
    reference_planes_ = std::move(planes);
    // Small: it is counted anew with every move of a slider.
    reference_ = picture.isNull() ? picture : picture.scaled(256, 256, Qt::KeepAspectRatio, Qt::SmoothTransformation);
    show_histogram();
}

void TuningDesk::refresh() {
    const std::string shape = shape_of(session_);
    if (shape != shape_) {
        shape_ = shape;
        rebuild();
    }
    for (const Row& row : rows_) row.refresh();
    const Step* step = session_.selected_step();
    const StepDescription* description = step ? find_step(step->kind) : nullptr;
    exchange_->setVisible(step != nullptr);
    bypass_->setVisible(step != nullptr);
    reset_->setVisible(description && !description->parameters.empty());
    if (step) bypass_->setChecked(!step->on);
    if (step) reset_->setEnabled(!step->set.empty());
    std::string notice = description ? description->notice(step->set) : std::string();
    const bool warns = !notice.empty();
    // What has no effect where it stands.
    if (const Strand* strand = session_.selected_strand(); !warns && step && strand) notice = why_idle(*strand, step->id);
    if (notice.empty() && description && description->rounded)
        notice = description->rounded(step->set, session_.recipe().tile.size());
    notice_->setVisible(!notice.empty());
    notice_->setText(QString::fromStdString(notice));
    QPalette palette = notice_->palette();
    palette.setColor(QPalette::WindowText, warns ? theme::colours().warn : theme::colours().faint);
    notice_->setPalette(palette);
    show_histogram();
}

void TuningDesk::rebuild() {
    rows_.clear();
    section_.clear();
    curves_ = nullptr;
    form_ = new QWidget;
    auto* grid = new QGridLayout(form_);
    grid->setContentsMargins(0, 0, 8, 0);
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(4);
    if (const Step* step = session_.selected_step())
        build_step(*step);
    else if (const Strand* strand = session_.selected_strand())
        build_strand(*strand);
    else
        build_recipe();
    for (const std::string& each : std::set<std::string>(folded_)) show_section(each);
    arrange();
    for (const Row& row : rows_)
        for (const std::string& id : {row.id, row.second})
            if (QWidget* own = id.empty() ? nullptr : editor(id)) own->installEventFilter(this);
    // Replacing the widget deletes the old form, which may be what called us.
    if (QWidget* old = scroll_->takeWidget()) old->deleteLater();
    scroll_->setWidget(form_);
    // From the buttons above through the rows to what stands beside and below.
    QWidget* last = reset_;
    for (const Row& row : rows_)
        for (QWidget* part : {row.editor, row.after})
            if (part) last = tab_through(last, part);
    for (QWidget* part : std::initializer_list<QWidget*>{levels_->field(), levels_->automatic_button(), levels_->share_field()})
        last = tab_through(last, part);
    tab_through(last, seeds_);
}

void TuningDesk::build_step(const Step& step) {
    const StepDescription* description = find_step(step.kind);
    title_->setText(QString::fromStdString(step_title(step)));
    const QString kind = description && !step.name.empty() ? qt(description->title) + QString::fromUtf8(" · ") : QString();
    const QString about = !step.note.empty() ? qt(step.note) : description ? qt(description->summary) : QString();
    summary_->setText(description ? kind + about : tr("This version does not know this step. It is kept and passed over."));
    if (!description) return;
    const std::string& strand = session_.selection().strand;
    std::string_view section;
    for (const Parameter& p : description->parameters) {
        if (p.own || !relevant(*description, p, step.set)) continue;
        if (p.section != section) add_heading(qt(p.section), step.kind);
        section = p.section;
        if (const Pair* pair = pair_of(*description, p, step.set)) {
            if (pair->across == p.id) add_pair(*pair);
            continue;
        }
        add_parameter({strand, step.id, std::string(p.id)}, p);
        if (description->aside.picture && description->aside.beside == p.id) add_aside(*description);
    }
    if (!section.empty()) add_heading(tr("This step"), step.kind);
    if (description->seeded) add_seed({strand, step.id, "seed"});
    for (const Field<Step>& field : step_fields())
        // The switch stands above and the seed beside its neighbours.
        if (field.parameter.id != "on" && field.parameter.id != "seed" && matters(step_fields(), field, step))
            add_parameter({strand, step.id, std::string(field.parameter.id)}, field.parameter);
}

void TuningDesk::build_strand(const Strand& strand) {
    title_->setText(QString::fromStdString(strand.name));
    summary_->setText(tr("Where this strand shows, and what it feeds besides colour; its join stands at its foot."));
    constexpr std::string_view at_foot[] = {"on", "blend", "amount", "within", "lift"};
    const auto add_fields = [&](bool of_join) {
        std::string_view section;
        for (const Field<Strand>& field : strand_fields()) {
            const Parameter& p = field.parameter;
            const bool elsewhere = std::find(std::begin(at_foot), std::end(at_foot), p.id) != std::end(at_foot);
            if (elsewhere || p.section.empty() != of_join || !matters(strand_fields(), field, strand)) continue;
            if (p.id.starts_with("mask.") && !has_mask(strand)) continue;
            if (p.section != section) add_heading(qt(p.section), "strand");
            section = p.section;
            add_parameter({strand.id, "", std::string(p.id)}, p);
        }
    };
    add_fields(true);
    add_heading(tr("Maps"), "strand");
    for (const MapInfo& info : map_table)
        if (info.routed) {
            add_route(info.map);
            const auto route = strand.routes.find(info.map);
            if (route == strand.routes.end()) continue;
            const auto add_more = [&](std::string_view field) {
                add_parameter({strand.id, "", "routes." + std::string(info.id) + "." + std::string(field)},
                              find_field(route_fields(), field)->parameter);
            };
            if (is_smooth(route->second.blend)) add_more("smooth");
            if (!planes_of_strand(session_.recipe(), strand.id).empty() || !route->second.plane.empty()) add_more("plane");
        }
    add_fields(false);
}

void TuningDesk::build_recipe() {
    title_->setText(QString::fromStdString(session_.recipe().name));
    summary_->setText(tr("The dials and the tile of the whole recipe."));
    if (!session_.recipe().dials.empty()) add_heading(tr("Dials"), "recipe");
    for (const Dial& dial : session_.recipe().dials) {
        const std::string name = dial.name;
        auto* edit = new NumberEdit(percent_parameter(name), QString::fromStdString(name));
        connect(edit, &NumberEdit::changed, this, [this, name](double value, const QString& gesture) {
            session_.apply(with_dial(session_.recipe(), name, value), tr("Dial %1").arg(QString::fromStdString(name)),
                           {gesture, QString::fromStdString(name)});
        });
        add_row(name, QString::fromStdString(name), {}, edit).refresh = [this, name, edit] {
            for (const Dial& each : session_.recipe().dials)
                if (each.name == name) edit->set_value(each.value);
        };
    }
    if (!session_.recipe().dials.empty()) add_heading(tr("Tile"), "recipe");
    for (const Field<Recipe>& field : recipe_fields())
        if (field.parameter.id != "seed") add_parameter({"", "", std::string(field.parameter.id)}, field.parameter);
    Parameter wide;
    wide.unit = Unit::none, wide.min = wide.slider_min = 0.1, wide.max = wide.slider_max = 1000, wide.scale = Scale::root;
    auto* edit = new NumberEdit(wide, tr("Real width, cm"));
    connect(edit, &NumberEdit::changed, this, [this](double value, const QString& gesture) {
        Tile tile = session_.recipe().tile;
        tile.wide_cm = value;
        session_.apply(with_tile(session_.recipe(), tile), tr("Real width"), {gesture, "wide-cm"});
    });
    add_row("wide-cm", tr("Real width, cm"), tr("How wide the tile is on the real thing."), edit).refresh = [this, edit] {
        edit->set_value(session_.recipe().tile.wide_cm.value_or(10));
    };
    add_seed({"", "", "seed"});
    auto* linear = new QCheckBox(tr("Blend in linear light"));
    connect(linear, &QCheckBox::clicked, this,
            [this](bool on) { session_.apply(with_linear_light(session_.recipe(), on), tr("Linear light")); });
    add_row("light", tr("Light"), tr("Blends add light as lamps do, instead of the numbers the trade is used to."), linear)
        .refresh = [this, linear] { linear->setChecked(session_.recipe().linear_light); };
}

void TuningDesk::show_histogram() {
    const Selection& selection = session_.selection();
    const Step* step = session_.selected_step();
    const StepDescription* description = step ? find_step(step->kind) : nullptr;
    LevelsField::Tones tones{0, 0, 1, 1, 0, 1};
    bool handles = false;
    if (description)
        for (const Parameter& p : description->parameters)
            if (p.tone_handle != ToneHandle::none) {
                handles = true;
                tones[static_cast<std::size_t>(p.tone_handle)] = as<double>(value_or_default(p, step->set));
            }
    // Curves and levels have theirs behind them, and on a narrow desk the rows come first.
    histogram_->setVisible(step && !curves_ && !handles && !narrow());
    levels_->setVisible(handles);
    if (!description) return;
    if (handles) levels_->field()->set_tones(tones);
    // Handles stand on the tones that come in; otherwise what matters is what comes out.
    std::string shown = step->id;
    if (handles || curves_)
        if (const auto slot = slot_of(session_.recipe(), selection.strand, selection.step); slot && slot->index > 0)
            shown = session_.selected_strand()->chain(slot->chain)[static_cast<std::size_t>(slot->index - 1)].id;
    const auto found = cards_.find({selection.strand, shown});
    if (found == cards_.end()) return;
    const QImage& picture = found->second.image;
    const Parameter* channel = handles ? description->parameter("channel") : nullptr;
    const ToneOf of = channel ? tone_of_channel(*channel, step->set) : ToneOf::all;
    const Histogram counts = of == ToneOf::all ? found->second.histogram : tone_counts(picture, of);
    histogram_->set_histogram(counts, shown == step->id ? tr("tone after this step") : tr("tone before this step"));
    levels_->field()->set_histogram(counts);
    const auto beside = [this](ToneOf channel_of) {
        return reference_.isNull() ? std::optional<Histogram>() : tone_counts(reference_, channel_of);
    };
    // The tones that come out are what the picture can be held against, and those that come in what can be moved onto it.
    histogram_->set_reference(beside(of));
    levels_->field()->set_reference(beside(of));
    for (ToneOf each : {ToneOf::all, ToneOf::red, ToneOf::green, ToneOf::blue, ToneOf::lightness})
        if (curves_) {
            curves_->set_histogram(static_cast<std::size_t>(each), tone_counts(picture, each));
            curves_->set_reference(static_cast<std::size_t>(each), beside(each));
        }
}

void TuningDesk::set_tones(const LevelsField::Changes& changes, const QString& gesture) {
    const Step* step = session_.selected_step();
    const StepDescription* description = step ? find_step(step->kind) : nullptr;
    if (!description) return;
    std::vector<std::pair<Address, Value>> values;
    for (const auto& [handle, value] : changes)
        for (const Parameter& p : description->parameters)
            if (p.tone_handle == handle)
                values.push_back(
                    {{session_.selection().strand, step->id, std::string(p.id)}, Value(std::clamp(value, p.min, p.max))});
    if (!values.empty()) session_.set_values(values, gesture);
}

bool TuningDesk::narrow() const { return width() < narrow_desk || height() < low_desk - 60; }

void TuningDesk::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    body_->setDirection(narrow() ? QBoxLayout::BottomToTop : QBoxLayout::LeftToRight);
    body_->setSpacing(narrow() ? 6 : 18);
    levels_->setMaximumWidth(narrow() ? QWIDGETSIZE_MAX : 260);
    // On a low desk the rows come first.
    seeds_->set_room(height() >= low_desk);
    show_histogram();
}

}  // namespace loom
