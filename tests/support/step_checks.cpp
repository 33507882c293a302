// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "tests/support/step_checks.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>
#include <set>

#include "core/base/hash.h"
#include "core/base/memory.h"
#include "core/render/pixel_run.h"
#include "tests/support/support.h"

namespace loom::test {

namespace {

std::string_view only_step;

/// Edges across and down, of a few pixels on each side.
Plane patches(Size size, std::uint64_t seed, float low, float high) {
    Plane plane(size);
    constexpr int side = 9;
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            plane.row(y)[x] = mix64(seed, static_cast<std::uint64_t>(x / side + 100 * (y / side))) % 2 ? high : low;
    return plane;
}

}  // namespace

Plane wild_plane(Size size, std::uint64_t seed) {
    using Limits = std::numeric_limits<float>;
    constexpr float values[] = {1e6f,
                                -1e6f,
                                1e30f,
                                -1e30f,
                                Limits::denorm_min(),
                                -1e-39f,
                                Limits::infinity(),
                                -Limits::infinity(),
                                Limits::quiet_NaN(),
                                -Limits::quiet_NaN(),
                                Limits::max(),
                                -Limits::max(),
                                4194305,
                                2147483648.0f};
    // Here and there, or everywhere.
    const std::uint64_t one_of = mix64(seed) % 3 == 0 ? 1 : mix64(seed) % 3 == 1 ? 2 : 40;
    Plane plane = random_plane(size, seed);
    for (std::size_t i = 0; i < plane.count(); ++i)
        if (const std::uint64_t lot = mix64(seed, 1000 + i); lot % one_of == 0)
            plane.data()[i] = values[(lot >> 32) % std::size(values)];
    return plane;
}

namespace {

Plane filled(const StepTrial& t, Filling filling, std::uint64_t seed, float low = 0) {
    switch (filling) {
        case Filling::patches: return patches(t.size, seed, low, 1);
        case Filling::wild: return wild_plane(t.size, seed);
        default: return random_plane(t.size, seed, low, 1);
    }
}

/// Saturated colours, coverage, a height and two kinds of objects.
Bundle rich_picture(const StepTrial& t, Filling filling, std::uint64_t seed) {
    Bundle in;
    for (int c = 0; c < t.channels; ++c)
        in.colour.push_back(share(filled(t, filling, mix64(seed, 10 + static_cast<std::uint64_t>(c)))));
    if (t.covered) {
        in.coverage = share(filled(t, filling, mix64(seed, 20), filling == Filling::patches ? 0 : 0.2f));
        for (PlaneRef& plane : in.colour) {
            Plane cut = plane->clone();
            for (std::size_t i = 0; i < cut.count(); ++i) cut.data()[i] *= in.coverage->data()[i];
            plane = share(std::move(cut));
        }
    }
    in.named["height"] = share(filled(t, filling, mix64(seed, 30)));
    Plane id(t.size);
    for (int y = 0; y < t.size.height; ++y)
        for (int x = 0; x < t.size.width; ++x) id.row(y)[x] = static_cast<float>(1 + x / 16 + 8 * (y / 16));
    in.named[std::string(objects::id)] = share(std::move(id));
    return in;
}

struct Inputs {
    Bundle in, other;
};

Inputs inputs_of(const StepTrial& t) {
    const Filling own = t.filling == Filling::wild_others ? Filling::noise : t.filling,
                  others = t.filling == Filling::wild_others ? Filling::wild : t.filling;
    return {rich_picture(t, own, mix64(t.seed, 1)), rich_picture(t, others, mix64(t.seed, 2))};
}

bool takes_picture(const StepDescription& step) {
    return std::any_of(step.parameters.begin(), step.parameters.end(),
                       [](const Parameter& p) { return p.kind == Kind::picture || p.kind == Kind::recipe; });
}

Bundle run_rows(const StepTrial& t, const Inputs& inputs, Rows rows, Prepared* prepared, const Job& job = test::job) {
    if (t.step.per_pixel) {
        PixelRunStep part;
        part.description = &t.step, part.values = t.values, part.seed = mix64(mix64(0), t.seed);
        return run_pixels({part}, t.tile, {&inputs.in}, job, prepared);
    }
    StepContext context;
    context.size = t.size, context.rows = rows, context.tile = t.tile, context.seed = mix64(mix64(0), t.seed), context.job = &job;
    context.input = t.step.family == Family::make ? nullptr : &inputs.in, context.prepared = prepared;
    for (const Parameter& p : t.step.parameters)
        if (p.kind == Kind::strand) context.others[std::string(p.id)] = &inputs.other;
    if (t.step.reads_beneath(t.values)) context.others["beneath"] = &inputs.other;
    return t.step.run(t.values, context);
}

Bundle run_whole(const StepTrial& t, const Inputs& inputs) { return run_rows(t, inputs, {0, t.size.height}, nullptr); }

Footprint footprint_of(const StepTrial& t) { return t.step.footprint(t.values, {t.size, t.tile}); }

std::vector<PlaneRef> planes_of(const Bundle& bundle) {
    std::vector<PlaneRef> planes = bundle.colour;
    if (bundle.coverage) planes.push_back(bundle.coverage);
    for (const auto& [name, plane] : bundle.named) planes.push_back(plane);
    return planes;
}

/// What a node of the executor is given: rows on both sides, over the tile's edges.
Bundle band_of(const Bundle& whole, int first, int count) {
    const Size size = whole.size();
    if (count >= size.height) return whole;
    auto cut = [&](const PlaneRef& plane) -> PlaneRef {
        if (!plane) return nullptr;
        Plane band(size, {wrap(first, size.height), count});
        for (int k = 0; k < count; ++k) {
            const int y = wrap(first + k, size.height);
            std::copy_n(plane->row(y), size.width, band.row(y));
        }
        return share(std::move(band));
    };
    Bundle some;
    for (const PlaneRef& plane : whole.colour) some.colour.push_back(cut(plane));
    some.coverage = cut(whole.coverage);
    for (const auto& [name, plane] : whole.named) some.named[name] = cut(plane);
    return some;
}

std::optional<Value> drawn(const Parameter& p, std::uint64_t lots, bool below) {
    const double t = static_cast<double>(unit_float(mix64(lots)));
    const std::uint64_t end = mix64(lots, 3) % 8;
    switch (p.kind) {
        case Kind::number: {
            if (end < 2) return Value(end == 0 ? p.slider_min : p.slider_max);
            // Small values often, on either side: what looks far has nothing to be found out.
            const bool signs = p.slider_min < 0 && p.slider_max > 0;
            const double from = signs ? 0 : p.slider_min, to = signs && below ? p.slider_min : p.slider_max;
            return Value(from + t * t * t * (to - from));
        }
        case Kind::count: {
            const double most = std::min(p.slider_max, 300.0);
            if (end < 2) return Value(end == 0 ? p.min : most);
            return Value(std::floor(p.min + t * t * t * (most - p.min)));
        }
        case Kind::toggle: return Value(t < 0.5);
        case Kind::colour: return Value(Colour{static_cast<float>(t), unit_float(mix64(lots, 1)), unit_float(mix64(lots, 2))});
        case Kind::choice:
            return Value(std::string(
                p.choices[static_cast<std::size_t>(t * static_cast<double>(p.choices.size())) % p.choices.size()].id));
        default: return std::nullopt;
    }
}

}  // namespace

std::vector<std::reference_wrapper<const StepDescription>> steps_tried() {
    std::vector<std::reference_wrapper<const StepDescription>> steps;
    for (const StepDescription& step : all_steps())
        if (only_step.empty() || step.id == only_step) steps.emplace_back(step);
    return steps;
}

bool try_only(std::string_view step) {
    const StepDescription* found = find_step(step);
    if (found) only_step = found->id;
    return found;
}

std::vector<Values> settings_of(const StepDescription& step, int draws, Size tile) {
    std::vector<Values> all{{}};
    for (const Parameter& p : step.parameters) {
        if (p.kind == Kind::choice)
            for (const Choice& choice : p.choices) all.push_back({{std::string(p.id), Value(std::string(choice.id))}});
        if (p.kind == Kind::toggle) all.push_back({{std::string(p.id), Value(!as<bool>(p.fallback))}});
        if (p.kind == Kind::strand) all.push_back({{std::string(p.id), Value(std::string("other"))}});
    }
    const Values hand = by_hand(step, tile);
    if (!hand.empty()) all.push_back(hand);
    for (int k = 0; k < draws; ++k) {
        Values values = k % 2 ? hand : Values{};
        int with_sign = 0;
        for (std::size_t n = 0; n < step.parameters.size(); ++n) {
            const Parameter& p = step.parameters[n];
            const bool below = p.slider_min < 0 && (k >> with_sign++ % 2 & 1);
            if (const auto value = drawn(p, mix64(static_cast<std::uint64_t>(k), 7 * n + 1), below))
                values[std::string(p.id)] = *value;
            // What another strand says is looked at in every other draw.
            if (p.kind == Kind::strand && k % 2 == 0) values[std::string(p.id)] = Value(std::string("other"));
        }
        all.push_back(std::move(values));
    }
    return tried(std::move(all));
}

std::string words_of(const StepTrial& t) {
    std::string words(t.step.id);
    for (const auto& [id, value] : t.values) words += " " + id + "=" + show_value(*t.step.parameter(id), value);
    const auto times = [](Size size) { return std::to_string(size.width) + "x" + std::to_string(size.height); };
    constexpr const char* fillings[] = {"noise", "patches", "wild values", "noise beside wild values"};
    return words + " on " + std::to_string(t.channels) + (t.covered ? " covered" : "") + " channels of " +
           fillings[static_cast<int>(t.filling)] + ", " + times(t.size) + " on a tile of " + times(t.tile) + ", seed " +
           std::to_string(t.seed);
}

std::string footprint_fault(const StepTrial& t) {
    const Footprint foot = footprint_of(t);
    if (!foot.by_bands()) return {};
    const Inputs plain = inputs_of(t);
    const int at_x = t.size.width / 3, at_y = t.size.height / 2 + 1;
    const bool uses_in = t.step.family != Family::make;
    for (bool in_other : {false, true}) {
        if (!in_other && !uses_in) continue;
        Inputs touched = plain;
        Bundle& which = in_other ? touched.other : touched.in;
        auto touch = [&](PlaneRef& plane, float by) {
            Plane other = plane->clone();
            other.row(at_y)[at_x] += by;
            plane = share(std::move(other));
        };
        float by = 0.35f;
        for (PlaneRef& plane : which.colour) touch(plane, by), by = -by;
        if (which.coverage) touch(which.coverage, -0.15f);
        touch(which.named["height"], 0.4f);
        const auto before = planes_of(run_whole(t, plain)), after = planes_of(run_whole(t, touched));
        if (before.size() != after.size()) return "other planes come out";
        for (std::size_t k = 0; k < before.size(); ++k)
            for (int y = 0; y < t.size.height; ++y)
                for (int x = 0; x < t.size.width; ++x) {
                    if (before[k]->at(x, y) == after[k]->at(x, y)) continue;
                    const int dx = std::min(wrap(x - at_x, t.size.width), wrap(at_x - x, t.size.width)),
                              dy = std::min(wrap(y - at_y, t.size.height), wrap(at_y - y, t.size.height));
                    if (dy > foot.down || (foot.kind != Footprint::Kind::rows && dx > foot.across))
                        return "a pixel is felt " + std::to_string(dx) + " across and " + std::to_string(dy) +
                               " down, where it announces " + std::to_string(foot.across) + " and " + std::to_string(foot.down);
                }
    }
    return {};
}

namespace {

/// Band after band of uneven heights, made of whole blocks, from no more rows than the footprint asks for; stops at a fault.
std::string over_bands(const StepTrial& t, const Inputs& inputs, const std::function<std::string(const Bundle&, Rows)>& look) {
    const Footprint foot = footprint_of(t);
    Prepared prepared;
    for (int first = 0, turn = 0; first < t.size.height; ++turn) {
        const int wanted = 1 + (turn * 13 + 5) % 29;
        const int count = std::min((wanted + foot.block - 1) / foot.block * foot.block, t.size.height - first);
        const Inputs given{band_of(inputs.in, first - foot.down, count + 2 * foot.down),
                           band_of(inputs.other, first - foot.down, count + 2 * foot.down)};
        const Bundle band = run_rows(t, given, {first, count}, &prepared);
        for (const PlaneRef& plane : planes_of(band))
            if (plane->rows() != Rows{first, count}) return "a band holds other rows than were asked for";
        if (const std::string fault = look(band, {first, count}); !fault.empty()) return fault;
        first += count;
    }
    return {};
}

}  // namespace

std::string bands_fault(const StepTrial& t) {
    if (!footprint_of(t).by_bands()) return {};
    const Inputs inputs = inputs_of(t);
    const auto whole = planes_of(run_whole(t, inputs));
    return over_bands(t, inputs, [&](const Bundle& band, Rows rows) -> std::string {
        const auto planes = planes_of(band);
        if (planes.size() != whole.size()) return "a band has other planes";
        for (std::size_t k = 0; k < planes.size(); ++k)
            for (int y = rows.first; y < rows.end(); ++y)
                if (!std::equal(planes[k]->row(y), planes[k]->row(y) + t.size.width, whole[k]->row(y)))
                    return "row " + std::to_string(y) + " differs from the whole in a band of " + std::to_string(rows.count);
        return {};
    });
}

std::string order_fault(const StepTrial& t) {
    const Inputs inputs = inputs_of(t);
    const auto straight = planes_of(run_whole(t, inputs));
    Job mixed;
    mixed.shuffle_ranges();
    const auto shuffled = planes_of(run_rows(t, inputs, {0, t.size.height}, nullptr, mixed));
    if (straight.size() != shuffled.size()) return "other planes come out in another order of ranges";
    for (std::size_t k = 0; k < straight.size(); ++k)
        if (!same_bytes(*straight[k], *shuffled[k])) return "other bytes come out in another order of ranges";
    return {};
}

std::string wild_fault(const StepTrial& t) {
    const Inputs inputs = inputs_of(t);
    for (const PlaneRef& plane : planes_of(run_whole(t, inputs)))
        if (plane->size() != t.size) return "a picture of another size comes out";
    return footprint_of(t).by_bands() ? over_bands(t, inputs, [](const Bundle&, Rows) { return std::string(); }) : std::string();
}

std::string shape_fault(const StepTrial& t) {
    const Bundle out = run_whole(t, inputs_of(t));
    const Shape shape = t.step.shape(t.values, t.step.family == Family::make ? Shape{0, false} : Shape{t.channels, t.covered});
    // Borrowed and lower pictures are whatever they are; their announcement is an upper bound.
    const bool another = t.step.id == "beneath" || t.step.id == "borrow" || t.step.id == "inlay" || takes_picture(t.step);
    const auto channels = static_cast<int>(out.colour.size());
    if (channels > shape.channels || (!another && channels != shape.channels))
        return std::to_string(channels) + " channels come out, " + std::to_string(shape.channels) + " are announced";
    if (out.coverage && !shape.coverage) return "coverage comes out that is not announced";
    for (const PlaneRef& plane : out.colour)
        for (std::size_t i = 0; i < plane->count(); ++i)
            if (!std::isfinite(plane->data()[i])) return "what comes out is no number, or has no end";
    return {};
}

double scratch_planes_used(const StepTrial& t) {
    const Inputs inputs = inputs_of(t);
    Memory& memory = Memory::process();
    double planes = 0;
    with_threads(1, [&] {
        // What is kept may be larger than what is asked for.
        memory.release();
        memory.count_anew();
        const std::size_t before = memory.counts().used;
        const Bundle out = run_whole(t, inputs);
        const Shape shape =
            t.step.shape(t.values, t.step.family == Family::make ? Shape{0, false} : Shape{t.channels, t.covered});
        std::size_t own = static_cast<std::size_t>(std::max(1, shape.channels) + (shape.coverage ? 1 : 0));
        for (std::string_view name : t.step.planes) own += out.named.contains(name);
        if (t.step.family != Family::make) own += inputs.in.named.size();
        const auto plane = static_cast<double>(t.size.pixels() * sizeof(float));
        planes = static_cast<double>(memory.counts().most - before) / plane - static_cast<double>(own);
    });
    return planes;
}

namespace {

double told_scratch(const StepTrial& t) {
    const bool makes = t.step.family == Family::make;
    const int named = makes ? static_cast<int>(t.step.planes.size()) : 2;
    auto planes = [](const Shape& shape, int more) { return std::max(1, shape.channels) + (shape.coverage ? 1 : 0) + more; };
    const Shape in{t.channels, t.covered}, out = t.step.shape(t.values, makes ? Shape{0, false} : in);
    return t.step.scratch(t.values, {t.size, t.tile}, {makes ? 0 : planes(in, named), planes(out, named)});
}

}  // namespace

std::string memory_fault(const StepTrial& t, bool both) {
    const double used = scratch_planes_used(t), told = told_scratch(t);
    if (used > 1.15 * told + 0.75)
        return std::to_string(used) + " planes besides the result are alive, " + std::to_string(told) + " are announced";
    if (both && used < 0.6 * told - 3)
        return std::to_string(told) + " planes besides the result are announced, " + std::to_string(used) + " are used";
    return {};
}

std::string forwarding_fault(const StepTrial& t) {
    if (t.step.family == Family::make) return {};
    // Whose setting is to end them.
    if (const auto planes = t.values.find("planes"); planes != t.values.end() && planes->second == Value(std::string("picture")))
        return {};
    const Inputs inputs = inputs_of(t);
    const Bundle out = run_whole(t, inputs);
    for (const auto& [name, plane] : inputs.in.named) {
        const PlaneRef handed = out.plane(name);
        if (!handed) return "the plane '" + name + "' is not handed on";
        if (!is_object_plane(name)) continue;
        std::set<float> known(plane->data(), plane->data() + plane->count());
        known.insert(0.0f);
        for (std::size_t i = 0; i < handed->count(); ++i)
            if (!known.contains(handed->data()[i])) return "values of the plane '" + name + "' are mixed";
    }
    return {};
}

bool made_relevant(const StepDescription& step, const Parameter& parameter, Values& values) {
    // A parameter that the condition names has to matter too, or what it is set to says nothing.
    std::vector<std::string_view> named = parameter.when.ids();
    std::function<bool(std::size_t)> tried = [&](std::size_t k) {
        if (k == named.size()) return relevant(step, parameter, values);
        const Parameter& other = *step.parameter(named[k]);
        if (!made_relevant(step, other, values)) return false;
        std::vector<Value> candidates{value_or_default(other, values)};
        if (other.kind == Kind::toggle) candidates.insert(candidates.end(), {Value(true), Value(false)});
        for (const Choice& choice : other.choices) candidates.emplace_back(std::string(choice.id));
        if (other.kind == Kind::number || other.kind == Kind::count) candidates.emplace_back(other.max);
        const Values before = values;
        for (const Value& candidate : candidates) {
            values = before;
            set_parameter(step, values, other, candidate);
            if (tried(k + 1)) return true;
        }
        values = before;
        return false;
    };
    return tried(0);
}

}  // namespace loom::test
