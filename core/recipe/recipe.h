// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The document as a plain value. Strands are shared and never changed in place, so a copy costs little;
// all changes go through core/recipe/edits.h.
#pragma once

#include <cstdint>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/catalogue/maps.h"
#include "core/catalogue/value.h"
#include "core/colour/blend.h"
#include "core/image/picture_reader.h"
#include "core/image/plane.h"

namespace loom {

/// Lets a step or a join work only where a tone lies between two soft shoulders.
struct ToneGate {
    enum class Of {
        nothing,  ///< no gate
        own,      ///< tones of what comes in; for a join, of the strand itself
        beneath,  ///< tones of what the strands to the left have joined to
    };
    Of of = Of::nothing;
    double from = 0, to = 1;  ///< tones, 0..1, that are let through whole; at 0 and 1 the end is open
    double softness = 0.1;    ///< in tones, beyond both ends
    bool operator==(const ToneGate&) const = default;
};

struct Step {
    std::string id;    ///< unique within its strand
    std::string kind;  ///< id of the step in the catalogue, or an unknown word that is kept
    bool on = true;
    double amount = 100;  ///< 0..100 %: mix with what came in
    std::string where;    ///< strand whose grey is a local mask, or ""
    ToneGate gate = {};
    std::uint32_t seed = 0;
    std::string name;     ///< a name of its own, or "" for the step's title
    Values set;           ///< only what differs from the default
    std::string unknown;  ///< JSON object of fields that this version does not know, or ""
    bool operator==(const Step&) const = default;
};

struct Join {
    Blend blend = Blend::normal;
    double amount = 100;  ///< 0..100 %
    bool within = false;  ///< only where the strand to the left shows
    ToneGate gate = {};
    bool operator==(const Join&) const = default;
};

struct Route {
    Blend blend = Blend::normal;
    double amount = 100;  ///< 0..100 %
    bool operator==(const Route&) const = default;
};

using Chain = std::vector<Step>;

/// The three chains of a strand, in the order they run.
enum class ChainKind { steps, mask, edge };
std::string_view chain_id(ChainKind chain);
constexpr ChainKind all_chains[] = {ChainKind::steps, ChainKind::mask, ChainKind::edge};

struct Strand {
    std::string id;  ///< unique within the recipe
    std::string name;
    bool on = true;
    Chain steps, mask, edge;
    Join join;
    std::map<Map, Route> routes;
    std::string unknown;
    bool operator==(const Strand&) const = default;

    const Chain& chain(ChainKind kind) const { return kind == ChainKind::steps ? steps : kind == ChainKind::mask ? mask : edge; }
    Chain& chain(ChainKind kind) { return const_cast<Chain&>(std::as_const(*this).chain(kind)); }
    const Step* step(std::string_view step_id) const;
};
using StrandRef = std::shared_ptr<const Strand>;

/// "STRAND/STEP.PARAM"; PARAM may also be one of the fields every step has (core/recipe/common_fields.h).
struct Address {
    std::string strand, step, parameter;
    bool operator==(const Address&) const = default;
    auto operator<=>(const Address&) const = default;
    std::string text() const { return strand + "/" + step + "." + parameter; }
    static std::optional<Address> parse(std::string_view text);
};

struct Drive {
    Address at;
    double from = 0, to = 1;  ///< the parameter's value at dial 0 and dial 100
    bool operator==(const Drive&) const = default;
};

struct Dial {
    std::string name;
    double value = 50;  ///< 0..100
    std::vector<Drive> drives;
    bool operator==(const Dial&) const = default;
};

struct Colourway {
    std::string name;
    std::map<Address, Value> set;
    bool operator==(const Colourway&) const = default;
};

struct Tile {
    int width = 1024, height = 1024;  ///< design pixels
    std::optional<double> wide_cm;    ///< real width
    bool operator==(const Tile&) const = default;
    Size size() const { return {width, height}; }
};

/// Where the light comes from for all steps that follow it; degrees, 0 is right, 90 above.
struct Lamp {
    double direction = 135, elevation = 45;
    bool operator==(const Lamp&) const = default;
};

struct Recipe;

/// Something that the recipe keeps inside: a picture, or another recipe (a .loom file).
struct Asset {
    std::string bytes;
    std::string sha256;                    ///< of the bytes, in hexadecimal: what it is, whatever it is called
    std::shared_ptr<const Recipe> recipe;  ///< read from the bytes if they are a sound .loom file
    bool too_deep = false;                 ///< a .loom file that lies too deep in others to be read
    /// The picture's size is found once, by whoever asks first.
    const Result<Size>& picture_size(const PictureReader& reader) const;

private:
    mutable std::once_flag measured_;
    mutable std::optional<Result<Size>> size_;
};
using Assets = std::map<std::string, std::shared_ptr<const Asset>, std::less<>>;

struct Recipe {
    std::string name = "Untitled";
    std::uint32_t seed = 0;
    Tile tile;
    bool linear_light = false;  ///< blend in linear light
    Lamp lamp;
    std::vector<StrandRef> strands;
    std::vector<Dial> dials;
    std::vector<Colourway> colourways;
    Assets assets;  ///< by name, "assets/<sha256>.<ext>"
    std::string unknown;

    /// By content, not by sharing.
    bool operator==(const Recipe& other) const;
    int index_of(std::string_view strand_id) const;  ///< -1: none
    const Strand* strand(std::string_view strand_id) const;
    const Step* step(const Address& at) const {
        const Strand* s = strand(at.strand);
        return s ? s->step(at.step) : nullptr;
    }
    const Colourway* colourway(std::string_view colourway_name) const;
};

constexpr int least_tile = 16, greatest_tile = 16384;

}  // namespace loom
