// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/colour/palette.h"

#include <algorithm>
#include <cmath>

namespace loom {

namespace {

constexpr std::size_t most_samples = 65536;

struct Sample {
    Lab lab;
    double weight;
};

/// Pixels at even steps, by lightness.
std::vector<Sample> samples_of(const Bundle& picture, const Job& job) {
    std::vector<Sample> samples;
    if (picture.empty()) return samples;
    const std::size_t count = picture.size().pixels(), step = std::max<std::size_t>(1, count / most_samples);
    for (std::size_t i = 0; i < count; i += step) {
        if (samples.size() % 4096 == 0) job.check();
        const float cover = picture.coverage ? picture.coverage->data()[i] : 1.0f;
        if (!(cover > 0)) continue;
        const auto channel = [&](int c) { return picture.channel(c).data()[i] / cover; };
        samples.push_back({to_oklab({channel(0), channel(1), channel(2)}), static_cast<double>(cover)});
    }
    std::stable_sort(samples.begin(), samples.end(),
                     [](const Sample& a, const Sample& b) { return a.lab.lightness < b.lab.lightness; });
    return samples;
}

struct Sum {
    double lightness = 0, a = 0, b = 0, weight = 0;
    void add(const Sample& s) {
        lightness += s.weight * static_cast<double>(s.lab.lightness), a += s.weight * static_cast<double>(s.lab.a);
        b += s.weight * static_cast<double>(s.lab.b), weight += s.weight;
    }
    Lab mean() const {
        return {static_cast<float>(lightness / weight), static_cast<float>(a / weight), static_cast<float>(b / weight)};
    }
};

/// Sums of equal shares of the weight.
std::vector<Sum> shares(const std::vector<Sample>& samples, int count) {
    double total = 0, passed = 0;
    for (const Sample& s : samples) total += s.weight;
    std::vector<Sum> sums(static_cast<std::size_t>(count));
    for (const Sample& s : samples) {
        const auto k = static_cast<std::size_t>(std::min(count - 1.0, std::floor(passed / total * count)));
        sums[k].add(s);
        passed += s.weight;
    }
    std::erase_if(sums, [](const Sum& sum) { return !(sum.weight > 0); });
    return sums;
}

std::vector<PaletteColour> told(const std::vector<Sum>& sums) {
    double total = 0;
    for (const Sum& sum : sums) total += sum.weight;
    std::vector<PaletteColour> colours;
    for (const Sum& sum : sums) {
        const Colour c = from_oklab(sum.mean());
        const auto part = [](float value) { return std::clamp(value, 0.0f, 1.0f); };
        colours.push_back({{part(c.red), part(c.green), part(c.blue)}, sum.weight / total});
    }
    return colours;
}

double away(const Lab& a, const Lab& b) {
    const double l = static_cast<double>(a.lightness - b.lightness), x = static_cast<double>(a.a - b.a),
                 y = static_cast<double>(a.b - b.b);
    return l * l + x * x + y * y;
}

}  // namespace

std::vector<PaletteColour> tones_of(const Bundle& picture, int count, const Job& job) {
    return told(shares(samples_of(picture, job), count));
}

std::vector<PaletteColour> palette_of(const Bundle& picture, int count, const Job& job) {
    const std::vector<Sample> samples = samples_of(picture, job);
    std::vector<Sum> sums = shares(samples, count);
    constexpr int most_rounds = 40;
    for (int round = 0; round < most_rounds && sums.size() > 1; ++round) {
        job.check();
        std::vector<Lab> means;
        for (const Sum& sum : sums) means.push_back(sum.mean());
        std::vector<Sum> next(means.size());
        for (const Sample& sample : samples) {
            std::size_t nearest = 0;
            for (std::size_t k = 1; k < means.size(); ++k)
                if (away(sample.lab, means[k]) < away(sample.lab, means[nearest])) nearest = k;
            next[nearest].add(sample);
        }
        double moved = 0;
        for (std::size_t k = 0; k < next.size(); ++k)
            if (next[k].weight > 0) moved = std::max(moved, away(next[k].mean(), means[k]));
        std::erase_if(next, [](const Sum& sum) { return !(sum.weight > 0); });
        sums = std::move(next);
        if (moved < 1e-10) break;
    }
    std::stable_sort(sums.begin(), sums.end(),
                     [](const Sum& a, const Sum& b) { return a.mean().lightness < b.mean().lightness; });
    return told(sums);
}

}  // namespace loom
