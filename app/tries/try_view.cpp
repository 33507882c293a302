// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/tries/try_view.h"

#include <QAction>
#include <QButtonGroup>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>
#include <algorithm>

#include "app/document/render_service.h"
#include "app/tries/place_button.h"
#include "app/tries/toward_panel.h"
#include "app/tries/try_sheet.h"
#include "app/widgets/gradient_editor.h"
#include "app/widgets/name_dialog.h"
#include "app/widgets/number_edit.h"
#include "app/widgets/text.h"
#include "core/files/picture.h"
#include "core/files/sheet.h"
#include "core/recipe/edits.h"

namespace loom {

namespace {

using What = Question::What;

/// "Bands 32 → 48", a line for each change.
QString changes_of(const Recipe& recipe, const Variant& variant) {
    QStringList lines;
    for (const auto& [at, value] : variant.set) {
        const auto place = place_at(recipe, at);
        if (!place || place->value == value) continue;
        const QString before = qt(show_value(place->parameter, place->value)), after = qt(show_value(place->parameter, value));
        lines << (before == after ? qt(place_title(recipe, at))
                                  : TryView::tr("%1: %2 → %3").arg(qt(place_title(recipe, at)), before, after));
    }
    constexpr int most = 4;
    if (lines.size() > most) {
        const auto more = lines.size() - most + 1;
        lines = lines.mid(0, most - 1);
        lines << TryView::tr("and %1 more").arg(more);
    }
    return lines.join('\n');
}

}  // namespace

void TryView::add_commands(Commands& commands, std::function<bool()> shown) {
    using Menu = Commands::Menu;
    commands.add(
        Menu::file, "save-sheet", tr("Save the s&heet…"), QKeySequence("Ctrl+Alt+S"), [this] { ask_save(); },
        [this, shown] { return shown() && complete() && sheet_->count() > 0; });
    commands.add(
        Menu::edit, "take-try", tr("Take the chosen &try"), QKeySequence("Ctrl+Return"), [this] { take(sheet_->chosen()); },
        [this, shown] { return shown() && sheet_->chosen() >= 0 && sheet_->chosen() != sheet_->present(); });
}

bool TryView::complete() const { return !later_.isActive() && missing_ == 0 && !toward_->searching(); }

QVariantMap TryView::state() const { return {{"way", ways_->checkedId()}}; }

void TryView::set_state(const QVariantMap& state) {
    if (QAbstractButton* button = ways_->button(state.value("way").toInt())) button->click();
}

void TryView::ask(Question question) {
    const Selection& near = session_.selection();
    question_ = suited(session_.recipe(), std::move(question), {near.strand, near.step, ""});
    asked_document_ = session_.document();
    follow();
}

void TryView::follow() {
    if (!isVisible()) return;
    if (asked_document_ != session_.document()) return ask(question_);
    const Selection& near = session_.selection();
    question_ = suited(session_.recipe(), std::move(question_), {near.strand, near.step, ""});
    show_question();
    later_.start();
}

void TryView::order() {
    // A search goes on from what it was begun with.
    if (question_.what == What::toward) {
        // The pictures of the question before are no answer to this one.
        if (!searched_) show_axes({});
        searched_ = true;
        toward_->follow();
        sheet_->set_present(axes_.present(session_.recipe()));
        note_kept();
        return show_chosen();
    }
    searched_ = false;
    show_axes(axes_of(session_.recipe(), question_));
}

void TryView::show_axes(SheetAxes axes) {
    const Recipe& recipe = session_.recipe();
    QStringList captions, heads, sides;
    for (std::size_t k = 0; k < axes.count(); ++k) captions << qt(axes.variant(k).label);
    if (axes.down) {
        for (const Variant& each : axes.across.variants) heads << qt(each.label);
        for (const Variant& each : axes.down->variants) sides << qt(each.label);
    }
    const int before = sheet_->chosen();
    const bool same = axes.count() == axes_.count() && before >= 0 && before < static_cast<int>(axes.count()) &&
                      axes.variant(static_cast<std::size_t>(before)).set == variant(before).set;
    axes_ = std::move(axes);
    sheet_->begin(captions, axes.down ? static_cast<int>(heads.size()) : 0, heads, sides);
    if (question_.what == What::colours) {
        // A name tells little of a ramp.
        std::vector<QImage> ramps;
        for (std::size_t k = 0; k < axes_.count(); ++k)
            for (const auto& [at, value] : axes_.variant(k).set)
                if (const auto* stops = as_if<Stops>(value))
                    ramps.push_back(ramp_image(*stops, Interpolation::oklab, QSize(240, 9)));
        if (ramps.size() == axes_.count()) sheet_->set_ramps(std::move(ramps));
    }
    sheet_->set_present(axes_.present(recipe));
    note_kept();
    std::vector<TryOrder> orders;
    for (std::size_t k = 0; k < axes_.count(); ++k) orders.push_back({varied(recipe, axes_.variant(k)), own_picture});
    missing_ = static_cast<int>(orders.size());
    since_.start();
    ticket_ = pictures_.submit(std::move(orders));
    sheet_->choose(same ? before : std::max(0, sheet_->present()));
    if (axes_.count() == 0) show_chosen();
    show_count();
}

void TryView::show_count() {
    if (question_.what == What::toward && sheet_->count() == 0) return count_->setText(toward_->told());
    if (sheet_->count() == 0) return count_->setText(tr("There is nothing to vary here. Choose something else on the left."));
    const QString state = missing_ > 0
                              ? tr("%1 of %2").arg(sheet_->count() - missing_).arg(sheet_->count())
                              : tr("%1 of %1 · %2 s").arg(sheet_->count()).arg(static_cast<double>(taken_ms_) / 1000, 0, 'f', 1);
    if (question_.what == What::toward) return count_->setText(toward_->told());
    count_->setText(tr("%1 · arrow keys move, Enter takes, K keeps, Space compares").arg(state));
}

void TryView::note_kept() {
    std::set<int> kept;
    for (int k = 0; k < sheet_->count(); ++k) {
        const Variant each = variant(k);
        for (const Colourway& colourway : session_.recipe().colourways) {
            const bool same = !each.set.empty() && std::all_of(each.set.begin(), each.set.end(), [&](const auto& part) {
                const auto found = colourway.set.find(part.first);
                return found != colourway.set.end() && found->second == part.second;
            });
            if (same && question_.what != What::colourways) kept.insert(k);
        }
    }
    sheet_->set_kept(std::move(kept));
}

void TryView::show_chosen() {
    const int chosen = sheet_->chosen(), present = sheet_->present();
    const Recipe& recipe = session_.recipe();
    shown_.clear(), shown_of_.clear();
    const auto show = [&](int cell) {
        if (std::find(shown_of_.begin(), shown_of_.end(), cell) != shown_of_.end()) return;
        const bool now = cell < 0 || cell == present;
        const QString caption = cell < 0 ? QString() : full_caption(cell);
        // What is there small already is shown until the large picture comes.
        shown_.push_back({now ? caption.isEmpty() || caption == tr("As it is") ? tr("Now") : tr("Now: %1").arg(caption) : caption,
                          {},
                          cell < 0 ? QImage() : sheet_->picture(cell)});
        shown_of_.push_back(cell);
    };
    if (chosen >= 0 && chosen != present) show(chosen);
    for (int each : sheet_->compared()) show(each);
    show(present);
    std::vector<TryOrder> orders;
    for (int cell : shown_of_) orders.push_back({cell < 0 ? recipe : varied(recipe, variant(cell)), {}});
    large_ticket_ = large_.submit(std::move(orders));
    compare_->set_pictures(shown_);
    const bool other = chosen >= 0 && chosen != present;
    take_->setEnabled(other);
    keep_->setEnabled(chosen >= 0 && !axes_.across.variants.empty() && question_.what != What::colourways);
    changes_->setText(other ? changes_of(recipe, variant(chosen)) : tr("This is how things are now."));
}

QString TryView::full_caption(int cell) const {
    if (!axes_.down) return sheet_->caption(cell);
    // Two values alone would not say which is which.
    QStringList parts;
    const std::size_t across = axes_.across.variants.size(), k = static_cast<std::size_t>(cell);
    for (const Variant* each : {&axes_.across.variants[k % across], &axes_.down->variants[k / across]})
        for (const auto& [at, value] : each->set)
            if (const auto place = place_at(session_.recipe(), at)) parts << qt(place->parameter.title) + " " + qt(each->label);
    return parts.join(", ");
}

void TryView::show_pictures() { compare_->set_pictures(shown_); }

void TryView::take(int index) {
    if (index < 0 || index >= sheet_->count() || index == sheet_->present()) return;
    session_.apply(varied(session_.recipe(), variant(index)), tr("Try %1").arg(sheet_->caption(index)));
}

void TryView::keep(int index) {
    if (index < 0 || index >= sheet_->count()) return;
    ask_name(this, tr("Keep as colourway"), tr("Name"), sheet_->caption(index),
             [this, kept = variant(index), document = session_.document()](const QString& name) {
                 if (name.isEmpty() || document != session_.document()) return;
                 session_.apply(colourway_of(session_.recipe(), name.toStdString(), kept), tr("Keep colourway %1").arg(name));
             });
}

void TryView::save_sheet(const QString& path) {
    Sheet sheet = sheet_of(session_.recipe(), axes_);
    // As it lies on the screen.
    sheet.columns = sheet_->columns();
    for (int k = 0; k < sheet_->count(); ++k)
        sheet.pictures.push_back(sheet_->picture(k).isNull() ? Bundle() : from_image(sheet_->picture(k)));
    Work work;
    work.doing = "saving the sheet";
    work.urgency = Urgency::saving;
    work.run = [sheet = std::move(sheet), path = path.toStdString()](const WorkContext&) -> Result<Done> {
        const auto format = find_picture_format(QString::fromStdString(path).section('.', -1).toLower().toStdString());
        if (!format) return Error{Fault::call, "cannot write '" + path + "': name it .png, .jpg, .webp, .tiff or .exr"};
        const auto whole = sheet_picture(sheet);
        if (!whole) return whole.error();
        return write_picture(path, *whole, *format);
    };
    files_.submit(std::move(work));
}

void TryView::narrow(bool nearer) {
    const int chosen = std::max(0, sheet_->chosen());
    const Recipe& recipe = session_.recipe();
    const auto next = [&](const Address& at, const std::optional<Span>& span) {
        const Span now = span.value_or(usual_span(recipe, at));
        if (!nearer) return wider(recipe, at, now);
        const Variant chosen_now = variant(chosen);
        const auto value = chosen_now.set.find(at);
        return closer(recipe, at, now, value == chosen_now.set.end() ? (now.from + now.to) / 2 : as<double>(value->second));
    };
    if (is_number(recipe, question_.across)) question_.across_span = next(question_.across, question_.across_span);
    if (question_.what == What::two && is_number(recipe, question_.down))
        question_.down_span = next(question_.down, question_.down_span);
    follow();
}

void TryView::showEvent(QShowEvent* event) {
    Page::showEvent(event);
    follow();
}

void TryView::hideEvent(QHideEvent* event) {
    Page::hideEvent(event);
    later_.stop();
    toward_->stop();
    pictures_.stop(), large_.stop();
}

}  // namespace loom
