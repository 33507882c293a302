// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/places.h"

#include <algorithm>
#include <functional>

#include "core/catalogue/value_kind.h"
#include "core/recipe/fields.h"

namespace loom {

namespace {

/// A parameter or field, or a part of one, of something of the recipe.
template <class Owner>
struct Spot {
    const Parameter* parameter = nullptr;
    Value value;
    std::function<void(Owner&, const Value&)> set;
    std::optional<Part> part;

    const Parameter& described() const { return part ? part->parameter : *parameter; }
    const Value& present() const { return part ? part->value : value; }
    void put(Owner& owner, const Value& given) const {
        set(owner, part ? kind_of(*parameter).with_part(value, *part, given) : given);
    }
};

template <class Owner>
std::optional<Spot<Owner>> field_spot(const Fields<Owner>& fields, const Owner& owner, std::string_view id) {
    const Field<Owner>* field = find_field(fields, id);
    if (!field) return std::nullopt;
    return Spot<Owner>{&field->parameter, field->get(owner), field->set, std::nullopt};
}

/// The value of a parameter; of the kind `inputs` with those that are left at their default, so that they can be reached too.
Value present_value(const StepDescription& step, const Parameter& p, const Values& values) {
    return p.kind == Kind::inputs && step.inputs ? Value(step.inputs(values)) : value_or_default(p, values);
}

std::optional<Spot<Step>> spot_in(const Step& step, std::string_view name) {
    if (auto field = field_spot(step_fields(), step, name)) return field;
    const StepDescription* description = find_step(step.kind);
    if (!description) return std::nullopt;
    const auto dot = name.find('.');
    const Parameter* p = description->parameter(name.substr(0, dot));
    if (!p) return std::nullopt;
    Spot<Step> spot;
    spot.parameter = p;
    spot.set = [description, p](Step& changed, const Value& value) { set_parameter(*description, changed.set, *p, value); };
    if (dot == std::string_view::npos) {
        spot.value = value_or_default(*p, step.set);
        return spot;
    }
    spot.value = present_value(*description, *p, step.set);
    const std::string_view path = name.substr(dot + 1);
    for (Part& part : kind_of(*p).parts(spot.value))
        if (part.path == path) {
            spot.part = std::move(part);
            return spot;
        }
    return std::nullopt;
}

constexpr std::string_view routes = "routes.";

std::optional<Spot<Strand>> spot_in(const Strand& strand, std::string_view name) {
    if (!name.starts_with(routes)) return field_spot(strand_fields(), strand, name);
    name.remove_prefix(routes.size());
    const auto dot = name.find('.');
    const auto map = find_map(name.substr(0, dot));
    if (!map || dot == std::string_view::npos || !strand.routes.contains(*map)) return std::nullopt;
    const auto route = field_spot(route_fields(), strand.routes.at(*map), name.substr(dot + 1));
    if (!route) return std::nullopt;
    Spot<Strand> spot;
    spot.parameter = route->parameter, spot.value = route->value;
    spot.set = [map, set = route->set](Strand& changed, const Value& value) { set(changed.routes[*map], value); };
    return spot;
}

/// Calls `use` with the spot of `at`, whatever it belongs to; false if there is none.
template <class Use>
bool with_spot(const Recipe& recipe, const Address& at, Use&& use) {
    auto found = [&](const auto& spot) {
        if (spot) use(*spot);
        return spot.has_value();
    };
    if (at.strand.empty()) return found(field_spot(recipe_fields(), recipe, at.parameter));
    const Strand* strand = recipe.strand(at.strand);
    if (!strand) return false;
    if (at.step.empty()) return found(spot_in(*strand, at.parameter));
    const Step* step = strand->step(at.step);
    return step && found(spot_in(*step, at.parameter));
}

Strand& changed_strand(Recipe& recipe, std::string_view id) {
    StrandRef& strand = recipe.strands[static_cast<std::size_t>(recipe.index_of(id))];
    auto copy = std::make_shared<Strand>(*strand);
    Strand& changed = *copy;
    strand = std::move(copy);
    return changed;
}

Step& changed_step(Recipe& recipe, const Address& at) {
    Strand& strand = changed_strand(recipe, at.strand);
    for (ChainKind kind : all_chains) {
        Chain& chain = strand.chain(kind);
        for (std::size_t k = 0; k < chain.size(); ++k)
            if (chain[k].id == at.step) return chain.change(k);
    }
    throw std::logic_error("no step " + at.text());
}

/// What a place's owner is in a recipe that is being changed.
void put(Recipe& recipe, const Address& at, const Spot<Step>& spot, const Value& value) {
    spot.put(changed_step(recipe, at), value);
}
void put(Recipe& recipe, const Address& at, const Spot<Strand>& spot, const Value& value) {
    spot.put(changed_strand(recipe, at.strand), value);
}
void put(Recipe& recipe, const Address&, const Spot<Recipe>& spot, const Value& value) { spot.put(recipe, value); }

}  // namespace

std::optional<Place> place_at(const Recipe& recipe, const Address& at) {
    std::optional<Place> place;
    with_spot(recipe, at, [&](const auto& spot) { place = Place{spot.described(), spot.present()}; });
    return place;
}

std::string no_place(const Recipe& recipe, const Address& at) {
    if (at.strand.empty()) return "a recipe has no '" + at.parameter + "'";
    const Strand* strand = recipe.strand(at.strand);
    if (!strand) return "there is no strand '" + at.strand + "'";
    if (at.step.empty()) return "strand '" + at.strand + "' has no '" + at.parameter + "'";
    const Step* step = strand->step(at.step);
    if (!step) return "strand '" + at.strand + "' has no step '" + at.step + "'";
    return "step '" + step->kind + "' has no parameter '" + at.parameter + "'";
}

std::vector<Address> places(const Recipe& recipe) {
    std::vector<Address> all;
    auto fields = [&](const auto& of, const std::string& strand, const std::string& step, const std::string& front) {
        for (const auto& field : of) all.push_back({strand, step, front + std::string(field.parameter.id)});
    };
    fields(recipe_fields(), "", "", "");
    for (const StrandRef& strand : recipe.strands) {
        fields(strand_fields(), strand->id, "", "");
        for (const auto& [map, route] : strand->routes)
            fields(route_fields(), strand->id, "", std::string(routes) + std::string(map_id(map)) + ".");
        for (ChainKind kind : all_chains)
            for (const Step& step : strand->chain(kind)) {
                fields(step_fields(), strand->id, step.id, "");
                const StepDescription* description = find_step(step.kind);
                if (!description) continue;
                for (const Parameter& p : description->parameters) {
                    // What a step keeps for itself is not for people.
                    if (p.own) continue;
                    all.push_back({strand->id, step.id, std::string(p.id)});
                    for (const Part& part : kind_of(p).parts(present_value(*description, p, step.set)))
                        all.push_back({strand->id, step.id, std::string(p.id) + "." + part.path});
                }
            }
    }
    return all;
}

std::optional<Value> value_at(const Recipe& recipe, const Address& at) {
    std::optional<Value> value;
    with_spot(recipe, at, [&](const auto& spot) { value = spot.present(); });
    return value;
}

std::optional<std::string> refuses(const Recipe& recipe, const Address& at, const Value& value) {
    std::optional<std::string> why;
    if (!with_spot(recipe, at, [&](const auto& spot) { why = refuses(spot.described(), value); })) return no_place(recipe, at);
    return why;
}

Recipe with_value(Recipe recipe, const Address& at, const Value& value) {
    // The spot lies in parts of the recipe that are replaced.
    const Recipe before = recipe;
    // What is there already is not written out, nor does it bring along what suits it.
    with_spot(before, at, [&](const auto& spot) {
        if (spot.present() != value) put(recipe, at, spot, value);
    });
    return recipe;
}

}  // namespace loom
