// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/stipple_marks.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/hash.h"
#include "core/base/quick_math.h"

namespace loom {

namespace {

constexpr int blue_side = 64;

/// Ranks of a closed square of dots by the void-and-cluster method (Ulichney 1993): each next dot goes where those that are
/// there leave most room. Always the same, so it is made once.
class VoidAndCluster {
public:
    static const std::vector<float>& ranks() {
        static const std::vector<float> made = VoidAndCluster().order();
        return made;
    }

private:
    static constexpr int count = blue_side * blue_side, first_dots = count / 10;

    VoidAndCluster() : bell_(count), crowd_(count, 0.0f), set_(count, false) {
        for (int k = 0; k < count; ++k) {
            const int x = std::min(k % blue_side, blue_side - k % blue_side),
                      y = std::min(k / blue_side, blue_side - k / blue_side);
            bell_[static_cast<std::size_t>(k)] = std::exp(-static_cast<float>(x * x + y * y) / (2 * 1.9f * 1.9f));
        }
    }
    void put(int at, bool on) {
        set_[static_cast<std::size_t>(at)] = on;
        const int ax = at % blue_side, ay = at / blue_side;
        for (int y = 0; y < blue_side; ++y)
            for (int x = 0; x < blue_side; ++x)
                crowd_[static_cast<std::size_t>(y * blue_side + x)] +=
                    (on ? 1.0f : -1.0f) *
                    bell_[static_cast<std::size_t>(wrap(y - ay, blue_side) * blue_side + wrap(x - ax, blue_side))];
    }
    /// The dot that stands in the tightest cluster, or the free place in the largest void.
    int extreme(bool among_set) const {
        int best = -1;
        for (int k = 0; k < count; ++k) {
            if (set_[static_cast<std::size_t>(k)] != among_set) continue;
            const float here = crowd_[static_cast<std::size_t>(k)], there = best < 0 ? 0 : crowd_[static_cast<std::size_t>(best)];
            if (best < 0 || (among_set ? here > there : here < there)) best = k;
        }
        return best;
    }
    std::vector<float> order() {
        for (int k = 0; k < first_dots; ++k) {
            int at = static_cast<int>(mix64(77, static_cast<std::uint64_t>(k)) % count);
            while (set_[static_cast<std::size_t>(at)]) at = (at + 1) % count;
            put(at, true);
        }
        // The first dots move from the tightest cluster to the largest void until that changes nothing.
        for (int k = 0; k < 4 * first_dots; ++k) {
            const int tight = extreme(true);
            put(tight, false);
            const int loose = extreme(false);
            put(loose, true);
            if (loose == tight) break;
        }
        std::vector<float> ranks(count);
        auto note = [&](int at, int rank) { ranks[static_cast<std::size_t>(at)] = (static_cast<float>(rank) + 0.5f) / count; };
        const std::vector<bool> start = set_;
        const std::vector<float> start_crowd = crowd_;
        for (int rank = first_dots - 1; rank >= 0; --rank) {
            const int tight = extreme(true);
            put(tight, false), note(tight, rank);
        }
        set_ = start, crowd_ = start_crowd;
        for (int rank = first_dots; rank < count; ++rank) {
            const int loose = extreme(false);
            put(loose, true), note(loose, rank);
        }
        return ranks;
    }

    std::vector<float> bell_, crowd_;
    std::vector<bool> set_;
};

/// One mark in each cell of a grid, strayed from its middle by up to `jitter` of the cell.
/// `job` is null while a static is made: a thread that waited for others there might begin work that needs the same static.
std::vector<StippleMark> strewn(int across, int down, double jitter, bool even_ranks, std::uint64_t seed,
                                const Job* job = nullptr) {
    const auto left = static_cast<int>(seed % blue_side), up = static_cast<int>(seed / blue_side % blue_side);
    std::vector<StippleMark> marks(static_cast<std::size_t>(across) * static_cast<std::size_t>(down));
    const auto row = [&](int j) {
        for (int i = 0; i < across; ++i) {
            const std::uint64_t lots = mix64(mix64(seed, static_cast<std::uint64_t>(j)), static_cast<std::uint64_t>(i));
            auto lot = [&](std::uint64_t which) { return unit_float(mix64(lots, which)); };
            float rank = lot(2);
            if (even_ranks) {
                // Squares repeat the same ranks; a little chance lets each have an order of its own.
                const int at = (j + up) % blue_side * blue_side + (i + left) % blue_side;
                rank = std::clamp(VoidAndCluster::ranks()[static_cast<std::size_t>(at)] + 0.02f * (rank - 0.5f), 0.0f, 1.0f);
            }
            const auto stray = static_cast<float>(jitter);
            marks[static_cast<std::size_t>(j) * static_cast<std::size_t>(across) + static_cast<std::size_t>(i)] = {
                (static_cast<float>(i) + 0.5f + stray * (lot(0) - 0.5f)) / static_cast<float>(across),
                (static_cast<float>(j) + 0.5f + stray * (lot(1) - 0.5f)) / static_cast<float>(down), rank};
        }
    };
    if (!job)
        for (int j = 0; j < down; ++j) row(j);
    else
        for_ranges(*job, down, 16, [&](int first, int last) {
            for (int j = first; j < last; ++j) row(j);
        });
    return marks;
}

/// The points of a turned square lattice that closes at the tile's edges; all have rank 0, so that they grow together.
std::vector<StippleMark> screen(double across, double down, double direction) {
    const double turn = direction * 3.14159265358979323846 / 180, c = std::cos(turn), s = std::sin(turn);
    auto whole = [](double value) { return static_cast<std::int64_t>(std::llround(value)); };
    std::int64_t a = whole(across * c), b = whole(-down * s), e = whole(across * s), d = whole(down * c);
    if (a * d - b * e == 0) a = std::max<std::int64_t>(1, whole(across)), b = e = 0, d = std::max<std::int64_t>(1, whole(down));
    const std::int64_t det = a * d - b * e, size = std::abs(det), sign = det < 0 ? -1 : 1;
    std::vector<StippleMark> marks;
    const std::int64_t least_i = std::min<std::int64_t>({0, a, b, a + b}), most_i = std::max<std::int64_t>({0, a, b, a + b}),
                       least_j = std::min<std::int64_t>({0, e, d, e + d}), most_j = std::max<std::int64_t>({0, e, d, e + d});
    for (std::int64_t j = least_j; j <= most_j; ++j)
        for (std::int64_t i = least_i; i <= most_i; ++i) {
            // The place in the tile is the inverse of the lattice's matrix times (i, j).
            const std::int64_t u = sign * (d * i - b * j), v = sign * (a * j - e * i);
            if (u < 0 || v < 0 || u >= size || v >= size) continue;
            const auto per = 1 / static_cast<double>(size);
            marks.push_back(
                {static_cast<float>(static_cast<double>(u) * per), static_cast<float>(static_cast<double>(v) * per), 0});
        }
    return marks;
}

/// How far marks stray, in cells. Strokes do as far as chance would, or those in line with a row would hide each other.
constexpr double jitter_of(StipplePattern pattern) { return pattern == StipplePattern::blue ? 0.3 : 1.0; }
/// A stroke is so many times as long as wide from end to end of its middle line.
constexpr double stroke_length = 4;
/// Distance of a screen's dots in dots.
constexpr double screen_pitch = 1.5;
/// Share of all marks over whose appearing a mark grows up.
constexpr float youth = 0.06f;

/// Distance between marks, in radii, that gives each as much room as it covers.
double spacing_of(StipplePattern pattern) {
    if (pattern == StipplePattern::clustered) return 2 * screen_pitch;
    return std::sqrt(3.14159265 + (pattern == StipplePattern::strokes ? 4 * stroke_length : 0));
}

/// Growth at stage p: marks appear one after the other up to 1, and swell together from there.
float grown(float p, float rank) { return p >= 1 ? p : std::sqrt(std::clamp((p * (1 + youth) - rank) / youth, 0.0f, 1.0f)); }
/// A screen's dots only swell.
float swollen(float p) { return p; }

/// How much of the area is covered at each stage, measured on a closed square of marks.
class Coverage {
public:
    explicit Coverage(StipplePattern pattern) {
        constexpr int marks_across = 24, places = 16384, span = 9;
        const double spacing = spacing_of(pattern);
        std::vector<StippleMark> marks =
            pattern == StipplePattern::clustered
                ? screen(marks_across, marks_across, 0)
                : strewn(marks_across, marks_across, jitter_of(pattern), pattern != StipplePattern::white, 5);
        const auto length = static_cast<float>(marks_across * spacing);
        const float half = pattern == StipplePattern::strokes ? static_cast<float>(stroke_length) : 0.0f;
        // The stage at which each place is covered: by the first mark that reaches it.
        std::vector<float> stage;
        for (int k = 0; k < places; ++k) {
            // The plastic number's sequence (Roberts 2018) covers the square evenly and in no rows.
            const float px = static_cast<float>(std::fmod(0.5 + k * 0.7548776662466927, 1.0)) * length,
                        py = static_cast<float>(std::fmod(0.5 + k * 0.5698402909980532, 1.0)) * length;
            float least = most_stage;
            // Marks lie in the order of their cells, and none farther than some cells has a say.
            const int column = static_cast<int>(px / length * marks_across), line = static_cast<int>(py / length * marks_across);
            for (int near = 0; near < span * span; ++near) {
                const int i = wrap(column + near % span - span / 2, marks_across),
                          j = wrap(line + near / span - span / 2, marks_across);
                const StippleMark& mark = marks[static_cast<std::size_t>(j * marks_across + i)];
                const float dx = std::remainder(px - mark.u * length, length), dy = std::remainder(py - mark.v * length, length);
                const float away = std::hypot(std::max(0.0f, std::abs(dx) - half), dy);
                if (pattern == StipplePattern::clustered)
                    least = std::min(least, away);
                else
                    least = std::min(least, away > 1 ? away : (mark.rank + youth * away * away) / (1 + youth));
            }
            stage.push_back(least);
        }
        std::sort(stage.begin(), stage.end());
        for (int k = 0; k <= steps; ++k) {
            const auto at = static_cast<std::size_t>(static_cast<double>(k) / steps * static_cast<double>(stage.size() - 1));
            stage_[static_cast<std::size_t>(k)] = stage[at];
        }
        stage_.front() = 0;
        // Full tones are full: nothing is left open between what was looked at.
        stage_.back() *= 1.15f;
    }
    float stage(float cover) const {
        const float at = within(cover, 0.0f, 1.0f) * steps;
        const auto k = static_cast<std::size_t>(std::min(at, steps - 1.0f));
        return stage_[k] + (at - static_cast<float>(k)) * (stage_[k + 1] - stage_[k]);
    }

private:
    static constexpr int steps = 128;
    static constexpr float most_stage = 16;
    std::array<float, steps + 1> stage_{};
};

const Coverage& coverage_of(StipplePattern pattern) {
    static const Coverage all[] = {Coverage(StipplePattern::white), Coverage(StipplePattern::blue),
                                   Coverage(StipplePattern::clustered), Coverage(StipplePattern::strokes)};
    return all[static_cast<std::size_t>(pattern)];
}

}  // namespace

StippleLayout stipple_layout(StipplePattern pattern, double dot_px, double direction, Size tile, std::uint64_t seed,
                             const Job* job) {
    StippleLayout layout;
    const double radius = dot_px / 2, spacing = radius * spacing_of(pattern);
    const double across = tile.width / spacing, down = tile.height / spacing;
    layout.radius = static_cast<float>(radius);
    if (pattern == StipplePattern::clustered) {
        layout.marks = screen(across, down, direction);
        layout.radius = static_cast<float>(radius * std::sqrt(across * down / static_cast<double>(layout.marks.size())));
        return layout;
    }
    auto whole = [&](double count) {
        const int near = std::max(1, static_cast<int>(std::lround(count)));
        // Whole squares of even ranks close at the edge.
        return pattern == StipplePattern::white || near <= blue_side ? near : (near + blue_side / 2) / blue_side * blue_side;
    };
    const bool white = pattern == StipplePattern::white;
    const int columns = whole(across), rows = whole(down);
    layout.marks = strewn(columns, rows, jitter_of(pattern), !white, seed, job);
    // Marks take the room that whole numbers of them leave each.
    const double room = std::sqrt(across / columns * (down / rows));
    layout.radius = static_cast<float>(radius * room);
    if (pattern == StipplePattern::strokes) {
        const double turn = direction * 3.14159265358979323846 / 180;
        layout.reach_x = static_cast<float>(stroke_length * radius * room * std::cos(turn));
        layout.reach_y = static_cast<float>(-stroke_length * radius * room * std::sin(turn));
    }
    return layout;
}

float stipple_growth(StipplePattern pattern, float cover, float rank) {
    if (cover <= 0) return 0;
    const float p = coverage_of(pattern).stage(cover);
    return pattern == StipplePattern::clustered ? swollen(p) : grown(p, rank);
}

}  // namespace loom
