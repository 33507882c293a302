// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Gives every object of a strand its own piece of this texture: boards from one grain, bricks with faces of their own.
#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "core/base/hash.h"
#include "core/catalogue/describe.h"
#include "core/colour/colour.h"
#include "core/image/resample.h"

namespace loom {

namespace byobject_step {
namespace {

struct Settings {
    std::string objects;
    double offset = 100;
    double turn = 0;
    double flip = 50;
    double scale = 0;
    double tone = 20, hue = 0;
};

constexpr double pi = 3.14159265358979323846;

/// Where an object's piece comes from: a turned, mirrored and scaled frame round its middle.
struct Piece {
    double x = 0, y = 0;  ///< its middle, pixels
    double xx = 1, xy = 0, yx = 0, yy = 1;
    double from_x = 0, from_y = 0;  ///< what lies in the middle, pixels
    float tone = 0, turn_cosine = 1, turn_sine = 0;
};

/// The middle of what is taken of a ring of places: opposite the middle of the longest free stretch; half the ring if there is
/// none.
double middle_between(const std::vector<char>& taken) {
    const int count = static_cast<int>(taken.size());
    int longest = 0, after = 0, run = 0;
    for (int k = 0; k < 2 * count && run < count; ++k) {
        run = taken[static_cast<std::size_t>(k % count)] ? 0 : run + 1;
        if (run > longest) longest = run, after = k + 1;
    }
    return longest == 0 ? count / 2.0 : std::fmod(after - longest / 2.0 - 0.5 + 1.5 * count, count);
}

/// The middles of objects that may lie over the tile's edges: means of directions round the torus. Of objects nearly as long as
/// the tile, as boards are, directions say little; what they leave free says all.
std::unordered_map<int, Piece> middles_of(const Plane& ids, const Job& job) {
    const Size size = ids.size();
    struct Sums {
        double cx = 0, sx = 0, cy = 0, sy = 0, count = 0;
    };
    std::unordered_map<int, Sums> sums;
    std::vector<double> cx, sx;
    for (int x = 0; x < size.width; ++x)
        cx.push_back(std::cos(2 * pi * x / size.width)), sx.push_back(std::sin(2 * pi * x / size.width));
    for (int y = 0; y < size.height; ++y) {
        if (y % 64 == 0) job.check();
        const double cy = std::cos(2 * pi * y / size.height), sy = std::sin(2 * pi * y / size.height);
        const float* row = ids.row(y);
        for (int x = 0; x < size.width;) {
            const int id = static_cast<int>(row[x]);
            Sums& s = sums[id];
            // Runs of one object are looked up once.
            for (; x < size.width && static_cast<int>(row[x]) == id; ++x)
                s.cx += cx[static_cast<std::size_t>(x)], s.sx += sx[static_cast<std::size_t>(x)], s.cy += cy, s.sy += sy,
                    ++s.count;
        }
    }
    struct Taken {
        std::vector<char> columns, rows;
    };
    std::unordered_map<int, Piece> pieces;
    std::unordered_map<int, Taken> taken;
    for (const auto& [id, s] : sums) {
        Piece piece;
        piece.x = std::fmod(std::atan2(s.sx, s.cx) / (2 * pi) + 1, 1.0) * size.width;
        piece.y = std::fmod(std::atan2(s.sy, s.cy) / (2 * pi) + 1, 1.0) * size.height;
        pieces[id] = piece;
        Taken long_one;
        if (std::hypot(s.cx, s.sx) < 0.3 * s.count) long_one.columns.resize(static_cast<std::size_t>(size.width));
        if (std::hypot(s.cy, s.sy) < 0.3 * s.count) long_one.rows.resize(static_cast<std::size_t>(size.height));
        if (id != 0 && (!long_one.columns.empty() || !long_one.rows.empty())) taken[id] = std::move(long_one);
    }
    if (taken.empty()) return pieces;
    for (int y = 0; y < size.height; ++y) {
        const float* row = ids.row(y);
        for (int x = 0; x < size.width;) {
            const int id = static_cast<int>(row[x]), from = x;
            while (x < size.width && static_cast<int>(row[x]) == id) ++x;
            const auto found = taken.find(id);
            if (found == taken.end()) continue;
            if (!found->second.columns.empty())
                std::fill(found->second.columns.begin() + from, found->second.columns.begin() + x, char{1});
            if (!found->second.rows.empty()) found->second.rows[static_cast<std::size_t>(y)] = 1;
        }
    }
    for (const auto& [id, of] : taken) {
        if (!of.columns.empty()) pieces[id].x = middle_between(of.columns);
        if (!of.rows.empty()) pieces[id].y = middle_between(of.rows);
    }
    return pieces;
}

void draw_lots(const Settings& s, const StepContext& context, int id, Piece& piece) {
    const std::uint64_t lots = mix64(context.seed, 0x6f626a + static_cast<std::uint64_t>(id));
    auto lot = [&](std::uint64_t which) { return 2 * static_cast<double>(unit_float(mix64(lots, which))) - 1; };
    const double turn = s.turn * pi / 180 * lot(0), size = std::exp(s.scale / 100 * 0.7 * lot(1));
    const double mirror_x = lot(2) < 2 * s.flip / 100 - 1 ? -1 : 1, mirror_y = lot(3) < 2 * s.flip / 100 - 1 ? -1 : 1;
    const double c = std::cos(turn) / size, n = std::sin(turn) / size;
    piece.xx = mirror_x * c, piece.xy = mirror_x * n, piece.yx = -mirror_y * n, piece.yy = mirror_y * c;
    piece.from_x = piece.x + s.offset / 100 * 0.5 * lot(4) * context.size.width;
    piece.from_y = piece.y + s.offset / 100 * 0.5 * lot(5) * context.size.height;
    piece.tone = static_cast<float>(s.tone / 100 * 0.35 * lot(6));
    const double hue = s.hue / 100 * pi * lot(7) * 0.5;
    piece.turn_cosine = static_cast<float>(std::cos(hue)), piece.turn_sine = static_cast<float>(std::sin(hue));
}

/// Tone and hue of each object's piece, in OKLab where there is colour.
Bundle tinted(Bundle in, const Plane& ids, const std::unordered_map<int, Piece>& pieces, const Settings& s,
              const StepContext& context) {
    if (s.tone <= 0 && s.hue <= 0) return in;
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
    std::unordered_map<int, Piece> pieces = middles_of(*ids, *context.job);
    for (auto& [id, piece] : pieces) draw_lots(s, context, id, piece);
    const double width = context.size.width, height = context.size.height;
    Bundle out = resampled(
        *context.input, context.wanted_rows(),
        [&](int y, float* px, float* py) {
            int id = -1;
            const Piece* piece = nullptr;
            for (int x = 0; x < context.size.width; ++x) {
                if (const int here = static_cast<int>(ids->row(y)[x]); here != id || !piece) id = here, piece = &pieces.at(id);
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
    base.summary = "Gives every object its own piece of this texture.";
    base.words = "each random vary jitter per piece brick flake tint shade turn";
    base.seeded = true;
    base.scratch_planes = 5;
    base.headline = {"offset", "turn"};
    base.objects_of = "objects";
    const Range share{0, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .strand("objects", "Objects from", &Settings::objects,
                "The strand whose cells, bricks, boards, yarns or flakes are taken; none: this strand's own.")
        .number("offset", "Offset", &Settings::offset, share, "How far away from each other pieces are taken.")
        .number("turn", "Turn spread", &Settings::turn, {0, 180, Unit::degrees}, "How much pieces are turned.")
        .number("flip", "Flip", &Settings::flip, share, "How many are mirrored.")
        .number("scale", "Scale spread", &Settings::scale, share, "How much pieces differ in scale.")
        .number("tone", "Tone spread", &Settings::tone, share, "How much they differ in tone.")
        .number("hue", "Hue spread", &Settings::hue, share, "How much they differ in hue.")
        .reads([](const Settings&) {
            std::vector<std::string> all{std::string(objects::id), std::string(objects::u), std::string(objects::v)};
            for (std::string_view name : objects::random) all.emplace_back(name);
            return all;
        })
        .needs_whole()
        .run(run);
}

}  // namespace loom
