// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Lighting as in SVG's feDiffuseLighting and feSpecularLighting (Filter Effects Module Level 1, section 9.10 on),
// with the Sobel normals taken across the tile edge.
#include "core/structures/relief_light.h"

#include <algorithm>
#include <cmath>

#include "core/image/gaussian.h"
#include "core/image/sample_kernel.h"
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

/// What open sky each place sees, from the height less its own blurs at three radii.
Plane sky_over(const Settings& s, const StepContext& context, const Plane& height) {
    Plane sky(context.size, 1.0f);
    for (double radius_px : {2.0, 5.0, 12.0}) {
        const double rx = radius_px * context.scale_x(), ry = radius_px * context.scale_y();
        const Plane soft = gaussian_blur(height, rx, ry, *context.job);
        const auto factor =
            static_cast<float>(s.depth * scale_of(context) * s.occlusion / 100 * 1.2 / std::max(0.5, std::sqrt(rx * ry)));
        context.for_rows([&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < context.size.width; ++x)
                    sky.row(y)[x] *= std::exp(-std::max(0.0f, factor * (soft.row(y)[x] - height.row(y)[x])));
        });
    }
    return sky;
}

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
    // Lighting leaves the tone of a level surface as it was.
    light.level = light.near ? 1.0f : std::max(0.05f, light.lamp[2]);
    light.light_only = s.outcome == Outcome::light;
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

bool tinted(const Settings& s) { return s.colour.red != s.colour.green || s.colour.green != s.colour.blue; }

}  // namespace

Shape relief_shape(const ReliefLighting& s, Shape in) {
    if (s.outcome == Outcome::light) return {tinted(s) ? 3 : 1, false};
    return {tinted(s) ? 3 : in.channels, in.coverage};
}

Bundle relief_light(const ReliefLighting& given, const StepContext& context) {
    Settings s = given;
    if (s.lamp == LampKind::shared)
        s.lamp = LampKind::distant, s.direction = context.lamp_direction, s.elevation = context.lamp_elevation;
    const PlaneRef height = height_of(s, context);
    const ReliefLight light = light_of(s, context);
    const Bundle& in = *context.input;
    const int channels = relief_shape(s, {in.grey() ? 1 : 3, false}).channels;
    const Plane sky = s.occlusion > 0 ? sky_over(s, context, *height) : Plane();
    const bool shadows = s.shadow > 0 && s.lamp == LampKind::distant;
    std::vector<Plane> out;
    for (int c = 0; c < channels; ++c) out.push_back(context.plane());
    context.for_rows([&](int first, int last) {
        std::vector<float> open(static_cast<std::size_t>(context.size.width) + 16, 1.0f), lines[3];
        pad(*height, first - 1, lines[0]), pad(*height, first, lines[1]);
        for (int y = first; y < last; ++y) {
            pad(*height, y + 1, lines[2]);
            if (shadows) cast_shadows(s, context, *height, y, open);
            ReliefRow row{};
            row.above = lines[0].data() + 1, row.here = lines[1].data() + 1, row.below = lines[2].data() + 1;
            row.open = shadows ? open.data() : nullptr;
            row.sky = s.occlusion > 0 ? sky.row(y) : nullptr;
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
    if (s.outcome == Outcome::times) result.coverage = part_of(in.coverage, context.wanted_rows());
    result.named = part_of(in.named, context.wanted_rows());
    return result;
}

}  // namespace loom
