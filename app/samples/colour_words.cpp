// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/samples/colour_words.h"

#include <QCoreApplication>
#include <cmath>
#include <numbers>

#include "app/widgets/colour_button.h"
#include "core/colour/colour.h"

namespace loom {

QColor dot_of(const Colourway& colourway) {
    QColor first;
    for (const auto& [at, value] : colourway.set) {
        // Gradients colour whole materials, single colours mostly what lies on them.
        if (const auto* stops = as_if<Stops>(value); stops && !stops->empty())
            return to_qcolor((*stops)[stops->size() / 2].colour);
        if (const auto* colour = as_if<Colour>(value); colour && !first.isValid()) first = to_qcolor(*colour);
    }
    return first;
}

QString colour_words(const QColor& colour) {
    const auto word = [](const char* text) { return QCoreApplication::translate("ColourWords", text); };
    const Lch lch = to_lch(
        to_oklab({static_cast<float>(colour.redF()), static_cast<float>(colour.greenF()), static_cast<float>(colour.blueF())}));
    const QString depth = lch.lightness < 0.4f ? word("dark") + " " : lch.lightness > 0.78f ? word("light") + " " : QString();
    // Too little colour to have a hue.
    if (lch.chroma < 0.02f)
        return lch.lightness < 0.25f ? word("black") : lch.lightness > 0.93f ? word("white") : depth + word("grey");
    const double degrees = std::fmod(static_cast<double>(lch.hue) * 180 / std::numbers::pi + 360, 360);
    struct Hue {
        double to;
        const char* word;
    };
    // Upper ends of the hues in OKLCh; dark or dull orange and yellow are brown.
    constexpr Hue hues[] = {{15, "pink"},  {42, "red"},   {75, "orange"},  {112, "yellow"}, {165, "green"},
                            {215, "teal"}, {280, "blue"}, {330, "purple"}, {361, "pink"}};
    for (const Hue& hue : hues) {
        if (degrees >= hue.to) continue;
        const bool earthen = degrees > 30 && degrees < 100 && (lch.lightness < 0.62f || lch.chroma < 0.08f);
        return depth + (earthen ? word("brown") : word(hue.word));
    }
    return {};
}

}  // namespace loom
