// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/session.h"

#include <QFileInfo>
#include <algorithm>

#include "core/catalogue/description.h"
#include "core/recipe/edits.h"
#include "core/recipe/references.h"

namespace loom {

namespace {
/// What a file's name says of what is in it.
std::string name_of(const QString& path) { return QFileInfo(path).completeBaseName().toStdString(); }
}  // namespace

EditCommand::EditCommand(Session& session, Recipe after, const QString& text, Gesture gesture)
    : QUndoCommand(text), session_(session), before_(session.recipe()), after_(std::move(after)), gesture_(std::move(gesture)) {}

void EditCommand::undo() { session_.set_recipe(before_); }
void EditCommand::redo() { session_.set_recipe(after_); }

bool EditCommand::mergeWith(const QUndoCommand* other) {
    const auto* next = static_cast<const EditCommand*>(other);
    if (!gesture_.joins(next->gesture_)) return false;
    after_ = next->after_;
    // Dragged back to where it began: nothing happened.
    setObsolete(before_ == after_);
    return true;
}

Session::Session(QObject* parent) : QObject(parent) {
    undo_.setUndoLimit(500);
    connect(&undo_, &QUndoStack::cleanChanged, this, &Session::file_changed);
}

Session::~Session() {
    // The stack empties itself with a last signal, for which nobody is left.
    undo_.disconnect();
}

const Step* Session::selected_step() const {
    const Strand* strand = selected_strand();
    return strand ? strand->step(selection_.step) : nullptr;
}

bool Session::apply(Recipe next, const QString& text, const Gesture& gesture) {
    // Whatever an edit takes away, nothing may go on naming it.
    next = without_loose_ends(std::move(next));
    if (next == recipe()) return false;
    if (const std::string ring = circle(next); !ring.empty()) {
        emit refused(tr("That would go round in a circle: %1").arg(QString::fromStdString(ring)));
        return false;
    }
    undo_.push(new EditCommand(*this, std::move(next), text, gesture));
    return true;
}

std::vector<std::pair<QString, Recipe>> Session::states() const {
    std::vector<std::pair<QString, Recipe>> all;
    for (int k = 0; k < undo_.count(); ++k) {
        const auto* command = static_cast<const EditCommand*>(undo_.command(k));
        if (k == 0) all.emplace_back(tr("As it was"), command->before());
        all.emplace_back(command->text(), command->after());
    }
    if (all.empty()) all.emplace_back(tr("As it was"), recipe());
    return all;
}

bool Session::set_value(const Address& at, const Value& value, const QString& gesture) {
    return set_values({{at, value}}, gesture);
}

bool Session::set_values(const std::vector<std::pair<Address, Value>>& values, const QString& gesture) {
    Recipe next = recipe();
    QStringList about;
    for (const auto& [at, value] : values) {
        if (const auto why = refuses(recipe(), at, value)) {
            emit refused(QString::fromStdString(at.parameter + " " + *why));
            return false;
        }
        next = with_value(std::move(next), at, value);
        about << QString::fromStdString(at.text());
    }
    const auto title = [](std::string_view words) { return QString::fromUtf8(words.data(), static_cast<int>(words.size())); };
    const Address& at = values.front().first;
    const Step* step = recipe().step(at);
    const Strand* strand = recipe().strand(at.strand);
    const QString name = title(place_at(recipe(), at)->parameter.title);
    const QString of = QString::fromStdString(step ? step_title(*step) : strand ? strand->name : std::string());
    return apply(std::move(next), of.isEmpty() ? name : tr("%1 of %2").arg(name, of), {gesture, about.join(' ')});
}

void Session::select(const Selection& selection) { set_selection(selection, {selection}); }

void Session::select_several(const StepPlaces& steps, const Selection& lead) {
    const StepPlaces there = in_order(recipe(), steps);
    if (there.empty()) return;
    set_selection(std::find(there.begin(), there.end(), lead) == there.end() ? there.back() : lead, there);
}

void Session::set_selection(const Selection& selection, const StepPlaces& several) {
    const Selection before = selection_;
    const StepPlaces several_before = several_;
    selection_ = selection;
    several_ = several;
    keep_selection_valid();
    if (before != selection_ || several_before != several_) emit selection_changed();
}

void Session::set_recipe(const Recipe& recipe) {
    file_.recipe = recipe;
    const Selection before = selection_;
    const StepPlaces several_before = several_;
    keep_selection_valid();
    emit recipe_changed();
    if (before != selection_ || several_before != several_) emit selection_changed();
}

void Session::keep_selection_valid() {
    const Strand* strand = recipe().strand(selection_.strand);
    if (!strand)
        selection_ = {};
    else if (!selection_.step.empty() && !strand->step(selection_.step))
        selection_.step.clear();
    several_ = in_order(recipe(), several_);
    // The desk shows one of those that are selected together.
    if (std::find(several_.begin(), several_.end(), selection_) == several_.end())
        several_ = selected_step() ? StepPlaces{selection_} : StepPlaces{};
}

void Session::start_new(Recipe recipe, const QString& path) {
    file_ = {};
    file_.recipe = std::move(recipe);
    path_ = path;
    not_given_ = {Recipe().name};
    // What nobody has named goes by its file.
    if (!path.isEmpty() && !named()) file_.recipe.name = name_of(path);
    not_given_.insert(path.isEmpty() ? file_.recipe.name : name_of(path));
    ++document_;
    undo_.clear();
    selection_ = {};
    // The topmost strand's last step is what people reach for first.
    if (!file_.recipe.strands.empty()) {
        const Strand& first = *file_.recipe.strands.front();
        selection_ = {first.id, first.steps.empty() ? std::string() : first.steps.front().id};
    }
    keep_selection_valid();
    emit recipe_changed();
    emit selection_changed();
    emit file_changed();
}

void Session::start_unsaved(LoomFile content, const QString& path) {
    start_new(content.recipe, path);
    content.recipe = recipe();
    file_ = std::move(content);
    undo_.resetClean();
    emit file_changed();
}

void Session::start_opened(LoomFile content, const QString& path) {
    start_new(content.recipe, path);
    content.recipe = recipe();
    file_ = std::move(content);
}

LoomFile Session::content_for(const QString& path) const {
    LoomFile content = file_;
    // "carriage-oak" says no other name than "Carriage oak".
    if (!named() && file_word(recipe().name) != file_word(name_of(path))) content.recipe.name = name_of(path);
    return content;
}

void Session::saved(const QString& path, const LoomFile& content) {
    file_.preview_png = content.preview_png;
    path_ = path;
    if (content.recipe.name == name_of(path)) {
        if (!named() && recipe().name != content.recipe.name)
            apply(renamed(recipe(), content.recipe.name), tr("Name of the file"));
        not_given_.insert(content.recipe.name);
    }
    // What was changed while it was written is not in it; nor is what the stack takes for the file's any more.
    if (recipe() == content.recipe)
        undo_.setClean();
    else
        undo_.resetClean();
    emit file_changed();
}

Recipe fresh_recipe() {
    Recipe recipe;
    Strand strand;
    strand.id = "strand", strand.name = "Strand 1";
    Step clouds;
    clouds.id = "s1", clouds.kind = "clouds", clouds.seed = 1;
    strand.steps.push_back(std::move(clouds));
    recipe.strands.push_back(std::make_shared<const Strand>(std::move(strand)));
    return recipe;
}

}  // namespace loom
