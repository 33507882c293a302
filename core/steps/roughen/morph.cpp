// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Grey morphology across the tile edge. A form is the maximum over its rows, and a row of any width the maximum of two
// overlapping runs of a power of two pixels, which are made by doubling.
#include <algorithm>
#include <cmath>
#include <vector>

#include "core/catalogue/describe.h"
#include "core/steps/each_plane.h"
#include "core/steps/roughen/morph_kernel.h"

namespace loom {

namespace morph_step {
namespace {

enum class Deed { grow, shrink, open, close };
enum class Form { round, square };

struct Settings {
    Deed kind = Deed::grow;
    double radius = 4;
    Form form = Form::round;
};

/// Half widths of the form's rows, by their distance from the middle.
std::vector<int> half_widths(double radius_x, double radius_y, Form form, Size size) {
    std::vector<int> widths;
    const int rows_out = std::min(static_cast<int>(radius_y), (size.height - 1) / 2);
    for (int j = 0; j <= rows_out; ++j) {
        const double t = radius_y > 0 ? j / radius_y : 0;
        const double width = form == Form::square ? radius_x : radius_x * std::sqrt(std::max(0.0, 1 - t * t));
        widths.push_back(std::min(static_cast<int>(width), (size.width - 1) / 2));
    }
    return widths;
}

/// Rows round a band with all their running maxima over 1, 2, 4, ... pixels in turn.
class Maxima {
public:
    Maxima(const Plane& plane, int margin, int above, float sign, int rows)
        : plane_(plane), margin_(margin), above_(above), sign_(sign), rows_({plane.width() + 2 * margin + 1, rows}) {}

    void fill(int first, int count) {
        const int width = plane_.width();
        for (int k = 0; k < count; ++k) {
            const float* from = plane_.row(wrap(first - above_ + k, plane_.height()));
            float* to = rows_.row(k) + margin_;
            for (int x = 0; x < width; ++x) to[x] = sign_ * from[x];
            for (int x = 1; x <= margin_; ++x) to[-x] = to[wrap(-x, width)];
            for (int x = width; x <= width + margin_; ++x) to[x] = to[x - width];
        }
        window_ = 1;
    }
    /// Row `k` from the band's first, begun `shift` pixels to the right.
    const float* row(int k, int shift) const { return rows_.row(k + above_) + margin_ + shift; }
    int window() const { return window_; }
    void widen(int count) {
        for (int k = 0; k < count; ++k) row_most(rows_.row(k), window_, rows_.width() - window_);
        window_ *= 2;
    }

private:
    const Plane& plane_;
    int margin_, above_;
    float sign_;
    Plane rows_;
    int window_ = 1;
};

/// Largest value within the form; `sign` -1 finds the smallest.
Plane most(const Plane& plane, double radius_x, double radius_y, Form form, float sign, const Job& job) {
    const Size size = plane.size();
    const std::vector<int> widths = half_widths(radius_x, radius_y, form, size);
    const int above = static_cast<int>(widths.size()) - 1, margin = widths.front();
    // A band is worked on while it is near the core; the same bands for any number of threads.
    const int length = std::max(32, 2 * above);
    Plane out(size);
    for_ranges(job, (size.height + length - 1) / length, 1, [&](int from, int to) {
        Maxima maxima(plane, margin, above, sign, length + 2 * above);
        std::vector<const float*> rows;
        for (int part = from; part < to; ++part) {
            const int first = part * length, count = std::min(length, size.height - first);
            maxima.fill(first, count + 2 * above);
            bool begun = false;
            for (int window = 1; window <= 2 * margin + 1; window *= 2) {
                if (window > 1) maxima.widen(count + 2 * above);
                // A row of the form is covered by two runs of the longest that fits.
                for (int y = 0; y < count; ++y) {
                    rows.clear();
                    for (int j = -above; j <= above; ++j) {
                        const int half = widths[static_cast<std::size_t>(std::abs(j))];
                        if (2 * half + 1 < window || 2 * half + 1 >= 2 * window) continue;
                        rows.push_back(maxima.row(y + j, -half));
                        if (2 * half + 1 > window) rows.push_back(maxima.row(y + j, half + 1 - window));
                    }
                    if (!rows.empty())
                        rows_most(rows.data(), static_cast<int>(rows.size()), size.width, begun, out.row(first + y));
                }
                begun = begun || std::any_of(widths.begin(), widths.end(),
                                             [&](int half) { return 2 * half + 1 >= window && 2 * half + 1 < 2 * window; });
            }
            if (sign < 0)
                for (int y = first; y < first + count; ++y)
                    for (int x = 0; x < size.width; ++x) out.row(y)[x] = -out.row(y)[x];
        }
    });
    return out;
}

Bundle run(const Settings& s, const StepContext& context) {
    const double rx = s.radius * context.scale_x(), ry = s.radius * context.scale_y();
    auto grown = [&](const Plane& plane, float sign) { return most(plane, rx, ry, s.form, sign, *context.job); };
    return each_plane(context, [&](const Plane& plane) {
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
}  // namespace morph_step

StepDescription describe_morph() {
    using namespace morph_step;
    StepDescription base;
    base.id = "morph", base.title = "Grow and shrink", base.family = Family::roughen;
    base.summary = "Lets light areas grow or shrink, or takes away what is smaller than a form.";
    base.words = "dilate erode thicken thin fatten expand contract bolder hole";
    base.scratch_planes = 0.2;
    base.headline = {"kind", "radius"};
    return Describe<Settings>(std::move(base))
        .choice("kind", "Kind", &Settings::kind, {{"grow", "Grow"}, {"shrink", "Shrink"}, {"open", "Open"}, {"close", "Close"}},
                "Light areas get larger or smaller; small light or small dark spots vanish.")
        .visual({{"radius", 8.0}})
        .number("radius", "Radius", &Settings::radius, {0, 512, Unit::px, 48, Scale::root}, "Radius of the form.")
        .choice("form", "Form", &Settings::form, {{"round", "Round"}, {"square", "Square"}},
                "The form that is moved over the picture.")
        .visual({{"radius", 16.0}, {"kind", std::string("open")}})
        .needs_whole()
        .run(run);
}

}  // namespace loom
