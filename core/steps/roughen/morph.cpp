// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Grey morphology across the tile edge: running maxima and minima (van Herk 1992; Gil & Werman 1993). A disc is the
// maximum over its rows, each a running maximum of its own width.
#include <algorithm>
#include <cmath>
#include <vector>

#include "core/catalogue/describe.h"
#include "core/steps/all_steps.h"
#include "core/steps/each_plane.h"

namespace loom {

namespace {

enum class Deed { grow, shrink, open, close };
enum class Form { round, square };

struct Settings {
    Deed kind = Deed::grow;
    double radius = 4;
    Form form = Form::round;
};

/// Maximum over 2 n + 1 entries of a closed line.
void line_most(const float* values, int count, int n, std::vector<float>& ahead, std::vector<float>& back, float* out) {
    n = std::min(n, (count - 1) / 2);
    if (n == 0) {
        std::copy_n(values, count, out);
        return;
    }
    const int window = 2 * n + 1, length = count + 2 * n, blocks = (length + window - 1) / window * window;
    ahead.resize(static_cast<std::size_t>(blocks)), back.resize(static_cast<std::size_t>(blocks));
    auto at = [&](int k) { return k < length ? values[wrap(k - n, count)] : values[wrap(length - 1 - n, count)]; };
    for (int k = 0; k < blocks; ++k)
        ahead[static_cast<std::size_t>(k)] = k % window == 0 ? at(k) : std::max(ahead[static_cast<std::size_t>(k - 1)], at(k));
    for (int k = blocks - 1; k >= 0; --k)
        back[static_cast<std::size_t>(k)] =
            k % window == window - 1 ? at(k) : std::max(back[static_cast<std::size_t>(k + 1)], at(k));
    for (int x = 0; x < count; ++x)
        out[x] = std::max(back[static_cast<std::size_t>(x)], ahead[static_cast<std::size_t>(x + 2 * n)]);
}

/// Largest value within the form; `sign` -1 finds the smallest.
Plane most(const Plane& plane, double radius_x, double radius_y, Form form, float sign, const Job& job) {
    const Size size = plane.size();
    const int rows_out = std::min(static_cast<int>(radius_y), (size.height - 1) / 2);
    // Widths of the form's rows, by their distance from the middle; many rows share one width.
    std::vector<int> widths;
    for (int j = 0; j <= rows_out; ++j) {
        const double t = radius_y > 0 ? j / radius_y : 0;
        widths.push_back(static_cast<int>(form == Form::square ? radius_x : radius_x * std::sqrt(std::max(0.0, 1 - t * t))));
    }
    Plane out(size);
    for (std::size_t i = 0; i < size.pixels(); ++i) out.data()[i] = -1e30f;
    Plane wide(size);
    for (std::size_t from = 0; from < widths.size();) {
        std::size_t to = from;
        while (to + 1 < widths.size() && widths[to + 1] == widths[from]) ++to;
        for_rows(job, size.height, [&](int first, int last) {
            std::vector<float> signed_row(static_cast<std::size_t>(size.width)), ahead, back;
            for (int y = first; y < last; ++y) {
                for (int x = 0; x < size.width; ++x) signed_row[static_cast<std::size_t>(x)] = sign * plane.row(y)[x];
                line_most(signed_row.data(), size.width, widths[from], ahead, back, wide.row(y));
            }
        });
        for_rows(job, size.height, [&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (std::size_t j = from; j <= to; ++j)
                    for (int side : {-1, 1}) {
                        const float* near = wide.row(wrap(y + side * static_cast<int>(j), size.height));
                        float* row = out.row(y);
                        for (int x = 0; x < size.width; ++x) row[x] = std::max(row[x], near[x]);
                    }
        });
        from = to + 1;
    }
    for (std::size_t i = 0; i < size.pixels(); ++i) out.data()[i] *= sign;
    return out;
}

Bundle run(const Settings& s, const StepContext& context) {
    const double rx = s.radius * context.scale_x(), ry = s.radius * context.scale_y();
    auto grown = [&](const Plane& plane, float sign) { return most(plane, rx, ry, s.form, sign, *context.job); };
    return each_plane(*context.input, [&](const Plane& plane) {
        switch (s.kind) {
            case Deed::grow: return grown(plane, 1);
            case Deed::shrink: return grown(plane, -1);
            case Deed::open: return grown(grown(plane, -1), 1);
            case Deed::close: return grown(grown(plane, 1), -1);
        }
        return plane.clone();
    });
}

}  // namespace

StepDescription describe_morph() {
    StepDescription base;
    base.id = "morph", base.title = "Grow and shrink", base.family = Family::roughen;
    base.summary = "Lets light areas grow or shrink, or takes away what is smaller than a form.";
    base.scratch_planes = 3;
    base.headline = {"kind", "radius"};
    return Describe<Settings>(std::move(base))
        .choice("kind", "Kind", &Settings::kind, {{"grow", "Grow"}, {"shrink", "Shrink"}, {"open", "Open"}, {"close", "Close"}},
                "Light areas get larger or smaller; small light or small dark spots vanish.")
        .number("radius", "Radius", &Settings::radius, {0, 512, Unit::px, 48, Scale::root}, "Radius of the form.")
        .choice("form", "Form", &Settings::form, {{"round", "Round"}, {"square", "Square"}},
                "The form that is moved over the picture.")
        .reach([](const Settings& s) { return 2 * s.radius; })
        .run(run);
}

}  // namespace loom
