// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/render/planner.h"

#include <algorithm>
#include <iterator>

#include "core/base/answering.h"
#include "core/image/plane_names.h"
#include "core/recipe/edits.h"
#include "core/recipe/references.h"
#include "core/render/pixel_run.h"
#include "core/structures/edge.h"

namespace loom {

namespace {

constexpr int greatest_enlarged = 32768;  ///< pixels on a side

bool along_edge(const StepDescription& description, const Step& step) {
    if (!description.reads) return false;
    const auto names = description.reads(step.set);
    return std::find(names.begin(), names.end(), form_name) != names.end();
}

}  // namespace

void Planning::spend(int more) {
    if (job) job->check();
    nodes += more;
    if (nodes > most_planned)
        throw Refusal{
            {Fault::memory, "'" + name + "' comes to more than " + std::to_string(most_planned) +
                                " pieces of work, as recipes within it name other recipes many times over; use fewer of "
                                "them, or pictures of their cloth"}};
}

Planner::Planner(const Recipe& recipe, Size size, const std::vector<Wanted>& wanted, Planning& planning, int depth, int enlarged)
    : recipe_(recipe),
      wanted_(wanted.begin(), wanted.end()),
      planning_(planning),
      pictures_(planning.pictures),
      depth_(depth),
      enlarged_(enlarged) {
    plan_.size = size;
    planning_.spend(static_cast<int>(recipe.strands.size()));
    collect_reads();
    for (const Wanted& each : wanted) {
        int node = nothing;
        switch (each.what) {
            case Wanted::What::cloth: node = cloth_node(static_cast<int>(recipe.strands.size())); break;
            case Wanted::What::map: node = map_node(each.map); break;
            case Wanted::What::picture:
                node = recipe.shown_lit ? map_node(Map::lit) : cloth_node(static_cast<int>(recipe.strands.size()));
                break;
            case Wanted::What::body: node = body_node(); break;
            case Wanted::What::strand:
            case Wanted::What::step:
                if (const int index = recipe.index_of(each.strand); index >= 0) {
                    const int whole = strand_node(index);
                    // Steps note their nodes while the strand is built.
                    if (each.what == Wanted::What::step) {
                        const auto found = plan_.outputs.find(each);
                        node = found == plan_.outputs.end() ? nothing : found->second;
                    } else {
                        node = whole;
                    }
                }
                break;
        }
        plan_.outputs[each] = node == nothing ? empty_node() : node;
    }
}

void Planner::collect_reads() {
    for (const Wanted& each : wanted_)
        if ((each.what == Wanted::What::picture && recipe_.shown_lit) ||
            (each.what == Wanted::What::map && (each.map == Map::height || map_info(each.map).derived)))
            reads_.insert(std::string(height_plane));
    for (const StrandRef& strand : recipe_.strands) {
        if (reads_height(strand->join.blend) || strand->join.lift) reads_.insert(std::string(height_plane));
        for (const auto& [map, route] : strand->routes)
            if (const PlaneName* plane = find_plane_word(route.plane)) reads_.insert(std::string(plane->id));
        for (ChainKind kind : all_chains)
            for (const Step& step : strand->chain(kind)) {
                const StepDescription* description = step.on ? find_step(step.kind) : nullptr;
                if (description && description->reads)
                    for (std::string& name : description->reads(step.set)) reads_.insert(std::move(name));
            }
    }
}

Plan Planner::finish() && { return std::move(plan_); }

void Planner::warn(std::string text) {
    if (std::find(plan_.warnings.begin(), plan_.warnings.end(), text) == plan_.warnings.end())
        plan_.warnings.push_back(std::move(text));
}

int Planner::add(Node node) {
    planning_.spend(1);
    if (node.size.width == 0) node.size = plan_.size;
    const auto [place, is_new] = known_.emplace(node.key, static_cast<int>(plan_.nodes.size()));
    if (is_new) plan_.nodes.push_back(std::move(node));
    return place->second;
}

int Planner::empty_node() {
    Node node;
    node.key.add("nothing").add(static_cast<std::uint64_t>(plan_.size.width)).add(static_cast<std::uint64_t>(plan_.size.height));
    node.shape = {1, true};
    node.shared_planes = 1;
    node.cost = 0;
    node.label = "nothing";
    node.run = [size = plan_.size](const NodeInputs&, const Piece& piece) { return Bundle::nothing(size, piece.rows); };
    return add(std::move(node));
}

std::uint64_t Planner::step_seed(const Step& step) const { return mix64(mix64(recipe_.seed), step.seed); }

Key Planner::step_key(const Step& step, const StepDescription& description) const {
    Key key;
    key.add(description.id);
    key.add(static_cast<std::uint64_t>(plan_.size.width)).add(static_cast<std::uint64_t>(plan_.size.height));
    key.add(static_cast<std::uint64_t>(recipe_.tile.width)).add(static_cast<std::uint64_t>(recipe_.tile.height));
    if (description.seeded) key.add(step_seed(step));
    for (const Parameter& p : description.parameters) {
        if (!relevant(description, p, step.set)) continue;
        key.add(p.id);
        // A strand or something kept inside counts by what it holds, which its node's key says.
        if (p.kind != Kind::strand && !names_kept(p.kind)) hash_value(key, value_or_default(p, step.set));
    }
    for (std::string_view plane : description.planes)
        if (reads_.contains(plane)) key.add(plane);
    if (description.blends) key.add("light").add(static_cast<std::uint64_t>(recipe_.linear_light));
    if (description.follows_lamp && description.follows_lamp(step.set))
        key.add(recipe_.lamp.direction).add(recipe_.lamp.elevation);
    return key;
}

bool Planner::wants_step(int strand, const Step& step) const {
    return wanted_.contains({Wanted::What::step, strand_at(strand).id, step.id, Map::height});
}

void Planner::remember(int strand, const Step& step, int node) {
    if (node != nothing && wants_step(strand, step))
        plan_.outputs[{Wanted::What::step, strand_at(strand).id, step.id, Map::height}] = node;
}

int Planner::other_strand(const std::string& id, const std::string& for_step) {
    const int index = recipe_.index_of(id);
    if (index < 0) {
        warn(for_step + " names the strand '" + id + "', which is not there; it is left out");
        return empty_node();
    }
    if (open_strands_.contains(index)) {
        warn(for_step + " would go round in a circle through '" + id + "'; it is left out");
        return empty_node();
    }
    const int node = strand_node(index);
    return node == nothing ? empty_node() : node;
}

int Planner::strand_node(int strand) {
    if (const auto found = strands_.find(strand); found != strands_.end()) return found->second;
    open_strands_.insert(strand);
    int node = chain_node(strand, ChainKind::steps, nothing);
    if (node != nothing) node = masked_node(strand, node);
    if (node != nothing) node = chain_node(strand, ChainKind::edge, node);
    open_strands_.erase(strand);
    return strands_[strand] = node;
}

int Planner::white_node() {
    Node node;
    node.key.add("white").add(static_cast<std::uint64_t>(plan_.size.width)).add(static_cast<std::uint64_t>(plan_.size.height));
    node.shape = {1, false};
    node.cost = 0;
    node.label = "white";
    node.run = [size = plan_.size](const NodeInputs&, const Piece& piece) { return Bundle::of(Plane(size, piece.rows, 1.0f)); };
    return add(std::move(node));
}

int Planner::chain_node(int strand, ChainKind kind, int input) {
    int current = input, form = nothing;
    const bool shown = kind == ChainKind::mask && !strand_at(strand).masking.as_picture;
    std::vector<const Step*> run;
    auto flush = [&] {
        if (!run.empty()) current = pixel_run(strand, run, current);
        run.clear();
    };
    for (const auto& [owner, chain] : chain_links(recipe_, strand_at(strand), kind))
        for (const Step& step : *chain) {
            const StepDescription* description = find_step(step.kind);
            const std::string label = strand_at(strand).name + ", " + step_title(step);
            // What stands in another strand's chain is looked at there.
            const bool looked_at = owner == &strand_at(strand) && wants_step(strand, step);
            if (!description) warn(label + " is unknown to this version and passed over");
            if (step.on && description) {
                if (shown && run.empty() && current != nothing && shape_of(current).coverage && works_on_shown(*description))
                    current = shown_node(current);
                if (description->per_pixel && current != nothing) {
                    // A gate looks at what comes in, which has to exist by itself then.
                    if (step.gate.of == ToneGate::Of::own) flush();
                    run.push_back(&step);
                    // What somebody looks at has to exist by itself.
                    if (looked_at) flush();
                } else if (!needs_input(*description, step.set) || current != nothing || !run.empty()) {
                    flush();
                    // Steps along an edge share the form that the first of them found, until another changes it.
                    form = !along_edge(*description, step) ? nothing : form == nothing ? current : form;
                    current = step_node({strand, owner, kind, step}, *description, current, form);
                } else {
                    warn(label + " has nothing to work on: the first step has to make something");
                }
            }
            if (looked_at) {
                flush();
                remember(strand, step, current);
            }
        }
    flush();
    return current;
}

int Planner::pixel_run(int strand, const std::vector<const Step*>& steps, int input) {
    Node node;
    node.key.add("pixels").add(key_of(input));
    node.inputs = {input};
    node.shape = shape_of(input);
    node.label = strand_at(strand).id;
    node.named_planes = plan_.nodes[static_cast<std::size_t>(input)].named_planes;
    node.shared_planes = node.named_planes + (node.shape.coverage ? 1 : 0);
    node.cost = 0.5 + 0.3 * static_cast<double>(steps.size());
    std::vector<PixelRunStep> parts;
    bool carries = false;
    for (const Step* step : steps) {
        const StepDescription& description = *find_step(step->kind);
        PixelRunStep part;
        part.description = &description;
        part.values = step->set;
        part.seed = step_seed(*step);
        part.amount = static_cast<float>(step->amount / 100);
        node.key.add(step_key(*step, description)).add(step->amount);
        if (const int where = where_node(strand, *step, input); where != nothing) {
            part.where_input = static_cast<int>(node.inputs.size());
            node.inputs.push_back(where);
            node.key.add("where").add(key_of(where));
        }
        node.shape = mixed_shape(node.shape, description.shape(step->set, node.shape));
        node.label += (step == steps.front() ? "/" : "+") + step->id;
        carries = carries || (description.carries_height && description.carries_height(step->set));
        parts.push_back(std::move(part));
    }
    if (carries && node.named_planes > 0 && reads_.contains(height_plane)) --node.shared_planes;
    node.run = [parts = std::move(parts), tile = recipe_.tile.size()](const NodeInputs& inputs, const Piece& piece) {
        return run_pixels(parts, tile, inputs, piece.job, piece.prepared);
    };
    return add(std::move(node));
}

int Planner::step_node(const StepPlace& at, const StepDescription& description, int input, int form) {
    const int strand = at.strand;
    const Step& step = at.step;
    const std::string label = strand_at(strand).name + ", " + step_title(step);
    const std::string node_label = strand_at(strand).id + "/" + step.id;
    const bool makes = input == nothing || !uses_input(description, step.set);
    Node node;
    node.key = step_key(step, description);
    const Shape in = makes ? Shape{0, false} : shape_of(input);
    std::vector<std::pair<std::string, int>> others;  // name, input
    decltype(StepContext::drawings) drawings;
    if (!makes) {
        const int times = description.enlarges ? description.enlarges(step.set) : 1;
        const double scale = description.remakes ? description.remakes(step.set) : 100;
        const int remade = scale != 100 ? remade_input(at, scale) : nothing;
        const int enlarged = remade == nothing && times > 1 ? enlarged_input(at, times) : nothing;
        const int from = remade != nothing ? remade : enlarged == nothing ? input : enlarged;
        node.inputs.push_back(from);
        node.key.add(key_of(from));
        if (remade != nothing) node.key.add("remade"), others.emplace_back("remade", 0);
    }
    for (const Parameter& p : description.parameters) {
        const bool reads = p.kind == Kind::strand || names_kept(p.kind);
        if (!reads || !relevant(description, p, step.set)) continue;
        const auto& id = as<std::string>(value_or_default(p, step.set));
        if (id.empty()) continue;
        if (p.kind == Kind::drawing) {
            if (const auto asset = drawing(id, label)) {
                node.key.add(p.id).add(asset->sha256);
                drawings[std::string(p.id)] = {asset, &asset->bytes};
            }
            continue;
        }
        const int other = p.kind == Kind::strand    ? other_strand(id, label)
                          : p.kind == Kind::picture ? picture_node(id, label)
                                                    : recipe_node(id, description.inner(step.set), label);
        node.key.add(p.id).add(key_of(other));
        others.emplace_back(p.id, static_cast<int>(node.inputs.size()));
        node.inputs.push_back(other);
    }
    const int carried = description.carry && input != nothing ? carried_node(step, description, input, node_label) : nothing;
    const int carried_at = carried == nothing ? -1 : static_cast<int>(node.inputs.size());
    if (carried != nothing) {
        node.key.add("carried").add(key_of(carried));
        node.inputs.push_back(carried);
    }
    if (form != nothing && form != input) {
        node.key.add(form_name).add(key_of(form));
        others.emplace_back(form_name, static_cast<int>(node.inputs.size()));
        node.inputs.push_back(form);
    }
    if (description.reads_beneath(step.set)) {
        const int beneath = cloth_node(strand);
        if (beneath != nothing) {
            node.key.add("beneath").add(key_of(beneath));
            others.emplace_back("beneath", static_cast<int>(node.inputs.size()));
            node.inputs.push_back(beneath);
        }
    }
    node.shape = description.shape(step.set, in);
    // What strokes made of the whole picture is handed on as it is.
    node.footprint = carried != nothing && !description.carried_size ? Footprint::pixel() : stroked_footprint(step, description);
    if (!description.makes_planes || description.makes_planes(step.set))
        for (std::string_view plane : description.planes) node.named_planes += reads_.contains(plane);
    if (input != nothing && !makes) node.named_planes += plan_.nodes[static_cast<std::size_t>(input)].named_planes;
    auto planes = [](const Shape& shape, int named) { return std::max(1, shape.channels) + (shape.coverage ? 1 : 0) + named; };
    const int named_in = makes || input == nothing ? 0 : plan_.nodes[static_cast<std::size_t>(input)].named_planes;
    node.scratch_planes =
        description.scratch(step.set, scales(), {makes ? 0 : planes(in, named_in), planes(node.shape, node.named_planes)});
    // Planes of objects are handed on as they are.
    const auto mixed = static_cast<int>(
        std::count_if(reads_.begin(), reads_.end(), [](const std::string& name) { return !is_object_plane(name); }));
    node.shared_planes = std::max(0, named_in - mixed);
    for (const auto& [id, place] : others)
        if (id == description.objects_of) {
            const int theirs = named_of(node.inputs[static_cast<std::size_t>(place)]);
            node.named_planes = std::max(node.named_planes, theirs), node.shared_planes = std::max(node.shared_planes, theirs);
        }
    // A source that is another strand, or what lies beneath, is not copied.
    const bool hands_on =
        makes && others.size() == 1 && (others[0].first == "beneath" || others[0].first == description.objects_of);
    if (hands_on || (carried != nothing && !description.carried_size)) node.shared_planes = planes(node.shape, node.named_planes);
    node.cost = makes ? 2 : 4;
    node.label = node_label;
    node.run = [&description, values = step.set, seed = step_seed(step), size = plan_.size, tile = recipe_.tile.size(), makes,
                others = std::move(others), drawings = std::move(drawings), pictures = pictures_, carried_at, reads = reads_,
                lamp = recipe_.lamp, linear = recipe_.linear_light](const NodeInputs& inputs, const Piece& piece) {
        StepContext context;
        context.wanted = &reads, context.linear_light = linear;
        context.lamp_direction = lamp.direction, context.lamp_elevation = lamp.elevation;
        context.size = size, context.rows = piece.rows, context.tile = tile, context.seed = seed;
        context.job = &piece.job, context.prepared = piece.prepared, context.shared = piece.shared;
        context.input = makes ? nullptr : inputs.front();
        context.drawings = drawings, context.pictures = pictures;
        if (carried_at >= 0) context.carried = inputs[static_cast<std::size_t>(carried_at)];
        for (const auto& [name, index] : others) context.others[name] = inputs[static_cast<std::size_t>(index)];
        return description.run(values, context);
    };
    const int after = add(std::move(node));
    const bool whole = step.amount == 100 && step.where.empty() && step.gate.of == ToneGate::Of::nothing;
    if (whole || input == nothing) return after;
    return mix_node(strand, step, input, after);
}

std::optional<Wanted> Planner::before(const StepPlace& place) const {
    const Strand& strand = *place.owner;
    const Chain* chain = &strand.chain(place.kind);
    auto at = std::find_if(chain->begin(), chain->end(), [&](const Step& each) { return each.id == place.step.id; });
    // A mask begins with the strand's picture. What an edge chain begins with has no name, nor has what comes from another's.
    if (at == chain->begin() && place.kind == ChainKind::mask) chain = &strand.steps, at = chain->end();
    if (at == chain->begin()) return std::nullopt;
    return Wanted{Wanted::What::step, strand.id, std::prev(at)->id, Map::height};
}

namespace {
constexpr int most_enlarged = 2;
}  // namespace

int Planner::enlarged_input(const StepPlace& place, int times) {
    const Size size{plan_.size.width * times, plan_.size.height * times};
    const auto wanted = before(place);
    if (!wanted || enlarged_ >= most_enlarged || std::max(size.width, size.height) > greatest_enlarged) return nothing;
    return take_over(Planner(recipe_, size, {*wanted}, planning_, depth_, enlarged_ + 1).finish());
}

int Planner::remade_input(const StepPlace& place, double scale) {
    const auto wanted = before(place);
    if (!wanted || enlarged_ >= most_enlarged) return nothing;
    Recipe smaller = recipe_;
    const auto side = [&](int length) { return std::max(least_tile, static_cast<int>(std::lround(length * 100 / scale))); };
    smaller.tile.width = side(recipe_.tile.width), smaller.tile.height = side(recipe_.tile.height);
    return take_over(Planner(smaller, plan_.size, {*wanted}, planning_, depth_, enlarged_ + 1).finish());
}

Plan make_plan(const Recipe& recipe, Size size, const std::vector<Wanted>& wanted, const PictureReader* pictures,
               const Job* job) {
    takes_its_time("planning");
    Planning planning{pictures, job, recipe.name};
    return Planner(recipe, size, wanted, planning).finish();
}

}  // namespace loom
