// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/maps/lit_kernel.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/maps/lit_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

#include <cmath>
#include <cstddef>
#include <cstring>

#include "core/base/quick_math.h"

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {

constexpr float pi = 3.14159265f;

struct Response {
    float diffuse, specular, fresnel;
};

/// Light from one direction on a surface with roughness a along and b across its brushing; t and s are the two ways in the
/// surface. `fresnel` is Schlick's share (1 - cosine)^5.
HWY_INLINE Response Lighted(float nl, float nv, float nh, float vh, float th, float sh, float tl, float sl, float tv, float sv,
                            float a, float b) {
    // Burley's anisotropic GGX with Heitz' height-correlated masking.
    const float x = th / a, y = sh / b, d = x * x + y * y + nh * nh;
    const float distribution = 1.0f / (pi * a * b * d * d + 1e-7f);
    const float from_lamp = nv * std::sqrt(a * a * tl * tl + b * b * sl * sl + nl * nl);
    const float from_eye = nl * std::sqrt(a * a * tv * tv + b * b * sv * sv + nv * nv);
    const float masking = 0.5f / (from_lamp + from_eye + 1e-5f);
    const float m = 1.0f - vh, m2 = m * m;
    return {nl, distribution * masking * nl, m2 * m2 * m};
}

/// What is worked out once for a pixel, array by array: loops that store nowhere else are vectors from end to end.
struct Frame {
    static constexpr int most = lit_most;
    float nx[most], ny[most], nz[most];                             ///< of the surface with its bumps
    float tx[most], ty[most], tz[most];                             ///< along the brushing
    float sx[most], sy[most], sz[most];                             ///< across it
    float a[most], b[most];                                         ///< roughness along and across
    float red[most], green[most], blue[most];                       ///< what is mirrored straight on
    float mirror_red[most], mirror_green[most], mirror_blue[most];  ///< of the room
    float around_red[most], around_green[most], around_blue[most];
    float sum_red[most], sum_green[most], sum_blue[most];  ///< what comes to the eye
};

void Stand(const LitRun& run, Frame& HWY_RESTRICT f) {
    const float* HWY_RESTRICT gx = run.normal_x;
    const float* HWY_RESTRICT gy = run.normal_y;
    const float* HWY_RESTRICT gz = run.normal_z;
    const float* HWY_RESTRICT ax = run.along_x;
    const float* HWY_RESTRICT ay = run.along_y;
    const float* HWY_RESTRICT az = run.along_z;
    for (int i = 0; i < run.count; ++i) {
        // Across the surface: normal times along.
        const float cx = gy[i] * az[i] - gz[i] * ay[i], cy = gz[i] * ax[i] - gx[i] * az[i], cz = gx[i] * ay[i] - gy[i] * ax[i];
        const float u = run.bump_x[i], v = run.bump_y[i], w = std::sqrt(most(1.0f - u * u - v * v, 0.02f));
        // What faces away from the eye is seen edge on.
        const float nx = ax[i] * u + cx * v + gx[i] * w, ny = ay[i] * u + cy * v + gy[i] * w,
                    nz = most(az[i] * u + cz * v + gz[i] * w, 0.03f);
        const float whole = 1.0f / std::sqrt(nx * nx + ny * ny + nz * nz);
        f.nx[i] = nx * whole, f.ny[i] = ny * whole, f.nz[i] = nz * whole;
        // Half of the doubled angle: the way of the brushing within the surface.
        const float c = run.brush_c[i], s = run.brush_s[i], strength = least(std::sqrt(c * c + s * s), 1.0f);
        const float c2 = (c + 1e-6f) / (strength + 1e-6f);
        const float bc = std::sqrt(most(0.5f + 0.5f * c2, 0.0f)), bs_size = std::sqrt(most(0.5f - 0.5f * c2, 0.0f));
        const float bs = s < 0 ? -bs_size : bs_size;
        float tx = ax[i] * bc + cx * bs, ty = ay[i] * bc + cy * bs, tz = az[i] * bc + cz * bs;
        const float lean = tx * f.nx[i] + ty * f.ny[i] + tz * f.nz[i];
        tx -= lean * f.nx[i], ty -= lean * f.ny[i], tz -= lean * f.nz[i];
        const float level = 1.0f / std::sqrt(tx * tx + ty * ty + tz * tz + 1e-8f);
        f.tx[i] = tx * level, f.ty[i] = ty * level, f.tz[i] = tz * level;
        // Scratches along t spread light across them.
        const float alpha = most(run.rough[i] * run.rough[i], 0.004f), aspect = std::sqrt(1.0f - 0.9f * strength);
        f.a[i] = most(alpha * aspect, 0.003f), f.b[i] = least(alpha / aspect, 1.0f);
        // Dielectrics mirror four in a hundred.
        const float m = run.metal[i];
        f.red[i] = 0.04f + (run.red[i] - 0.04f) * m, f.green[i] = 0.04f + (run.green[i] - 0.04f) * m;
        f.blue[i] = 0.04f + (run.blue[i] - 0.04f) * m;
    }
    for (int i = 0; i < run.count; ++i) {
        f.sx[i] = f.ny[i] * f.tz[i] - f.nz[i] * f.ty[i], f.sy[i] = f.nz[i] * f.tx[i] - f.nx[i] * f.tz[i];
        f.sz[i] = f.nx[i] * f.ty[i] - f.ny[i] * f.tx[i];
    }
}

/// Adds one lamp; for a broad one every surface is rougher (Karis 2013). `seen`: how much of it, pixel by pixel.
void AddLamp(const LitRun& run, Frame& HWY_RESTRICT f, float lx, float ly, float lz, float power, float wide,
             const float* HWY_RESTRICT seen) {
    float hx = lx, hy = ly, hz = lz + 1.0f;
    const float half = 1.0f / std::sqrt(hx * hx + hy * hy + hz * hz + 1e-8f);
    hx *= half, hy *= half, hz *= half;
    const float* HWY_RESTRICT red = run.red;
    const float* HWY_RESTRICT green = run.green;
    const float* HWY_RESTRICT blue = run.blue;
    const float* HWY_RESTRICT metal = run.metal;
    for (int i = 0; i < run.count; ++i) {
        const float nl = unit_cut(f.nx[i] * lx + f.ny[i] * ly + f.nz[i] * lz);
        const float nh = unit_cut(f.nx[i] * hx + f.ny[i] * hy + f.nz[i] * hz);
        const Response lit = Lighted(nl, f.nz[i], nh, unit_cut(hz), f.tx[i] * hx + f.ty[i] * hy + f.tz[i] * hz,
                                     f.sx[i] * hx + f.sy[i] * hy + f.sz[i] * hz, f.tx[i] * lx + f.ty[i] * ly + f.tz[i] * lz,
                                     f.sx[i] * lx + f.sy[i] * ly + f.sz[i] * lz, f.tz[i], f.sz[i], least(f.a[i] + wide, 1.0f),
                                     least(f.b[i] + wide, 1.0f));
        // A bump smaller than a pixel may face the lamp by chance: no sparks.
        const float specular = least(lit.specular, 5.0f), body = lit.diffuse * (1.0f - metal[i]) / pi, bright = power * seen[i];
        f.sum_red[i] += bright * (body * red[i] + specular * (f.red[i] + (1.0f - f.red[i]) * lit.fresnel));
        f.sum_green[i] += bright * (body * green[i] + specular * (f.green[i] + (1.0f - f.green[i]) * lit.fresnel));
        f.sum_blue[i] += bright * (body * blue[i] + specular * (f.blue[i] + (1.0f - f.blue[i]) * lit.fresnel));
    }
}

/// Adds a light of the room to what is mirrored and to what washes over a rough body: it is a spherical Gaussian, and so, nearly,
/// is what the surface mirrors (Wang et al. 2009).
void AddLobe(int count, Frame& HWY_RESTRICT f, const LitLobe lobe) {
    constexpr float cosine = 2.133f;  // of the Gaussian that is nearest to a cosine
    const float soft = lobe.sharpness * cosine / (lobe.sharpness + cosine), soft_share = soft / lobe.sharpness;
    for (int i = 0; i < count; ++i) {
        const float nv = f.nz[i], facing = f.nx[i] * lobe.x + f.ny[i] * lobe.y + nv * lobe.z;
        const float mirrored = 2.0f * nv * facing - lobe.z;
        const float mirror = 0.5f / (f.a[i] * f.b[i] * most(nv, 0.1f));
        const float sharp = lobe.sharpness * mirror / (lobe.sharpness + mirror);
        const float glow = sharp / lobe.sharpness * quick_exp(sharp * (mirrored - 1.0f));
        const float wash = soft_share * quick_exp(soft * (facing - 1.0f));
        f.mirror_red[i] += lobe.red * glow, f.mirror_green[i] += lobe.green * glow, f.mirror_blue[i] += lobe.blue * glow;
        f.around_red[i] += lobe.red * wash, f.around_green[i] += lobe.green * wash, f.around_blue[i] += lobe.blue * wash;
    }
}

/// Adds the room, and lays what comes together on film.
void Finish(const LitRun& run, Frame& HWY_RESTRICT f, float exposure) {
    const float* HWY_RESTRICT red = run.red;
    const float* HWY_RESTRICT green = run.green;
    const float* HWY_RESTRICT blue = run.blue;
    const float* HWY_RESTRICT metal = run.metal;
    const float* HWY_RESTRICT rough = run.rough;
    const float* HWY_RESTRICT open = run.open;
    const float* HWY_RESTRICT shade = run.shade;
    // A soft shoulder: what is brighter than the screen runs into white.
    constexpr float knee = 0.62f;
    const auto film = [&](float value) {
        const float x = value * exposure;
        const float over = 1.0f - (1.0f - knee) * quick_exp(-(x - knee) / (1.0f - knee));
        return x < knee ? x : over;
    };
    for (int i = 0; i < run.count; ++i) {
        // How much of the room a rough surface mirrors (Karis 2014, from Lazarov 2013).
        const float q = rough[i], r0 = 1.0f - q, r1 = 0.0425f - 0.0275f * q, r2 = 1.04f - 0.572f * q, r3 = 0.022f * q - 0.04f;
        const float edge = least(r0 * r0, quick_exp(-6.432f * f.nz[i])) * r0 + r1;
        const float scale = r2 - 1.04f * edge, bias = r3 + 1.04f * edge;
        const float sky = open[i] * shade[i], sky_mirror = sky * (0.35f + 0.65f * sky), body = sky * (1.0f - metal[i]);
        f.sum_red[i] =
            film(f.sum_red[i] + f.around_red[i] * body * red[i] + sky_mirror * f.mirror_red[i] * (f.red[i] * scale + bias));
        f.sum_green[i] = film(f.sum_green[i] + f.around_green[i] * body * green[i] +
                              sky_mirror * f.mirror_green[i] * (f.green[i] * scale + bias));
        f.sum_blue[i] =
            film(f.sum_blue[i] + f.around_blue[i] * body * blue[i] + sky_mirror * f.mirror_blue[i] * (f.blue[i] * scale + bias));
    }
}

void Shade(const LitRun& run, const LitRoom& room) {
    Frame f;
    Stand(run, f);
    for (int i = 0; i < run.count; ++i) {
        f.mirror_red[i] = f.mirror_green[i] = f.mirror_blue[i] = room.ambient;
        f.around_red[i] = f.around_green[i] = f.around_blue[i] = room.ambient;
        f.sum_red[i] = f.sum_green[i] = f.sum_blue[i] = 0;
    }
    AddLamp(run, f, room.lamp_x, room.lamp_y, room.lamp_z, room.lamp, 0.0f, run.lamp_seen);
    AddLamp(run, f, room.second_x, room.second_y, room.second_z, room.second, 0.22f, run.shade);
    for (int k = 0; k < room.lobes; ++k) AddLobe(run.count, f, room.lobe[k]);
    Finish(run, f, room.exposure);
    const std::size_t bytes = static_cast<std::size_t>(run.count) * sizeof(float);
    std::memcpy(run.out_red, f.sum_red, bytes);
    std::memcpy(run.out_green, f.sum_green, bytes);
    std::memcpy(run.out_blue, f.sum_blue, bytes);
}

void Read(const LitTexels& texels, float u, float v, float* HWY_RESTRICT out) {
    const float x = u * static_cast<float>(texels.width) - 0.5f, y = v * static_cast<float>(texels.height) - 0.5f;
    const float fx = quick_floor(x), fy = quick_floor(y), tx = x - fx, ty = y - fy;
    const auto wrapped = [](float place, int count) {
        const int rest = static_cast<int>(place) % count;
        return rest < 0 ? rest + count : rest;
    };
    const int x0 = wrapped(fx, texels.width), y0 = wrapped(fy, texels.height);
    const int x1 = x0 + 1 == texels.width ? 0 : x0 + 1, y1 = y0 + 1 == texels.height ? 0 : y0 + 1;
    const float *upper = texels.first + static_cast<std::size_t>(y0) * static_cast<std::size_t>(texels.width) * lit_texel,
                *lower = texels.first + static_cast<std::size_t>(y1) * static_cast<std::size_t>(texels.width) * lit_texel;
    const float* HWY_RESTRICT a = upper + static_cast<std::size_t>(x0) * lit_texel;
    const float* HWY_RESTRICT b = upper + static_cast<std::size_t>(x1) * lit_texel;
    const float* HWY_RESTRICT c = lower + static_cast<std::size_t>(x0) * lit_texel;
    const float* HWY_RESTRICT d = lower + static_cast<std::size_t>(x1) * lit_texel;
    const float wa = (1 - tx) * (1 - ty), wb = tx * (1 - ty), wc = (1 - tx) * ty, wd = tx * ty;
    for (int k = 0; k < lit_texel; ++k) out[k] = wa * a[k] + wb * b[k] + wc * c[k] + wd * d[k];
}

void ReadRun(const LitTexels& texels, const float* HWY_RESTRICT u, const float* HWY_RESTRICT v, int count,
             float* HWY_RESTRICT out) {
    for (int i = 0; i < count; ++i) Read(texels, u[i], v[i], out + i * lit_texel);
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Shade);
HWY_EXPORT(ReadRun);
void lit_read(const LitTexels& texels, const float* u, const float* v, int count, float* out) {
    HWY_DYNAMIC_DISPATCH(ReadRun)(texels, u, v, count, out);
}
void lit_shade(const LitRun& run, const LitRoom& room) { HWY_DYNAMIC_DISPATCH(Shade)(run, room); }
}  // namespace loom
#endif
