// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What somebody likes of the program, whatever recipe is open: plain settings, kept from one start to the next.
#pragma once

#include <QObject>
#include <QString>

#include "core/catalogue/kinds/curve.h"

namespace loom {

struct Preferences {
    enum class Theme { light, dark, system };

    Theme theme = Theme::light;
    int cache_mb = 1024;           ///< what pictures that were made are kept in
    int threads = 0;               ///< 0: all there are
    QString export_folder;         ///< "": beside the recipe
    double journal_seconds = 1.5;  ///< how old what is kept of unsaved changes may be
    int recent_files = 8;
    CurvePoints pressure = straight_curve();  ///< of the pen: as it presses, across; as the brush takes it, up

    static constexpr int least_cache_mb = 128, most_cache_mb = 65536, most_threads = 256, most_recent = 30;
    static constexpr double least_journal = 1, most_journal = 60;

    bool operator==(const Preferences&) const = default;
    /// From the settings; what is missing or strange there is as it is at first.
    static Preferences read();
    void write() const;
};

/// The one that holds. Whoever depends on it follows changed().
class PresentPreferences : public QObject {
    Q_OBJECT
public:
    static PresentPreferences& instance();
    const Preferences& get() const { return present_; }
    /// Takes effect at once and is kept.
    void set(const Preferences& next);
    /// How hard the brush presses when the pen presses so hard; both 0..1.
    double pressed(double pressure) const;

signals:
    void changed();

private:
    PresentPreferences();
    void take_effect() const;
    Preferences present_;
};

inline const Preferences& preferences() { return PresentPreferences::instance().get(); }

}  // namespace loom
