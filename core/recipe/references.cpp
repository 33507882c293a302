// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/references.h"

#include <functional>

#include "core/catalogue/description.h"
#include "core/recipe/edits.h"

namespace loom {

namespace {

struct Site {
    int strand;
    const Step* step;
    std::string pointer;
};

std::vector<Site> sites(const Recipe& recipe) {
    std::vector<Site> result;
    for (std::size_t s = 0; s < recipe.strands.size(); ++s)
        for (ChainKind kind : all_chains) {
            const Chain& chain = recipe.strands[s]->chain(kind);
            for (std::size_t k = 0; k < chain.size(); ++k)
                result.push_back({static_cast<int>(s), &chain[k],
                                  "/strands/" + std::to_string(s) + "/" + std::string(chain_id(kind)) + "/" + std::to_string(k)});
        }
    return result;
}

/// The parameters by which a step names a strand.
std::vector<const Parameter*> naming(const Step& step, std::string_view strand) {
    std::vector<const Parameter*> all;
    const StepDescription* description = find_step(step.kind);
    for (std::size_t k = 0; description && k < description->parameters.size(); ++k)
        if (const Parameter& p = description->parameters[k];
            p.kind == Kind::strand && as<std::string>(value_or_default(p, step.set)) == strand)
            all.push_back(&p);
    return all;
}
bool names(const Step& step, std::string_view strand) { return step.where == strand || !naming(step, strand).empty(); }
void let_go(Step& step, std::string_view strand) {
    for (const Parameter* p : naming(step, strand)) step.set.erase(std::string(p->id));
    if (step.where == strand) step.where.clear();
}

}  // namespace

std::vector<Reference> references(const Recipe& recipe) {
    std::vector<Reference> result;
    for (std::size_t k = 0; k < recipe.strands.size(); ++k)
        for (ChainKind kind : all_chains)
            if (const std::string& from = recipe.strands[k]->from_of(kind); !from.empty())
                result.push_back(
                    {recipe.strands[k]->id, from, "/strands/" + std::to_string(k) + "/from/" + std::string(chain_id(kind))});
    for (const Site& site : sites(recipe)) {
        const std::string& from = recipe.strands[static_cast<std::size_t>(site.strand)]->id;
        if (!site.step->where.empty()) result.push_back({from, site.step->where, site.pointer + "/where"});
        const StepDescription* description = find_step(site.step->kind);
        if (!description) continue;
        for (const Parameter& p : description->parameters) {
            if (p.kind != Kind::strand || !relevant(*description, p, site.step->set)) continue;
            const auto& to = as<std::string>(value_or_default(p, site.step->set));
            if (!to.empty()) result.push_back({from, to, site.pointer + "/set/" + std::string(p.id)});
        }
    }
    return result;
}

std::vector<std::string> readers_of(const Recipe& recipe, std::string_view strand) {
    std::vector<std::string> readers;
    for (const StrandRef& each : recipe.strands)
        if (each->id != strand)
            for (ChainKind kind : all_chains) {
                if (each->from_of(kind) == strand) readers.push_back(each->name + " (" + std::string(chain_id(kind)) + ")");
                for (const Step& step : each->chain(kind))
                    if (names(step, strand)) readers.push_back(each->name + " (" + step_title(step) + ")");
            }
    return readers;
}

Recipe without_loose_ends(Recipe recipe) {
    for (const Reference& reference : references(recipe))
        if (!recipe.strand(reference.to)) {
            // Seldom: only then is a strand copied.
            for (StrandRef& strand : recipe.strands) {
                auto mended = std::make_shared<Strand>(*strand);
                for (ChainKind kind : all_chains) {
                    if (mended->from_of(kind) == reference.to) mended->from_of(kind).clear();
                    for (std::size_t k = 0; k < mended->chain(kind).size(); ++k)
                        if (names(mended->chain(kind)[k], reference.to)) let_go(mended->chain(kind).change(k), reference.to);
                }
                if (!(*mended == *strand)) strand = std::move(mended);
            }
        }
    // A step that this version does not know keeps whatever is said of it.
    auto gone = [&](const Address& at) {
        const Step* step = recipe.step(at);
        return !(step && !find_step(step->kind)) && !value_at(recipe, at);
    };
    for (Dial& dial : recipe.dials) std::erase_if(dial.drives, [&](const Drive& drive) { return gone(drive.at); });
    for (Colourway& colourway : recipe.colourways)
        std::erase_if(colourway.set, [&](const auto& entry) { return gone(entry.first); });
    return recipe;
}

int within_base(const Recipe& recipe, int index) {
    for (int k = index - 1; k >= 0; --k) {
        const Strand& strand = *recipe.strands[static_cast<std::size_t>(k)];
        if (strand.on && !strand.join.within) return k;
    }
    return -1;
}

std::vector<ChainLink> chain_links(const Recipe& recipe, const Strand& strand, ChainKind kind) {
    std::vector<ChainLink> links;
    for (const Strand* at = &strand; at && links.size() <= recipe.strands.size(); at = recipe.strand(at->from_of(kind))) {
        links.insert(links.begin(), {at, &at->chain(kind)});
        if (at->from_of(kind).empty()) break;
    }
    return links;
}

std::string circle(const Recipe& recipe, std::string* pointer) {
    const auto named = references(recipe);
    const int count = static_cast<int>(recipe.strands.size());
    struct Edge {
        int to;
        std::string pointer;
    };
    std::vector<std::vector<Edge>> needs(static_cast<std::size_t>(count));
    for (const Reference& reference : named) {
        const int from = recipe.index_of(reference.from), to = recipe.index_of(reference.to);
        if (from >= 0 && to >= 0) needs[static_cast<std::size_t>(from)].push_back({to, reference.pointer});
    }
    for (const Site& site : sites(recipe)) {
        const StepDescription* description = find_step(site.step->kind);
        const bool gated = site.step->gate.of == ToneGate::Of::beneath;
        if (!gated && (!description || !description->reads_beneath(site.step->set))) continue;
        for (int k = 0; k < site.strand; ++k)
            if (recipe.strands[static_cast<std::size_t>(k)]->on)
                needs[static_cast<std::size_t>(site.strand)].push_back({k, site.pointer});
    }
    std::vector<int> state(static_cast<std::size_t>(count), 0);  // 1: on the path, 2: done
    std::vector<int> path;
    std::string found;
    std::function<bool(int)> visit = [&](int at) {
        state[static_cast<std::size_t>(at)] = 1;
        path.push_back(at);
        for (const Edge& edge : needs[static_cast<std::size_t>(at)]) {
            if (state[static_cast<std::size_t>(edge.to)] == 1) {
                std::size_t start = 0;
                while (path[start] != edge.to) ++start;
                for (std::size_t k = start; k < path.size(); ++k)
                    found += recipe.strands[static_cast<std::size_t>(path[k])]->id + " needs ";
                found += recipe.strands[static_cast<std::size_t>(edge.to)]->id;
                if (pointer) *pointer = edge.pointer;
                return true;
            }
            if (state[static_cast<std::size_t>(edge.to)] == 0 && visit(edge.to)) return true;
        }
        state[static_cast<std::size_t>(at)] = 2;
        path.pop_back();
        return false;
    };
    for (int k = 0; k < count; ++k)
        if (state[static_cast<std::size_t>(k)] == 0 && visit(k)) break;
    return found;
}

}  // namespace loom
