// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/object_edges.h"

namespace loom {

bool ObjectEdges::alone(int x, int y) const {
    const int width = ids_->width(), height = ids_->height(), l = wrap(x - 1, width), r = wrap(x + 1, width);
    const float own = ids_->row(y)[x];
    for (int j = -1; j <= 1; ++j) {
        const float* row = ids_->row(wrap(y + j, height));
        if (row[l] != own || row[x] != own || row[r] != own) return false;
    }
    return true;
}

ObjectEdges::Owners ObjectEdges::at(int x, int y) const {
    const float own = ids_->row(y)[x];
    Owners owners{own, 0};
    std::array<float, 9> others{}, shares{};
    std::size_t count = 0;
    around(x, y, [&](int i, int j, float weight) {
        const float id = ids_->row(j)[i];
        if (id == own) {
            owners.share += weight;
            return;
        }
        std::size_t k = 0;
        while (k < count && others[k] != id) ++k;
        if (k == count) others[count++] = id;
        shares[k] += weight;
    });
    float most = 0;
    for (std::size_t k = 0; k < count; ++k)
        if (shares[k] > most) most = shares[k], owners.second = others[k];
    return owners;
}

Plane ObjectEdges::smoothed(const Plane& values, Rows rows, const Job& job) const {
    Plane out(values.size(), rows);
    for_rows(job, out, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < out.width(); ++x) {
                float sum = 0;
                around(x, y, [&](int i, int j, float weight) { sum += weight * values.row(j)[i]; });
                out.row(y)[x] = sum;
            }
    });
    return out;
}

}  // namespace loom
