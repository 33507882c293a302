// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The pictures of a try sheet in rows and columns, walked by arrow keys: one is chosen, one is how things are now.
#pragma once

#include <QImage>
#include <QWidget>
#include <set>
#include <vector>

namespace loom {

class TrySheet : public QWidget {
    Q_OBJECT
public:
    explicit TrySheet(QWidget* parent = nullptr);

    /// Empty pictures with these captions; `columns` 0: as many as there is room for. Heads and sides stand beside a sheet of two
    /// axes instead of captions.
    void begin(QStringList captions, int columns, QStringList heads = {}, QStringList sides = {});
    void set_picture(int index, const QImage& picture);
    /// A ramp under each picture, for tries of ramps; as many as there are pictures, or none.
    void set_ramps(std::vector<QImage> ramps);
    /// One that cannot be rendered.
    void set_failed(int index);
    /// How things are now; -1: none of them.
    void set_present(int index);
    void set_kept(std::set<int> kept);
    void choose(int index);

    int count() const { return static_cast<int>(cells_.size()); }
    int chosen() const { return chosen_; }
    int present() const { return present_; }
    const QImage& picture(int index) const { return cells_[static_cast<std::size_t>(index)].picture; }
    QString caption(int index) const { return cells_[static_cast<std::size_t>(index)].caption; }
    /// Those that are looked at side by side, besides the chosen one.
    const std::vector<int>& compared() const { return compared_; }
    int columns() const;
    int rows() const;
    /// Of a picture, for tests.
    QRect place(int index) const;

signals:
    void chosen_changed(int index);
    void taken(int index);
    void keep_wanted(int index);
    void compared_changed();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }

private:
    std::vector<QImage> ramps_;
    struct Cell {
        QString caption;
        QImage picture;
        bool failed = false;
    };
    struct Grid {
        int columns = 1, side = 0, below = 0;  ///< pictures in a row, their longer side, room for a caption
        int left = 0, top = 0;
    };
    Grid grid() const;
    int at(const QPoint& place) const;
    void compare(int index);
    void paint_cell(QPainter& painter, int index) const;

    std::vector<Cell> cells_;
    QStringList heads_, sides_;
    int fixed_columns_ = 0, chosen_ = -1, present_ = -1;
    std::set<int> kept_;
    std::vector<int> compared_;
};

}  // namespace loom
