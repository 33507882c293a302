// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/describe.h"

#include <algorithm>

namespace loom {

namespace {

template <class T>
T& at(void* place) {
    return *static_cast<T*>(place);
}

template <class T>
void put(void* place, const Value& value, const SettingsField&) {
    at<T>(place) = as<T>(value);
}

void put_count(void* place, const Value& value, const SettingsField&) { at<int>(place) = static_cast<int>(as<double>(value)); }

/// An enum that counts from 0 in the order of its words.
void put_choice(void* place, const Value& value, const SettingsField& field) {
    const auto word = std::find(field.words.begin(), field.words.end(), as<std::string>(value));
    if (word != field.words.end()) at<int>(place) = static_cast<int>(word - field.words.begin());
}

void set_range(Parameter& p, const Range& range) {
    p.unit = range.unit, p.scale = range.scale;
    p.min = range.min, p.max = range.max;
    p.slider_max = range.slider_max != 0 ? range.slider_max : range.max;
    p.slider_min = range.min < 0 && range.slider_max != 0 ? std::max(range.min, -range.slider_max) : range.min;
}

}  // namespace

void read_settings(const SettingsFields& fields, const Values& values, void* settings) {
    for (const SettingsField& field : fields)
        if (const auto found = values.find(field.id); found != values.end())
            field.put(static_cast<std::byte*>(settings) + field.offset, found->second, field);
}

Describing::Describing(StepDescription base) : step_(std::move(base)) {}
Describing::~Describing() = default;

Parameter& Describing::add(Kind kind, SettingsField field, Value fallback, std::string_view title, std::string_view help,
                           const When& when) {
    Parameter& p = step_.parameters.emplace_back();
    p.id = field.id, p.title = title, p.kind = kind, p.help = help;
    p.when = when, p.section = section_;
    p.fallback = std::move(fallback);
    fields_->push_back(std::move(field));
    return p;
}

void Describing::number_at(std::size_t offset, double fallback, std::string_view id, std::string_view title, Range range,
                           std::string_view help, const When& when) {
    set_range(add(Kind::number, {id, offset, {}, put<double>}, fallback, title, help, when), range);
}

void Describing::count_at(std::size_t offset, int fallback, std::string_view id, std::string_view title, Range range,
                          std::string_view help, const When& when) {
    set_range(add(Kind::count, {id, offset, {}, put_count}, static_cast<double>(fallback), title, help, when), range);
}

void Describing::toggle_at(std::size_t offset, bool fallback, std::string_view id, std::string_view title, std::string_view help,
                           const When& when) {
    add(Kind::toggle, {id, offset, {}, put<bool>}, fallback, title, help, when);
}

void Describing::colour_at(std::size_t offset, const Colour& fallback, std::string_view id, std::string_view title,
                           std::string_view help, const When& when) {
    add(Kind::colour, {id, offset, {}, put<Colour>}, fallback, title, help, when);
}

void Describing::stops_at(std::size_t offset, const Stops& fallback, std::string_view id, std::string_view title,
                          std::string_view help) {
    add(Kind::stops, {id, offset, {}, put<Stops>}, SharedValue<Stops>(fallback), title, help, {});
}

void Describing::curve_at(std::size_t offset, const CurvePoints& fallback, std::string_view id, std::string_view title,
                          std::string_view help) {
    add(Kind::curve, {id, offset, {}, put<CurvePoints>}, SharedValue<CurvePoints>(fallback), title, help, {});
}

void Describing::strokes_at(std::size_t offset, std::string_view id, std::string_view title, std::vector<Choice> tools,
                            std::string_view help) {
    add(Kind::strokes, {id, offset, {}, put<Strokes>}, Strokes(), title, help, {}).choices = std::move(tools);
}

void Describing::moves_at(std::size_t offset, const Moves& fallback, std::string_view id, std::string_view title,
                          std::string_view help) {
    add(Kind::moves, {id, offset, {}, put<Moves>}, SharedValue<Moves>(fallback), title, help, {});
}

void Describing::outline_at(std::size_t offset, const Outline& fallback, std::string_view id, std::string_view title,
                            std::string_view help, const When& when) {
    add(Kind::outline, {id, offset, {}, put<Outline>}, SharedValue<Outline>(fallback), title, help, when);
}

void Describing::inputs_at(std::size_t offset, const Inputs& fallback, std::string_view id, std::string_view title,
                           std::string_view help) {
    add(Kind::inputs, {id, offset, {}, put<Inputs>}, SharedValue<Inputs>(fallback), title, help, {});
}

void Describing::text_at(Kind kind, std::size_t offset, const std::string& fallback, std::string_view id, std::string_view title,
                         std::string_view help, const When& when) {
    Value held = kind == Kind::draft ? Value(LongText(fallback)) : Value(fallback);
    add(kind, {id, offset, {}, put<std::string>}, std::move(held), title, help, when);
}

void Describing::choice_at(std::size_t offset, int fallback, std::string_view id, std::string_view title,
                           std::vector<Choice> choices, std::string_view help, const When& when) {
    SettingsField field{id, offset, {}, put_choice};
    for (const Choice& choice : choices) field.words.push_back(choice.id);
    std::string word(choices[static_cast<std::size_t>(fallback)].id);
    add(Kind::choice, std::move(field), std::move(word), title, help, when).choices = std::move(choices);
}

StepDescription Describing::finished() {
    if (!step_.shape) step_.shape = [](const Values&, Shape in) { return in; };
    if (!step_.scratch)
        step_.scratch = [planes = step_.scratch_planes](const Values&, const Scales&, const PlaneCounts&) { return planes; };
    if (!step_.draws) step_.draws = [seeded = step_.seeded](const Values&) { return seeded; };
    if (!step_.reads_beneath) step_.reads_beneath = [](const Values&) { return false; };
    if (!step_.notice) step_.notice = [](const Values&) { return std::string(); };
    return std::move(step_);
}

}  // namespace loom
