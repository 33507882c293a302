// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/base/draft.h"

#include <initializer_list>
#include <numeric>

namespace loom {

namespace {

template <class Over>
Draft filled(int ends, int picks, Over over) {
    Draft draft{ends, picks, std::vector<bool>(static_cast<std::size_t>(ends) * static_cast<std::size_t>(picks))};
    for (int j = 0; j < picks; ++j)
        for (int i = 0; i < ends; ++i)
            draft.up[static_cast<std::size_t>(j) * static_cast<std::size_t>(ends) + static_cast<std::size_t>(i)] = over(i, j);
    return draft;
}

Error fault(std::initializer_list<std::string> parts) {
    Error error{Fault::recipe, {}};
    for (const std::string& part : parts) error.message += part;
    return error;
}

int rest(int value, int count) { return ((value % count) + count) % count; }

}  // namespace

Draft plain_draft() {
    return filled(2, 2, [](int i, int j) { return (i + j) % 2 == 0; });
}

Draft twill_draft(int over, int under, bool to_right) {
    const int count = over + under;
    return filled(count, count, [=](int i, int j) { return rest(to_right ? j - i : j + i, count) < over; });
}

Draft satin_draft(int count, int step) {
    // Steps of 1 make a twill; from there to the nearest that visits every pick.
    int found = 1;
    for (int off = 0; off < count && found == 1; ++off)
        for (int candidate : {step + off, step - off})
            if (candidate > 1 && candidate < count - 1 && std::gcd(candidate, count) == 1) {
                found = candidate;
                break;
            }
    return filled(count, count, [=](int i, int j) { return j != (i * found) % count; });
}

Draft basket_draft(int size) {
    return filled(2 * size, 2 * size, [=](int i, int j) { return (i / size + j / size) % 2 == 0; });
}

Draft herringbone_draft(int over, int under) {
    const int count = over + under, stripe = 2 * count;
    return filled(2 * stripe, count, [=](int i, int j) {
        // On the way back everything is turned over where the direction changes, which makes the clear line.
        const int shift = i < stripe ? i : 2 * stripe - 1 - i + over;
        return rest(j - shift, count) < over;
    });
}

std::string draft_text(const Draft& draft) {
    std::string text;
    for (int j = 0; j < draft.picks; ++j) {
        if (j > 0) text += '/';
        for (int i = 0; i < draft.ends; ++i) text += draft.over(i, j) ? '#' : '.';
    }
    return text;
}

Result<Draft> read_draft(std::string_view text) {
    Draft draft{0, 0, {}};
    int column = 0;
    for (std::size_t k = 0; k <= text.size(); ++k) {
        if (k == text.size() || text[k] == '/') {
            if (draft.picks == 0) draft.ends = column;
            if (column != draft.ends || column == 0)
                return fault({"row ", std::to_string(draft.picks + 1), " has ", std::to_string(column), " marks and the first ",
                              std::to_string(draft.ends), "; all rows need as many, at least one"});
            ++draft.picks, column = 0;
            continue;
        }
        if (text[k] != '#' && text[k] != '.')
            return fault({"character ", std::to_string(k + 1), " is neither '#' (warp on top) nor '.' nor '/'"});
        draft.up.push_back(text[k] == '#'), ++column;
    }
    if (draft.ends > most_draft || draft.picks > most_draft)
        return fault({"the draft has more than ", std::to_string(most_draft), " ends or picks"});
    return draft;
}

Draft smallest_repeat(const Draft& draft) {
    auto repeats = [&](int across, int down) {
        for (int j = 0; j < draft.picks; ++j)
            for (int i = 0; i < draft.ends; ++i)
                if (draft.over(i, j) != draft.over(i + across, j + down)) return false;
        return true;
    };
    int ends = 1, picks = 1;
    while (ends < draft.ends && (draft.ends % ends != 0 || !repeats(ends, 0))) ++ends;
    while (picks < draft.picks && (draft.picks % picks != 0 || !repeats(0, picks))) ++picks;
    return filled(ends, picks, [&](int i, int j) { return draft.over(i, j); });
}

std::vector<NamedDraft> trade_drafts() {
    return {{"Canvas (plain)", plain_draft()},
            {"Panama (basket 2)", basket_draft(2)},
            {"Serge (2/2 twill)", twill_draft(2, 2, true)},
            {"Denim (3/1 twill)", twill_draft(3, 1, true)},
            {"Drill (2/1 twill)", twill_draft(2, 1, false)},
            {"Satin of 5", satin_draft(5, 2)},
            {"Satin of 8", satin_draft(8, 3)},
            {"Herringbone (2/2)", herringbone_draft(2, 2)}};
}

}  // namespace loom
