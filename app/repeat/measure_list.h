// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The measures one below the other: a number, where it lies between good and bad, a sentence, and what may help.
#pragma once

#include <QWidget>
#include <vector>

#include "core/measure/judgement.h"

class QLabel;
class QPushButton;

namespace loom {

/// A scale with the range that is good, and a mark for where a value lies.
class MeasureScale : public QWidget {
public:
    MeasureScale(const MeasureInfo& info, QWidget* parent);
    void show_value(double value, bool known);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    const MeasureInfo& info_;
    double value_ = 0;
    bool known_ = false;
};

class MeasureList : public QWidget {
    Q_OBJECT
public:
    explicit MeasureList(QWidget* parent = nullptr);
    void show_measures(const Measures& measures);
    /// Greys the numbers while they belong to an older cloth.
    void set_stale(bool stale);
    /// While one remedy is looked for no other can be.
    void set_busy(bool busy);
    /// For tests: the button of a remedy beside a measure; null if it is not offered.
    QPushButton* button(MeasureKind kind, Remedy remedy) const;
    QString sentence(MeasureKind kind) const;
    QPushButton* more_button() const { return more_; }

signals:
    void remedy_wanted(loom::Remedy remedy);

private:
    struct Row {
        QWidget* box = nullptr;
        QLabel *value, *sentence;
        MeasureScale* scale;
        std::vector<std::pair<Remedy, QPushButton*>> remedies;
    };
    void refresh();
    /// The first three, or all.
    void show_all(bool all);
    std::vector<Row> rows_;
    Measures measures_;
    bool known_ = false, stale_ = false, busy_ = false;
    QPushButton* more_;
};

}  // namespace loom
