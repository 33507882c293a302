// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "tests/support/support.h"

#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <cstring>
#include <fstream>
#include <sstream>

#include "core/base/hash.h"
#include "core/recipe/container.h"
#include "core/recipe/edits.h"

namespace loom::test {

namespace fs = std::filesystem;

Plane random_plane(Size size, std::uint64_t seed, float low, float high) {
    Plane plane(size);
    for (std::size_t i = 0; i < size.pixels(); ++i) plane.data()[i] = low + (high - low) * unit_float(mix64(seed, i));
    return plane;
}

Bundle random_bundle(Size size, std::uint64_t seed, bool covered, int channels) {
    Bundle bundle;
    Plane cover = random_plane(size, seed + 100);
    for (int c = 0; c < channels; ++c) {
        Plane plane = random_plane(size, seed + static_cast<std::uint64_t>(c));
        for (std::size_t i = 0; covered && i < size.pixels(); ++i) plane.data()[i] *= cover.data()[i];
        bundle.colour.push_back(share(std::move(plane)));
    }
    if (covered) bundle.coverage = share(std::move(cover));
    return bundle;
}

double greatest_difference(const Plane& a, const Plane& b) {
    REQUIRE(a.size() == b.size());
    double most = 0;
    for (std::size_t i = 0; i < a.size().pixels(); ++i)
        most = std::max(most, std::abs(double(a.data()[i]) - double(b.data()[i])));
    return most;
}

double greatest_difference(const Bundle& a, const Bundle& b) {
    REQUIRE(a.colour.size() == b.colour.size());
    REQUIRE(bool(a.coverage) == bool(b.coverage));
    double most = 0;
    for (std::size_t k = 0; k < a.colour.size(); ++k) most = std::max(most, greatest_difference(*a.colour[k], *b.colour[k]));
    if (a.coverage) most = std::max(most, greatest_difference(*a.coverage, *b.coverage));
    return most;
}

double mean_difference(const Plane& a, const Plane& b) {
    REQUIRE(a.size() == b.size());
    double sum = 0;
    for (std::size_t i = 0; i < a.size().pixels(); ++i) sum += std::abs(double(a.data()[i]) - double(b.data()[i]));
    return sum / static_cast<double>(a.size().pixels());
}

bool same_bytes(const Plane& a, const Plane& b) {
    return a.size() == b.size() && std::memcmp(a.data(), b.data(), a.bytes()) == 0;
}

bool same_bytes(const Bundle& a, const Bundle& b) {
    if (a.colour.size() != b.colour.size() || bool(a.coverage) != bool(b.coverage)) return false;
    for (std::size_t k = 0; k < a.colour.size(); ++k)
        if (!same_bytes(*a.colour[k], *b.colour[k])) return false;
    return !a.coverage || same_bytes(*a.coverage, *b.coverage);
}

Plane rolled(const Plane& plane, int dx, int dy) {
    Plane out(plane.size());
    for (int y = 0; y < plane.height(); ++y)
        for (int x = 0; x < plane.width(); ++x) out.row(y)[x] = plane.wrapped(x - dx, y - dy);
    return out;
}

Bundle rolled(const Bundle& bundle, int dx, int dy) {
    Bundle out;
    for (const PlaneRef& plane : bundle.colour) out.colour.push_back(share(rolled(*plane, dx, dy)));
    if (bundle.coverage) out.coverage = share(rolled(*bundle.coverage, dx, dy));
    return out;
}

double mean_of(const Plane& plane) {
    double sum = 0;
    for (std::size_t i = 0; i < plane.size().pixels(); ++i) sum += plane.data()[i];
    return sum / static_cast<double>(plane.size().pixels());
}

double deviation_of(const Plane& plane) {
    const double mean = mean_of(plane);
    double sum = 0;
    for (std::size_t i = 0; i < plane.size().pixels(); ++i) sum += (plane.data()[i] - mean) * (plane.data()[i] - mean);
    return std::sqrt(sum / static_cast<double>(plane.size().pixels()));
}

Strand strand_of(const std::string& id, const std::vector<StepOrder>& steps, Join join) {
    Strand strand;
    strand.id = strand.name = id;
    strand.join = join;
    for (const StepOrder& order : steps) {
        Step step;
        step.id = "s";
        step.id += std::to_string(strand.steps.size() + 1);
        step.kind = order.kind, step.set = order.set, step.seed = order.seed;
        strand.steps.push_back(std::move(step));
    }
    return strand;
}

Recipe recipe_of(std::vector<Strand> strands, int tile) {
    Recipe recipe;
    recipe.tile.width = recipe.tile.height = tile;
    for (Strand& strand : strands) recipe.strands.push_back(std::make_shared<const Strand>(std::move(strand)));
    return recipe;
}

Recipe nested_recipe(int depth, int strands, const std::function<Values(int)>& set) {
    Recipe recipe = recipe_of({strand_of("base", {{"clouds", {}}})}, 64);
    recipe.name = "Innermost";
    for (int level = 0; level < depth; ++level) {
        LoomFile file;
        file.recipe = recipe;
        const std::string bytes = *loom_bytes(file), name = asset_name(bytes, "loom");
        std::vector<Strand> all;
        for (int k = 0; k < strands; ++k) {
            Values values = set(k);
            values["file"] = name;
            all.push_back(strand_of("s" + std::to_string(k), {{"recipe", values}}));
        }
        recipe = with_asset(recipe_of(std::move(all), 64), name, make_asset(name, bytes));
        recipe.name = "Level " + std::to_string(level);
    }
    return recipe;
}

Bundle cloth(const Recipe& recipe, Size size, int threads, Cache* cache) {
    RenderOptions options;
    options.threads = threads, options.cache = cache;
    auto result = render_cloth(recipe, size, options, job);
    INFO((result ? std::string() : result.error().message));
    REQUIRE(result);
    return *result;
}

Bundle applied(const std::string& kind, const Values& set, const Bundle* input, Size size, std::uint32_t seed, int threads,
               const Bundle* other) {
    const StepDescription* step = find_step(kind);
    REQUIRE(step);
    std::map<std::string, const Bundle*, std::less<>> others;
    if (other) {
        for (const Parameter& p : step->parameters)
            if (p.kind == Kind::strand || (names_kept(p.kind) && p.kind != Kind::drawing)) others[std::string(p.id)] = other;
        others["beneath"] = other;
    }
    auto result = apply_step(*step, set, seed, size, input, others, threads, job);
    REQUIRE(result);
    return *result;
}

Bundle cloud_picture(Size size, double px, std::uint32_t seed) {
    return applied("clouds", {{"size-x", px}, {"size-y", px}, {"contrast", 140.0}}, nullptr, size, seed);
}

Strokes example_strokes(const Parameter& p, Size tile) {
    Strokes strokes;
    for (std::size_t k = 0; k < p.choices.size(); ++k) {
        Stroke stroke;
        stroke.tool = p.choices[k].id;
        stroke.size = tile.width / 4.0, stroke.strength = 60, stroke.colour = {1.0f, 0.0f, 0.2f};
        // From here and there to the right and down, over the edges of the tile.
        for (int n = 0; n < 6; ++n) {
            StrokePoint point;
            point.x = static_cast<int>(StrokePoint::per_px *
                                       (tile.width * (0.15 + 0.13 * static_cast<double>(k)) + n * tile.width / 9.0));
            point.y = static_cast<int>(StrokePoint::per_px *
                                       (tile.height * (0.7 - 0.09 * static_cast<double>(k)) + (n % 3) * tile.height / 9.0));
            point.pressure = 255 - 20 * n;
            point.tilt_x = n * 5;
            stroke.points.push_back(point);
        }
        strokes = strokes.appended(std::move(stroke));
    }
    return strokes;
}

Moves example_moves() { return {{20, 30, 35, 38}, {70, 60, 70, 60}, {90, 80, 108, 92}}; }

Values by_hand(const StepDescription& step, Size tile) {
    Values values;
    for (const Parameter& p : step.parameters) {
        if (p.kind == Kind::strokes) values[std::string(p.id)] = Value(example_strokes(p, tile));
        if (p.kind == Kind::moves) values[std::string(p.id)] = Value(example_moves());
    }
    return values;
}

std::vector<Wanted> all_maps_wanted() {
    std::vector<Wanted> wanted;
    for (const MapInfo& info : map_table) wanted.push_back({Wanted::What::map, "", "", info.map});
    return wanted;
}

std::vector<std::string> sample_paths() {
    std::vector<std::string> paths;
    for (const char* folder : {"samples", "samples/studies"})
        for (const auto& entry : std::filesystem::directory_iterator(std::string(KEEN_LOOM_ROOT) + "/" + folder))
            if (entry.path().extension() == ".loom") paths.push_back(entry.path().string());
    std::sort(paths.begin(), paths.end());
    REQUIRE(paths.size() >= 15);
    return tried(std::move(paths));
}

TemporaryFolder::TemporaryFolder() {
    std::string pattern = (fs::temp_directory_path() / "keen-loom-test-XXXXXX").string();
    REQUIRE(::mkdtemp(pattern.data()));
    folder_ = pattern;
}

TemporaryFolder::~TemporaryFolder() {
    std::error_code ignored;
    fs::permissions(folder_, fs::perms::owner_all, ignored);
    fs::remove_all(folder_, ignored);
}

std::string TemporaryFolder::path(const std::string& name) const {
    return name.empty() ? folder_.string() : (folder_ / name).string();
}

std::vector<std::string> TemporaryFolder::files() const {
    std::vector<std::string> names;
    for (const auto& entry : fs::recursive_directory_iterator(folder_))
        if (entry.is_regular_file()) names.push_back(fs::relative(entry.path(), folder_).string());
    std::sort(names.begin(), names.end());
    return names;
}

namespace {
std::string contents(const std::string& path) {
    std::ifstream file(path, std::ios::binary);
    std::ostringstream text;
    text << file.rdbuf();
    return text.str();
}
}  // namespace

Ran run(const std::string& program, const std::string& arguments, const std::string& before) {
    return run_command(before + " " + KEEN_LOOM_BIN + "/" + program + " " + arguments);
}

Ran run_command(const std::string& command) {
    const TemporaryFolder folder;
    const int status = std::system((command + " >" + folder.path("out") + " 2>" + folder.path("err")).c_str());
    return {WIFEXITED(status) ? WEXITSTATUS(status) : -1, contents(folder.path("out")), contents(folder.path("err"))};
}

int lines_in(const std::string& text) { return static_cast<int>(std::count(text.begin(), text.end(), '\n')); }

std::string sample(const std::string& name) {
    std::string path = KEEN_LOOM_ROOT;
    path += "/samples/";
    path += name;
    return path += ".loom";
}

}  // namespace loom::test
