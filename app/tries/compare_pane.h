// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A few pictures large, to be judged against each other: under each other, beside each other, or one over another with a line to
// be dragged between them.
#pragma once

#include <QImage>
#include <QWidget>
#include <vector>

namespace loom {

class ComparePane : public QWidget {
    Q_OBJECT
public:
    enum class Way { stacked, beside, wipe };

    struct Picture {
        QString name, note;  ///< below it: what it is, and its measures
        QImage image;
    };

    explicit ComparePane(QWidget* parent = nullptr);

    void set_pictures(std::vector<Picture> pictures);
    const std::vector<Picture>& pictures() const { return pictures_; }
    void set_way(Way way);
    Way way() const { return way_; }
    /// Where the line of a wipe stands, 0..1 of the picture's width.
    double line() const { return line_; }
    void set_line(double line);
    /// Of the picture at this place, for tests.
    QRect place(int index) const;

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }

private:
    QRect box(int index) const;
    QRect fitted(const QRect& box, const QImage& image) const;
    bool wipes() const { return way_ == Way::wipe && pictures_.size() > 1; }

    std::vector<Picture> pictures_;
    Way way_ = Way::stacked;
    double line_ = 0.5;
};

}  // namespace loom
