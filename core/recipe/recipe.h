// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The document as a plain value. Strands are shared and never changed in place, so a copy costs little;
// all changes go through core/recipe/edits.h.
#pragma once

#include <array>
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
#include "core/catalogue/rooms.h"
#include "core/catalogue/value.h"
#include "core/colour/blend.h"
#include "core/image/picture_reader.h"
#include "core/image/plane.h"
#include "core/image/surface.h"
#include "core/recipe/address.h"
#include "core/recipe/chain.h"
#include "core/recipe/export_preset.h"

namespace loom {

struct Join {
    Blend blend = Blend::normal;
    double amount = 100;  ///< 0..100 %
    bool within = false;  ///< only where the strand to the left shows
    bool lift = false;    ///< the relief of what lies beneath shows through it
    ToneGate gate = {};
    double width = 0.1;        ///< tones over which smooth blends turn from one to the other
    double lift_amount = 100;  ///< %: how strongly that relief shows
    StippleDots dots = {};     ///< of the blend stipple
    bool operator==(const Join&) const = default;
};

struct Route {
    Blend blend = Blend::normal;
    double amount = 100;     ///< 0..100 %
    double width = 0.1;      ///< as Join::width
    std::string plane = {};  ///< what of the strand is fed, by its word in files; "": its tone, or its height into the height
    bool operator==(const Route&) const = default;
};

/// The three chains of a strand, in the order they run.
enum class ChainKind { steps, mask, edge };
std::string_view chain_id(ChainKind chain);
constexpr ChainKind all_chains[] = {ChainKind::steps, ChainKind::mask, ChainKind::edge};

/// What becomes of a strand's mask as a whole.
struct Masking {
    bool on = true, inverted = false;
    double amount = 100;      ///< %: at 0 all is shown
    bool as_picture = false;  ///< steps that tune or soften work on its picture, not on what it shows
    bool operator==(const Masking&) const = default;
};

/// Neighbouring strands of one group carry the same.
struct Group {
    std::string name;  ///< "" for a strand in no group
    bool folded = false;
    bool operator==(const Group&) const = default;
};

struct Strand {
    std::string id;  ///< unique within the recipe
    std::string name;
    bool on = true;
    bool folded = false;  ///< shown by its name only
    Group group;
    Chain steps, mask, edge;
    /// Strands whose chains of the same kind these go on from, by ChainKind; "": none.
    std::array<std::string, 3> from;
    Masking masking;
    Join join;
    std::map<Map, Route> routes;
    std::string unknown;
    bool operator==(const Strand&) const = default;

    const Chain& chain(ChainKind kind) const { return kind == ChainKind::steps ? steps : kind == ChainKind::mask ? mask : edge; }
    Chain& chain(ChainKind kind) { return const_cast<Chain&>(std::as_const(*this).chain(kind)); }
    const std::string& from_of(ChainKind kind) const { return from[static_cast<std::size_t>(kind)]; }
    std::string& from_of(ChainKind kind) { return from[static_cast<std::size_t>(kind)]; }
    const Step* step(std::string_view step_id) const;
};
using StrandRef = std::shared_ptr<const Strand>;

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
    double deep = height_range_px;    ///< design pixels from black to white of the height map
    bool operator==(const Tile&) const = default;
    Size size() const { return {width, height}; }
    /// The same in centimetres, if the tile's width is known.
    std::optional<double> deep_cm() const { return wide_cm ? std::optional(*wide_cm * deep / width) : std::nullopt; }
};

/// Where the light comes from for all steps that follow it (degrees, 0 is right, 90 above), and what else lights the cloth: see
/// core/structures/lit_room.h, whose defaults these are.
struct Lamp {
    double direction = 135, elevation = 45;
    double warmth = 30, width = 7, strength = 100;
    RoomKind room = RoomKind::workshop;
    double turn = 0, fill = 100, exposure = 0;
    bool operator==(const Lamp&) const = default;
};

/// What lies on the surface or happens within it; percent.
struct Finish {
    double sheen = 0, coat = 0, coat_rough = 12, spread = 0;
    bool operator==(const Finish&) const = default;
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
    Finish finish;
    bool shown_lit = false;  ///< its picture is the lit map rather than the colour
    std::vector<StrandRef> strands;
    std::vector<Dial> dials;
    std::vector<Colourway> colourways;
    std::vector<ExportPreset> exports;
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
