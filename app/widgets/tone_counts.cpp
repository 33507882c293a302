// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/tone_counts.h"

#include <algorithm>
#include <cmath>

#include "core/steps/channel_choice.h"

namespace loom {

namespace {

int tone_of(QRgb pixel, ToneOf channel) {
    const int red = qRed(pixel), green = qGreen(pixel), blue = qBlue(pixel);
    switch (channel) {
        case ToneOf::all: return (30 * red + 59 * green + 11 * blue + 50) / 100;
        case ToneOf::red: return red;
        case ToneOf::green: return green;
        case ToneOf::blue: return blue;
        case ToneOf::lightness: {
            const auto part = [](int value) { return static_cast<float>(value) / 255; };
            return static_cast<int>(lightness_tone({part(red), part(green), part(blue)}) * 255 + 0.5f);
        }
    }
    return 0;
}

}  // namespace

Histogram tone_counts(const QImage& picture, ToneOf channel) {
    Histogram counts;
    const QImage pixels = picture.convertToFormat(QImage::Format_ARGB32);
    double total = 0;
    for (int y = 0; y < pixels.height(); ++y) {
        const auto* row = reinterpret_cast<const QRgb*>(pixels.constScanLine(y));
        for (int x = 0; x < pixels.width(); ++x) {
            const double cover = qAlpha(row[x]) / 255.0;
            if (cover <= 0) continue;
            const int tone = std::clamp(tone_of(row[x], channel), 0, Histogram::bins - 1);
            counts.share[static_cast<std::size_t>(tone)] += cover;
            counts.mean += cover * tone / 255;
            total += cover;
        }
    }
    if (total <= 0) return counts;
    for (double& share : counts.share) share /= total;
    counts.mean /= total;
    counts.black = counts.share.front(), counts.white = counts.share.back();
    return counts;
}

QPainterPath tone_path(const Histogram& histogram, const QRect& plot) {
    double tallest = 1e-9;
    for (int k = 1; k < Histogram::bins - 1; ++k) tallest = std::max(tallest, histogram.share[static_cast<std::size_t>(k)]);
    QPainterPath path;
    path.moveTo(plot.left(), plot.bottom());
    for (int k = 0; k < Histogram::bins; ++k) {
        const double share = std::min(1.0, histogram.share[static_cast<std::size_t>(k)] / tallest);
        path.lineTo(plot.left() + plot.width() * k / 255.0, plot.bottom() - plot.height() * std::sqrt(share));
    }
    path.lineTo(plot.right(), plot.bottom());
    path.closeSubpath();
    return path;
}

ToneEnds tone_ends(const Histogram& histogram, double clipped) {
    ToneEnds ends;
    const auto from = [&](int first, int way) {
        double lost = 0;
        int k = first;
        for (; k > 0 - (way > 0) && k < Histogram::bins - (way > 0); k += way) {
            lost += histogram.share[static_cast<std::size_t>(k)];
            if (lost > clipped) break;
        }
        return std::clamp(k, 0, Histogram::bins - 1) / 255.0;
    };
    ends.dark = from(0, 1), ends.light = from(Histogram::bins - 1, -1);
    if (ends.light <= ends.dark) return {};
    return ends;
}

}  // namespace loom
