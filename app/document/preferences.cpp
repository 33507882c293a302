// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/preferences.h"

#include <QApplication>
#include <QSettings>
#include <algorithm>
#include <cmath>

#include "app/document/scheduler.h"
#include "app/theme/theme.h"
#include "core/base/job.h"
#include "core/structures/tone_curve.h"

namespace loom {

namespace {

constexpr const char* group = "preferences/";
constexpr const char* theme_words[] = {"light", "dark", "system"};

double number_in(const QSettings& settings, const char* key, double otherwise, double least, double most) {
    bool number = false;
    const double found = settings.value(QString(group) + key).toDouble(&number);
    return number && std::isfinite(found) ? std::clamp(found, least, most) : otherwise;
}

CurvePoints points_in(const QVariant& kept) {
    CurvePoints points;
    for (const QVariant& each : kept.toList()) {
        const QPointF point = each.toPointF();
        points.push_back({std::clamp(point.x(), 0.0, 1.0), std::clamp(point.y(), 0.0, 1.0)});
    }
    const bool rising =
        std::is_sorted(points.begin(), points.end(), [](const CurvePoint& a, const CurvePoint& b) { return a.in < b.in; });
    return points.size() >= 2 && points.size() <= 64 && rising ? points : straight_curve();
}

}  // namespace

Preferences Preferences::read() {
    const QSettings settings;
    Preferences read;
    const QString theme = settings.value(QString(group) + "theme").toString();
    for (std::size_t k = 0; k < std::size(theme_words); ++k)
        if (theme == theme_words[k]) read.theme = static_cast<Theme>(k);
    // Before there were more than two.
    if (theme.isEmpty() && settings.value("dark").toBool()) read.theme = Theme::dark;
    read.cache_mb = static_cast<int>(number_in(settings, "cache-mb", read.cache_mb, least_cache_mb, most_cache_mb));
    read.threads = static_cast<int>(number_in(settings, "threads", read.threads, 0, most_threads));
    read.export_folder = settings.value(QString(group) + "export-folder").toString();
    read.journal_seconds = number_in(settings, "journal-seconds", read.journal_seconds, least_journal, most_journal);
    read.recent_files = static_cast<int>(number_in(settings, "recent-files", read.recent_files, 0, most_recent));
    read.pressure = points_in(settings.value(QString(group) + "pressure"));
    return read;
}

void Preferences::write() const {
    QSettings settings;
    const auto put = [&](const char* key, const QVariant& value) { settings.setValue(QString(group) + key, value); };
    put("theme", theme_words[static_cast<std::size_t>(theme)]);
    put("cache-mb", cache_mb);
    put("threads", threads);
    put("export-folder", export_folder);
    put("journal-seconds", journal_seconds);
    put("recent-files", recent_files);
    QVariantList points;
    for (const CurvePoint& point : pressure) points << QPointF(point.in, point.out);
    put("pressure", points);
}

PresentPreferences::PresentPreferences() : present_(Preferences::read()) { take_effect(); }

PresentPreferences& PresentPreferences::instance() {
    static PresentPreferences one;
    return one;
}

void PresentPreferences::take_effect() const {
    scheduler().cache().set_budget(static_cast<std::size_t>(present_.cache_mb) << 20);
    use_threads(present_.threads);
}

void PresentPreferences::set(const Preferences& next) {
    const theme::Scheme scheme = theme::wanted(next.theme == Preferences::Theme::dark, next.theme == Preferences::Theme::system);
    if (next == present_ && scheme == theme::scheme()) return;
    present_ = next;
    present_.write();
    take_effect();
    if (scheme != theme::scheme()) theme::apply(*qApp, scheme);
    emit changed();
}

double PresentPreferences::pressed(double pressure) const {
    if (present_.pressure == straight_curve()) return pressure;
    return std::clamp(ToneCurve(present_.pressure).exactly(std::clamp(pressure, 0.0, 1.0)), 0.0, 1.0);
}

}  // namespace loom
