// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/lit_kernel.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/structures/lit_kernel.cpp"
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
    float specular, fresnel;
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
    return {distribution * masking * nl, m2 * m2 * m};
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
    float kx[most], ky[most], kz[most];                    ///< the normal of the coat, which fills what is fine
    float coat_red[most], coat_green[most], coat_blue[most];
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
        // A coat lies more smoothly than what it covers.
        constexpr float follows = 0.35f;
        const float kx = gx[i] + follows * (nx - gx[i]), ky = gy[i] + follows * (ny - gy[i]),
                    kz = most(gz[i] + follows * (nz - gz[i]), 0.03f);
        const float coat = 1.0f / std::sqrt(kx * kx + ky * ky + kz * kz);
        f.kx[i] = kx * coat, f.ky[i] = ky * coat, f.kz[i] = kz * coat;
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
void AddLamp(const LitRun& run, Frame& HWY_RESTRICT f, const LitLamp& lamp, const LitRoom& room, const float* HWY_RESTRICT seen) {
    const float lx = lamp.x, ly = lamp.y, lz = lamp.z, wide = lamp.wide;
    float hx = lx, hy = ly, hz = lz + 1.0f;
    const float half = 1.0f / std::sqrt(hx * hx + hy * hy + hz * hz + 1e-8f);
    hx *= half, hy *= half, hz *= half;
    const float* HWY_RESTRICT red = run.red;
    const float* HWY_RESTRICT green = run.green;
    const float* HWY_RESTRICT blue = run.blue;
    const float* HWY_RESTRICT metal = run.metal;
    const float wrap = room.wrap, wrapped = 1.0f / (1.0f + wrap);
    for (int i = 0; i < run.count; ++i) {
        const float facing = f.nx[i] * lx + f.ny[i] * ly + f.nz[i] * lz, nl = unit_cut(facing);
        const float nh = unit_cut(f.nx[i] * hx + f.ny[i] * hy + f.nz[i] * hz);
        const Response lit = Lighted(nl, f.nz[i], nh, unit_cut(hz), f.tx[i] * hx + f.ty[i] * hy + f.tz[i] * hz,
                                     f.sx[i] * hx + f.sy[i] * hy + f.sz[i] * hz, f.tx[i] * lx + f.ty[i] * ly + f.tz[i] * lz,
                                     f.sx[i] * lx + f.sy[i] * ly + f.sz[i] * lz, f.tz[i], f.sz[i], least(f.a[i] + wide, 1.0f),
                                     least(f.b[i] + wide, 1.0f));
        // Light that has gone through the body comes round its edge.
        const float round = unit_cut((facing + wrap) * wrapped) * wrapped;
        // A bump smaller than a pixel may face the lamp by chance: no sparks.
        const float specular = least(lit.specular, 5.0f), body = round * (1.0f - metal[i]) / pi;
        f.sum_red[i] += lamp.red * seen[i] * (body * red[i] + specular * (f.red[i] + (1.0f - f.red[i]) * lit.fresnel));
        f.sum_green[i] += lamp.green * seen[i] * (body * green[i] + specular * (f.green[i] + (1.0f - f.green[i]) * lit.fresnel));
        f.sum_blue[i] += lamp.blue * seen[i] * (body * blue[i] + specular * (f.blue[i] + (1.0f - f.blue[i]) * lit.fresnel));
    }
    if (room.sheen > 0)
        // Fibres that stand up: Charlie's distribution (Estevez and Kulla 2017) at a roughness whose power is a square, with
        // Neubelt's and Pettineo's masking (2013).
        for (int i = 0; i < run.count; ++i) {
            const float nl = unit_cut(f.nx[i] * lx + f.ny[i] * ly + f.nz[i] * lz), nv = f.nz[i];
            const float nh = unit_cut(f.nx[i] * hx + f.ny[i] * hy + f.nz[i] * hz);
            const float nap = room.sheen * 2.0f / pi * (1.0f - nh * nh) * nl / (4.0f * (nl + nv - nl * nv) + 1e-4f) * seen[i];
            f.sum_red[i] += lamp.red * nap * (0.4f + 0.6f * red[i]),
                f.sum_green[i] += lamp.green * nap * (0.4f + 0.6f * green[i]);
            f.sum_blue[i] += lamp.blue * nap * (0.4f + 0.6f * blue[i]);
        }
    if (room.coat <= 0) return;
    const float a = least(room.coat_alpha + wide, 1.0f), a2 = a * a, m = 1.0f - hz, share = 0.04f + 0.96f * m * m * m * m * m;
    for (int i = 0; i < run.count; ++i) {
        const float nl = unit_cut(f.kx[i] * lx + f.ky[i] * ly + f.kz[i] * lz), nv = f.kz[i];
        const float nh = unit_cut(f.kx[i] * hx + f.ky[i] * hy + f.kz[i] * hz), d = nh * nh * (a2 - 1.0f) + 1.0f;
        const float distribution = a2 / (pi * d * d + 1e-7f);
        const float masking =
            0.5f / (nl * std::sqrt(nv * nv * (1.0f - a2) + a2) + nv * std::sqrt(nl * nl * (1.0f - a2) + a2) + 1e-5f);
        const float glint = share * least(distribution * masking * nl, 60.0f) * seen[i];
        f.coat_red[i] += lamp.red * glint, f.coat_green[i] += lamp.green * glint, f.coat_blue[i] += lamp.blue * glint;
    }
}

/// Adds what a coat mirrors of a light of the room.
void AddCoatLobe(int count, Frame& HWY_RESTRICT f, const LitLobe lobe, float alpha) {
    for (int i = 0; i < count; ++i) {
        const float nv = f.kz[i], facing = f.kx[i] * lobe.x + f.ky[i] * lobe.y + nv * lobe.z,
                    mirrored = 2.0f * nv * facing - lobe.z;
        const float mirror = 0.5f / (alpha * alpha * most(nv, 0.1f)), sharp = lobe.sharpness * mirror / (lobe.sharpness + mirror);
        const float m = 1.0f - nv, m2 = m * m, share = 0.04f + 0.96f * m2 * m2 * m;
        const float glow = share * sharp / lobe.sharpness * quick_exp(sharp * (mirrored - 1.0f));
        f.coat_red[i] += lobe.red * glow, f.coat_green[i] += lobe.green * glow, f.coat_blue[i] += lobe.blue * glow;
    }
}

/// What lies under the coat gets less light in and out; the coat comes on top.
void LayCoat(const LitRun& run, Frame& HWY_RESTRICT f, float coat) {
    const float* HWY_RESTRICT open = run.open;
    const float* HWY_RESTRICT shade = run.shade;
    for (int i = 0; i < run.count; ++i) {
        const float m = 1.0f - f.kz[i], m2 = m * m, share = coat * (0.04f + 0.96f * m2 * m2 * m),
                    keep = (1.0f - share) * (1.0f - share);
        // A coat fills hollows: it sees most of the room.
        const float sky = shade[i] * (0.5f + 0.5f * open[i]) * coat;
        f.sum_red[i] = f.sum_red[i] * keep + f.coat_red[i] * sky, f.sum_green[i] = f.sum_green[i] * keep + f.coat_green[i] * sky;
        f.sum_blue[i] = f.sum_blue[i] * keep + f.coat_blue[i] * sky;
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

/// Adds the room.
void AddRoom(const LitRun& run, Frame& HWY_RESTRICT f, float sheen) {
    const float* HWY_RESTRICT red = run.red;
    const float* HWY_RESTRICT green = run.green;
    const float* HWY_RESTRICT blue = run.blue;
    const float* HWY_RESTRICT metal = run.metal;
    const float* HWY_RESTRICT rough = run.rough;
    const float* HWY_RESTRICT open = run.open;
    const float* HWY_RESTRICT shade = run.shade;
    for (int i = 0; i < run.count; ++i) {
        // How much of the room a rough surface mirrors (Karis 2014, from Lazarov 2013).
        const float q = rough[i], r0 = 1.0f - q, r1 = 0.0425f - 0.0275f * q, r2 = 1.04f - 0.572f * q, r3 = 0.022f * q - 0.04f;
        const float edge = least(r0 * r0, quick_exp(-6.432f * f.nz[i])) * r0 + r1;
        const float scale = r2 - 1.04f * edge, bias = r3 + 1.04f * edge;
        const float sky = open[i] * shade[i], sky_mirror = sky * (0.35f + 0.65f * sky), body = sky * (1.0f - metal[i]);
        // Fibres seen from the side are lit from all round.
        const float m = 1.0f - f.nz[i], nap = sheen * 0.7f * m * m * sky;
        f.sum_red[i] += f.around_red[i] * (body * red[i] + nap * (0.4f + 0.6f * red[i])) +
                        sky_mirror * f.mirror_red[i] * (f.red[i] * scale + bias);
        f.sum_green[i] += f.around_green[i] * (body * green[i] + nap * (0.4f + 0.6f * green[i])) +
                          sky_mirror * f.mirror_green[i] * (f.green[i] * scale + bias);
        f.sum_blue[i] += f.around_blue[i] * (body * blue[i] + nap * (0.4f + 0.6f * blue[i])) +
                         sky_mirror * f.mirror_blue[i] * (f.blue[i] * scale + bias);
    }
}

/// Lays what comes together on film.
void Expose(int count, const float* HWY_RESTRICT light, float exposure, float* HWY_RESTRICT out) {
    // A soft shoulder: what is brighter than the screen runs into white.
    constexpr float knee = 0.62f;
    for (int i = 0; i < count; ++i) {
        const float x = most(light[i], 0.0f) * exposure;
        const float over = 1.0f - (1.0f - knee) * quick_exp(-(x - knee) / (1.0f - knee));
        // Beside a shape there is no direction, and so no number.
        out[i] = within(x < knee ? x : over, 0.0f, 1.0f);
    }
}

void Shade(const LitRun& run, const LitRoom& room) {
    Frame f;
    Stand(run, f);
    for (int i = 0; i < run.count; ++i) {
        f.mirror_red[i] = f.around_red[i] = room.ambient[0], f.mirror_green[i] = f.around_green[i] = room.ambient[1];
        f.mirror_blue[i] = f.around_blue[i] = room.ambient[2];
        f.sum_red[i] = f.sum_green[i] = f.sum_blue[i] = 0;
        f.coat_red[i] = f.coat_green[i] = f.coat_blue[i] = 0;
    }
    AddLamp(run, f, room.key, room, run.lamp_seen);
    AddLamp(run, f, room.second, room, run.shade);
    for (int k = 0; k < room.lobes; ++k) AddLobe(run.count, f, room.lobe[k]);
    AddRoom(run, f, room.sheen);
    if (room.coat > 0) {
        for (int k = 0; k < room.lobes; ++k) AddCoatLobe(run.count, f, room.lobe[k], room.coat_alpha);
        LayCoat(run, f, room.coat);
    }
    Expose(run.count, f.sum_red, room.exposure, run.out_red);
    Expose(run.count, f.sum_green, room.exposure, run.out_green);
    Expose(run.count, f.sum_blue, room.exposure, run.out_blue);
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
