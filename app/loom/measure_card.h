// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// One measure, explained beside its number: what it means, what is seen now, and how it looks where it is low and high.
#pragma once

#include <QFrame>
#include <map>

#include "app/document/try_service.h"
#include "core/measure/judgement.h"

class QLabel;

namespace loom {

class MeasureCard : public QFrame {
    Q_OBJECT
public:
    explicit MeasureCard(QWidget* parent = nullptr);
    /// Above the place, which is the middle of what it explains; global.
    void explain(MeasureKind kind, const Measures& measures, const QPoint& place);
    MeasureKind kind() const { return kind_; }
    QString text() const;
    /// Whether both pictures have come.
    bool complete() const;

private:
    void show_pictures();

    TryService service_{96};
    std::uint64_t ticket_ = 0;
    MeasureKind kind_ = MeasureKind::across;
    std::map<MeasureKind, std::array<QImage, 2>> pictures_;
    QLabel *title_, *words_, *now_;
    QLabel* shown_[2];
    QLabel* captions_[2];
};

}  // namespace loom
