// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Stone veins. A net is read several times at places that are bent a little differently, which makes braided strands; thin lines
// keep at least a pixel by fading.
#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/base/hash.h"
#include "core/catalogue/describe.h"
#include "core/image/sample_kernel.h"
#include "core/noise/clouds.h"
#include "core/image/shoulder.h"
#include "core/structures/asked_plane.h"
#include "core/structures/drift.h"
#include "core/structures/vein_kernel.h"
#include "core/structures/vein_net.h"
#include "core/structures/supersampled.h"

namespace loom {

namespace veins_step {
namespace {

enum class Slopes { whole, finer };
enum class Hairs { noise, net };

struct Settings {
    double size = 300;
    int classes = 4;
    double stretch = 220;
    double direction = 45;
    Slopes slopes = Slopes::finer;
    double wander = 60, ragged = 6;
    double width = 8, width_spread = 50;
    int braids = 3;
    double halo = 50;
    double second = 50;
    double hairlines = 40;
    Hairs hairs = Hairs::net;
    double fade = 35;
};

/// Directions whose lines close over the tile: 90 degrees is straight up, and every whole tile sideways on the way is one more;
/// finer ones close after two or three tiles.
NetWay way_of(const Settings& s, Size tile) {
    const double degree = 3.14159265358979323846 / 180, angle = std::fmod(std::fmod(s.direction, 180) + 180, 180);
    const double sideways = std::cos(angle * degree) / std::max(0.05, std::sin(angle * degree)) * tile.height / tile.width;
    // Down the tile the line goes the other way.
    const NetWay whole{static_cast<int>(std::lround(std::clamp(-sideways, -4.0, 4.0))), 1, 1, 0};
    if (s.slopes == Slopes::whole) return whole;
    // Cells between two ways lean over as far as these are from a right angle, so that what counts is where the longer axis of
    // such a cell points to.
    const double wide = tile.width, tall = tile.height, stretch = s.stretch / 100;
    const auto off = [&](const NetWay& way) {
        const double x = way.across * wide, y = way.down * tall, length = std::hypot(x, y), ox = way.other_across * wide,
                     oy = way.other_down * tall, along = (ox * x + oy * y) / length, beside = (ox * y - oy * x) / length,
                     slant = along / beside;
        const double lean = 0.5 * std::atan2(2 * slant, stretch * stretch + slant * slant - 1);
        const double own = (std::atan2(y, -x) + lean) / degree, away = std::abs(std::remainder(own - angle, 180.0));
        return away + 2 * std::max(0.0, std::abs(slant) - 1.5);
    };
    NetWay best = whole;
    for (int down = 1; down <= 3; ++down)
        for (int across = -4; across <= 4; ++across) {
            if (std::gcd(across, down) != 1) continue;
            // The second way closes the tile with it: across * other_down - down * other_across = -1.
            for (int x = -4; x <= 4; ++x)
                for (int y = -4; y <= 4; ++y)
                    if (const NetWay way{across, down, x, y}; across * y - down * x == -1 && off(way) + 1e-6 < off(best))
                        best = way;
        }
    return best;
}

/// Rows of a net read at bent places.
class Reader {
public:
    Reader(const VeinNet& net, Size size)
        : net_(net),
          size_(size),
          scale_(static_cast<float>(size.width) / static_cast<float>(net.size.width)),
          x_(static_cast<std::size_t>(size.width)),
          y_(x_.size()) {
        for (auto& row : rows_) row.resize(x_.size());
    }
    /// Columns from..to - 1 of row y.
    void read(int y, int from, int to, const float* du, const float* dv) {
        const auto width = static_cast<float>(net_.size.width), height = static_cast<float>(net_.size.height);
        const float step = width / static_cast<float>(size_.width),
                    row = (static_cast<float>(y) + 0.5f) * height / static_cast<float>(size_.height) - 0.5f;
        vein_places(du + from, dv + from, to - from, (static_cast<float>(from) + 0.5f) * step - 0.5f, step, width, row, height,
                    x_.data(), y_.data());
        float* into[4];
        for (std::size_t k = 0; k < 4; ++k) into[k] = rows_[k].data() + from;
        read_bilinear_four(net_.values.data(), net_.size, x_.data(), y_.data(), to - from, into);
        vein_distances(into[3], to - from, into[0]);
    }
    const float* distance() const { return rows_[0].data(); }
    const float* strength() const { return rows_[1].data(); }
    const float* smoke() const { return rows_[2].data(); }
    /// The distance with the side of the vein as its sign.
    const float* sided() const { return rows_[3].data(); }
    /// Pixels of the picture in one of the net.
    float scale() const { return scale_; }

private:
    const VeinNet& net_;
    Size size_;
    float scale_;
    std::vector<float> x_, y_, rows_[4];
};

class Painter {
public:
    Painter(const Settings& s, const StepContext& context)
        : s_(s), context_(context), scale_(static_cast<float>(std::sqrt(context.scale_x() * context.scale_y()))) {
        const NetWay way = way_of(s, context.tile);
        const bool grounded = context.wants(planes::ground);
        const double smoke = 0.12 * s.size * s.halo / 100,
                     reach = std::max({4 * s.width, 4 * smoke, grounded ? 0.6 * s.size : 0.0}) + 4;
        net_ = lay_net({s.size, s.classes, s.stretch / 100, way, reach, smoke, mix64(context.seed, 1)}, context);
        if (s.second > 0)
            second_ = lay_net({0.46 * s.size, std::min(3, s.classes), 1 + 0.4 * (s.stretch / 100 - 1), way, 2 * s.width + 4, 0,
                               mix64(context.seed, 2)},
                              context);
        if (s.hairlines > 0 && s.hairs == Hairs::net)
            finest_ = lay_net({0.17 * s.size, 3, 1 + 0.5 * (s.stretch / 100 - 1), way, 6, 0, mix64(context.seed, 5)}, context);
        far_ =
            2.6f * (static_cast<float>(s.width) * scale_ * 0.5f * std::exp(1.6f * static_cast<float>(s.width_spread / 100)) + 1);
        // One large bend for all, and for each braid a smaller one of its own.
        drifts_.push_back(drift(s.wander, 1.7 * s.size, 4, 3));
        strays_.push_back(0);
        if (s.ragged > 0) ragged_.push_back(drift(s.ragged, 90, 2, 40)), ragged_.push_back(drift(0.45 * s.ragged, 28, 2, 41));
        for (int k = 1; k < s.braids; ++k) {
            const double strays = 0.22 * s.wander * (0.5 + 0.5 * k);
            drifts_.push_back(drift(strays, 0.7 * s.size, 2, 3 + static_cast<std::uint64_t>(k)));
            // Two clouds of deviation 0.4 of that; none goes beyond five deviations.
            strays_.push_back(static_cast<float>(2.9 * strays) * scale_);
        }
    }

    Bundle paint() {
        const Size size = context_.size;
        auto clouds = [&](double size_px, int octaves, std::uint64_t salt) {
            CloudSettings settings;
            settings.across = context_.tile.width / size_px, settings.down = context_.tile.height / size_px;
            settings.octaves = octaves, settings.seed = mix64(context_.seed, salt);
            return CloudField(settings, size, context_.job);
        };
        const CloudField widths = clouds(0.5 * s_.size, 3, 20), smoke = clouds(0.3 * s_.size, 4, 21),
                         gate = clouds(0.8 * s_.size, 2, 22), hair = clouds(0.55 * s_.size, 4, 23),
                         along = clouds(1.3 * s_.size, 2, 24), slow = clouds(0.9 * s_.size, 4, 25);
        AskedPlane vein(context_, planes::vein), smoked(context_, planes::smoke), side(context_, planes::vein_side),
            strong(context_, planes::vein_strength), hairlines(context_, planes::hairlines), ground(context_, planes::ground);
        const bool by_noise = s_.hairlines > 0 && s_.hairs == Hairs::noise;
        Plane out(size);
        for_rows(*context_.job, size.height, [&](int first, int last) {
            const auto padded = static_cast<std::size_t>(widths.padded_width());
            std::vector<float> du(padded), dv(padded), more_u(padded), more_v(padded), wide(padded), smoky(padded), open(padded),
                line(padded), below(padded), next(padded), faded(padded), drawn(padded), seen(padded);
            Reader reader(net_, size), braid(net_, size);
            constexpr int piece = 64;
            std::optional<Reader> second;
            std::optional<Reader> finest;
            if (second_) second.emplace(*second_, size);
            if (finest_) finest.emplace(*finest_, size);
            if (by_noise) hair.row(first, next.data());
            for (int y = first; y < last; ++y) {
                drifts_[0].row(y, du.data(), dv.data());
                for (const Drift& drift : ragged_) {
                    drift.row(y, more_u.data(), more_v.data());
                    for (std::size_t k = 0; k < static_cast<std::size_t>(size.width); ++k) du[k] += more_u[k], dv[k] += more_v[k];
                }
                widths.row(y, open.data()), smoke.row(y, smoky.data());
                vein_widths(open.data(), size.width, static_cast<float>(s_.width_spread / 100), wide.data());
                // Lines have a row of their own where they fade or are asked for.
                const bool apart = s_.fade > 0 || vein;
                float *whole = out.row(y), *row = apart ? drawn.data() : whole;
                std::fill_n(whole, size.width, 0.0f), std::fill_n(row, size.width, 0.0f);
                reader.read(y, 0, size.width, du.data(), dv.data());
                if (s_.halo > 0) vein_smoke(reader.smoke(), smoky.data(), size.width, whole);
                if (float* to = smoked.row(y)) std::copy_n(whole, size.width, to);
                tell(reader, slow, y, side.row(y), strong.row(y), ground.row(y), seen);
                const VeinPen main = pen(reader, far_);
                vein_lines(main, reader.distance(), reader.strength(), wide.data(), nullptr, size.width, 1, 1, 0.35f, row);
                for (std::size_t k = 1; k < drifts_.size(); ++k) {
                    const float thinner = 1 / (1 + 0.9f * static_cast<float>(k)), share = 1 - 0.18f * static_cast<float>(k);
                    drifts_[k].row(y, more_u.data(), more_v.data());
                    // A braid strays only so far from the vein: where that is farther, nothing is read.
                    for (int from = 0; from < size.width; from += piece) {
                        const int to = std::min(size.width, from + piece);
                        if (main.scale * vein_least(reader.distance() + from, to - from) > far_ + strays_[k]) continue;
                        for (int x = from; x < to; ++x) {
                            const auto at = static_cast<std::size_t>(x);
                            more_u[at] += du[at], more_v[at] += dv[at];
                        }
                        braid.read(y, from, to, more_u.data(), more_v.data());
                        vein_lines(main, braid.distance() + from, braid.strength() + from, wide.data() + from, nullptr, to - from,
                                   thinner, share, 0.35f, row + from);
                    }
                }
                if (second) {
                    gate.row(y, open.data());
                    second->read(y, 0, size.width, du.data(), dv.data());
                    vein_lines(pen(*second, 0.3f * far_ + 2), second->distance(), second->strength(), wide.data(), open.data(),
                               size.width, 0.3f, 0.62f * static_cast<float>(s_.second / 100), 1, row);
                }
                if (s_.fade > 0) {
                    along.row(y, faded.data());
                    fade(faded.data(), size.width, row);
                }
                if (float* to = vein.row(y)) std::copy_n(row, size.width, to);
                if (apart)
                    for (int x = 0; x < size.width; ++x) whole[x] = std::max(whole[x], row[x]);
                float *alone = hairlines.row(y), *hairs = alone ? alone : whole;
                if (by_noise) {
                    line.swap(next);
                    hair.row((y + 1) % size.height, next.data());
                    line[static_cast<std::size_t>(size.width)] = line[0];
                    vein_hairs(line.data(), next.data(), smoky.data(), size.width, 0.35f * scale_,
                               static_cast<float>(0.5 * s_.hairlines / 100), hairs);
                }
                if (finest) {
                    finest->read(y, 0, size.width, du.data(), dv.data());
                    // In areas only, and where the stone is open.
                    for (int x = 0; x < size.width; ++x)
                        open[static_cast<std::size_t>(x)] = smoky[static_cast<std::size_t>(x)] - 0.2f;
                    VeinPen thin = pen(*finest, 4 * scale_ + 2);
                    thin.width = 0.35f * scale_;
                    vein_lines(thin, finest->distance(), finest->strength(), wide.data(), open.data(), size.width, 1,
                               static_cast<float>(0.55 * s_.hairlines / 100), 0.5f, hairs);
                }
                if (alone)
                    for (int x = 0; x < size.width; ++x) whole[x] = std::max(whole[x], alone[x]);
            }
        });
        Bundle result = Bundle::of(std::move(out));
        for (AskedPlane* each : {&vein, &smoked, &side, &strong, &hairlines, &ground}) each->hand_on(result);
        return result;
    }

private:
    /// Veins come and go along their length.
    void fade(const float* where, int count, float* row) const {
        const auto strength = static_cast<float>(s_.fade / 100);
        for (int x = 0; x < count; ++x) row[x] *= 1 - strength * shoulder(-0.2f, 1.1f, where[x]);
    }

    /// What the net knows of each place; any of the rows may be null.
    void tell(const Reader& reader, const CloudField& slow, int y, float* side, float* strong, float* ground,
              std::vector<float>& cloud) const {
        const int width = context_.size.width;
        const float *sided = reader.sided(), *distance = reader.distance();
        if (side)
            for (int x = 0; x < width; ++x) side[x] = sided[x] < 0 ? 0.0f : 1.0f;
        if (strong) std::copy_n(reader.strength(), width, strong);
        if (!ground) return;
        slow.row(y, cloud.data());
        const float per_reach = 1 / (0.28f * static_cast<float>(s_.size) * scale_) * reader.scale();
        for (int x = 0; x < width; ++x) {
            const float away = (distance[x] < 0 ? -distance[x] : distance[x]) * per_reach, near = std::exp(-away);
            ground[x] = std::clamp(0.5f + 0.3f * near * (sided[x] < 0 ? -1.0f : 0.6f) * (1 - std::exp(-4 * away)) +
                                       0.13f * cloud[static_cast<std::size_t>(x)],
                                   0.0f, 1.0f);
        }
    }

    Drift drift(double distance, double size_px, int octaves, std::uint64_t salt) const {
        DriftSettings settings;
        settings.distance_px = distance, settings.size_x_px = settings.size_y_px = size_px;
        settings.octaves = octaves, settings.seed = mix64(context_.seed, salt);
        return {settings, context_};
    }

    VeinPen pen(const Reader& reader, float far) const {
        return {static_cast<float>(s_.width) * scale_ * 0.5f, far, reader.scale()};
    }

    const Settings& s_;
    const StepContext& context_;
    float scale_, far_ = 0;  ///< beyond `far_` pixels no line is drawn
    VeinNet net_;
    std::optional<VeinNet> second_, finest_;
    std::vector<Drift> drifts_, ragged_;
    std::vector<float> strays_;  ///< how far each goes at most, pixels
};

Bundle run(const Settings& s, const StepContext& context) {
    Settings drawn = s;
    // Veins wider than that would leave no stone between them.
    drawn.width = std::min(s.width, s.size / 2);
    return supersampled(context, [&](const StepContext& c) { return Painter(drawn, c).paint(); });
}

}  // namespace
}  // namespace veins_step

StepDescription describe_veins() {
    using namespace veins_step;
    StepDescription base;
    base.id = "veins", base.title = "Veins", base.family = Family::make;
    base.summary = "Stone veins: lines that fork and never stop dead, braided, with smoke on one side. White veins on black.";
    base.words = "marble cracks crack lightning branches stone fissure";
    base.seeded = true;
    base.planes = {planes::vein, planes::smoke, planes::vein_side, planes::vein_strength, planes::hairlines, planes::ground};
    base.headline = {"size", "width"};
    const Range share{0, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .number("size", "Net size", &Settings::size, {16, 4096, Unit::px, 800, Scale::root}, "Mean distance of the main veins.")
        .count("classes", "Classes", &Settings::classes, {2, 8, Unit::none},
               "Kinds of stone; a vein runs only between unlike ones, so fewer kinds leave fewer veins.")
        .number("stretch", "Stretch", &Settings::stretch, {100, 1000, Unit::percent, 400},
                "How much veins keep to the direction.")
        .number("direction", "Direction", &Settings::direction, {-360, 360, Unit::degrees, 180},
                "Where they run to; rounded so that veins close over the tile.")
        .choice("slopes", "Slopes", &Settings::slopes, {{"whole", "Whole tiles"}, {"finer", "Finer"}},
                "How finely directions are told apart: by whole tiles across on the way down one, or down two and three as well.")
        .once(2, std::string("whole"))
        .number("wander", "Wander", &Settings::wander, {0, 1024, Unit::px, 200, Scale::root}, "How far they stray.")
        .number("ragged", "Ragged", &Settings::ragged, {0, 128, Unit::px, 30, Scale::root},
                "How far they waver over 20 to 90 px, so that no piece of them is smooth.")
        .once(2, 0.0)
        .number("width", "Width", &Settings::width, {0.2, 256, Unit::px, 48, Scale::root},
                "Width of the strongest veins, at most half the net size.")
        .number("width-spread", "Width spread", &Settings::width_spread, {0, 150, Unit::percent, 100},
                "How much veins pinch and swell.")
        .count("braids", "Braids", &Settings::braids, {1, 6, Unit::none}, "Strands that each vein is made of.")
        .number("fade", "Fading", &Settings::fade, share, "How much veins come and go along their length.")
        .once(2, 0.0)
        .number("halo", "Halo", &Settings::halo, share, "Smoke round the veins, mostly on one side.")
        .number("second", "Second net", &Settings::second, share, "How strong a finer net is.")
        .number("hairlines", "Hairlines", &Settings::hairlines, share, "How strong the finest lines are.")
        .choice("hairs", "Hairlines by", &Settings::hairs, {{"noise", "Level lines"}, {"net", "A finer net"}},
                "Whether they are level lines of a noise, which close into loops, or cracks of a finer net.",
                When::above("hairlines", 0))
        .once(2, std::string("noise"))
        .direction("Direction", "direction")
        .rounded([](const Settings& s, Size tile) {
            const NetWay way = way_of(s, tile);
            const auto tiles = [](int count) { return std::to_string(count) + (count == 1 ? " tile" : " tiles"); };
            return way.across == 0 ? std::string("Veins run straight down the tile.")
                                   : "Veins cross " + tiles(std::abs(way.across)) + " on their way down " +
                                         (way.down == 1 ? "one." : std::to_string(way.down) + ".");
        })
        .shape([](const Settings&, Shape) {
            return Shape{1, false};
        })
        .needs_whole()
        .scratch([](const Settings& s, const Scales& at, const PlaneCounts& planes) {
            // Nets hold four planes each and never have more pixels than the tile has design pixels.
            const int times = supersamples(at.x(), at.y()) ? 2 : 1;
            const double x = times * at.x(), y = times * at.y(), net = x > 1 || y > 1 ? 1 / (x * y) : 1;
            return supersampled_scratch(at, planes.out,
                                        4.4 + (4 + (s.second > 0 ? 4 : 0) + (s.hairs == Hairs::net ? 4 : 0)) * net);
        })
        .run(run);
}

}  // namespace loom
