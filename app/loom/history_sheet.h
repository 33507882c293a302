// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Every state of the recipe since it was opened, as pictures that one can go back to.
#pragma once

#include <QImage>
#include <QWidget>
#include <vector>

#include "app/document/session.h"
#include "app/document/try_service.h"

class QListWidget;

namespace loom {

class HistorySheet : public QWidget {
    Q_OBJECT
public:
    explicit HistorySheet(Session& session, QWidget* parent = nullptr);

    QListWidget* list() const { return list_; }
    /// Whether every picture has come.
    bool complete() const { return missing_ == 0; }

signals:
    void closed();
    /// To have that state beside the present one.
    void pin_wanted(const loom::Recipe& state, const QString& name);

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void follow();
    void go();
    void pin();

    struct Known {
        Recipe recipe;
        QImage picture;
    };
    Session& session_;
    QListWidget* list_;
    TryService service_{160};
    std::vector<Known> known_;  ///< by row, the newest first
    std::vector<int> asked_;    ///< rows whose pictures were asked for
    std::uint64_t ticket_ = 0;
    int missing_ = 0;
    bool updating_ = false;
};

}  // namespace loom
