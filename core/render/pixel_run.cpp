// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/render/pixel_run.h"

#include <algorithm>
#include <cstring>

#include "core/image/shoulder.h"

namespace loom {

namespace {

struct Part {
    const PixelStep* step;
    float amount;
    PlaneRef where;
};

/// Row buffers that one thread works in.
struct RowBuffers {
    explicit RowBuffers(std::size_t width) : current(3, std::vector<float>(width)), before(3, std::vector<float>(width)) {}
    std::vector<std::vector<float>> current, before;
};

void apply_part(const Part& part, PixelRow& row, RowBuffers& buffers) {
    if (part.amount >= 1 && !part.where) {
        part.step->apply(row);
        return;
    }
    PixelRow before = row;
    for (int c = 0; c < row.channels; ++c) {
        buffers.before[static_cast<std::size_t>(c)] = buffers.current[static_cast<std::size_t>(c)];
        before.channel[c] = buffers.before[static_cast<std::size_t>(c)].data();
    }
    for (int c = row.channels; c < 3; ++c) before.channel[c] = buffers.before[static_cast<std::size_t>(c)].data();
    part.step->apply(row);
    if (row.channels > before.channels) before.to_colour();
    const float* where = part.where ? part.where->row(row.y) : nullptr;
    for (int c = 0; c < row.channels; ++c)
        for (int x = 0; x < row.count; ++x) {
            const float share = part.amount * (where ? std::clamp(where[x], 0.0f, 1.0f) : 1.0f);
            row.channel[c][x] = before.channel[c][x] + share * (row.channel[c][x] - before.channel[c][x]);
        }
}

}  // namespace

Bundle run_pixels(const std::vector<PixelRunStep>& steps, Size tile, const std::vector<const Bundle*>& inputs, const Job& job,
                  Prepared* prepared) {
    const Bundle& in = *inputs.front();
    const Size size = in.size();
    std::vector<Part> parts;
    int channels = in.grey() ? 1 : 3;
    StepContext context;
    context.size = size, context.tile = tile, context.job = &job, context.prepared = prepared;
    const auto made = context.once([&] {
        std::vector<std::unique_ptr<PixelStep>> all;
        for (const PixelRunStep& step : steps) {
            context.seed = step.seed;
            all.push_back(step.description->per_pixel(step.values, context));
        }
        return all;
    });
    for (std::size_t k = 0; k < steps.size(); ++k) {
        const PixelRunStep& step = steps[k];
        Part part{(*made)[k].get(), step.amount, nullptr};
        if (step.where_input >= 0) part.where = covered_tone_of(*inputs[static_cast<std::size_t>(step.where_input)]);
        channels = std::max(channels, step.description->shape(step.values, {channels, false}).channels);
        parts.push_back(std::move(part));
    }
    std::vector<Plane> out;
    for (int c = 0; c < channels; ++c) out.push_back(in.channel(0).alike());
    // A height goes through the steps that change it by their curve.
    std::vector<Part> on_height;
    for (std::size_t k = 0; k < steps.size(); ++k)
        if (const auto& carries = steps[k].description->carries_height; carries && carries(steps[k].values))
            on_height.push_back(parts[k]);
    const PlaneRef height = on_height.empty() ? nullptr : in.plane(height_plane);
    Plane raised = height ? height->alike() : Plane();
    for_rows(job, out.front(), [&](int first, int last) {
        RowBuffers buffers(static_cast<std::size_t>(size.width));
        for (int y = first; y < last; ++y) {
            PixelRow row{};
            row.channels = in.grey() ? 1 : 3;
            row.coverage = in.coverage ? in.coverage->row(y) : nullptr;
            row.y = y, row.count = size.width;
            for (int c = 0; c < 3; ++c) row.channel[c] = buffers.current[static_cast<std::size_t>(c)].data();
            for (int c = 0; c < row.channels; ++c) {
                std::copy_n(in.channel(c).row(y), size.width, row.channel[c]);
                for (int x = 0; row.coverage && x < size.width; ++x)
                    row.channel[c][x] = row.coverage[x] > 0 ? row.channel[c][x] / row.coverage[x] : 0.0f;
            }
            for (const Part& part : parts) apply_part(part, row, buffers);
            if (row.channels < channels) row.to_colour();
            for (int c = 0; c < channels; ++c) {
                float* to = out[static_cast<std::size_t>(c)].row(y);
                if (row.coverage)
                    for (int x = 0; x < size.width; ++x) to[x] = row.channel[c][x] * row.coverage[x];
                else
                    std::copy_n(row.channel[c], size.width, to);
            }
            if (!height) continue;
            row.channels = 1, row.coverage = nullptr;
            std::copy_n(height->row(y), size.width, row.channel[0]);
            for (const Part& part : on_height) apply_part(part, row, buffers);
            std::copy_n(row.channel[0], size.width, raised.row(y));
        }
    });
    Bundle result;
    for (Plane& plane : out) result.colour.push_back(share(std::move(plane)));
    result.coverage = in.coverage;
    result.named = in.named;
    if (height) result.named[std::string(height_plane)] = share(std::move(raised));
    return result;
}

Bundle mixed(const Bundle& before, const Bundle& after, float amount, const PlaneRef& where, const Job& job) {
    const Size size = before.size();
    auto mix = [&](const Plane& a, const Plane& b) {
        Plane out = a.alike();
        for_rows(job, out, [&](int first, int last) {
            for (int y = first; y < last; ++y) {
                const float *from = a.row(y), *to = b.row(y), *mask = where ? where->row(y) : nullptr;
                float* row = out.row(y);
                for (int x = 0; x < size.width; ++x)
                    row[x] = from[x] + amount * (mask ? std::clamp(mask[x], 0.0f, 1.0f) : 1.0f) * (to[x] - from[x]);
            }
        });
        return share(std::move(out));
    };
    Bundle result;
    const int channels = before.grey() && after.grey() ? 1 : 3;
    for (int c = 0; c < channels; ++c) result.colour.push_back(mix(before.channel(c), after.channel(c)));
    if (before.coverage || after.coverage) result.coverage = mix(*coverage_of(before), *coverage_of(after));
    result.named = after.named;
    result.named.insert(before.named.begin(), before.named.end());
    return result;
}

Plane gated(const Plane& tone, const ToneGate& gate, const PlaneRef& also, const Job& job) {
    const auto soft = static_cast<float>(gate.softness);
    const Shoulders shoulders{
        static_cast<float>(gate.from), static_cast<float>(gate.to), soft, soft, gate.from <= 0, gate.to >= 1};
    Plane out = tone.alike();
    for_rows(job, out, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < tone.size().width; ++x) {
                const float share = shoulders(tone.row(y)[x]);
                out.row(y)[x] = also ? share * std::clamp(also->row(y)[x], 0.0f, 1.0f) : share;
            }
    });
    return out;
}

Plane product(const Plane& a, const Plane& b, const Job& job) {
    Plane out = a.alike();
    for_rows(job, out, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < a.size().width; ++x) out.row(y)[x] = a.row(y)[x] * b.row(y)[x];
    });
    return out;
}

Bundle cut(const Bundle& picture, const Plane& mask, const Job& job) {
    const Size size = picture.size();
    auto times = [&](const Plane* plane) {
        Plane out = mask.alike();
        for_rows(job, out, [&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < size.width; ++x)
                    out.row(y)[x] = (plane ? plane->row(y)[x] : 1.0f) * std::clamp(mask.row(y)[x], 0.0f, 1.0f);
        });
        return share(std::move(out));
    };
    Bundle result;
    for (const PlaneRef& plane : picture.colour) result.colour.push_back(times(plane.get()));
    result.coverage = times(picture.coverage.get());
    result.named = picture.named;
    return result;
}

}  // namespace loom
