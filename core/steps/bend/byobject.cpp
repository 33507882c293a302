// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Gives every object of a strand its own piece of this texture: boards from one grain, bricks with faces of their own.
#include <algorithm>
#include <array>
#include <cmath>
#include <unordered_map>

#include "core/base/hash.h"
#include "core/catalogue/describe.h"
#include "core/colour/colour.h"
#include "core/image/resample.h"
#include "core/image/sample.h"
#include "core/image/shoulder.h"
#include "core/structures/object_edges.h"
#include "core/structures/object_middles.h"

namespace loom {

namespace byobject_step {
namespace {

enum class Gives { piece, middle, mean };

constexpr std::string_view more_strands[] = {"strand-2", "strand-3", "strand-4"};

struct Settings {
    std::string objects;
    Gives gives = Gives::piece;
    std::string values;
    bool cut = false;
    double level = 0.5, softness = 0;
    bool clean = true;
    std::string strand_2, strand_3, strand_4;
    double weight_1 = 100, weight_2 = 100, weight_3 = 100, weight_4 = 100;
    double offset = 100;
    double turn = 0;
    double flip = 50;
    double scale = 0;
    double tone = 20, hue = 0;
};

bool shows_others(const Settings& s) {
    if (s.gives != Gives::piece) return !s.cut && !s.values.empty();
    return !s.strand_2.empty() || !s.strand_3.empty() || !s.strand_4.empty();
}

constexpr double pi = 3.14159265358979323846;

/// Where an object's piece comes from: a turned, mirrored and scaled frame round its middle.
struct Piece : ObjectMiddle {
    int strand = 0;  ///< which texture it is cut from
    double xx = 1, xy = 0, yx = 0, yy = 1;
    double from_x = 0, from_y = 0;  ///< what lies in the middle, pixels
    float tone = 0, turn_cosine = 1, turn_sine = 0;
};

void draw_lots(const Settings& s, const StepContext& context, int id, Piece& piece) {
    const std::uint64_t lots = mix64(context.seed, 0x6f626a + static_cast<std::uint64_t>(id));
    auto lot = [&](std::uint64_t which) { return 2 * static_cast<double>(unit_float(mix64(lots, which))) - 1; };
    // What runs into itself cannot be turned or scaled without meeting itself in a seam.
    const bool ring = s.clean && (piece.ring_x || piece.ring_y);
    const double turn = ring ? 0 : s.turn * pi / 180 * lot(0), size = ring ? 1 : std::exp(s.scale / 100 * 0.7 * lot(1));
    const double mirror_x = lot(2) < 2 * s.flip / 100 - 1 ? -1 : 1, mirror_y = lot(3) < 2 * s.flip / 100 - 1 ? -1 : 1;
    const double c = std::cos(turn) / size, n = std::sin(turn) / size;
    piece.xx = mirror_x * c, piece.xy = mirror_x * n, piece.yx = -mirror_y * n, piece.yy = mirror_y * c;
    piece.from_x = piece.x + s.offset / 100 * 0.5 * lot(4) * context.size.width;
    piece.from_y = piece.y + s.offset / 100 * 0.5 * lot(5) * context.size.height;
    if (s.clean && turn == 0 && size == 1) {
        // Whole design pixels are moved as they are. A mirror stands at one of a few places, so that it is the same at every
        // size, where middles differ by parts of a pixel.
        constexpr double few = 8;
        const auto whole = [&](double mirror, double middle, double from, double scale) {
            const double twice = mirror < 0 ? few * std::round(2 * middle / scale / few) : 0;
            return (twice + std::round((from - middle) / scale)) * scale + mirror * middle;
        };
        piece.from_x = whole(mirror_x, piece.x, piece.from_x, context.scale_x());
        piece.from_y = whole(mirror_y, piece.y, piece.from_y, context.scale_y());
    }
    piece.tone = static_cast<float>(s.tone / 100 * 0.35 * lot(6));
    const double hue = s.hue / 100 * pi * lot(7) * 0.5;
    piece.turn_cosine = static_cast<float>(std::cos(hue)), piece.turn_sine = static_cast<float>(std::sin(hue));
}

/// The textures that pieces are cut from: what came in, and strands that are there; each with its weight.
struct Textures {
    std::vector<const Bundle*> of;
    std::vector<double> weights;
    Textures(const Settings& s, const StepContext& context) : of{context.input}, weights{s.weight_1} {
        const double more[] = {s.weight_2, s.weight_3, s.weight_4};
        const bool named[] = {!s.strand_2.empty(), !s.strand_3.empty(), !s.strand_4.empty()};
        for (std::size_t k = 0; k < 3; ++k)
            if (const Bundle* other = named[k] ? context.other(more_strands[k]) : nullptr; other && !other->empty())
                of.push_back(other), weights.push_back(more[k]);
    }
    int by_lot(double lot) const {
        double sum = 0;
        for (double weight : weights) sum += weight;
        double rest = lot * sum;
        for (std::size_t k = 0; k < weights.size(); ++k)
            if ((rest -= weights[k]) < 0) return static_cast<int>(k);
        return 0;
    }
};

/// Each pixel from the texture that its object is cut from. One texture after the other is cut and given here, so that there is
/// never more than one beside what comes of them.
class Chosen {
public:
    Chosen(const std::vector<const Bundle*>& all, const Plane& ids, const std::unordered_map<int, Piece>& pieces,
           const StepContext& context)
        : ids_(ids), pieces_(pieces), context_(context) {
        for (const Bundle* each : all) {
            channels_ = std::max(channels_, each->grey() ? 1 : 3);
            covered_ |= each->coverage != nullptr, high_ |= each->plane(height_plane) != nullptr;
        }
        for (int k = 0; k < channels_ + (covered_ ? 1 : 0) + (high_ ? 1 : 0); ++k) planes_.push_back(context.plane());
    }
    void take(int strand, const Bundle& cut) {
        std::vector<const Plane*> from;
        for (int c = 0; c < channels_; ++c) from.push_back(&cut.channel(c));
        if (covered_) from.push_back(cut.coverage.get());
        // What has no height is as high as it is light.
        const PlaneRef height = !high_                    ? nullptr
                                : cut.plane(height_plane) ? cut.plane(height_plane)
                                                          : tone_of(cut, *context_.job);
        if (high_) from.push_back(height.get());
        context_.for_rows([&](int first, int last) {
            for (int y = first; y < last; ++y) {
                int id = -1;
                bool own = false;
                for (int x = 0; x < context_.size.width; ++x) {
                    if (const int here = static_cast<int>(ids_.row(y)[x]); here != id)
                        id = here, own = pieces_.at(id).strand == strand;
                    if (!own) continue;
                    for (std::size_t k = 0; k < planes_.size(); ++k) planes_[k].row(y)[x] = from[k] ? from[k]->row(y)[x] : 1.0f;
                }
            }
        });
    }
    Bundle done() {
        Bundle out;
        auto next = planes_.begin();
        for (int c = 0; c < channels_; ++c) out.colour.push_back(share(std::move(*next++)));
        if (covered_) out.coverage = share(std::move(*next++));
        if (high_) out.named[std::string(height_plane)] = share(std::move(*next++));
        return out;
    }

private:
    const Plane& ids_;
    const std::unordered_map<int, Piece>& pieces_;
    const StepContext& context_;
    int channels_ = 1;
    bool covered_ = false, high_ = false;
    std::vector<Plane> planes_;
};

/// Every object in the colour that `values` has in its middle, or on average; what belongs to none is clear.
Bundle one_value(const Settings& s, const StepContext& context, const PlaneRef& ids,
                 const std::unordered_map<int, Piece>& pieces) {
    const Bundle* other = s.values.empty() ? nullptr : context.other("values");
    const Bundle& values = other && !other->empty() ? *other : *context.input;
    struct Value {
        double colour[3] = {}, cover = 0, count = 0;
    };
    std::unordered_map<int, Value> sums;
    const auto add = [&](Value& sum, int x, int y) {
        for (int c = 0; c < 3; ++c) sum.colour[c] += static_cast<double>(values.channel(c).row(y)[x]);
        sum.cover += values.coverage ? static_cast<double>(values.coverage->row(y)[x]) : 1.0;
        ++sum.count;
    };
    const Size size = context.size;
    if (s.gives == Gives::middle) {
        for (const auto& [id, piece] : pieces)
            if (id != 0)
                add(sums[id], nearest_pixel(static_cast<float>(piece.x), size.width),
                    nearest_pixel(static_cast<float>(piece.y), size.height));
    } else {
        for (int y = 0; y < size.height; ++y) {
            if (y % 64 == 0) context.job->check();
            for (int x = 0; x < size.width; ++x)
                if (const int id = static_cast<int>(ids->row(y)[x]); id != 0) add(sums[id], x, y);
        }
    }
    const int channels = s.cut || values.grey() ? 1 : 3;
    std::unordered_map<int, std::array<float, 4>> shown{{0, {}}};
    for (const auto& [id, sum] : sums) {
        std::array<float, 4>& to = shown[id];
        for (std::size_t c = 0; c < 3; ++c) to[c] = static_cast<float>(sum.colour[c] / sum.count);
        to[3] = static_cast<float>(sum.cover / sum.count);
        if (!s.cut) continue;
        // Luma, as tone_of has it.
        const float tone = 0.3f * to[0] + 0.59f * to[1] + 0.11f * to[2],
                    half = static_cast<float>(std::max(1e-4, s.softness / 2)), level = static_cast<float>(s.level);
        to[0] = shoulder(level - half, level + half, tone), to[3] = 1;
    }
    std::vector<Plane> planes;
    for (int c = 0; c < channels; ++c) planes.push_back(context.plane());
    Plane cover = context.plane();
    const ObjectEdges edges(ids);
    context.for_rows([&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) {
                float sum[4] = {};
                edges.around(x, y, [&](int i, int j, float weight) {
                    const std::array<float, 4>& from = shown.at(static_cast<int>(ids->row(j)[i]));
                    for (std::size_t k = 0; k < 4; ++k) sum[k] += weight * from[k];
                });
                for (int c = 0; c < channels; ++c) planes[static_cast<std::size_t>(c)].row(y)[x] = sum[c];
                cover.row(y)[x] = sum[3];
            }
    });
    Bundle out;
    for (Plane& plane : planes) out.colour.push_back(share(std::move(plane)));
    out.coverage = share(std::move(cover));
    return out;
}

/// Tone and hue of each object's piece, in OKLab where there is colour.
Bundle tinted(Bundle in, const Plane& ids, const std::unordered_map<int, Piece>& pieces, const Settings& s,
              const StepContext& context) {
    if ((s.tone <= 0 && s.hue <= 0) || (s.gives != Gives::piece && s.cut)) return in;
    std::vector<Plane> planes;
    for (const PlaneRef& plane : in.colour) planes.push_back(plane->clone());
    context.for_rows([&](int first, int last) {
        for (int y = first; y < last; ++y) {
            int id = -1;
            const Piece* piece = nullptr;
            for (int x = 0; x < context.size.width; ++x) {
                if (const int here = static_cast<int>(ids.row(y)[x]); here != id || !piece) id = here, piece = &pieces.at(id);
                const float cover = in.coverage ? in.coverage->row(y)[x] : 1.0f;
                if (cover <= 0 || id == 0) continue;
                if (planes.size() == 1) {
                    planes[0].row(y)[x] += cover * piece->tone;
                    continue;
                }
                const Colour colour{planes[0].row(y)[x] / cover, planes[1].row(y)[x] / cover, planes[2].row(y)[x] / cover};
                Lab lab = to_oklab(colour);
                const float a = lab.a;
                lab.lightness = std::max(0.0f, lab.lightness + piece->tone);
                lab.a = piece->turn_cosine * a - piece->turn_sine * lab.b,
                lab.b = piece->turn_sine * a + piece->turn_cosine * lab.b;
                const Colour shown = from_oklab(lab);
                planes[0].row(y)[x] = cover * shown.red, planes[1].row(y)[x] = cover * shown.green,
                planes[2].row(y)[x] = cover * shown.blue;
            }
        }
    });
    in.colour.clear();
    for (Plane& plane : planes) in.colour.push_back(share(std::move(plane)));
    return in;
}

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle* source = context.other("objects");
    const PlaneRef given = source ? source->plane(objects::id) : context.input->plane(objects::id);
    // Where there are no objects the whole tile is one.
    const PlaneRef ids = !given                          ? share(Plane(context.size, 1.0f))
                         : given->size() == context.size ? given
                                                         : share(nearest(*given, context.size));
    const Textures textures(s, context);
    std::unordered_map<int, Piece> pieces;
    for (const auto& [id, middle] : object_middles(*ids, *context.job)) {
        Piece& piece = pieces[id];
        static_cast<ObjectMiddle&>(piece) = middle;
        draw_lots(s, context, id, piece);
        // What belongs to no object stays what came in.
        const std::uint64_t lots = mix64(context.seed, 0x6f626b + static_cast<std::uint64_t>(id));
        piece.strand = id == 0 ? 0 : textures.by_lot(static_cast<double>(unit_float(lots)));
    }
    const double width = context.size.width, height = context.size.height;
    const auto cut_from = [&](const Bundle& texture) {
        return resampled(
            texture, context.wanted_rows(),
            [&](int y, float* px, float* py) {
                int id = -1;
                const Piece* piece = nullptr;
                for (int x = 0; x < context.size.width; ++x) {
                    if (const int here = static_cast<int>(ids->row(y)[x]); here != id || !piece)
                        id = here, piece = &pieces.at(id);
                    if (id == 0) {
                        px[x] = static_cast<float>(x), py[x] = static_cast<float>(y);
                        continue;
                    }
                    double dx = x - piece->x, dy = y - piece->y;
                    dx -= width * std::round(dx / width), dy -= height * std::round(dy / height);
                    px[x] = static_cast<float>(piece->from_x + piece->xx * dx + piece->xy * dy);
                    py[x] = static_cast<float>(piece->from_y + piece->yx * dx + piece->yy * dy);
                }
            },
            *context.job);
    };
    Bundle out;
    if (s.gives == Gives::piece) {
        if (textures.of.size() == 1) {
            out = cut_from(*textures.of.front());
        } else {
            Chosen all(textures.of, *ids, pieces, context);
            for (std::size_t k = 0; k < textures.of.size(); ++k) all.take(static_cast<int>(k), cut_from(*textures.of[k]));
            out = all.done();
        }
    } else {
        out = one_value(s, context, ids, pieces);
        if (const PlaneRef own = context.input->plane(height_plane)) out.named[std::string(height_plane)] = own;
    }
    // Other strands may be of colour, whatever comes in.
    if (shows_others(s) && out.grey()) out.colour.resize(3, out.colour.front());
    // The objects are those that were asked for, not the texture's own.
    const Bundle* owner = source ? source : context.input;
    for (const auto& [name, plane] : owner->named)
        if (is_object_plane(name)) out.named[name] = plane->size() == context.size ? plane : share(nearest(*plane, context.size));
    return tinted(std::move(out), *ids, pieces, s, context);
}

}  // namespace
}  // namespace byobject_step

StepDescription describe_byobject() {
    using namespace byobject_step;
    StepDescription base;
    base.id = "byobject", base.title = "By object", base.family = Family::bend;
    base.summary = "Gives every object its own piece of this texture, or one value of it.";
    base.words = "each random vary jitter per piece brick flake tint shade turn whole single colour cut out mosaic";
    base.seeded = true;
    base.headline = {"offset", "turn"};
    base.objects_of = "objects";
    const Range share{0, 100, Unit::percent};
    const When piece{"gives", {"piece"}}, cut = !piece && When{"cut", {"on"}};
    return Describe<Settings>(std::move(base))
        .strand("objects", "Objects from", &Settings::objects,
                "The strand whose cells, bricks, boards, yarns or flakes are taken; none: this strand's own.")
        .choice(
            "gives", "Gives each", &Settings::gives,
            {{"piece", "Its own piece"},
             {"middle", "What lies in its middle", {{"tone", 0.0}}},
             {"mean", "Its average", {{"tone", 0.0}}}},
            "A piece of the texture for each, or one value for all of it: whole flakes in letters, one colour a scale, a picture "
            "laid in bricks.")
        .strand("values", "Values of", &Settings::values, "The strand whose values are taken; none: what comes in.", !piece)
        .toggle("cut", "In or out", &Settings::cut, "Shows an object wholly or not at all, by how light its value is.", !piece)
        .number("level", "From tone", &Settings::level, {0, 1, Unit::tone}, "Objects that are lighter are in.", cut)
        .number("softness", "Softness", &Settings::softness, {0, 1, Unit::tone}, "Over how many tones that changes.", cut)
        .number("offset", "Offset", &Settings::offset, share, "How far away from each other pieces are taken.", piece)
        .number("turn", "Turn spread", &Settings::turn, {0, 180, Unit::degrees}, "How much pieces are turned.", piece)
        .number("flip", "Flip", &Settings::flip, share, "How many are mirrored.", piece)
        .number("scale", "Scale spread", &Settings::scale, share, "How much pieces differ in scale.", piece)
        .toggle(
            "clean", "Clean moves", &Settings::clean,
            "Moves pieces by whole pixels where they are neither turned nor scaled, so that what is fine stays sharp, and lets "
            "boards that run round the tile run on.",
            piece)
        .once(1, Value(false))
        .section("Tone and hue")
        .number("tone", "Tone spread", &Settings::tone, share, "How much they differ in tone.")
        .number("hue", "Hue spread", &Settings::hue, share, "How much they differ in hue.")
        .section("More textures")
        .number("weight-1", "Weight of this one", &Settings::weight_1, share, "How many pieces come from what comes in.", piece)
        .strand("strand-2", "Second", &Settings::strand_2, "Another strand that pieces are cut from, by lot.", piece)
        .number("weight-2", "Its weight", &Settings::weight_2, share, "How many come from it.", piece)
        .strand("strand-3", "Third", &Settings::strand_3, "And another.", piece)
        .number("weight-3", "Its weight", &Settings::weight_3, share, "How many come from it.", piece)
        .strand("strand-4", "Fourth", &Settings::strand_4, "And another.", piece)
        .number("weight-4", "Its weight", &Settings::weight_4, share, "How many come from it.", piece)
        .shape([](const Settings& s, Shape in) {
            if (s.gives != Gives::piece) return Shape{s.cut ? 1 : shows_others(s) ? 3 : in.channels, true};
            return shows_others(s) ? Shape{3, true} : in;
        })
        .scratch([](const Settings& s, const Scales&, const PlaneCounts& planes) {
            const int more = !s.strand_2.empty() + !s.strand_3.empty() + !s.strand_4.empty();
            return 4.5 + (s.gives == Gives::piece ? (more > 0 ? std::max(planes.in, 6) : 0.0) : 1.0);
        })
        .reads([](const Settings&) {
            std::vector<std::string> all{std::string(objects::id), std::string(objects::u), std::string(objects::v)};
            for (std::string_view name : objects::random) all.emplace_back(name);
            return all;
        })
        .needs_whole()
        .run(run);
}

}  // namespace loom
