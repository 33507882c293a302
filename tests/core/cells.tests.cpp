// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Cells against a plain search over all points and their copies.
#include "core/noise/cells.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <set>

#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

CellSettings settings_of(double width, double height, int relaxation, std::uint64_t seed,
                         CellMetric metric = CellMetric::euclid) {
    CellSettings settings;
    settings.layout.width = width, settings.layout.height = height;
    settings.layout.relaxation = relaxation, settings.layout.seed = seed;
    settings.metric = metric;
    settings.spacing_x = 20, settings.spacing_y = 30;
    return settings;
}

double distance(CellMetric metric, double dx, double dy) {
    if (metric == CellMetric::euclid) return std::hypot(dx, dy);
    if (metric == CellMetric::manhattan) return std::abs(dx) + std::abs(dy);
    return std::max(std::abs(dx), std::abs(dy));
}

struct Found {
    int owner = -1;
    double nearest = 1e9, second = 1e9, border = 1e9;
};

/// Everything about one place, by looking at every point in nine tiles.
Found search(const CellField& field, const CellSettings& s, double x, double y) {
    struct Copy {
        int cell;
        double dx, dy, distance;
    };
    std::vector<Copy> copies;
    for (int k = 0; k < static_cast<int>(field.cells().size()); ++k)
        for (int i = -1; i <= 1; ++i)
            for (int j = -1; j <= 1; ++j) {
                const Cell& c = field.cells()[static_cast<std::size_t>(k)];
                const double dx = c.x + i * s.layout.width - x, dy = c.y + j * s.layout.height - y;
                copies.push_back({k, dx, dy, distance(s.metric, dx, dy)});
            }
    std::sort(copies.begin(), copies.end(), [](const Copy& a, const Copy& b) { return a.distance < b.distance; });
    Found found{copies[0].cell, copies[0].distance, copies[1].distance, 1e9};
    for (std::size_t k = 1; k < copies.size(); ++k) {
        // In spacings along the line between both points, then in design pixels along that direction.
        const double nx = copies[k].dx - copies[0].dx, ny = copies[k].dy - copies[0].dy, length = std::hypot(nx, ny);
        const double scale = 1 / std::hypot(nx / length / s.spacing_x, ny / length / s.spacing_y);
        const double away = (copies[k].distance * copies[k].distance - copies[0].distance * copies[0].distance) / (2 * length);
        found.border = std::min(found.border, away * scale);
    }
    return found;
}

Bundle cells_with(const Values& set, Size size, std::uint32_t seed, const std::set<std::string, std::less<>>& planes) {
    auto result = apply_step(*find_step("cells"), set, seed, size, nullptr, {}, 0, job, planes);
    REQUIRE(result);
    return *result;
}

}  // namespace

TEST_CASE("distances, owners and borders are those that a plain search finds", "[cells]") {
    for (CellMetric metric : {CellMetric::euclid, CellMetric::manhattan, CellMetric::chebyshev})
        for (int relaxation : {0, 3})
            for (const auto& [width, height] : {std::pair{9.0, 7.0}, std::pair{2.3, 11.0}, std::pair{1.0, 1.0}}) {
                const CellSettings settings = settings_of(width, height, relaxation, 5, metric);
                const Size size{90, 70};
                const CellField field(settings, size, job);
                CellRows rows;
                field.rows(0, size.height, true, true, rows);
                int wrong_owner = 0;
                for (int y = 0; y < size.height; y += 3)
                    for (int x = 0; x < size.width; x += 2) {
                        const std::size_t at =
                            static_cast<std::size_t>(y) * static_cast<std::size_t>(rows.stride) + static_cast<std::size_t>(x);
                        const Found found =
                            search(field, settings, (x + 0.5) / size.width * width, (y + 0.5) / size.height * height);
                        auto plain = [&](float v) { return metric == CellMetric::euclid ? std::sqrt(v) : v; };
                        INFO(static_cast<int>(metric) << " " << relaxation << " " << width << " at " << x << "," << y);
                        REQUIRE(plain(rows.nearest[at]) == Approx(found.nearest).margin(2e-5));
                        REQUIRE(plain(rows.second[at]) == Approx(found.second).margin(3e-5));
                        wrong_owner += rows.owner[at] != found.owner;
                        if (metric == CellMetric::euclid) REQUIRE(rows.border[at] == Approx(found.border).margin(2e-3));
                    }
                // Only where two points are equally far may another one be named.
                CHECK(wrong_owner <= 2);
            }
}

TEST_CASE("beyond Euclid, too, the border is as far as it looks, and nowhere the same over an area", "[cells]") {
    for (CellMetric metric : {CellMetric::manhattan, CellMetric::chebyshev})
        for (std::uint64_t seed : {3u, 4u}) {
            CellSettings settings;
            settings.layout.width = settings.layout.height = 6, settings.layout.seed = seed;
            settings.metric = metric, settings.spacing_x = settings.spacing_y = 32, settings.pixels = 1;
            const Size size{192, 192};
            const CellField field(settings, size, job);
            CellRows rows;
            field.rows(0, size.height, false, true, rows);
            auto at = [&](int x, int y) {
                return static_cast<std::size_t>(y) * static_cast<std::size_t>(rows.stride) + static_cast<std::size_t>(x);
            };
            // The places of all borders, and how far each pixel is from the nearest of them.
            std::vector<std::pair<double, double>> borders;
            for (int y = 0; y + 1 < size.height; ++y)
                for (int x = 0; x + 1 < size.width; ++x) {
                    if (rows.owner[at(x, y)] != rows.owner[at(x + 1, y)]) borders.emplace_back(x + 0.5, y);
                    if (rows.owner[at(x, y)] != rows.owner[at(x, y + 1)]) borders.emplace_back(x, y + 0.5);
                }
            int flat = 0, looked = 0, far_off = 0;
            for (int y = 40; y < 150; y += 3)
                for (int x = 40; x < 150; x += 3) {
                    double away = 1e9;
                    for (const auto& [bx, by] : borders) away = std::min(away, std::hypot(x - bx, y - by));
                    const auto here = static_cast<double>(rows.border[at(x, y)]);
                    ++looked;
                    far_off += std::abs(here - away) > 1.6;
                    flat += std::abs(here - static_cast<double>(rows.border[at(x + 1, y)])) < 1e-4 &&
                            std::abs(here - static_cast<double>(rows.border[at(x, y + 1)])) < 1e-4;
                }
            INFO(static_cast<int>(metric) << " " << seed << ": " << far_off << " and " << flat << " of " << looked);
            // The line between two cells runs on where a third has taken over, which may seem nearer than it is.
            CHECK(far_off < looked / 12);
            CHECK(flat == 0);
        }
}

TEST_CASE("cells fill the tile and know their neighbours", "[cells]") {
    for (double jitter : {0.0, 0.5, 1.0}) {
        CellLayout layout;
        layout.width = 14, layout.height = 11, layout.jitter = jitter, layout.relaxation = 1, layout.seed = 3;
        const auto cells = lay_cells(layout, job);
        CHECK(static_cast<int>(cells.size()) == cell_count(layout));
        double area = 0;
        std::size_t sides = 0;
        for (std::size_t k = 0; k < cells.size(); ++k) {
            area += cells[k].area;
            sides += cells[k].neighbours.size();
            for (const CellNeighbour& n : cells[k].neighbours) {
                const auto& back = cells[static_cast<std::size_t>(n.cell)].neighbours;
                CHECK(std::any_of(back.begin(), back.end(), [&](const CellNeighbour& b) {
                    return b.cell == static_cast<int>(k) && std::abs(b.dx + n.dx) < 1e-9 && std::abs(b.dy + n.dy) < 1e-9;
                }));
            }
        }
        CHECK(area == Approx(14.0 * 11.0).epsilon(1e-9));
        // Euler's formula on the torus: six sides on average.
        CHECK(static_cast<double>(sides) / static_cast<double>(cells.size()) == Approx(6).margin(0.05));
    }
}

TEST_CASE("relaxation makes cells more alike", "[cells]") {
    double before = 1e9;
    for (int passes : {0, 1, 4, 20}) {
        CellLayout layout;
        layout.width = layout.height = 20, layout.relaxation = passes, layout.seed = 8;
        double spread = 0;
        const auto cells = lay_cells(layout, job);
        for (const Cell& cell : cells) spread += (cell.area - 1) * (cell.area - 1) / static_cast<double>(cells.size());
        CHECK(spread < before);
        before = spread;
    }
    CHECK(before < 0.03);
}

TEST_CASE("cells have the same statistics in all directions", "[cells]") {
    // Directions to neighbours: no even harmonic may stand out, over several seeds.
    for (int relaxation : {0, 2})
        for (int harmonic : {2, 4, 6}) {
            double c = 0, s = 0, count = 0;
            for (std::uint64_t seed = 0; seed < 6; ++seed) {
                CellLayout layout;
                layout.width = layout.height = 24, layout.relaxation = relaxation, layout.seed = seed;
                for (const Cell& cell : lay_cells(layout, job))
                    for (const CellNeighbour& n : cell.neighbours) {
                        const double turn = harmonic * std::atan2(n.dy, n.dx);
                        c += std::cos(turn), s += std::sin(turn), count += 1;
                    }
            }
            INFO("relaxation " << relaxation << " harmonic " << harmonic << ": " << c / count << ", " << s / count);
            CHECK(std::hypot(c, s) / count < 0.035);
        }
}

TEST_CASE("density and grading place more and smaller cells where they should", "[cells]") {
    CellLayout layout;
    layout.width = layout.height = 24, layout.relaxation = 3, layout.seed = 4;
    layout.density = [](double u, double) { return u < 0.5 ? 1.0 : 4.0; };
    int left = 0, right = 0;
    for (const Cell& cell : lay_cells(layout, job)) (cell.x < 12 ? left : right) += 1;
    CHECK(static_cast<double>(right) / left == Approx(4).epsilon(0.25));

    const Bundle plain = cells_with({{"size", 16.0}}, {256, 256}, 2, {"id"});
    const Bundle graded = cells_with({{"size", 16.0}, {"grading", 100.0}, {"grading-direction", 90.0}}, {256, 256}, 2, {"id"});
    auto in_rows = [](const Bundle& bundle, int first, int last) {
        std::set<float> ids;
        for (int y = first; y < last; ++y)
            for (int x = 0; x < 256; ++x) ids.insert(bundle.plane("id")->at(x, y));
        return static_cast<double>(ids.size());
    };
    CHECK(in_rows(plain, 0, 64) / in_rows(plain, 96, 160) == Approx(1).margin(0.15));
    const double ratio = in_rows(graded, 0, 48) / in_rows(graded, 104, 152);
    CHECK((ratio > 2 || ratio < 0.5));
}

TEST_CASE("a strand's tone is a density that hardly depends on the size it is rendered at", "[cells][scale]") {
    const Bundle map = applied("clouds", {{"size-x", 64.0}, {"size-y", 64.0}}, nullptr, {128, 128}, 3);
    auto ids = [&](int side) {
        Recipe recipe = recipe_of(
            {strand_of("map", {{"clouds", {{"size-x", 64.0}, {"size-y", 64.0}}, 3}}),
             strand_of("cells",
                       {{"cells", {{"size", 12.0}, {"density", std::string("map")}, {"show", std::string("tone")}}, 2}})},
            128);
        return cloth(recipe, {side, side});
    };
    const Bundle small = ids(128), large = ids(512);
    CHECK(mean_difference(small.channel(0), resized(large, {128, 128}).channel(0)) < 2.0 / 255);
}

TEST_CASE("object planes are constant in a cell, differ between neighbours, and are the same at every size", "[cells][objects]") {
    const std::set<std::string, std::less<>> all{"height", "id", "u", "v", "random-1", "random-2", "random-3"};
    const Values set{{"size", 20.0}, {"wander", 0.0}};
    const Bundle cells = cells_with(set, {160, 160}, 7, all);
    std::map<float, float> draws;
    std::set<float> different;
    for (int y = 0; y < 160; ++y)
        for (int x = 0; x < 160; ++x) {
            const float id = cells.plane("id")->at(x, y), draw = cells.plane("random-1")->at(x, y);
            REQUIRE(id == std::floor(id));
            REQUIRE(id >= 1);
            REQUIRE(draws.emplace(id, draw).first->second == draw);
            different.insert(draw);
            for (const char* name : {"u", "v", "height"}) {
                REQUIRE(cells.plane(name)->at(x, y) >= 0);
                REQUIRE(cells.plane(name)->at(x, y) < 1.5f);
            }
        }
    CHECK(draws.size() > 50);
    CHECK(different.size() == draws.size());
    // Twice the pixels, the same tile: the same cells.
    Recipe recipe =
        recipe_of({strand_of("cells", {{"cells", set, 7}}),
                   strand_of("who", {{"borrow", {{"strand", std::string("cells")}, {"output", std::string("object")}}}})},
                  160);
    auto ids = [&](int side) { return nearest(cloth(recipe, {side, side}).channel(0), {160, 160}); };
    const Plane once = ids(160), twice = ids(480);
    int same = 0;
    for (std::size_t i = 0; i < once.size().pixels(); ++i) same += once.data()[i] == twice.data()[i];
    CHECK(same > 0.985 * 160 * 160);
}

TEST_CASE("planes that nobody reads are not made", "[cells][objects]") {
    CHECK(cells_with({}, {64, 64}, 1, {}).named.empty());
    CHECK(cells_with({}, {64, 64}, 1, {"id"}).named.size() == 1);
}

TEST_CASE("a gap is as wide as it says, in design pixels and across stretched cells too", "[cells]") {
    for (double stretch : {100.0, 300.0}) {
        const Bundle cells = cells_with({{"size", 64.0},
                                         {"stretch-x", stretch},
                                         {"jitter", 0.0},
                                         {"relaxation", 0.0},
                                         {"merging", 0.0},
                                         {"rounding", 0.0},
                                         {"show", std::string("tone")},
                                         {"gap", 12.0},
                                         {"gap-softness", 0.0},
                                         {"tone-spread", 0.0}},
                                        {512, 512}, 1, {});
        double dark = 0;
        for (std::size_t i = 0; i < cells.size().pixels(); ++i) dark += 1 - 2 * cells.colour[0]->data()[i];
        // Without jitter no lots are drawn: the same honeycomb, whose borders can be added up.
        CellLayout layout;
        const double across = 64 * stretch / 100;
        layout.width = 512 / across, layout.height = 8, layout.jitter = 0;
        double length = 0;
        for (const Cell& cell : lay_cells(layout, job))
            for (std::size_t k = 0; k < cell.corner_x.size(); ++k) {
                const std::size_t next = (k + 1) % cell.corner_x.size();
                length +=
                    std::hypot((cell.corner_x[next] - cell.corner_x[k]) * across, (cell.corner_y[next] - cell.corner_y[k]) * 64) /
                    2;
            }
        // Where three gaps meet they share some room.
        const double width = dark / length;
        INFO("stretch " << stretch << " width " << width);
        CHECK(width < 12.1);
        CHECK(width > 10.2);
    }
}

TEST_CASE("cells that run together meet without a step", "[cells]") {
    for (Values values : {Values{{"merging", 90.0}, {"rounding", 80.0}}, Values{{"merging", 60.0}, {"rounding", 0.0}}}) {
        values["size"] = 64.0, values["relaxation"] = 3.0;
        // A slope gets half as steep a pixel at twice the pixels; a step would stay.
        auto steepest = [&](int side) {
            const Recipe recipe = recipe_of({strand_of("cells", {{"cells", values, 5}})}, 512);
            const Bundle fine = cloth(recipe, {side, side});
            double worst = 0;
            for (int y = 0; y < side; ++y)
                for (int x = 0; x + 1 < side; ++x)
                    worst =
                        std::max(worst, static_cast<double>(std::abs(fine.channel(0).at(x + 1, y) - fine.channel(0).at(x, y))));
            return worst;
        };
        CHECK(steepest(2048) < 0.6 * steepest(1024));
    }
}

TEST_CASE("cells are kept for the next who asks for the same, and only for them", "[cells]") {
    CellLayout layout;
    layout.width = 9, layout.height = 7, layout.relaxation = 1, layout.seed = 4711;
    const auto first = kept_cells(layout, job), again = kept_cells(layout, job);
    CHECK(first == again);
    const auto fresh = lay_cells(layout, job);
    REQUIRE(first->size() == fresh.size());
    for (std::size_t k = 0; k < fresh.size(); ++k) CHECK(((*first)[k].x == fresh[k].x && (*first)[k].area == fresh[k].area));
    CellLayout other = layout;
    other.seed = 4712;
    CHECK((*kept_cells(other, job))[0].x != fresh[0].x);
    // A density that nobody can tell from another is laid anew each time.
    CellLayout dense = layout;
    dense.density = [](double u, double) { return 1 + 0.5 * u * (1 - u); };
    CHECK(kept_cells(dense, job) != kept_cells(dense, job));
    dense.density_key = 5;
    const auto kept = kept_cells(dense, job);
    CHECK(kept == kept_cells(dense, job));
    CHECK(kept != first);
    // More passes of relaxation go on from fewer, with the same result to the last bit, dense or even.
    for (const CellLayout& start : {layout, dense})
        for (int relaxation : {2, 5, 3}) {
            CellLayout more = start;
            more.relaxation = relaxation;
            const auto went_on = kept_cells(more, job);
            const auto anew = lay_cells(more, job);
            REQUIRE(went_on->size() == anew.size());
            for (std::size_t k = 0; k < anew.size(); ++k) {
                const Cell &a = (*went_on)[k], &b = anew[k];
                REQUIRE((a.x == b.x && a.y == b.y && a.area == b.area));
                REQUIRE(std::equal(a.corner_x.begin(), a.corner_x.end(), b.corner_x.begin(), b.corner_x.end()));
                REQUIRE(std::equal(a.corner_y.begin(), a.corner_y.end(), b.corner_y.begin(), b.corner_y.end()));
            }
        }
    // What was given up in the middle is not kept.
    Job cancelled;
    cancelled.cancel();
    CellLayout late = layout;
    late.seed = 99;
    CHECK_THROWS(kept_cells(late, cancelled));
    CHECK(kept_cells(late, job)->size() == static_cast<std::size_t>(cell_count(late)));
}
