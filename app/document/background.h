// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Work beside the interface, asked for and told on the interface's thread: nothing that touches disks, hashes, decodes, plans or
// renders is done on that thread itself.
#pragma once

#include <QString>
#include <functional>
#include <string>

#include "app/document/scheduler.h"

namespace loom {

/// A client of the program's scheduler. To be made and to go on the thread of the interface.
class Background : public Client {
public:
    /// `failed` shows the sentence of work that failed and hears of its end by nothing of its own.
    Background(std::string name, std::function<void(const QString&)> failed);
};

}  // namespace loom
