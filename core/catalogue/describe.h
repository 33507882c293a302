// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How a step's file ties its plain Settings struct to its description. Defaults are the member
// initialisers of the struct and stand nowhere else. What does not depend on the struct is in describe.cpp, or every one of a
// hundred steps would compile it anew.
#pragma once

#include <cstddef>
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

/// Where the value of a parameter lies in the settings of a step, and how it is put there.
struct SettingsField {
    std::string_view id;
    std::size_t offset = 0;               ///< bytes from the beginning of the settings
    std::vector<std::string_view> words;  ///< of a choice, in the order of its enum
    void (*put)(void* place, const Value& value, const SettingsField& field) = nullptr;
};
using SettingsFields = std::vector<SettingsField>;

/// Puts those of the values that are given into settings of the type that the fields are of.
void read_settings(const SettingsFields& fields, const Values& values, void* settings);

/// What a description is put together from, whatever the type of the settings.
class Describing {
protected:
    explicit Describing(StepDescription base);
    ~Describing();
    Describing(const Describing&) = delete;

    void number_at(std::size_t offset, double fallback, std::string_view id, std::string_view title, Range range,
                   std::string_view help, const When& when);
    void count_at(std::size_t offset, int fallback, std::string_view id, std::string_view title, Range range,
                  std::string_view help, const When& when);
    void toggle_at(std::size_t offset, bool fallback, std::string_view id, std::string_view title, std::string_view help,
                   const When& when);
    void colour_at(std::size_t offset, const Colour& fallback, std::string_view id, std::string_view title, std::string_view help,
                   const When& when);
    void stops_at(std::size_t offset, const Stops& fallback, std::string_view id, std::string_view title, std::string_view help);
    void curve_at(std::size_t offset, const CurvePoints& fallback, std::string_view id, std::string_view title,
                  std::string_view help);
    void strokes_at(std::size_t offset, std::string_view id, std::string_view title, std::vector<Choice> tools,
                    std::string_view help);
    void moves_at(std::size_t offset, const Moves& fallback, std::string_view id, std::string_view title, std::string_view help);
    void outline_at(std::size_t offset, const Outline& fallback, std::string_view id, std::string_view title,
                    std::string_view help, const When& when);
    void inputs_at(std::size_t offset, const Inputs& fallback, std::string_view id, std::string_view title,
                   std::string_view help);
    /// Of the kinds that are a word or a text.
    void text_at(Kind kind, std::size_t offset, const std::string& fallback, std::string_view id, std::string_view title,
                 std::string_view help, const When& when);
    void choice_at(std::size_t offset, int fallback, std::string_view id, std::string_view title, std::vector<Choice> choices,
                   std::string_view help, const When& when);
    Parameter& latest() { return step_.parameters.back(); }
    StepDescription finished();

    StepDescription step_;
    std::string_view section_;
    std::shared_ptr<SettingsFields> fields_ = std::make_shared<SettingsFields>();

private:
    Parameter& add(Kind kind, SettingsField field, Value fallback, std::string_view title, std::string_view help,
                   const When& when);
};

template <class Settings>
class Describe : Describing {
public:
    explicit Describe(StepDescription base) : Describing(std::move(base)) {}

    Describe& number(std::string_view id, std::string_view title, double Settings::*member, Range range, std::string_view help,
                     const When& when = {}) {
        number_at(offset_of(member), defaults().*member, id, title, range, help, when);
        return *this;
    }
    Describe& count(std::string_view id, std::string_view title, int Settings::*member, Range range, std::string_view help,
                    const When& when = {}) {
        count_at(offset_of(member), defaults().*member, id, title, range, help, when);
        return *this;
    }
    Describe& toggle(std::string_view id, std::string_view title, bool Settings::*member, std::string_view help,
                     const When& when = {}) {
        toggle_at(offset_of(member), defaults().*member, id, title, help, when);
        return *this;
    }
    Describe& colour(std::string_view id, std::string_view title, Colour Settings::*member, std::string_view help,
                     const When& when = {}) {
        colour_at(offset_of(member), defaults().*member, id, title, help, when);
        return *this;
    }
    Describe& stops(std::string_view id, std::string_view title, Stops Settings::*member, std::string_view help) {
        stops_at(offset_of(member), defaults().*member, id, title, help);
        return *this;
    }
    /// Points that a curve goes through.
    Describe& points(std::string_view id, std::string_view title, CurvePoints Settings::*member, std::string_view help) {
        curve_at(offset_of(member), defaults().*member, id, title, help);
        return *this;
    }
    /// `tools`: the words that a stroke's tool may be, in the order people meet them.
    Describe& strokes(std::string_view id, std::string_view title, Strokes Settings::*member, std::vector<Choice> tools,
                      std::string_view help) {
        strokes_at(offset_of(member), id, title, std::move(tools), help);
        return *this;
    }
    Describe& moves(std::string_view id, std::string_view title, Moves Settings::*member, std::string_view help) {
        moves_at(offset_of(member), defaults().*member, id, title, help);
        return *this;
    }
    Describe& outline(std::string_view id, std::string_view title, Outline Settings::*member, std::string_view help,
                      const When& when = {}) {
        outline_at(offset_of(member), defaults().*member, id, title, help, when);
        return *this;
    }
    Describe& drawing(std::string_view id, std::string_view title, std::string Settings::*member, std::string_view help,
                      const When& when = {}) {
        return text_of(Kind::drawing, id, title, member, help, when);
    }
    Describe& strand(std::string_view id, std::string_view title, std::string Settings::*member, std::string_view help,
                     const When& when = {}) {
        return text_of(Kind::strand, id, title, member, help, when);
    }
    Describe& text(std::string_view id, std::string_view title, std::string Settings::*member, std::string_view help,
                   const When& when = {}) {
        return text_of(Kind::text, id, title, member, help, when);
    }
    Describe& picture(std::string_view id, std::string_view title, std::string Settings::*member, std::string_view help,
                      const When& when = {}) {
        return text_of(Kind::picture, id, title, member, help, when);
    }
    Describe& recipe(std::string_view id, std::string_view title, std::string Settings::*member, std::string_view help,
                     Inner (*inner)(const Settings&)) {
        step_.inner = [read = reader(), inner](const Values& v) { return inner(read(v)); };
        return text_of(Kind::recipe, id, title, member, help, {});
    }
    Describe& formula(std::string_view id, std::string_view title, std::string Settings::*member, std::string_view help,
                      std::optional<TextFault> (*check)(std::string_view)) {
        text_of(Kind::formula, id, title, member, help, {});
        latest().check = check;
        return *this;
    }
    Describe& draft(std::string_view id, std::string_view title, std::string Settings::*member, std::string_view help,
                    std::optional<TextFault> (*check)(std::string_view), const When& when = {}) {
        text_of(Kind::draft, id, title, member, help, when);
        latest().check = check;
        return *this;
    }
    /// `present`: all inputs as they are now.
    Describe& inputs(std::string_view id, std::string_view title, Inputs Settings::*member, std::string_view help,
                     Inputs (*present)(const Settings&)) {
        step_.inputs = [read = reader(), present](const Values& v) { return present(read(v)); };
        inputs_at(offset_of(member), defaults().*member, id, title, help);
        return *this;
    }
    /// A point of the tile, whose two parameters are described already, can be dragged on the cloth.
    Describe& point(std::string_view title, std::string_view x, std::string_view y, bool by_click = false) {
        step_.handles.push_back({Handle::Form::point, title, x, y, {}, {}, by_click});
        return *this;
    }
    /// What the step makes can be moved, turned and sized on the cloth; `width` and `height` may be "".
    Describe& box(std::string_view title, std::string_view x, std::string_view y, std::string_view turn, std::string_view width,
                  std::string_view height, Extent (*function)(const Settings&)) {
        step_.handles.push_back({Handle::Form::box, title, x, y, width, turn, false, height});
        step_.extent = [read = reader(), function](const Values& v) { return function(read(v)); };
        return *this;
    }
    /// A place seen from the middle of the tile, of two parameters in px.
    Describe& offset(std::string_view title, std::string_view x, std::string_view y) {
        step_.handles.push_back({Handle::Form::offset, title, x, y, {}, {}});
        return *this;
    }
    /// An angle is turned on the cloth.
    Describe& direction(std::string_view title, std::string_view id) {
        step_.handles.push_back({Handle::Form::direction, title, {}, {}, {}, id});
        return *this;
    }
    /// See StepDescription::takes_input.
    Describe& takes_input(When when) {
        step_.takes_input = std::move(when);
        return *this;
    }
    Describe& reads_beneath(bool (*function)(const Settings&)) {
        step_.reads_beneath = [read = reader(), function](const Values& v) { return function(read(v)); };
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
                     std::string_view help, const When& when = {}) {
        static_assert(std::is_same_v<std::underlying_type_t<E>, int>);
        choice_at(offset_of(member), static_cast<int>(defaults().*member), id, title, std::move(choices), help, when);
        return *this;
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
        latest().visual = true;
        latest().on_pictures = std::move(on_pictures);
        return *this;
    }
    /// The choices of the parameter described last are curves; see Parameter::curve.
    Describe& curve(double (*function)(std::size_t choice, double x)) {
        latest().curve = function;
        return *this;
    }
    /// The parameter described last had another id in earlier versions.
    Describe& formerly(std::string_view id) {
        latest().formerly.push_back(id);
        return *this;
    }
    /// Files whose defaults are older than `before` mean `value` where they leave the parameter described last out.
    Describe& once(int before, Value value) {
        latest().once.push_back({before, std::move(value)});
        return *this;
    }
    /// The text described last may have several lines.
    Describe& lines() {
        latest().lines = true;
        return *this;
    }
    /// The text described last is one of these, mostly.
    Describe& offers(std::vector<std::string> (*function)()) {
        latest().offers = function;
        return *this;
    }
    /// The choices described last are what to take of the strand that this parameter names; see Parameter::planes_of.
    Describe& planes_of(std::string_view strand) {
        latest().planes_of = strand;
        return *this;
    }
    /// The step keeps the parameter described last for itself; see settle().
    Describe& own() {
        latest().own = true;
        return *this;
    }
    /// See StepDescription::carry. With a `size` of its own it does not depend on the picture.
    Describe& carry(Bundle (*function)(const Settings&, const StepContext&, std::size_t first, std::size_t last),
                    Shape shape = {}, Size (*size)(Size tile) = nullptr) {
        step_.carry = [read = reader(), function](const Values& v, const StepContext& c, std::size_t first, std::size_t last) {
            return function(read(v), c, first, last);
        };
        step_.carried_shape = shape;
        if (size) step_.carried_size = size;
        return *this;
    }
    /// See StepDescription::aside; beside the parameter described last.
    Describe& aside(std::string_view title, Bundle (*function)(const Settings&, const StepContext&)) {
        step_.aside = {latest().id, title,
                       [read = reader(), function](const Values& v, const StepContext& c) { return function(read(v), c); }};
        return *this;
    }
    Describe& carried_footprint(Footprint (*function)(const Settings&, const Bundle& carried, const Scales&)) {
        step_.carried_footprint = [read = reader(), function](const Values& v, const Bundle& carried, const Scales& at) {
            return function(read(v), carried, at);
        };
        return *this;
    }
    /// `function` puts what the step keeps for itself into the values.
    Describe& settle(void (*function)(const Settings&, Values&)) {
        step_.settle = [read = reader(), function](Values& values) { function(read(values), values); };
        return *this;
    }
    /// Gives the parameter described last a handle on the tone histogram.
    Describe& on_histogram(ToneHandle handle) {
        latest().tone_handle = handle;
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
    Describe& remakes(double (*function)(const Settings&)) {
        step_.remakes = [read = reader(), function](const Values& v) { return function(read(v)); };
        return *this;
    }
    Describe& makes_planes(bool (*function)(const Settings&)) {
        step_.makes_planes = [read = reader(), function](const Values& v) { return function(read(v)); };
        return *this;
    }
    Describe& carries_height(bool (*function)(const Settings&)) {
        step_.carries_height = [read = reader(), function](const Values& v) { return function(read(v)); };
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
    Describe& earlier(std::vector<std::string_view> ids,
                      void (*renew)(const std::map<std::string, double, std::less<>>& old, Values& set)) {
        step_.earlier = {std::move(ids), renew};
        return *this;
    }
    Describe& closing(Values (*function)(const Settings&)) {
        step_.closing = [read = reader(), function](const Values& v) { return function(read(v)); };
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
    static const Settings& defaults() {
        static const Settings settings{};
        return settings;
    }
    template <class T>
    static std::size_t offset_of(T Settings::*member) {
        return static_cast<std::size_t>(reinterpret_cast<const std::byte*>(&(defaults().*member)) -
                                        reinterpret_cast<const std::byte*>(&defaults()));
    }
    Describe& text_of(Kind kind, std::string_view id, std::string_view title, std::string Settings::*member,
                      std::string_view help, const When& when) {
        text_at(kind, offset_of(member), defaults().*member, id, title, help, when);
        return *this;
    }
    /// Values to Settings: defaults, then whatever is given.
    auto reader() const {
        return [fields = fields_](const Values& values) {
            Settings settings;
            read_settings(*fields, values, &settings);
            return settings;
        };
    }
};

}  // namespace loom
