// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Short remarks beside the real controls, for the first cloth that somebody weaves. Each goes when it is followed or passed over.
#pragma once

#include <QFrame>
#include <QTimer>
#include <functional>
#include <vector>

class QLabel;
class QPushButton;

namespace loom {

struct Remark {
    QString text;
    /// The control it speaks of; null while it is not to be had: the remark waits then, with `elsewhere` added to it.
    std::function<QWidget*()> beside;
    /// Called when the control is there first; what it returns says whether the remark was followed.
    std::function<std::function<bool()>()> watch;
    QString elsewhere;  ///< where the control is to be found
};

class FirstCloth : public QFrame {
    Q_OBJECT
public:
    FirstCloth(std::vector<Remark> remarks, QWidget* window);
    void begin();
    /// Which remark is on show, counted from 0; -1 before the first and after the last.
    int present() const { return present_; }
    int count() const { return static_cast<int>(remarks_.size()); }
    QPushButton* pass_button() const { return pass_; }
    QPushButton* end_button() const { return end_; }
    QString text() const;

signals:
    /// After the last, or when somebody has enough.
    void ended();

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void show_next();
    void end();
    void look();
    void place(QWidget* beside);

    std::vector<Remark> remarks_;
    int present_ = -1;
    std::function<bool()> followed_;
    QLabel *count_, *text_;
    QPushButton *pass_, *end_;
    QTimer timer_;
    enum class Side { none, left, right, above, below } side_ = Side::none;  ///< of the remark, where the control is
    int pointer_ = 0;                                                        ///< along that side
};

}  // namespace loom
