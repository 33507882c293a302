// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/wif.h"

#include <algorithm>
#include <bitset>
#include <charconv>
#include <map>
#include <optional>

#include "core/base/files.h"

namespace loom {

namespace {

using Section = std::map<std::string, std::string>;
using Sections = std::map<std::string, Section>;

std::string trimmed(std::string_view text) {
    const auto first = text.find_first_not_of(" \t\r"), last = text.find_last_not_of(" \t\r");
    return first == std::string_view::npos ? std::string() : std::string(text.substr(first, last - first + 1));
}

std::string lower(std::string text) {
    for (char& c : text) c = c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
    return text;
}

/// Sections and keys do not mind case; a semicolon begins a remark.
Sections sections_of(std::string_view text) {
    Sections sections;
    Section* current = nullptr;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t end = std::min(text.find('\n', at), text.size());
        std::string line = trimmed(text.substr(at, end - at));
        at = end + 1;
        if (const auto remark = line.find(';'); remark != std::string::npos) line = trimmed(line.substr(0, remark));
        if (line.empty()) continue;
        if (line.front() == '[' && line.back() == ']') {
            current = &sections[lower(trimmed(line.substr(1, line.size() - 2)))];
            continue;
        }
        const auto equals = line.find('=');
        if (current && equals != std::string::npos)
            (*current)[lower(trimmed(line.substr(0, equals)))] = trimmed(line.substr(equals + 1));
    }
    return sections;
}

std::optional<int> number(const std::string& text) {
    int value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc() || end != text.data() + text.size()) return std::nullopt;
    return value;
}

/// Threads, shafts and treadles are counted from 1 to this; as bits, so that long lists are compared at once.
constexpr int most_threads = 4096;
using Numbers = std::bitset<most_threads + 1>;

/// "1,3,4" of whole numbers from 1; 0 and nothing mean none.
std::optional<Numbers> numbers(const std::string& text) {
    Numbers all;
    for (std::size_t at = 0; at <= text.size();) {
        const std::size_t comma = std::min(text.find(',', at), text.size());
        const std::string word = trimmed(std::string_view(text).substr(at, comma - at));
        at = comma + 1;
        if (word.empty()) continue;
        const auto value = number(word);
        if (!value || *value < 0 || *value > most_threads) return std::nullopt;
        if (*value > 0) all.set(static_cast<std::size_t>(*value));
    }
    return all;
}

class Reader {
public:
    Reader(Sections sections, std::string name) : sections_(std::move(sections)), name_(std::move(name)) {}

    Result<Draft> read() {
        if (!sections_.contains("wif")) return fail("the section [WIF] is missing; this is not a WIF file");
        const auto ends = count("warp"), picks = count("weft");
        if (!ends) return ends.error();
        if (!picks) return picks.error();
        const auto threading = lists("threading", *ends);
        if (!threading) return threading.error();
        std::vector<Numbers> lifted;
        if (sections_.contains("liftplan")) {
            const auto plan = lists("liftplan", *picks);
            if (!plan) return plan.error();
            lifted = *plan;
        } else {
            const auto treadling = lists("treadling", *picks);
            if (!treadling) return treadling.error();
            Numbers used;
            for (const Numbers& pick : *treadling) used |= pick;
            int treadles = most_threads;
            while (treadles > 0 && !used[static_cast<std::size_t>(treadles)]) --treadles;
            const auto tieup = lists("tieup", treadles);
            if (!tieup) return tieup.error();
            for (const Numbers& pick : *treadling) {
                Numbers shafts;
                for (std::size_t treadle = pick._Find_first(); treadle < pick.size(); treadle = pick._Find_next(treadle))
                    shafts |= (*tieup)[treadle - 1];
                lifted.push_back(shafts);
            }
        }
        const std::string shed = lower(value("weaving", "rising shed"));
        const bool sinking = shed == "false" || shed == "no" || shed == "off" || shed == "0";
        Draft draft{*ends, *picks, {}};
        draft.up.reserve(static_cast<std::size_t>(*ends) * static_cast<std::size_t>(*picks));
        for (const Numbers& lifts : lifted)
            for (const Numbers& shafts : *threading) draft.up.push_back((shafts & lifts).any() != sinking);
        draft = smallest_repeat(draft);
        if (draft.ends > most_draft || draft.picks > most_draft)
            return fail("the repeat has " + std::to_string(draft.ends) + " ends and " + std::to_string(draft.picks) +
                        " picks; at most " + std::to_string(most_draft) + " are read");
        return draft;
    }

private:
    Error fail(const std::string& what) const {
        Error error{Fault::file, name_};
        error.message.append(": ").append(what);
        return error;
    }
    std::string value(const std::string& section, const std::string& key) const {
        const auto found = sections_.find(section);
        if (found == sections_.end()) return {};
        const auto entry = found->second.find(key);
        return entry == found->second.end() ? std::string() : entry->second;
    }
    Result<int> count(const std::string& section) const {
        const auto threads = number(value(section, "threads"));
        if (!threads || *threads < 1 || *threads > most_threads)
            return fail("[" + section + "] has no number of threads between 1 and " + std::to_string(most_threads));
        return *threads;
    }
    /// One list for each of the keys 1 to count; a key that is missing has none.
    Result<std::vector<Numbers>> lists(const std::string& section, int count) const {
        const auto found = sections_.find(section);
        if (found == sections_.end()) return fail("the section [" + section + "] is missing");
        std::vector<Numbers> all;
        for (int k = 1; k <= count; ++k) {
            const std::string text = value(section, std::to_string(k));
            const auto list = numbers(text);
            if (!list) return fail("[" + section + "] " + std::to_string(k) + "=" + text + " is not a list of numbers");
            all.push_back(*list);
        }
        return all;
    }

    Sections sections_;
    std::string name_;
};

/// Numbers from 1 for what is alike among `count` things.
template <class Alike>
std::vector<int> kinds_of(int count, Alike alike, int& kinds) {
    std::vector<int> kind(static_cast<std::size_t>(count), 0);
    kinds = 0;
    for (int k = 0; k < count; ++k) {
        for (int earlier = 0; earlier < k && kind[static_cast<std::size_t>(k)] == 0; ++earlier)
            if (alike(earlier, k)) kind[static_cast<std::size_t>(k)] = kind[static_cast<std::size_t>(earlier)];
        if (kind[static_cast<std::size_t>(k)] == 0) kind[static_cast<std::size_t>(k)] = ++kinds;
    }
    return kind;
}

}  // namespace

Result<Draft> read_wif(std::string_view text, const std::string& name) { return Reader(sections_of(text), name).read(); }

Result<Draft> read_wif_file(const std::string& path) {
    constexpr std::size_t most_bytes = std::size_t{4} << 20;
    const auto bytes = read_file(path, most_bytes);
    if (!bytes) return bytes.error();
    return read_wif(*bytes, path);
}

std::string write_wif(const Draft& draft) {
    int shafts = 0, treadles = 0;
    const std::vector<int> shaft = kinds_of(
        draft.ends,
        [&](int a, int b) {
            for (int j = 0; j < draft.picks; ++j)
                if (draft.over(a, j) != draft.over(b, j)) return false;
            return true;
        },
        shafts);
    const std::vector<int> treadle = kinds_of(
        draft.picks,
        [&](int a, int b) {
            for (int i = 0; i < draft.ends; ++i)
                if (draft.over(i, a) != draft.over(i, b)) return false;
            return true;
        },
        treadles);
    std::string text = "[WIF]\nVersion=1.1\nDate=April 20, 1997\nSource Program=Keen Loom\n\n";
    text += "[CONTENTS]\nWEAVING=true\nWARP=true\nWEFT=true\nTHREADING=true\nTIEUP=true\nTREADLING=true\n\n";
    text += "[WEAVING]\nShafts=" + std::to_string(shafts) + "\nTreadles=" + std::to_string(treadles) + "\nRising Shed=true\n\n";
    text += "[WARP]\nThreads=" + std::to_string(draft.ends) + "\n\n[WEFT]\nThreads=" + std::to_string(draft.picks) +
            "\n\n[THREADING]\n";
    for (int i = 0; i < draft.ends; ++i)
        text += std::to_string(i + 1) + "=" + std::to_string(shaft[static_cast<std::size_t>(i)]) + "\n";
    text += "\n[TIEUP]\n";
    for (int t = 1; t <= treadles; ++t) {
        const int pick = static_cast<int>(std::find(treadle.begin(), treadle.end(), t) - treadle.begin());
        std::set<int> lifted;
        for (int i = 0; i < draft.ends; ++i)
            if (draft.over(i, pick)) lifted.insert(shaft[static_cast<std::size_t>(i)]);
        std::string list;
        for (int s : lifted) list.append(list.empty() ? "" : ",").append(std::to_string(s));
        text += std::to_string(t) + "=" + (list.empty() ? "0" : list) + "\n";
    }
    text += "\n[TREADLING]\n";
    for (int j = 0; j < draft.picks; ++j)
        text += std::to_string(j + 1) + "=" + std::to_string(treadle[static_cast<std::size_t>(j)]) + "\n";
    return text;
}

}  // namespace loom
