// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/colour_profile.h"

#include <lcms2.h>

#include <algorithm>
#include <cmath>

namespace loom {

namespace {

struct Close {
    void operator()(void* profile) const { cmsCloseProfile(profile); }
};
using Profile = std::unique_ptr<void, Close>;
struct Delete {
    void operator()(void* transform) const { cmsDeleteTransform(transform); }
};
using Transform = std::unique_ptr<void, Delete>;

/// x and y of sRGB's primaries and white, as EXR names them.
constexpr double srgb_places[8] = {0.64, 0.33, 0.30, 0.60, 0.15, 0.06, 0.3127, 0.3290};

Profile linear_profile(const double* places) {
    const cmsCIExyY white{places[6], places[7], 1};
    const cmsCIExyYTRIPLE primaries{{places[0], places[1], 1}, {places[2], places[3], 1}, {places[4], places[5], 1}};
    cmsToneCurve* curve = cmsBuildGamma(nullptr, 1);
    cmsToneCurve* curves[3] = {curve, curve, curve};
    Profile profile(cmsCreateRGBProfile(&white, &primaries, curves));
    cmsFreeToneCurve(curve);
    return profile;
}

class Transformed final : public ToSrgb {
public:
    Transformed(Transform transform, int colours, bool bounded)
        : transform_(std::move(transform)), colours_(static_cast<std::size_t>(colours)), bounded_(bounded) {}

    void apply(float* values, std::size_t count) const override {
        constexpr std::size_t most = 256;
        float out[3 * most];
        for (std::size_t at = 0; at < count; at += most) {
            const std::size_t some = std::min(most, count - at);
            float* place = values + at * colours_;
            // What is no colour at all makes none.
            for (std::size_t k = 0; k < some * colours_; ++k)
                if (!std::isfinite(place[k])) place[k] = 0;
            cmsDoTransform(transform_.get(), place, out, static_cast<cmsUInt32Number>(some));
            for (std::size_t k = 0; k < some; ++k)
                for (std::size_t c = 0; c < colours_; ++c) {
                    const float value = out[3 * k + c];
                    place[k * colours_ + c] = bounded_ ? std::clamp(value, 0.0f, 1.0f) : value;
                }
        }
    }

private:
    Transform transform_;
    std::size_t colours_;
    bool bounded_;
};

std::shared_ptr<const ToSrgb> transformed(const Profile& from, const Profile& to, int colours, bool bounded) {
    if (!from || !to) return nullptr;
    Transform transform(cmsCreateTransform(from.get(), colours == 1 ? TYPE_GRAY_FLT : TYPE_RGB_FLT, to.get(), TYPE_RGB_FLT,
                                           INTENT_RELATIVE_COLORIMETRIC,
                                           cmsFLAGS_BLACKPOINTCOMPENSATION | cmsFLAGS_NOCACHE | cmsFLAGS_NOOPTIMIZE));
    return transform ? std::make_shared<Transformed>(std::move(transform), colours, bounded) : nullptr;
}

/// Whether colours from all over stay what they are, to a quarter of a step of 8 bits: sRGB as others write it.
bool changes_nothing(const ToSrgb& profile, int colours) {
    for (int r = 0; r <= 4; ++r)
        for (int g = 0; g <= 4; ++g)
            for (int b = 0; b <= 4; ++b) {
                const float before[3] = {static_cast<float>(r) / 4, static_cast<float>(g) / 4, static_cast<float>(b) / 4};
                float after[3] = {before[0], before[1], before[2]};
                profile.apply(after, 1);
                for (int c = 0; c < colours; ++c)
                    if (std::abs(after[c] - before[c]) > 0.25f / 255) return false;
            }
    return true;
}

}  // namespace

std::shared_ptr<const ToSrgb> ToSrgb::from_icc(std::string_view icc, int colours) {
    if (icc == srgb_profile()) return nullptr;
    cmsSetLogErrorHandler([](cmsContext, cmsUInt32Number, const char*) {});
    const Profile from(cmsOpenProfileFromMem(icc.data(), static_cast<cmsUInt32Number>(icc.size())));
    if (!from || cmsGetColorSpace(from.get()) != (colours == 1 ? cmsSigGrayData : cmsSigRgbData)) return nullptr;
    const Profile to(cmsCreate_sRGBProfile());
    const auto made = transformed(from, to, colours, true);
    return made && !changes_nothing(*made, colours) ? made : nullptr;
}

std::shared_ptr<const ToSrgb> ToSrgb::from_primaries(const std::vector<float>& chromaticities) {
    if (chromaticities.size() != 8) return nullptr;
    double places[8], most = 0;
    for (std::size_t k = 0; k < 8; ++k) {
        places[k] = static_cast<double>(chromaticities[k]);
        if (!(places[k] > -1 && places[k] < 2)) return nullptr;
        most = std::max(most, std::abs(places[k] - srgb_places[k]));
    }
    if (most < 0.002) return nullptr;
    return transformed(linear_profile(places), linear_profile(srgb_places), 3, false);
}

const std::string& srgb_profile() {
    static const std::string bytes = [] {
        const Profile profile(cmsCreate_sRGBProfile());
        cmsUInt32Number count = 0;
        std::string made;
        if (!profile) return made;
        // The version that everything reads.
        cmsSetProfileVersion(profile.get(), 2.1);
        if (!cmsSaveProfileToMem(profile.get(), nullptr, &count)) return made;
        made.resize(count);
        if (!cmsSaveProfileToMem(profile.get(), made.data(), &count)) return std::string();
        // The head holds the hour at which it was made (ICC.1:2001, 6.1): the same picture is the same file at any hour.
        constexpr char first_of_2026[12] = {0x07, static_cast<char>(0xea), 0, 1, 0, 1, 0, 0, 0, 0, 0, 0};
        std::copy(std::begin(first_of_2026), std::end(first_of_2026), made.begin() + 24);
        return made;
    }();
    return bytes;
}

}  // namespace loom
