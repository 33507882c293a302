// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/describe.h"
#include "core/colour/gamut.h"
#include "core/colour/likeness.h"
#include "core/steps/each_plane.h"

namespace loom {

namespace match_step {
namespace {

enum class Onto { picture, strand };

struct Settings {
    Onto onto = Onto::picture;
    std::string strand, file;
    double tone = 100, colour = 100;
};

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle& in = *context.input;
    const Job& job = *context.job;
    job.check();
    const Bundle* other = context.other(s.onto == Onto::strand ? "strand" : "file");
    const ColourSpread from = spread_of(in, job), to = other && !other->empty() ? spread_of(*other, job) : ColourSpread();
    if (from.nothing || to.nothing) {
        Bundle same = in;
        if (same.grey()) same.colour.assign(3, in.colour.front());
        return same;
    }
    const SpreadMap map(from, to);
    const auto tone = static_cast<float>(s.tone / 100), colour = static_cast<float>(s.colour / 100);
    std::vector<Plane> out;
    for (int c = 0; c < 3; ++c) out.push_back(context.plane());
    context.for_rows([&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < context.size.width; ++x) {
                const float cover = in.coverage ? in.coverage->row(y)[x] : 1.0f;
                Colour moved;
                if (cover > 0) {
                    const auto channel = [&](int c) { return in.channel(c).row(y)[x] / cover; };
                    moved = into_gamut(to_lch(map.moved(to_oklab({channel(0), channel(1), channel(2)}), tone, colour)));
                }
                out[0].row(y)[x] = moved.red * cover, out[1].row(y)[x] = moved.green * cover;
                out[2].row(y)[x] = moved.blue * cover;
            }
    });
    return recoloured(in, std::move(out));
}

}  // namespace
}  // namespace match_step

StepDescription describe_match() {
    using namespace match_step;
    StepDescription base;
    base.id = "match", base.title = "Match", base.family = Family::tune;
    base.summary = "Moves tones and colours onto those of a picture, such as a photograph of the material, or of another strand.";
    base.words = "reference photograph like copy colours palette transfer";
    base.headline = {"onto", "tone"};
    const When strand{"onto", {"strand"}}, picture{"onto", {"picture"}};
    const Range share{0, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .choice("onto", "Onto", &Settings::onto, {{"picture", "Picture"}, {"strand", "Strand"}},
                "Whose tones and colours are taken.")
        .picture("file", "File", &Settings::file, "The picture; its file is copied into the recipe.", picture)
        .strand("strand", "Strand", &Settings::strand, "The strand.", strand)
        .number("tone", "Tone", &Settings::tone, share, "How far lightness moves, so that as much is as light there as here.")
        .number("colour", "Colour", &Settings::colour, share,
                "How far colour moves: its mean, how far it is spread and which way.")
        .shape([](const Settings&, Shape in) {
            return Shape{3, in.coverage};
        })
        .notice([](const Settings& s) {
            return std::string(s.onto == Onto::picture && s.file.empty()    ? "No picture is chosen yet."
                               : s.onto == Onto::strand && s.strand.empty() ? "No strand is chosen yet."
                                                                            : "");
        })
        .needs_whole()
        .run(run);
}

}  // namespace loom
