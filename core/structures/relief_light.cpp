// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Lighting as in SVG's feDiffuseLighting and feSpecularLighting (Filter Effects Module Level 1, section 9.10 on),
// with the Sobel normals taken across the tile edge.
#include "core/structures/relief_light.h"

#include <algorithm>
#include <cmath>

#include "core/image/sample_kernel.h"
#include "core/structures/open_sky.h"
#include "core/structures/own_slopes.h"
#include "core/structures/relief_kernel.h"

namespace loom {

namespace {

using Settings = ReliefLighting;
using From = Settings::From;
using LampKind = Settings::LampKind;
using Outcome = Settings::Outcome;

constexpr double pi = 3.14159265358979323846;

/// Height from 0 to 1; times `depth_of` in pixels.
PlaneRef height_of(const Settings& s, const StepContext& context) {
    const Bundle* source = s.from == From::strand ? context.other("strand") : context.input;
    if (!source || source->empty()) return share(Plane(context.size, 0.0f));
    if (s.from == From::coverage) return coverage_of(*source);
    if (const auto named = source->named.find("height"); s.from != From::tone && named != source->named.end())
        return named->second;
    return tone_of(*source, *context.job);
}

double scale_of(const StepContext& context) { return std::sqrt(context.scale_x() * context.scale_y()); }

constexpr double sky_px[] = {2.0, 5.0, 12.0};

/// 1 where the lamp reaches row y's places, less where something between casts a shadow.
void cast_shadows(const Settings& s, const StepContext& context, const Plane& height, int y, std::vector<float>& open) {
    const auto width = static_cast<std::size_t>(context.size.width);
    const double way = s.shadow * scale_of(context);
    const int steps = std::clamp(static_cast<int>(std::ceil(way)), 1, 40);
    const auto dx = static_cast<float>(std::cos(s.direction * pi / 180)),
               dy = static_cast<float>(-std::sin(s.direction * pi / 180));
    const auto rise = static_cast<float>(std::tan(s.elevation * pi / 180)),
               depth = static_cast<float>(s.depth * scale_of(context));
    std::vector<float> px(width), py(width), there(width), hidden(width, 0.0f);
    const float *source = height.data(), *here = height.row(y);
    float* result = there.data();
    for (int k = 1; k <= steps; ++k) {
        const auto t = static_cast<float>(way * k / steps);
        for (std::size_t x = 0; x < width; ++x) px[x] = static_cast<float>(x) + t * dx, py[x] = static_cast<float>(y) + t * dy;
        read_bilinear(&source, 1, PlaneRows(height), px.data(), py.data(), context.size.width, &result);
        // The edge of a shadow softens with the distance of what casts it.
        const float soft = 1 / (0.35f + 0.12f * t);
        for (std::size_t x = 0; x < width; ++x)
            hidden[x] = std::max(hidden[x], std::min(1.0f, (depth * (there[x] - here[x]) - t * rise) * soft));
    }
    for (std::size_t x = 0; x < width; ++x) open[x] = 1 - hidden[x];
}

ReliefLight light_of(const Settings& s, const StepContext& context) {
    ReliefLight light{};
    light.depth = static_cast<float>(s.depth * scale_of(context));
    light.near = s.lamp == LampKind::near;
    const double a = s.direction * pi / 180, e = s.elevation * pi / 180;
    const double distant[3] = {std::cos(a) * std::cos(e), -std::sin(a) * std::cos(e), std::sin(e)};
    const double near[3] = {s.lamp_x / 100 * context.size.width - 0.5, s.lamp_y / 100 * context.size.height - 0.5,
                            s.lamp_height * scale_of(context)};
    const float tint[3] = {s.colour.red, s.colour.green, s.colour.blue};
    for (int k = 0; k < 3; ++k) light.lamp[k] = static_cast<float>(light.near ? near[k] : distant[k]), light.tint[k] = tint[k];
    light.period[0] = static_cast<float>(context.size.width), light.period[1] = static_cast<float>(context.size.height);
    light.diffuse = static_cast<float>(s.diffuse / 100), light.shine = static_cast<float>(s.shine / 100);
    light.sharpness = static_cast<float>(s.sharpness), light.strength = static_cast<float>(s.strength / 100);
    light.wrap = static_cast<float>(s.wrap / 100);
    // Lighting leaves the tone of a level surface as it was. What comes from above and all round is told in shares of what the
    // lamp gives it.
    const float upright = light.near ? 1.0f : light.lamp[2];
    const float lamp = std::max(0.05f, (upright + light.wrap) / (1 + light.wrap));
    const float ambient[3] = {s.ambient_colour.red, s.ambient_colour.green, s.ambient_colour.blue};
    const float overhead[3] = {s.overhead_colour.red, s.overhead_colour.green, s.overhead_colour.blue};
    for (int k = 0; k < 3; ++k) {
        light.ambient[k] = static_cast<float>(s.ambient / 100) * lamp * ambient[k];
        light.overhead[k] = static_cast<float>(s.overhead / 100) * lamp * overhead[k];
    }
    light.level = lamp * static_cast<float>(1 + s.ambient / 100 + s.overhead / 100);
    light.outcome = static_cast<ReliefLight::Outcome>(s.outcome);
    light.shine_on_all = s.outcome == Outcome::light || s.shine_on == Settings::ShineOn::all;
    light.knee = static_cast<float>(1 - s.shoulder / 100);
    return light;
}

/// Row y with one more pixel before it and room for a vector behind.
void pad(const Plane& plane, int y, std::vector<float>& out) {
    const float* row = plane.row(wrap(y, plane.height()));
    const auto width = static_cast<std::size_t>(plane.width());
    out.resize(width + 18);
    std::copy_n(row, width, out.begin() + 1);
    out[0] = row[width - 1], out[width + 1] = row[0];
}

bool tinted(const Settings& s) {
    const auto coloured = [](const Colour& c) { return c.red != c.green || c.green != c.blue; };
    return coloured(s.colour) || (s.ambient > 0 && coloured(s.ambient_colour)) || (s.overhead > 0 && coloured(s.overhead_colour));
}

/// Rows with room for a vector behind.
struct OwnRows {
    std::vector<float> edge, right, down;
    explicit OwnRows(int width) : edge(static_cast<std::size_t>(width) + 16), right(edge), down(edge) {}
    /// `depth` in design pixels.
    void fill(const OwnSlopes& own, double depth, int y, int width) {
        for (int x = 0; x < width; ++x) {
            const auto at = static_cast<std::size_t>(x);
            const bool there = own.at_edge(x, y);
            edge[at] = there ? 1.0f : 0.0f;
            right[at] = there ? static_cast<float>(own.right(x, y) * depth) : 0.0f;
            down[at] = there ? static_cast<float>(-own.up(x, y) * depth) : 0.0f;
        }
    }
};

}  // namespace

bool reads_planes(const Settings& s) { return s.from == From::height || s.from == From::strand; }

Shape relief_shape(const ReliefLighting& s, Shape in) {
    if (s.outcome != Outcome::times || in.channels == 0) return {tinted(s) ? 3 : 1, false};
    return {tinted(s) ? 3 : in.channels, in.coverage};
}

namespace {

/// Level ground under the same lamps, and what would have been lit as height.
Bundle unlit(const Settings& given, const StepContext& context) {
    Settings level = given;
    level.baked = true, level.own_slopes = false;
    level.depth = level.shadow = level.occlusion = 0;
    Bundle result = relief_light(level, context);
    if (!context.wants(height_plane)) return result;
    const PlaneRef own = part_of(height_of(given, context), context.wanted_rows());
    const PlaneRef came = context.input ? context.input->plane(height_plane) : nullptr;
    const PlaneRef under = came ? part_of(came, context.wanted_rows()) : nullptr;
    Plane height = own->alike();
    const auto share_of = static_cast<float>(under ? given.height_share / 100 : 1);
    for_values(*context.job, height, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) {
            const float here = given.depth < 0 ? 1 - own->data()[i] : own->data()[i], below = under ? under->data()[i] : 0.0f;
            height.data()[i] = below + share_of * (here - below);
        }
    });
    result.named[std::string(height_plane)] = share(std::move(height));
    return result;
}

}  // namespace

Bundle relief_light(const ReliefLighting& given, const StepContext& context) {
    if (!given.baked) return unlit(given, context);
    Settings s = given;
    if (s.lamp == LampKind::shared)
        s.lamp = LampKind::distant, s.direction = context.lamp_direction, s.elevation = context.lamp_elevation;
    const PlaneRef height = height_of(s, context);
    const ReliefLight light = light_of(s, context);
    // Without a picture the surface by itself is lit, as if it were white.
    const Bundle white = context.input ? Bundle() : Bundle::of(context.plane(1));
    const Bundle& in = context.input ? *context.input : white;
    const Bundle* rough = s.roughness.empty() ? nullptr : context.other("roughness");
    const PlaneRef roughness = rough && !rough->empty() ? tone_of(*rough, *context.job) : nullptr;
    const Bundle* source = s.from == From::strand ? context.other("strand") : &in;
    const OwnSlopes own(s.own_slopes && source && reads_planes(s) ? *source : Bundle{}, scale_of(context));
    const int channels = relief_shape(s, {in.grey() ? 1 : 3, false}).channels;
    const Plane sky = s.occlusion > 0 ? open_sky(*height, s.depth, s.occlusion / 100, sky_px, context) : Plane();
    const bool shadows = s.shadow > 0 && s.lamp == LampKind::distant;
    std::vector<Plane> out;
    for (int c = 0; c < channels; ++c) out.push_back(context.plane());
    context.for_rows([&](int first, int last) {
        std::vector<float> open(static_cast<std::size_t>(context.size.width) + 16, 1.0f), lines[3];
        OwnRows own_rows(own.any() ? context.size.width : 0);
        std::vector<float> rough_line(static_cast<std::size_t>(context.size.width) + 16);
        pad(*height, first - 1, lines[0]), pad(*height, first, lines[1]);
        for (int y = first; y < last; ++y) {
            pad(*height, y + 1, lines[2]);
            if (shadows) cast_shadows(s, context, *height, y, open);
            ReliefRow row{};
            row.above = lines[0].data() + 1, row.here = lines[1].data() + 1, row.below = lines[2].data() + 1;
            row.open = shadows ? open.data() : nullptr;
            row.sky = s.occlusion > 0 ? sky.row(y) : nullptr;
            if (own.any()) {
                own_rows.fill(own, s.depth, y, context.size.width);
                row.edge = own_rows.edge.data(), row.own_x = own_rows.right.data(), row.own_y = own_rows.down.data();
            }
            if (roughness) {
                std::copy_n(roughness->row(y), context.size.width, rough_line.begin());
                row.rough = rough_line.data();
            }
            row.cover = in.coverage ? in.coverage->row(y) : nullptr;
            for (int c = 0; c < channels; ++c)
                row.in[c] = in.channel(c).row(y), row.out[c] = out[static_cast<std::size_t>(c)].row(y);
            row.channels = channels, row.y = y, row.width = context.size.width;
            relief_row(light, row);
            lines[0].swap(lines[1]), lines[1].swap(lines[2]);
        }
    });
    Bundle result;
    for (Plane& plane : out) result.colour.push_back(share(std::move(plane)));
    if (s.outcome == Outcome::times && in.coverage) result.coverage = part_of(in.coverage, context.wanted_rows());
    result.named = part_of(in.named, context.wanted_rows());
    return result;
}

}  // namespace loom
