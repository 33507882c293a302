// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What the view of tries is made of.
#include <QAction>
#include <QButtonGroup>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QSpinBox>
#include <QVBoxLayout>

#include "app/theme/theme.h"
#include "app/tries/place_button.h"
#include "app/tries/toward_panel.h"
#include "app/tries/try_sheet.h"
#include "app/tries/try_view.h"
#include "app/widgets/number_edit.h"
#include "app/widgets/number_field.h"
#include "app/widgets/tab_order.h"
#include "app/widgets/text.h"

namespace loom {

namespace {

using What = Question::What;

struct KindOfQuestion {
    What what;
    const char* title;
};
constexpr KindOfQuestion question_kinds[] = {{What::seed, QT_TRANSLATE_NOOP("loom::TryView", "Seed")},
                                             {What::one, QT_TRANSLATE_NOOP("loom::TryView", "One value")},
                                             {What::two, QT_TRANSLATE_NOOP("loom::TryView", "Two values")},
                                             {What::blend, QT_TRANSLATE_NOOP("loom::TryView", "Blend of a strand")},
                                             {What::colours, QT_TRANSLATE_NOOP("loom::TryView", "Colours")},
                                             {What::presence, QT_TRANSLATE_NOOP("loom::TryView", "With and without a step")},
                                             {What::colourways, QT_TRANSLATE_NOOP("loom::TryView", "Colourways")},
                                             {What::toward, QT_TRANSLATE_NOOP("loom::TryView", "Toward a picture")}};

QLabel* heading_of(const QString& text) {
    auto* label = new QLabel(text);
    label->setFont(theme::strong_font(13));
    return label;
}

QLabel* small_label(const QString& text) {
    auto* label = new QLabel(text);
    label->setFont(theme::small_font());
    label->setForegroundRole(QPalette::PlaceholderText);
    return label;
}

/// Whether a place can be the one that this question is about.
bool can_be_asked(const Question& question, const Recipe& recipe, const Address& at) {
    // Of a strand there is one place to choose.
    const bool strand = question.what == What::blend || question.what == What::presence;
    if (strand && (!at.step.empty() || at.parameter != "blend")) return false;
    Question asked = question;
    asked.across = at;
    return suited(recipe, asked, at).across == at;
}

constexpr int left_width = 220, right_width = 360;

}  // namespace

TryView::TryView(Session& session, ReferencePicture& reference, QWidget* parent)
    : Page(parent), session_(session), reference_(reference), files_("sheets", [this](const QString& why) { emit failed(why); }) {
    toward_ = new TowardPanel(session, reference, this);
    sheet_ = new TrySheet(this);
    count_ = new QLabel(this);
    count_->setFont(theme::small_font());
    count_->setForegroundRole(QPalette::PlaceholderText);
    count_->setContentsMargins(16, 0, 16, 8);
    auto* middle = new QVBoxLayout;
    middle->setContentsMargins(0, 0, 0, 0);
    middle->setSpacing(0);
    auto* sheet_area = new QScrollArea(this);
    sheet_area->setWidget(sheet_);
    sheet_area->setWidgetResizable(true);
    sheet_area->setFrameShape(QFrame::NoFrame);
    sheet_area->setFocusPolicy(Qt::NoFocus);
    connect(sheet_, &TrySheet::chosen_changed, sheet_area, [this, sheet_area](int index) {
        const QRect place = sheet_->place(index);
        sheet_area->ensureVisible(place.center().x(), place.center().y(), place.width() / 2 + 20, place.height() / 2 + 20);
    });
    middle->addWidget(sheet_area, 1);
    middle->addWidget(count_);
    QWidget *left = build_question(), *right = build_result();
    auto* line = new QHBoxLayout(this);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(0);
    line->addWidget(left);
    line->addLayout(middle, 1);
    line->addWidget(right);

    // A value that is being dragged elsewhere asks once it rests.
    later_.setSingleShot(true);
    later_.setInterval(60);
    connect(&later_, &QTimer::timeout, this, &TryView::order);
    connect(&session_, &Session::recipe_changed, this, &TryView::follow);
    connect(toward_, &TowardPanel::found, this, [this](const Axis& axis) { show_axes({axis, {}}); });
    connect(toward_, &TowardPanel::told_changed, this, &TryView::show_count);
    connect(sheet_, &TrySheet::chosen_changed, this, &TryView::show_chosen);
    connect(sheet_, &TrySheet::compared_changed, this, &TryView::show_chosen);
    connect(sheet_, &TrySheet::taken, this, &TryView::take);
    connect(sheet_, &TrySheet::keep_wanted, this, &TryView::keep);
    connect(&pictures_, &TryService::ready, this, [this](quint64 ticket, int index, const QImage& image) {
        if (ticket != ticket_ || index >= sheet_->count()) return;
        if (image.isNull())
            sheet_->set_failed(index);
        else
            sheet_->set_picture(index, image);
        if (--missing_ == 0) taken_ms_ = since_.elapsed();
        for (std::size_t k = 0; k < shown_.size(); ++k)
            if (shown_of_[k] == index && shown_[k].image.isNull()) shown_[k].image = image, show_pictures();
        show_count();
    });
    connect(&large_, &TryService::ready, this, [this](quint64 ticket, int index, const QImage& image) {
        if (ticket != large_ticket_ || image.isNull()) return;
        shown_[static_cast<std::size_t>(index)].image = image;
        show_pictures();
    });
    connect(&large_, &TryService::measured, this, [this](quint64 ticket, int index, const Measures& measures) {
        if (ticket != large_ticket_) return;
        const double seam = std::max(measures.across.ratio, measures.down.ratio);
        shown_[static_cast<std::size_t>(index)].note = tr("seam %1 · spark %2 · kinship %3")
                                                           .arg(seam, 0, 'f', 2)
                                                           .arg(measures.life.spark, 0, 'f', 1)
                                                           .arg(measures.life.kinship, 0, 'f', 2);
        show_pictures();
    });
    show_question();
}

TryView::Side TryView::build_side(bool down) {
    Side side;
    side.box = new QWidget(this);
    side.heading = heading_of(down ? tr("Down") : tr("Across"));
    side.place = new PlaceButton(
        down ? tr("Varies down") : tr("Varies across"),
        [this](const Recipe& recipe, const Address& at) { return can_be_asked(question_, recipe, at); }, this);
    connect(side.place, &PlaceButton::chosen, this, [this, down](const Address& at) { set_side(down, at); });
    side.span = new QWidget(side.box);
    auto* line = new QHBoxLayout(side.span);
    line->setContentsMargins(0, 0, 0, 0);
    for (bool to : {false, true}) {
        auto* field = new NumberField(side.span);
        field->setAccessibleName(to ? tr("To") : tr("From"));
        line->addWidget(small_label(to ? tr("to") : tr("from")));
        line->addWidget(field, 1);
        side.ends[to ? 1 : 0] = field;
        connect(field, &QDoubleSpinBox::valueChanged, this, [this, down] {
            if (updating_) return;
            const Side& own = down ? down_ : across_;
            const auto place = place_at(session_.recipe(), own.place->place());
            const double factor = place ? shown_factor(place->parameter) : 1;
            set_span(down, {own.ends[0]->value() / factor, own.ends[1]->value() / factor});
        });
    }
    auto* stack = new QVBoxLayout(side.box);
    stack->setContentsMargins(0, 0, 0, 0);
    stack->setSpacing(5);
    stack->addWidget(side.heading);
    stack->addWidget(side.place);
    stack->addWidget(side.span);
    return side;
}

QWidget* TryView::build_question() {
    auto* panel = new QWidget(this);
    auto* stack = new QVBoxLayout(panel);
    stack->setContentsMargins(16, 14, 16, 14);
    stack->setSpacing(2);
    stack->addWidget(heading_of(tr("What varies")));
    stack->addSpacing(4);
    kinds_ = new QButtonGroup(this);
    for (const KindOfQuestion& each : question_kinds) {
        auto* button = new QPushButton(tr(each.title), panel);
        button->setObjectName("choice");
        button->setCheckable(true);
        button->setStyleSheet(
            "QPushButton { border: 1px solid transparent; background: transparent; text-align: left; padding: 4px 8px; }"
            "QPushButton:checked { border: 2px solid palette(highlight); background: palette(base); font-weight: 600; "
            "padding: 3px 7px; } QPushButton:focus { border-color: palette(highlight); }");
        kinds_->addButton(button, static_cast<int>(each.what));
        stack->addWidget(button);
    }
    connect(kinds_, &QButtonGroup::idClicked, this, [this](int id) {
        Question next = question_;
        next.what = static_cast<What>(id);
        if (next.what == What::two || next.what == What::seed) next.columns = next.rows = 5;
        if (next.what == What::one) next.columns = next.rows = 3;
        // It begins with the step that is worked on: its seed, if it draws lots, or the first of its values.
        const Selection& near = session_.selection();
        const bool other = next.across.strand != near.strand || next.across.step != near.step;
        if (next.what == What::seed || ((next.what == What::one || next.what == What::two) && other)) {
            next.across = {near.strand, near.step, "seed"}, next.down = {};
            next.across_span.reset(), next.down_span.reset();
        }
        ask(std::move(next));
    });
    stack->addSpacing(12);
    across_ = build_side(false), down_ = build_side(true);
    stack->addWidget(across_.box);
    stack->addSpacing(8);
    stack->addWidget(down_.box);
    stack->addSpacing(8);
    counts_ = new QWidget(panel);
    auto* counts = new QHBoxLayout(counts_);
    counts->setContentsMargins(0, 0, 0, 0);
    counts->setSpacing(4);
    counts->addWidget(heading_of(tr("Pictures")), 1);
    const auto number = [&](const QString& name, int Question::*member) {
        auto* box = new QSpinBox(counts_);
        box->setRange(1, 12);
        box->setButtonSymbols(QAbstractSpinBox::NoButtons);
        box->setAlignment(Qt::AlignRight);
        box->setFixedWidth(36);
        box->setKeyboardTracking(false);
        box->setAccessibleName(name);
        connect(box, &QSpinBox::valueChanged, this, [this, member](int value) {
            if (updating_) return;
            question_.*member = value;
            follow();
        });
        return box;
    };
    columns_ = number(tr("Pictures across"), &Question::columns);
    rows_ = number(tr("Pictures down"), &Question::rows);
    counts->addWidget(columns_);
    counts->addWidget(small_label(QString::fromUtf8("×")));
    counts->addWidget(rows_);
    stack->addWidget(counts_);
    stack->addSpacing(6);
    const auto button = [&](const QString& text, std::function<void()> work) {
        auto* made = new QPushButton(text, panel);
        connect(made, &QPushButton::clicked, this, std::move(work));
        stack->addWidget(made);
        stack->addSpacing(4);
        return made;
    };
    closer_ = button(tr("Closer round the chosen one"), [this] { narrow(true); });
    wider_ = button(tr("Wider"), [this] { narrow(false); });
    swap_ = button(tr("Swap across and down"), [this] {
        std::swap(question_.across, question_.down), std::swap(question_.across_span, question_.down_span);
        std::swap(question_.columns, question_.rows);
        follow();
    });
    stack->addWidget(toward_);
    hint_ = small_label({});
    hint_->setWordWrap(true);
    stack->addWidget(hint_);
    stack->addStretch(1);
    save_ = button(tr("Save the sheet …"), [this] { ask_save(); });
    auto* scroll = new QScrollArea(this);
    scroll->setWidget(panel);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setFixedWidth(left_width);
    scroll->setObjectName("question");
    scroll->setStyleSheet("#question { border-right: 1px solid palette(mid); }");
    return scroll;
}

QWidget* TryView::build_result() {
    auto* panel = new QWidget(this);
    panel->setFixedWidth(right_width);
    compare_ = new ComparePane(panel);
    take_ = new QPushButton(tr("Take it"), panel);
    take_->setToolTip(tr("Makes the recipe as the chosen picture shows it"));
    take_->setStyleSheet(
        "QPushButton:enabled { background: palette(highlight); color: palette(highlighted-text); font-weight: 600; "
        "border: 1px solid palette(highlight); } QPushButton:focus { border: 2px solid palette(text); }");
    keep_ = new QPushButton(tr("Keep as colourway …"), panel);
    keep_->setToolTip(tr("Keeps the chosen picture under a name and leaves the recipe as it is"));
    for (QPushButton* each : {take_, keep_}) each->setMinimumHeight(32);
    connect(take_, &QPushButton::clicked, this, [this] { take(sheet_->chosen()); });
    connect(keep_, &QPushButton::clicked, this, [this] { keep(sheet_->chosen()); });
    changes_ = new QLabel(panel);
    changes_->setTextFormat(Qt::PlainText);
    changes_->setWordWrap(true);
    changes_->setMinimumHeight(52);
    changes_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    ways_ = new QButtonGroup(this);
    auto* ways = new QHBoxLayout;
    ways->setSpacing(4);
    const QString titles[] = {tr("Stacked"), tr("Side by side"), tr("Wipe")};
    for (int k = 0; k < 3; ++k) {
        auto* chip = new QPushButton(titles[k], panel);
        chip->setCheckable(true);
        chip->setProperty("chip", true);
        chip->setChecked(k == 0);
        ways_->addButton(chip, k);
        ways->addWidget(chip);
    }
    ways->addStretch(1);
    connect(ways_, &QButtonGroup::idClicked, this, [this](int id) { compare_->set_way(static_cast<ComparePane::Way>(id)); });
    auto* foot = new QVBoxLayout;
    foot->setContentsMargins(16, 12, 16, 12);
    foot->setSpacing(10);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(take_, 1);
    buttons->addWidget(keep_, 1);
    foot->addLayout(buttons);
    foot->addWidget(changes_);
    foot->addLayout(ways);
    auto* stack = new QVBoxLayout(panel);
    stack->setContentsMargins(0, 0, 0, 0);
    stack->setSpacing(0);
    stack->addWidget(compare_, 1);
    stack->addLayout(foot);
    return panel;
}

QPushButton* TryView::kind(What what) const { return qobject_cast<QPushButton*>(kinds_->button(static_cast<int>(what))); }

void TryView::set_side(bool down, const Address& at) {
    Question next = question_;
    (down ? next.down : next.across) = at;
    (down ? next.down_span : next.across_span).reset();
    ask(std::move(next));
}

void TryView::set_span(bool down, const Span& span) {
    (down ? question_.down_span : question_.across_span) = span;
    follow();
}

void TryView::show_question() {
    updating_ = true;
    const Recipe& recipe = session_.recipe();
    const What what = question_.what;
    kind(what)->setChecked(true);
    kind(What::blend)->setEnabled(recipe.strands.size() > 1);
    kind(What::colourways)->setEnabled(!recipe.colourways.empty());
    const bool two = what == What::two, places = two || what == What::one || what == What::seed || what == What::colours,
               strand = what == What::blend || what == What::presence;
    across_.box->setVisible(places || strand);
    down_.box->setVisible(two);
    across_.heading->setText(two ? tr("Across") : strand ? tr("Strand") : what == What::colours ? tr("Ramp") : tr("Value"));
    const auto show = [&](Side& side, const Address& at, const std::optional<Span>& span) {
        side.place->set_place(recipe, at);
        const bool number = is_number(recipe, at) && (two || what == What::one);
        side.span->setVisible(number);
        if (!number) return;
        const Parameter p = place_at(recipe, at)->parameter;
        const Span shown = span.value_or(usual_span(recipe, at));
        for (int k = 0; k < 2; ++k) {
            suit_field(side.ends[k], p);
            if (!side.ends[k]->hasFocus() || !span) side.ends[k]->setValue((k == 0 ? shown.from : shown.to) * shown_factor(p));
        }
    };
    const Address of_strand{question_.across.strand, "", strand ? "blend" : question_.across.parameter};
    show(across_, strand ? of_strand : question_.across, question_.across_span);
    if (const Strand* of = recipe.strand(question_.across.strand); of && what == What::presence)
        across_.place->setText(qt(of->name));
    if (two) show(down_, question_.down, question_.down_span);
    const bool counted = what == What::seed || two || (what == What::one && is_number(recipe, question_.across));
    counts_->setVisible(counted);
    columns_->setValue(question_.columns), rows_->setValue(question_.rows);
    toward_->setVisible(what == What::toward);
    const bool spans = counted && what != What::seed;
    closer_->setVisible(spans), wider_->setVisible(spans), swap_->setVisible(two);
    hint_->setText(what == What::presence  ? tr("Each picture is the cloth with one step of the strand switched the other way.")
                   : what == What::colours ? tr("Ramps of the recipe, of its colourways, and of materials; the grain stays.")
                   : what == What::colourways ? tr("Every colourway that the recipe keeps.")
                                              : QString());
    hint_->setVisible(!hint_->text().isEmpty());
    updating_ = false;
}

void TryView::ask_save() {
    auto* dialog = new QFileDialog(this, tr("Save the sheet"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setNameFilter(tr("Pictures (*.png *.jpg *.webp *.tiff)"));
    dialog->setDefaultSuffix("png");
    connect(dialog, &QFileDialog::fileSelected, this, &TryView::save_sheet);
    dialog->open();
}

}  // namespace loom
