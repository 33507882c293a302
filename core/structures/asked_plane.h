// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A named plane that a source makes only where somebody reads it.
#pragma once

#include <string>
#include <string_view>
#include <utility>

#include "core/catalogue/context.h"
#include "core/image/plane_names.h"

namespace loom {

class AskedPlane {
public:
    AskedPlane(const StepContext& context, std::string_view name) : name_(name) {
        if (context.wants(name)) plane_ = Plane(context.size, 0.0f);
    }
    explicit operator bool() const { return plane_.width() > 0; }
    /// Null where nobody reads it, as is plane().
    float* row(int y) { return *this ? plane_.row(y) : nullptr; }
    Plane* plane() { return *this ? &plane_ : nullptr; }
    void hand_on(Bundle& bundle) {
        if (*this) bundle.named[std::string(name_)] = share(std::move(plane_));
    }

private:
    std::string_view name_;
    Plane plane_;
};

}  // namespace loom
