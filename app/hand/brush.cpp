// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/hand/brush.h"

#include <algorithm>

namespace loom {

Brush::Brush(Session& session, QObject* parent) : QObject(parent), session_(session) {
    connect(&session_, &Session::selection_changed, this, [this] {
        shown_ = -1;
        emit changed();
    });
}

void Brush::set_size(double px) {
    stroke_.size = std::clamp(px, least_brush, greatest_brush);
    emit changed();
}
void Brush::set_strength(double percent) {
    stroke_.strength = std::clamp(percent, -100.0, 100.0);
    emit changed();
}
void Brush::set_softness(double percent) {
    stroke_.softness = std::clamp(percent, 0.0, 100.0);
    emit changed();
}
void Brush::set_colour(const Colour& colour) {
    stroke_.colour = colour;
    emit changed();
}

const Parameter* Brush::parameter() const {
    const Step* step = session_.selected_step();
    const StepDescription* description = step && step->on ? find_step(step->kind) : nullptr;
    return description ? description->parameter_of(Kind::strokes) : nullptr;
}

Address Brush::address() const {
    const Parameter* p = parameter();
    return {session_.selection().strand, session_.selection().step, p ? std::string(p->id) : std::string()};
}

Strokes Brush::strokes() const {
    const Parameter* p = parameter();
    return p ? as<Strokes>(value_or_default(*p, session_.selected_step()->set)) : Strokes();
}

std::string Brush::tool() const {
    const Parameter* p = parameter();
    if (!p) return {};
    const auto found = tools_.find(session_.selected_step()->kind);
    return found == tools_.end() ? std::string(p->choices.front().id) : found->second;
}

void Brush::set_tool(const std::string& tool) {
    if (!parameter()) return;
    tools_[session_.selected_step()->kind] = tool;
    emit changed();
}

Stroke Brush::stroke() const {
    Stroke stroke = stroke_;
    stroke.tool = tool();
    stroke.points.clear();
    return stroke;
}

void Brush::show_stroke(int index) {
    if (index == shown_) return;
    shown_ = index;
    emit changed();
}

QVariantMap Brush::state() const {
    return {{"size", stroke_.size}, {"strength", stroke_.strength}, {"softness", stroke_.softness}};
}

void Brush::set_state(const QVariantMap& state) {
    set_size(state.value("size", stroke_.size).toDouble());
    set_strength(state.value("strength", stroke_.strength).toDouble());
    set_softness(state.value("softness", stroke_.softness).toDouble());
}

}  // namespace loom
