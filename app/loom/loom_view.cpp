// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/loom_view.h"

#include <QFileDialog>
#include <QSplitter>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "app/document/reference.h"
#include "app/help/help_sheet.h"
#include "app/loom/apart_window.h"
#include "app/loom/blend_chooser.h"
#include "app/loom/cloth_view.h"
#include "app/loom/front_panel.h"
#include "app/loom/history_sheet.h"
#include "app/loom/measures_bar.h"
#include "app/loom/remedy_bar.h"
#include "app/loom/step_finder.h"
#include "app/loom/strands_view.h"
#include "app/loom/tuning_desk.h"
#include "app/widgets/grip_splitter.h"
#include "app/widgets/picture_dialog.h"
#include "app/widgets/text.h"
#include "core/catalogue/description.h"

namespace loom {

namespace {
constexpr int usual_side = 600;    ///< pixels of strands and desk
constexpr int wide_enough = 1200;  ///< from which somebody may give the cloth less than half
}  // namespace

LoomView::LoomView(Session& session, RenderService& service, const SampleBook& book, QWidget* parent)
    : Page(parent),
      session_(session),
      service_(service),
      brush_(session),
      stroke_hand_(session, brush_),
      outline_hand_(session),
      points_hand_(session),
      letter_hand_(session),
      box_hand_(session),
      handles_(session) {
    strands_ = new StrandsView(session, this);
    // In the order in which Tab goes through them.
    desk_ = new TuningDesk(session, brush_, book, this);
    cloth_ = new ClothView(this);
    cloth_->lit()->set_book(book);
    measures_ = new MeasuresBar(this);
    desk_->setMinimumSize(280, 120);
    strands_->setMinimumSize(260, 120);
    remedy_ = new RemedyBar(session, this);
    const auto split = [this](Qt::Orientation way, QWidget* first, QWidget* second, const QList<int>& stretch,
                              const QList<int>& sizes) {
        auto* splitter = new GripSplitter(way, this);
        splitter->addWidget(first), splitter->addWidget(second);
        splitter->setStretchFactor(0, stretch[0]), splitter->setStretchFactor(1, stretch[1]);
        splitter->setSizes(sizes);
        splitter->setChildrenCollapsible(false);
        return splitter;
    };
    const auto stacked = [](QWidget* whole, const QList<QWidget*>& parts) {
        auto* stack = new QVBoxLayout(whole);
        stack->setContentsMargins(0, 0, 0, 0);
        stack->setSpacing(0);
        for (QWidget* part : parts) stack->addWidget(part, part == parts.front() ? 1 : 0);
    };
    help_ = new HelpSheet(this);
    top_ = new QStackedWidget(this);
    top_->addWidget(strands_);
    top_->addWidget(help_);
    history_ = new HistorySheet(session, this);
    top_->addWidget(history_);
    connect(history_, &HistorySheet::closed, this, [this] { show_history(false); });
    connect(history_, &HistorySheet::pin_wanted, this, &LoomView::pin);
    connect(help_, &HelpSheet::closed, this, &LoomView::close_help);
    left_ = split(Qt::Vertical, top_, desk_, {1, 1}, {376, 358});
    right_ = new QWidget(this);
    stacked(right_, {cloth_, remedy_, measures_});
    // A large screen's room goes to the cloth first.
    side_ = new QStackedWidget(this);
    front_ = new FrontPanel(session, this);
    side_->addWidget(left_);
    side_->addWidget(front_);
    across_ = split(Qt::Horizontal, side_, right_, {1, 3}, {usual_side, 679});
    stacked(this, {across_});

    connect_hands();
    connect(&session_, &Session::selection_changed, cloth_->canvas(), qOverload<>(&QWidget::update));
    connect(&session_, &Session::selection_changed, this, &LoomView::follow_help);
    connect(&session_, &Session::selection_changed, this, &LoomView::warm_hand);
    connect(&session_, &Session::recipe_changed, this, &LoomView::render);
    connect(&service_, &RenderService::cloth_ready, this, [this](const ClothPicture& picture) {
        if (picture.document != session_.document()) return;
        if (!picture.before || picture.ticket == ticket_) cloth_->show_picture(picture);
    });
    connect(&pins_, &TryService::ready, this, [this](quint64 ticket, int, const QImage& image) {
        if (ticket == pin_ticket_ && pinned_) cloth_->canvas()->set_aside(image, pin_name_);
    });
    reference_ = new ReferencePicture(session, this);
    connect(reference_, &ReferencePicture::failed, &session_, &Session::refused);
    connect(reference_, &ReferencePicture::changed, this, [this] {
        const bool there = reference_->is_there();
        desk_->show_reference(reference_->image(), reference_->planes());
        measures_->show_reference(there ? std::optional(reference_->measures()) : std::nullopt);
        show_reference(there);
    });
    connect(&session_, &Session::file_changed, this, [this] {
        // A pinned state belongs to its recipe.
        if (pinned_ && pinned_document_ != session_.document()) unpin();
    });
    connect(&service_, &RenderService::cards_ready, this, [this](const CardPictures& cards, quint64 ticket) {
        if (ticket != ticket_) return;
        strands_->show_cards(cards);
        desk_->show_cards(cards);
        remedy_->show_cards(cards);
    });
    connect(&service_, &RenderService::measures_ready, this, [this](const Measures& measures, quint64 ticket) {
        if (ticket == ticket_) measures_->show_measures(measures);
    });
    connect(cloth_, &ClothView::alone_wanted, this, &LoomView::set_alone);
    connect(&service_, &RenderService::busy_changed, cloth_, &ClothView::show_busy);
    connect(strands_, &StrandsView::add_step_wanted, this, [this](const Slot& slot) { open_finder(slot); });
    connect(desk_, &TuningDesk::exchange_wanted, this, &LoomView::exchange_selected);
    connect(desk_, &TuningDesk::try_wanted, this, &LoomView::try_wanted);
    connect(strands_, &StrandsView::blends_wanted, this, &LoomView::choose_blend);
    connect(strands_, &StrandsView::add_strand_wanted, this, &LoomView::add_strand);
    connect(strands_, &StrandsView::rename_wanted, this, &LoomView::rename_selected);
    render();
}

void LoomView::resizeEvent(QResizeEvent* event) {
    Page::resizeEvent(event);
    // On a narrow screen both sides have half.
    layout()->activate();
    const int room = across_->width() - across_->handleWidth();
    if (apart() || alone() || across_->count() < 2) return;
    const bool grown = event->oldSize().width() < wide_enough && event->size().width() >= wide_enough;
    if (grown) across_->setSizes({usual_side, room - usual_side});
    if (room < wide_enough) across_->setSizes({room / 2, room - room / 2});
}

void LoomView::render() {
    cloth_->set_tile(session_.recipe().tile.size());
    measures_->set_stale(true);
    // A coarse picture would wipe away for a moment what the hand has drawn.
    ticket_ = service_.submit(session_.recipe(), session_.document(), !by_hand_);
    cloth_->set_recipe(session_.recipe());
    by_hand_ = false;
    warm_hand();
    if (shows_help()) help_->renew(session_.recipe());
}

void LoomView::warm_hand() {
    const Step* step = session_.selected_step();
    const StepDescription* description = step ? find_step(step->kind) : nullptr;
    if (description && description->parameter_of(Kind::strokes)) service_.warm_parts(session_.recipe(), session_.document());
}

void LoomView::connect_hands() {
    // What lies on top is first: letters are typed where their box lies too, and a stroke leaves nothing to others.
    cloth_->canvas()->set_hands({&letter_hand_, &stroke_hand_, &outline_hand_, &points_hand_, &handles_, &box_hand_});
    connect(&stroke_hand_, &StrokeHand::looks_changed, cloth_->canvas(), qOverload<>(&QWidget::update));
    connect(&stroke_hand_, &StrokeHand::drawn, this, [this](const Recipe& recipe, const QRectF& changed) {
        // What lies after the stroke may carry it some way farther; the whole picture follows.
        constexpr double around = 32;
        service_.submit_part(recipe, changed.adjusted(-around, -around, around, around), session_.document());
    });
    connect(&stroke_hand_, &StrokeHand::finishing, this, [this] { by_hand_ = true; });
    connect(&stroke_hand_, &StrokeHand::given_up, this, [this] {
        by_hand_ = true;
        render();
    });
    connect(&service_, &RenderService::part_ready, this,
            [this](const QImage& picture, const QRectF& place, const QRectF& part, quint64 document) {
                if (document == session_.document() && stroke_hand_.held())
                    cloth_->canvas()->show_part(picture, place, part, stroke_hand_.way(), stroke_hand_.width());
            });
}

StepFinder* LoomView::open_finder(const Slot& slot) {
    const Slot at = with_source_first(slot);
    auto* finder = StepFinder::for_new(session_.recipe(), at, this);
    connect(finder, &StepFinder::chosen, this, [this, at](const QString& kind) { put_step(at, kind); });
    open_beside(finder, at.strand);
    return finder;
}

void LoomView::open_beside(PictureChooser* chooser, const std::string& strand) {
    // The strand it works on stays in sight.
    chooser->open_beside(strands_->strand_place(strand), QRect(window()->mapToGlobal(QPoint(0, 0)), window()->size()));
}

/// What is put at the end of a chain that has lost its source is its new source.
Slot LoomView::with_source_first(Slot slot) const {
    const Strand* strand = session_.recipe().strand(slot.strand);
    if (!strand || slot.chain != ChainKind::steps || strand->steps.empty()) return slot;
    if (slot.index != static_cast<int>(strand->steps.size())) return slot;
    const StepDescription* first = find_step(strand->steps[0].kind);
    if (first && needs_input(*first, strand->steps[0].set)) slot.index = 0;
    return slot;
}

StepFinder* LoomView::exchange_selected() {
    const Selection at = session_.selection();
    const auto slot = slot_of(session_.recipe(), at.strand, at.step);
    if (!slot) return nullptr;
    auto* finder = StepFinder::for_exchange(session_.recipe(), *slot, this);
    connect(finder, &StepFinder::chosen, this, [this, at](const QString& kind) {
        const StepDescription* to = find_step(kind.toStdString());
        const Step* now = session_.recipe().step({at.strand, at.step, ""});
        if (to && now && now->kind != to->id)
            session_.apply(step_exchanged(session_.recipe(), at.strand, at.step, *to),
                           tr("Exchange %1 for %2").arg(QString::fromStdString(step_title(*now)), qt(to->title)));
    });
    open_beside(finder, at.strand);
    return finder;
}

BlendChooser* LoomView::choose_blend(const std::string& strand) {
    if (session_.recipe().index_of(strand) < 1) return nullptr;
    auto* chooser = new BlendChooser(session_.recipe(), strand, this);
    connect(chooser, &BlendChooser::chosen, this, [this, strand](const QString& id) {
        const Strand* now = session_.recipe().strand(strand);
        if (!now) return;
        Join join = now->join;
        join.blend = BlendChooser::blend_of(id);
        session_.apply(with_join(session_.recipe(), strand, join), tr("Join of %1").arg(QString::fromStdString(now->name)));
    });
    open_beside(chooser, strand);
    return chooser;
}

QWidget* LoomView::second_window() const { return apart_; }

bool LoomView::alone() const { return side_->isHidden(); }

void LoomView::set_alone(bool on) {
    if (on && apart_) set_apart(false);
    // Hidden widgets keep the keyboard unless it is taken from them.
    if (on && side_->isAncestorOf(focusWidget())) cloth_->canvas()->setFocus();
    side_->setVisible(!on);
    cloth_->show_alone(on);
}

void LoomView::set_apart(bool on) {
    if (on == apart()) return;
    if (on) {
        set_alone(false);
        apart_ = new ApartWindow(right_, tr("Cloth - Keen Loom"), commands_ ? commands_->actions() : QList<QAction*>(), this);
        connect(apart_, &ApartWindow::closed, this, [this] { set_apart(false); });
        apart_->show();
    } else {
        across_->insertWidget(1, right_);
        right_->show();
        apart_->disconnect(this);
        apart_->hide();
        apart_->deleteLater();
        apart_ = nullptr;
    }
    if (commands_) commands_->action("cloth-apart")->setChecked(on);
    cloth_->show_apart(on);
}

bool LoomView::shows_help() const { return top_->currentWidget() == help_; }

void LoomView::close_help() {
    top_->setCurrentWidget(strands_);
    strands_->focus_selected();
}

void LoomView::follow_help() {
    if (!shows_help() || help_->step().step.empty() || session_.selection() == help_->step()) return;
    if (!session_.selected_step()) return close_help();
    help_->show_step(session_.recipe(), session_.selection());
}

void LoomView::show_step_help() {
    if (shows_help()) return close_help();
    if (!session_.selected_step()) return show_keys();
    help_->show_step(session_.recipe(), session_.selection());
    top_->setCurrentWidget(help_);
    help_->text()->setFocus();
}

void LoomView::show_keys() {
    set_alone(false);
    help_->show_keys(*commands_);
    top_->setCurrentWidget(help_);
    help_->text()->setFocus();
}

void LoomView::set_before(bool on) {
    const Selection& selection = session_.selection();
    const Strand* strand = session_.selected_strand();
    cloth_->canvas()->set_before(on && strand, session_.selected_step() ? about_selected(tr("without %1"), tr("without %1 steps"))
                                               : strand                 ? tr("without %1").arg(qt(strand->name))
                                                                        : QString());
    if (!on || !strand) return;
    Recipe without = session_.recipe();
    if (session_.selected_step())
        without = steps_switched(std::move(without), session_.selected_steps(), false);
    else
        without = strand_switched(std::move(without), selection.strand, false);
    service_.submit_before(std::move(without), session_.document());
}

void LoomView::set_range(bool on) {
    const Step* step = session_.selected_step();
    const StepDescription* description = step ? find_step(step->kind) : nullptr;
    const bool means_some = description && !description->shows_range.empty();
    cloth_->canvas()->set_before(on && means_some, tr("what it means, in white"));
    if (!on || !means_some) return;
    // Everything that it does not mean is left, and what it means made white.
    Recipe marked = session_.recipe();
    for (const auto& [id, value] : description->shows_range)
        marked = with_value(std::move(marked), {session_.selection().strand, step->id, id}, value);
    service_.submit_before(std::move(marked), session_.document());
}

void LoomView::pin(const Recipe& state, const QString& name) {
    reference_shown_ = false;
    pinned_ = state, pinned_document_ = session_.document(), pin_name_ = name;
    // What is on show is the state itself, until its own picture comes.
    if (state == session_.recipe() && !cloth_->canvas()->image().isNull())
        cloth_->canvas()->set_aside(cloth_->canvas()->image(), name);
    pin_ticket_ = pins_.submit({{state, {}}});
    if (commands_) commands_->refresh();
}

void LoomView::unpin() {
    pinned_.reset();
    pins_.stop();
    cloth_->canvas()->set_aside({}, {});
    if (commands_) commands_->refresh();
}

void LoomView::show_reference(bool on) {
    reference_shown_ = on && reference_->is_there();
    if (reference_shown_) {
        pinned_.reset();
        cloth_->canvas()->set_aside(reference_->in_proportion(session_.recipe().tile.size()), reference_->name());
    } else if (!pinned_) {
        cloth_->canvas()->set_aside({}, {});
    }
    if (commands_) {
        commands_->action("reference-shown")->setChecked(reference_shown_);
        commands_->refresh();
    }
}

void LoomView::choose_reference() {
    auto* dialog = picture_dialog(this, tr("A picture of the material"));
    connect(dialog, &QFileDialog::fileSelected, reference_, &ReferencePicture::load);
    dialog->open();
}

void LoomView::match_reference() {
    if (!reference_->is_there() || session_.recipe().strands.empty()) return;
    const Strand* strand = session_.selected_strand() ? session_.selected_strand() : session_.recipe().strands.back().get();
    const std::string id = strand->id;
    Step step;
    step.id = new_step_id(*strand), step.kind = "match";
    const std::string step_id = step.id;
    if (!session_.apply(
            step_added(session_.recipe(), {id, ChainKind::steps, static_cast<int>(strand->steps.size())}, std::move(step)),
            tr("Match %1").arg(reference_->name())))
        return;
    session_.select({id, step_id});
    desk_->keep_picture({id, step_id, "file"}, reference_->path());
}

void LoomView::return_to_pinned() {
    if (pinned_) session_.apply(*pinned_, tr("Return to %1").arg(pin_name_));
}

void LoomView::show_history(bool on) {
    close_help();
    top_->setCurrentWidget(on ? static_cast<QWidget*>(history_) : strands_);
    if (!on) strands_->focus_selected();
}

void LoomView::show_front(bool on) {
    side_->setCurrentWidget(on ? static_cast<QWidget*>(front_) : left_);
    if (commands_) commands_->action("front-panel")->setChecked(on);
}

bool LoomView::shows_front() const { return side_->currentWidget() == front_; }

}  // namespace loom
