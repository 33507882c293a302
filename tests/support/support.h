// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <catch2/catch.hpp>
#include <cstdint>
#include <filesystem>
#include <functional>
#include <iostream>
#include <numbers>
#include <string>
#include <vector>

#include "core/catalogue/description.h"
#include "core/image/bundle.h"
#include "core/recipe/recipe.h"
#include "core/render/render.h"

namespace loom::test {

#ifdef __SANITIZE_THREAD__
constexpr bool races_watched = true;
#else
constexpr bool races_watched = false;
#endif
#ifdef __SANITIZE_ADDRESS__
constexpr bool bounds_watched = true;
#else
constexpr bool bounds_watched = false;
#endif
/// All of them; where the thread sanitizer makes everything thirty times as slow every fifth, which tells of races as well.
template <class T>
std::vector<T> tried(std::vector<T> all) {
    if (!races_watched) return all;
    std::vector<T> some;
    for (std::size_t k = 0; k < all.size(); k += 5) some.push_back(std::move(all[k]));
    return some;
}
/// A side in pixels, a quarter of it there.
constexpr int side_tried(int side) { return races_watched ? side / 4 : side; }

/// Ends a test that this machine cannot run; ctest counts it as skipped and names it in its summary.
#define SKIP_TEST(why)                                 \
    do {                                               \
        std::cout << "[skipped here] " << why << '\n'; \
        return;                                        \
    } while (false)

/// Nobody gives it up.
inline const Job job;
using std::numbers::pi;

/// Hashed values in [low, high).
Plane random_plane(Size size, std::uint64_t seed, float low = 0, float high = 1);
/// Coloured, with coverage between 0 and 1 if `covered`; premultiplied.
Bundle random_bundle(Size size, std::uint64_t seed, bool covered = false, int channels = 3);

double greatest_difference(const Plane& a, const Plane& b);
double greatest_difference(const Bundle& a, const Bundle& b);
double mean_difference(const Plane& a, const Plane& b);
bool same_bytes(const Plane& a, const Plane& b);
bool same_bytes(const Bundle& a, const Bundle& b);
Plane rolled(const Plane& plane, int dx, int dy);
Bundle rolled(const Bundle& bundle, int dx, int dy);
double mean_of(const Plane& plane);
double deviation_of(const Plane& plane);

/// A strand of steps, by kind and values; step ids are s1, s2, ...
struct StepOrder {
    std::string kind;
    Values set;
    std::uint32_t seed = 0;
};
Strand strand_of(const std::string& id, const std::vector<StepOrder>& steps, Join join = {});
Recipe recipe_of(std::vector<Strand> strands, int tile = 128);

/// A recipe of many strands that each show the recipe within it, so deep; `set` says how the k-th does.
Recipe nested_recipe(int depth, int strands, const std::function<Values(int)>& set);

/// Renders the cloth; a failure fails the test.
Bundle cloth(const Recipe& recipe, Size size, int threads = 0, Cache* cache = nullptr);
/// One step applied to a picture (or made); a failure fails the test.
Bundle applied(const std::string& kind, const Values& set, const Bundle* input, Size size, std::uint32_t seed = 0,
               int threads = 0, const Bundle* other = nullptr);
/// Clouds of so many design pixels with strong contrast.
Bundle cloud_picture(Size size, double px, std::uint32_t seed = 3);

/// A stroke with each of the parameter's tools, some of them over the edges of a tile of this size.
Strokes example_strokes(const Parameter& p, Size tile);
/// Three points, one of which is dragged over the edge.
Moves example_moves();
/// Settings of a step in which the hand has a part; empty if it has none.
Values by_hand(const StepDescription& step, Size tile);

/// Every material map.
std::vector<Wanted> all_maps_wanted();

/// The samples of the book and the studies.
std::vector<std::string> sample_paths();

/// A folder that goes away with the test.
class TemporaryFolder {
public:
    TemporaryFolder();
    ~TemporaryFolder();
    std::string path(const std::string& name = {}) const;
    std::vector<std::string> files() const;

private:
    std::filesystem::path folder_;
};

struct Ran {
    int code = -1;
    std::string out, err;
};
/// Runs a program of the build with arguments as the shell splits them; `before` goes in front (environment, ulimit).
Ran run(const std::string& program, const std::string& arguments, const std::string& before = {});
/// Any command, as the shell reads it.
Ran run_command(const std::string& command);
int lines_in(const std::string& text);
std::string sample(const std::string& name);

}  // namespace loom::test
