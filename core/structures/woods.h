// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Which trees Growth rings knows, and what each sets its other parameters to.
#pragma once

#include <vector>

#include "core/catalogue/description.h"

namespace loom {

inline std::vector<Choice> woods() {
    return {{"oak",
             "Oak",
             {{"bands", 36.0},
              {"early", 25.0},
              {"late", 45.0},
              {"wobble", 56.0},
              {"comb", 12.0},
              {"fibres", 75.0},
              {"broad-fibres", 100.0},
              {"pores", 30.0},
              {"pore-length", 11.0},
              {"pore-width", 0.9},
              {"pores-early", 93.0},
              {"rays", 15.0},
              {"knots", 1.0}}},
            {"walnut",
             "Walnut",
             {{"bands", 24.0},
              {"early", 12.0},
              {"late", 38.0},
              {"wobble", 90.0},
              {"comb", 14.0},
              {"fibres", 62.0},
              {"broad-fibres", 190.0},
              {"pores", 22.0},
              {"pore-length", 15.0},
              {"pore-width", 1.1},
              {"pores-early", 40.0},
              {"rays", 4.0},
              {"knots", 0.0}}},
            {"pine",
             "Pine",
             {{"bands", 20.0},
              {"early", 0.0},
              {"late", 62.0},
              {"wobble", 50.0},
              {"comb", 5.0},
              {"fibres", 42.0},
              {"broad-fibres", 70.0},
              {"pores", 0.0},
              {"rays", 0.0},
              {"knots", 2.0}}}};
}

}  // namespace loom
