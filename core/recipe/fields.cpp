// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/fields.h"

#include <algorithm>
#include <iterator>

#include "core/image/plane_names.h"

namespace loom {

namespace {

constexpr std::string_view stipple_words[] = {"white", "blue", "clustered", "strokes"};
constexpr std::string_view gate_words[] = {"", "own", "beneath"};

Parameter field(Kind kind, std::string_view id, std::string_view title, Value fallback, std::string_view help) {
    Parameter p;
    p.kind = kind, p.id = id, p.title = title, p.fallback = std::move(fallback), p.help = help;
    return p;
}

Parameter number(Kind kind, std::string_view id, std::string_view title, double fallback, double min, double max, Unit unit,
                 std::string_view help) {
    Parameter p = field(kind, id, title, fallback, help);
    p.unit = unit, p.min = p.slider_min = min, p.max = p.slider_max = max;
    return p;
}

template <class Owner, class Get, class Set>
Field<Owner> made(Parameter parameter, Get get, Set set) {
    return {std::move(parameter), [get](const Owner& owner) { return Value(get(owner)); },
            [set](Owner& owner, const Value& value) { set(owner, value); }};
}

template <class Owner>
void add_seed(Fields<Owner>& fields) {
    fields.push_back(made<Owner>(
        number(Kind::count, "seed", "Seed", 0, 0, 4294967295.0, Unit::none, "Another seed draws other lots."),
        [](const Owner& o) { return static_cast<double>(o.seed); },
        [](Owner& o, const Value& v) { o.seed = static_cast<std::uint32_t>(as<double>(v)); }));
}

/// `of`: what its source is called here.
template <class Owner, class Gate>
void add_gate(Fields<Owner>& fields, Gate gate_of, std::string_view of_help, std::vector<Choice> choices) {
    Parameter of = field(Kind::choice, "gate.of", "Only on tones", std::string(), of_help);
    of.choices = std::move(choices);
    fields.push_back(made<Owner>(
        std::move(of), [gate_of](const Owner& o) { return std::string(gate_word(gate_of(const_cast<Owner&>(o)).of)); },
        [gate_of](Owner& o, const Value& v) { gate_of(o).of = find_gate(as<std::string>(v)).value_or(ToneGate::Of::nothing); }));
    auto end = [&](std::string_view id, std::string_view title, double ToneGate::*member, std::string_view help) {
        Parameter p = number(Kind::number, id, title, ToneGate{}.*member, 0, 1, Unit::tone, help);
        p.when = Condition("gate.of", {gate_words[1], gate_words[2]});
        fields.push_back(made<Owner>(
            std::move(p), [gate_of, member](const Owner& o) { return gate_of(const_cast<Owner&>(o)).*member; },
            [gate_of, member](Owner& o, const Value& v) { gate_of(o).*member = as<double>(v); }));
    };
    end("gate.from", "From tone", &ToneGate::from, "The darkest tone that is let through whole.");
    end("gate.to", "To tone", &ToneGate::to, "The lightest tone that is let through whole.");
    end("gate.softness", "Softness", &ToneGate::softness, "How many tones beyond both ends it takes to fade out.");
}

/// Of a join or a route.
template <class Owner, class Part>
void add_blend(Fields<Owner>& fields, Part part) {
    Parameter blend = field(Kind::choice, "blend", "Blend", std::string(blend_id(Blend::normal)), "How the two are mixed.");
    for (Blend each : blends_by_want()) blend.choices.push_back({blend_name(each).id, blend_name(each).title});
    fields.push_back(made<Owner>(
        std::move(blend), [part](const Owner& o) { return std::string(blend_id(part(const_cast<Owner&>(o)).blend)); },
        [part](Owner& o, const Value& v) { part(o).blend = find_blend(as<std::string>(v)).value_or(Blend::normal); }));
    fields.push_back(made<Owner>(
        number(Kind::number, "amount", "Amount", 100, 0, 100, Unit::percent, "How much of the blend is mixed in."),
        [part](const Owner& o) { return part(const_cast<Owner&>(o)).amount; },
        [part](Owner& o, const Value& v) { part(o).amount = as<double>(v); }));
    Parameter width = number(Kind::number, "smooth", "Smooth over", Join{}.width, 0, 1, Unit::tone,
                             "Over how many tones the smooth minimum or maximum turns from one to the other.");
    width.when = Condition("blend", {blend_id(Blend::smooth_minimum), blend_id(Blend::smooth_maximum)});
    fields.push_back(made<Owner>(
        std::move(width), [part](const Owner& o) { return part(const_cast<Owner&>(o)).width; },
        [part](Owner& o, const Value& v) { part(o).width = as<double>(v); }));
}

Fields<Step> of_steps() {
    Fields<Step> fields;
    fields.push_back(made<Step>(
        field(Kind::toggle, "on", "On", true, "Whether the step works at all."), [](const Step& s) { return s.on; },
        [](Step& s, const Value& v) { s.on = as<bool>(v); }));
    add_seed(fields);
    fields.push_back(made<Step>(
        number(Kind::number, "amount", "Step amount", 100, 0, 100, Unit::percent,
               "How much of this step is mixed with what came in."),
        [](const Step& s) { return s.amount; }, [](Step& s, const Value& v) { s.amount = as<double>(v); }));
    fields.push_back(made<Step>(
        field(Kind::strand, "where", "Only where", std::string(), "A strand whose grey says where this step works."),
        [](const Step& s) { return s.where; }, [](Step& s, const Value& v) { s.where = as<std::string>(v); }));
    add_gate(fields, [](Step& s) -> ToneGate& { return s.gate; },
             "Lets the step work only on some tones: of what comes in, or of what the strands to the left show.",
             {{gate_words[0], "all"}, {gate_words[1], "of what comes in"}, {gate_words[2], "of what lies beneath"}});
    fields.push_back(made<Step>(
        field(Kind::text, "note", "Note", std::string(), "Why the step is there, for whoever opens the recipe."),
        [](const Step& s) { return s.note; }, [](Step& s, const Value& v) { s.note = as<std::string>(v); }));
    return fields;
}

Fields<Strand> of_strands() {
    Fields<Strand> fields;
    fields.push_back(made<Strand>(
        field(Kind::toggle, "on", "On", true, "Whether the strand shows at all."), [](const Strand& s) { return s.on; },
        [](Strand& s, const Value& v) { s.on = as<bool>(v); }));
    add_blend(fields, [](Strand& s) -> Join& { return s.join; });
    fields.push_back(made<Strand>(
        field(Kind::toggle, "within", "Keep within", false, "Whether it shows only where the strand to its left does."),
        [](const Strand& s) { return s.join.within; }, [](Strand& s, const Value& v) { s.join.within = as<bool>(v); }));
    fields.push_back(made<Strand>(
        field(Kind::toggle, "lift", "Lift the height", false,
              "Whether the bumps of what lies beneath show through it: they light it, and its own height is laid onto theirs."),
        [](const Strand& s) { return s.join.lift; }, [](Strand& s, const Value& v) { s.join.lift = as<bool>(v); }));
    add_gate(fields, [](Strand& s) -> ToneGate& { return s.join.gate; },
             "Lets this strand show only on some tones: its own, or those of what lies beneath.",
             {{gate_words[0], "all"}, {gate_words[1], "of this strand"}, {gate_words[2], "of what lies beneath"}});
    const auto own = [&](Parameter p, std::string_view section, Condition when, auto member) {
        p.section = section, p.when = std::move(when);
        using Held = std::decay_t<decltype(member(std::declval<Strand&>()))>;
        fields.push_back(made<Strand>(
            std::move(p), [member](const Strand& s) { return member(const_cast<Strand&>(s)); },
            [member](Strand& s, const Value& v) { member(s) = as<Held>(v); }));
    };
    own(number(Kind::number, "lift-amount", "Lift amount", Join{}.lift_amount, 0, 400, Unit::percent,
               "How strongly the bumps of what lies beneath show through it."),
        "", {"lift", {"on"}}, [](Strand& s) -> double& { return s.join.lift_amount; });
    const Condition stippled("blend", {blend_id(Blend::stipple)});
    Parameter pattern = field(Kind::choice, "dots.pattern", "Dots", std::string(stipple_words[1]), "How the dots lie.");
    pattern.choices = {{stipple_words[0], "White noise"},
                       {stipple_words[1], "Blue noise"},
                       {stipple_words[2], "Screen"},
                       {stipple_words[3], "Strokes"}};
    pattern.when = stippled;
    fields.push_back(made<Strand>(
        std::move(pattern),
        [](const Strand& s) { return std::string(stipple_words[static_cast<std::size_t>(s.join.dots.pattern)]); },
        [](Strand& s, const Value& v) {
            const auto found = std::find(std::begin(stipple_words), std::end(stipple_words), as<std::string>(v));
            if (found != std::end(stipple_words))
                s.join.dots.pattern = static_cast<StipplePattern>(found - std::begin(stipple_words));
        }));
    own(number(Kind::number, "dots.size", "Dot", StippleDots{}.size, 1, 128, Unit::px, "Width of a dot."), "", stippled,
        [](Strand& s) -> double& { return s.join.dots.size; });
    own(number(Kind::number, "dots.density", "Density", StippleDots{}.density, 0, 100, Unit::percent,
               "How many of the dots there are that its coverage asks for."),
        "", stippled, [](Strand& s) -> double& { return s.join.dots.density; });
    const std::string_view mask = "Mask";
    own(field(Kind::toggle, "mask.on", "Mask on", true, "Whether the mask counts; off, all of the strand shows."), mask, {},
        [](Strand& s) -> bool& { return s.masking.on; });
    own(field(Kind::toggle, "mask.inverted", "Inverted", false, "Shows what the mask hides, and hides what it shows."), mask,
        {"mask.on", {"on"}}, [](Strand& s) -> bool& { return s.masking.inverted; });
    own(number(Kind::number, "mask.amount", "Mask amount", Masking{}.amount, 0, 100, Unit::percent,
               "How much the mask hides; at 0 all of the strand shows."),
        mask, {"mask.on", {"on"}}, [](Strand& s) -> double& { return s.masking.amount; });
    own(field(Kind::toggle, "mask.as-picture", "Tuned as a picture", false,
              "Lets steps that tune or soften change the colours of a form in the mask, as they do in a picture, instead of what "
              "the mask shows."),
        mask, {"mask.on", {"on"}}, [](Strand& s) -> bool& { return s.masking.as_picture; });
    const std::string_view shared = "Goes on from";
    own(field(Kind::strand, "steps-from", "Steps of", std::string(),
              "Begins with the steps of another strand and goes on with its own; what changes there changes here."),
        shared, {}, [](Strand& s) -> std::string& { return s.from_of(ChainKind::steps); });
    own(field(Kind::strand, "mask-from", "Mask of", std::string(), "Begins with the mask of another strand."), shared, {},
        [](Strand& s) -> std::string& { return s.from_of(ChainKind::mask); });
    own(field(Kind::strand, "edge-from", "Edge of", std::string(), "Begins with the steps along the edge of another strand."),
        shared, {}, [](Strand& s) -> std::string& { return s.from_of(ChainKind::edge); });
    return fields;
}

Fields<Route> of_routes() {
    Fields<Route> fields;
    add_blend(fields, [](Route& r) -> Route& { return r; });
    Parameter plane = field(Kind::choice, "plane", "What is fed", std::string(),
                            "What of the strand goes into the map: its tone, or one of the parts that its steps tell apart.");
    plane.planes_of = own_planes;
    plane.choices.push_back({"", "As it is"});
    for (const PlaneName& each : plane_names()) plane.choices.push_back({each.word, each.title});
    fields.push_back(made<Route>(
        std::move(plane), [](const Route& r) { return r.plane; },
        [](Route& r, const Value& v) { r.plane = as<std::string>(v); }));
    return fields;
}

/// What only the lit map and the lit view know of.
void add_lit_fields(Fields<Recipe>& fields) {
    const auto add = [&](auto Recipe::*part, auto member, Unit unit, std::string_view id, std::string_view title, double min,
                         double max, std::string_view help) {
        fields.push_back(made<Recipe>(
            number(Kind::number, id, title, Recipe{}.*part.*member, min, max, unit, help),
            [=](const Recipe& r) { return r.*part.*member; },
            [=](Recipe& r, const Value& v) { r.*part.*member = as<double>(v); }));
    };
    const auto lamp = [&](auto member, Unit unit, std::string_view id, std::string_view title, double min, double max,
                          std::string_view help) { add(&Recipe::lamp, member, unit, id, title, min, max, help); };
    lamp(&Lamp::strength, Unit::percent, "lamp.strength", "Lamp strength", 0, 400, "How bright the lamp is in the lit picture.");
    lamp(&Lamp::warmth, Unit::percent, "lamp.warmth", "Lamp warmth", -100, 100,
         "From blue to amber; what the lamp does not reach turns the other way.");
    lamp(&Lamp::width, Unit::degrees, "lamp.width", "Lamp width", 0.5, 45,
         "How much of the sky the lamp takes: wide ones throw soft shadows and soft glints.");
    Parameter room =
        field(Kind::choice, "lamp.room", "Room", std::string(room_table[0].id), "What is mirrored besides the lamp.");
    for (const RoomInfo& info : room_table) room.choices.push_back({info.id, info.title});
    fields.push_back(made<Recipe>(
        std::move(room), [](const Recipe& r) { return std::string(room_table[static_cast<std::size_t>(r.lamp.room)].id); },
        [](Recipe& r, const Value& v) {
            for (const RoomInfo& info : room_table)
                if (info.id == as<std::string>(v)) r.lamp.room = info.room;
        }));
    lamp(&Lamp::turn, Unit::degrees, "lamp.turn", "Room turned by", -180, 180,
         "Turns the room around the cloth, counterclockwise.");
    lamp(&Lamp::fill, Unit::percent, "lamp.fill", "Room brightness", 0, 300, "How bright the room is beside the lamp.");
    lamp(&Lamp::exposure, Unit::none, "lamp.exposure", "Exposure", -4, 4,
         "Of the lit picture, in stops: each doubles the light.");
    const auto finish = [&](auto member, std::string_view id, std::string_view title, std::string_view help) {
        add(&Recipe::finish, member, Unit::percent, id, title, 0, 100, help);
    };
    finish(&Finish::sheen, "finish.sheen", "Sheen", "Short fibres that catch light from the side, as on cloth and nap.");
    finish(&Finish::coat, "finish.coat", "Coat", "A clear layer over everything: varnish, wax, glass.");
    finish(&Finish::coat_rough, "finish.coat-roughness", "Coat roughness", "How dull the coat is.");
    finish(&Finish::spread, "finish.spread", "Light within",
           "Light that goes in and comes out beside, as in stone, skin and paper.");
    Parameter shown = field(Kind::choice, "picture", "Its picture", std::string("colour"),
                            "What stands for the recipe in the book and as its small picture.");
    shown.choices = {{"colour", "Colour"}, {"lit", "Lit"}};
    fields.push_back(made<Recipe>(
        std::move(shown), [](const Recipe& r) { return std::string(r.shown_lit ? "lit" : "colour"); },
        [](Recipe& r, const Value& v) { r.shown_lit = as<std::string>(v) == "lit"; }));
}

Fields<Recipe> of_recipes() {
    Fields<Recipe> fields;
    add_seed(fields);
    auto side = [&](std::string_view id, std::string_view title, int Tile::*member, std::string_view help) {
        Parameter p = number(Kind::count, id, title, Tile{}.*member, least_tile, greatest_tile, Unit::px, help);
        p.slider_max = 4096, p.scale = Scale::root;
        fields.push_back(made<Recipe>(
            std::move(p), [member](const Recipe& r) { return static_cast<double>(r.tile.*member); },
            [member](Recipe& r, const Value& v) { r.tile.*member = static_cast<int>(as<double>(v)); }));
    };
    side("tile.width", "Tile width", &Tile::width, "Design pixels of the piece that repeats.");
    side("tile.height", "Tile height", &Tile::height, "Design pixels of the piece that repeats.");
    Parameter deep = number(Kind::number, "tile.deep", "Depth", Tile{}.deep, 0.5, 1024, Unit::px,
                            "From black to white of the height map: how strong normals, shadows and displacement are.");
    deep.slider_max = 128, deep.scale = Scale::root;
    fields.push_back(made<Recipe>(
        std::move(deep), [](const Recipe& r) { return r.tile.deep; },
        [](Recipe& r, const Value& v) { r.tile.deep = as<double>(v); }));
    auto light = [&](std::string_view id, std::string_view title, double Lamp::*member, double min, double max,
                     std::string_view help) {
        Parameter p = number(Kind::number, id, title, Lamp{}.*member, min, max, Unit::degrees, help);
        p.slider_min = std::max(min, -180.0), p.slider_max = std::min(max, 180.0);
        fields.push_back(made<Recipe>(
            std::move(p), [member](const Recipe& r) { return r.lamp.*member; },
            [member](Recipe& r, const Value& v) { r.lamp.*member = as<double>(v); }));
    };
    light("lamp.direction", "Lamp from", &Lamp::direction, -360, 360,
          "Where the shared lamp stands, for all steps that follow it: 0 is right, 90 above.");
    light("lamp.elevation", "Lamp elevation", &Lamp::elevation, 1, 90,
          "How high it stands over the cloth; 90 is straight above.");
    add_lit_fields(fields);
    return fields;
}

}  // namespace

const Fields<Step>& step_fields() {
    static const Fields<Step> fields = of_steps();
    return fields;
}
const Fields<Strand>& strand_fields() {
    static const Fields<Strand> fields = of_strands();
    return fields;
}
const Fields<Route>& route_fields() {
    static const Fields<Route> fields = of_routes();
    return fields;
}
const Fields<Recipe>& recipe_fields() {
    static const Fields<Recipe> fields = of_recipes();
    return fields;
}

std::string_view gate_word(ToneGate::Of of) { return gate_words[static_cast<std::size_t>(of)]; }

std::optional<ToneGate::Of> find_gate(std::string_view word) {
    for (std::size_t k = 0; k < std::size(gate_words); ++k)
        if (gate_words[k] == word) return static_cast<ToneGate::Of>(k);
    return std::nullopt;
}

}  // namespace loom
