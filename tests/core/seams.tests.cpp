// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Seams of pictures that do not repeat: found where they are, closed by every method, and nothing else changed.
#include <algorithm>
#include <filesystem>

#include "core/measure/measure.h"
#include "core/recipe/container.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

/// A picture that does not repeat: a slope of light over texture.
Bundle sloped(Size of) {
    const Bundle texture = applied("clouds", {{"size-x", 16.0}, {"size-y", 16.0}, {"octaves", 4.0}}, nullptr, of, 8);
    Plane out(of);
    for (int y = 0; y < of.height; ++y)
        for (int x = 0; x < of.width; ++x)
            out.row(y)[x] =
                0.25f + 0.5f * texture.channel(0).at(x, y) + 0.2f * static_cast<float>(x + y) / static_cast<float>(of.width);
    return Bundle::of(std::move(out));
}

}  // namespace

TEST_CASE("every method closes the seams of a picture that does not repeat", "[treatments][closeseams]") {
    const Size of{256, 256};
    const Bundle in = sloped(of);
    REQUIRE(std::max(seam_across(in).ratio, seam_down(in).ratio) > 1.5);
    for (const char* method : {"fade", "cut", "histogram"}) {
        const Bundle out = applied("closeseams", {{"method", std::string(method)}}, &in, of);
        INFO(method << ": " << seam_across(out).ratio << ", " << seam_down(out).ratio);
        CHECK(seam_across(out).ratio <= 1.15);
        CHECK(seam_down(out).ratio <= 1.15);
        // What is far from the edges is untouched.
        CHECK(out.channel(0).at(128, 128) == in.channel(0).at(128, 128));
    }
    // A part of a larger texture, whose edges have nothing to do with each other: its contrast stays.
    const Bundle larger = applied("clouds", {{"size-x", 24.0}, {"size-y", 24.0}, {"octaves", 4.0}}, nullptr, {384, 384}, 5);
    Plane part(of);
    for (int y = 0; y < 256; ++y) std::copy_n(larger.channel(0).row(y + 60) + 60, 256, part.row(y));
    const Bundle piece = Bundle::of(std::move(part));
    auto contrast = [&](const char* method) {
        const Bundle out = applied("closeseams", {{"method", std::string(method)}, {"width", 50.0}}, &piece, of);
        CHECK(seam_across(out).ratio <= 1.15);
        return deviation_of(out.channel(0)) / deviation_of(piece.channel(0));
    };
    // A cut shows as much of the one and of the other, and blends nothing.
    CHECK(contrast("histogram") == Approx(1).epsilon(0.03));
    CHECK(contrast("fade") < contrast("histogram") - 0.02);
    // Closed one way only.
    const Bundle across = applied("closeseams", {{"down", false}}, &in, of);
    CHECK(seam_across(across).ratio <= 1.15);
    CHECK(seam_down(across).ratio > 1.3);
}

TEST_CASE("a cut closes the seams of a piece of every sample", "[treatments][closeseams][samples]") {
    for (const auto& entry : std::filesystem::directory_iterator(KEEN_LOOM_ROOT "/samples")) {
        if (entry.path().extension() != ".loom") continue;
        INFO(entry.path().filename());
        const auto file = read_loom(entry.path().string());
        REQUIRE(file.ok());
        // Signs and tags have edges of their own wherever they are cut.
        bool has_forms = false;
        for (const StrandRef& strand : file->recipe.strands)
            for (ChainKind kind : all_chains)
                for (const Step& step : strand->chain(kind)) {
                    const StepDescription* description = find_step(step.kind);
                    has_forms = has_forms || (description && description->extent) || step.kind == "recipe";
                }
        if (has_forms) continue;
        const Bundle whole = cloth(file->recipe, {448, 448});
        const Size of{320, 320};
        std::vector<Plane> pieces;
        for (int c = 0; c < 3; ++c) {
            Plane piece(of);
            for (int y = 0; y < of.height; ++y) std::copy_n(whole.channel(c).row(y + 70) + 50, of.width, piece.row(y));
            pieces.push_back(std::move(piece));
        }
        const Bundle in = Bundle::of(std::move(pieces[0]), std::move(pieces[1]), std::move(pieces[2]));
        const Bundle out = applied("closeseams", {}, &in, of);
        CHECK(seam_across(out).ratio <= 1.15);
        CHECK(seam_down(out).ratio <= 1.15);
        // The histogram-keeping way keeps contrast.
        const Bundle kept = applied("closeseams", {{"method", std::string("histogram")}}, &in, of);
        for (int c = 0; c < 3; ++c) CHECK(deviation_of(kept.channel(c)) == Approx(deviation_of(in.channel(c))).epsilon(0.03));
    }
}
