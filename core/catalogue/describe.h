// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How a step's file ties its plain Settings struct to its description. Defaults are the member
// initialisers of the struct and stand nowhere else.
#pragma once

#include <algorithm>
#include <functional>
#include <memory>
#include <type_traits>
#include <utility>
#include <vector>

#include "core/catalogue/description.h"

namespace loom {

struct Range {
    double min = 0, max = 100;
    Unit unit = Unit::none;
    /// The far end of the slider (0: max); where min is negative the slider is as long to the other side.
    double slider_max = 0;
    Scale scale = Scale::linear;
};

/// "Only while parameter `id` has one of these words", or several such joined by &&, || and !.
using When = Condition;

template <class Settings>
class Describe {
public:
    explicit Describe(StepDescription base) : step_(std::move(base)) {}

    Describe& number(std::string_view id, std::string_view title, double Settings::*member, Range range, std::string_view help,
                     When when = {}) {
        return ranged(
            Kind::number, id, title, range, help, when, [member](Settings& s, const Value& v) { s.*member = as<double>(v); },
            Value(Settings{}.*member));
    }
    Describe& count(std::string_view id, std::string_view title, int Settings::*member, Range range, std::string_view help,
                    When when = {}) {
        return ranged(
            Kind::count, id, title, range, help, when,
            [member](Settings& s, const Value& v) { s.*member = static_cast<int>(as<double>(v)); },
            Value(static_cast<double>(Settings{}.*member)));
    }
    Describe& toggle(std::string_view id, std::string_view title, bool Settings::*member, std::string_view help, When when = {}) {
        return plain<bool>(Kind::toggle, id, title, member, help, when);
    }
    Describe& colour(std::string_view id, std::string_view title, Colour Settings::*member, std::string_view help,
                     When when = {}) {
        return plain<Colour>(Kind::colour, id, title, member, help, when);
    }
    Describe& stops(std::string_view id, std::string_view title, Stops Settings::*member, std::string_view help) {
        return plain<Stops, SharedValue<Stops>>(Kind::stops, id, title, member, help, {});
    }
    Describe& strand(std::string_view id, std::string_view title, std::string Settings::*member, std::string_view help,
                     When when = {}) {
        return plain<std::string>(Kind::strand, id, title, member, help, when);
    }
    Describe& text(std::string_view id, std::string_view title, std::string Settings::*member, std::string_view help,
                   When when = {}) {
        return plain<std::string>(Kind::text, id, title, member, help, when);
    }
    Describe& picture(std::string_view id, std::string_view title, std::string Settings::*member, std::string_view help,
                      When when = {}) {
        return plain<std::string>(Kind::picture, id, title, member, help, when);
    }
    Describe& recipe(std::string_view id, std::string_view title, std::string Settings::*member, std::string_view help,
                     Inner (*inner)(const Settings&)) {
        step_.inner = [read = reader(), inner](const Values& v) { return inner(read(v)); };
        return plain<std::string>(Kind::recipe, id, title, member, help, {});
    }
    Describe& formula(std::string_view id, std::string_view title, std::string Settings::*member, std::string_view help,
                      std::optional<TextFault> (*check)(std::string_view)) {
        plain<std::string>(Kind::formula, id, title, member, help, {});
        step_.parameters.back().check = check;
        return *this;
    }
    Describe& draft(std::string_view id, std::string_view title, std::string Settings::*member, std::string_view help,
                    std::optional<TextFault> (*check)(std::string_view), When when = {}) {
        plain<std::string, LongText>(Kind::draft, id, title, member, help, when);
        step_.parameters.back().check = check;
        return *this;
    }
    /// `present`: all inputs as they are now.
    Describe& inputs(std::string_view id, std::string_view title, Inputs Settings::*member, std::string_view help,
                     Inputs (*present)(const Settings&)) {
        step_.inputs = [read = reader(), present](const Values& v) { return present(read(v)); };
        return plain<Inputs, SharedValue<Inputs>>(Kind::inputs, id, title, member, help, {});
    }
    /// A point of the tile, whose two parameters are described already, can be dragged on the cloth.
    Describe& point(std::string_view title, std::string_view x, std::string_view y) {
        step_.handles.push_back({Handle::Form::point, title, x, y, {}, {}});
        return *this;
    }
    /// An angle is turned on the cloth.
    Describe& direction(std::string_view title, std::string_view id) {
        step_.handles.push_back({Handle::Form::direction, title, {}, {}, {}, id});
        return *this;
    }
    Describe& follows_lamp(bool (*function)(const Settings&)) {
        step_.follows_lamp = [read = reader(), function](const Values& v) { return function(read(v)); };
        return *this;
    }
    /// A distance around such a point.
    Describe& radius(std::string_view title, std::string_view id, std::string_view x, std::string_view y) {
        step_.handles.push_back({Handle::Form::radius, title, x, y, id, {}});
        return *this;
    }
    /// The choices stand in the order of the enum's values, which count from 0.
    template <class E>
    Describe& choice(std::string_view id, std::string_view title, E Settings::*member, std::vector<Choice> choices,
                     std::string_view help, When when = {}) {
        static_assert(std::is_enum_v<E>);
        Parameter p = start(Kind::choice, id, title, help, when);
        p.fallback = std::string(choices[static_cast<std::size_t>(Settings{}.*member)].id);
        p.choices = choices;
        return add(std::move(p), [member, choices = std::move(choices)](Settings& s, const Value& v) {
            const auto& word = as<std::string>(v);
            for (std::size_t k = 0; k < choices.size(); ++k)
                if (choices[k].id == word) s.*member = static_cast<E>(k);
        });
    }

    /// The parameters described from here on stand under a heading.
    Describe& section(std::string_view title) {
        section_ = title;
        return *this;
    }
    /// Two parameters, described already, that belong together.
    Describe& pair(std::string_view title, std::string_view across, std::string_view down) {
        step_.pairs.push_back({title, across, down});
        return *this;
    }
    /// The choices of the parameter described last are told apart by how they look; see Parameter::on_pictures.
    Describe& visual(Values on_pictures = {}) {
        step_.parameters.back().visual = true;
        step_.parameters.back().on_pictures = std::move(on_pictures);
        return *this;
    }
    /// The choices of the parameter described last are curves; see Parameter::curve.
    Describe& curve(double (*function)(std::size_t choice, double x)) {
        step_.parameters.back().curve = function;
        return *this;
    }
    /// The parameter described last had another id in earlier versions.
    Describe& formerly(std::string_view id) {
        step_.parameters.back().formerly.push_back(id);
        return *this;
    }
    /// Gives the parameter described last a handle on the tone histogram.
    Describe& on_histogram(ToneHandle handle) {
        step_.parameters.back().tone_handle = handle;
        return *this;
    }

    Describe& shape(Shape (*function)(const Settings&, Shape)) {
        step_.shape = [read = reader(), function](const Values& v, Shape in) { return function(read(v), in); };
        return *this;
    }
    Describe& footprint(Footprint (*function)(const Settings&, const Scales&)) {
        step_.footprint = [read = reader(), function](const Values& v, const Scales& at) { return function(read(v), at); };
        return *this;
    }
    /// Looks at its own place only, or at nothing.
    Describe& pixelwise() {
        return footprint([](const Settings&, const Scales&) { return Footprint::pixel(); });
    }
    /// May look anywhere.
    Describe& needs_whole() {
        return footprint([](const Settings&, const Scales&) { return Footprint::whole(); });
    }
    Describe& scratch(double (*function)(const Settings&, const Scales&, const PlaneCounts&)) {
        step_.scratch = [read = reader(), function](const Values& v, const Scales& at, const PlaneCounts& planes) {
            return function(read(v), at, planes);
        };
        return *this;
    }
    Describe& enlarges(int (*function)(const Settings&)) {
        step_.enlarges = [read = reader(), function](const Values& v) { return function(read(v)); };
        return *this;
    }
    Describe& reads(std::vector<std::string> (*function)(const Settings&)) {
        step_.reads = [read = reader(), function](const Values& v) { return function(read(v)); };
        return *this;
    }
    Describe& rounded(std::string (*function)(const Settings&, Size)) {
        step_.rounded = [read = reader(), function](const Values& v, Size tile) { return function(read(v), tile); };
        return *this;
    }
    Describe& draws(bool (*function)(const Settings&)) {
        step_.draws = [read = reader(), function](const Values& v) { return function(read(v)); };
        return *this;
    }
    Describe& notice(std::string (*function)(const Settings&)) {
        step_.notice = [read = reader(), function](const Values& v) { return function(read(v)); };
        return *this;
    }
    StepDescription run(Bundle (*function)(const Settings&, const StepContext&)) {
        step_.run = [read = reader(), function](const Values& v, const StepContext& c) { return function(read(v), c); };
        return finished();
    }
    StepDescription per_pixel(std::unique_ptr<PixelStep> (*function)(const Settings&, const StepContext&)) {
        step_.per_pixel = [read = reader(), function](const Values& v, const StepContext& c) { return function(read(v), c); };
        return pixelwise().finished();
    }

private:
    using Setter = std::function<void(Settings&, const Value&)>;

    Parameter start(Kind kind, std::string_view id, std::string_view title, std::string_view help, const When& when) const {
        Parameter p;
        p.id = id, p.title = title, p.kind = kind, p.help = help;
        p.when = when, p.section = section_;
        return p;
    }
    Describe& add(Parameter p, Setter set) {
        setters_->emplace_back(p.id, std::move(set));
        step_.parameters.push_back(std::move(p));
        return *this;
    }
    Describe& ranged(Kind kind, std::string_view id, std::string_view title, Range range, std::string_view help, const When& when,
                     Setter set, Value fallback) {
        Parameter p = start(kind, id, title, help, when);
        p.unit = range.unit, p.scale = range.scale;
        p.min = range.min, p.max = range.max;
        p.slider_max = range.slider_max != 0 ? range.slider_max : range.max;
        p.slider_min = range.min < 0 && range.slider_max != 0 ? std::max(range.min, -range.slider_max) : range.min;
        p.fallback = std::move(fallback);
        return add(std::move(p), std::move(set));
    }
    /// `Held`: as the value holds it, if that is not a plain T.
    template <class T, class Held = T>
    Describe& plain(Kind kind, std::string_view id, std::string_view title, T Settings::*member, std::string_view help,
                    const When& when) {
        Parameter p = start(kind, id, title, help, when);
        p.fallback = Value(Held(Settings{}.*member));
        return add(std::move(p), [member](Settings& s, const Value& v) { s.*member = as<T>(v); });
    }
    /// Values to Settings: defaults, then whatever is given.
    auto reader() const {
        return [setters = setters_](const Values& values) {
            Settings settings;
            for (const auto& [id, set] : *setters)
                if (const auto found = values.find(id); found != values.end()) set(settings, found->second);
            return settings;
        };
    }
    StepDescription finished() {
        if (!step_.shape) step_.shape = [](const Values&, Shape in) { return in; };
        if (!step_.scratch)
            step_.scratch = [planes = step_.scratch_planes](const Values&, const Scales&, const PlaneCounts&) { return planes; };
        if (!step_.draws) step_.draws = [seeded = step_.seeded](const Values&) { return seeded; };
        if (!step_.notice) step_.notice = [](const Values&) { return std::string(); };
        return std::move(step_);
    }

    StepDescription step_;
    std::string_view section_;
    std::shared_ptr<std::vector<std::pair<std::string_view, Setter>>> setters_ =
        std::make_shared<std::vector<std::pair<std::string_view, Setter>>>();
};

}  // namespace loom
