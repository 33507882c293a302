// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// All strands side by side, small, over those that are in view: which they are, and where to go.
#pragma once

#include <QImage>
#include <QWidget>
#include <string>
#include <vector>

namespace loom {

class StrandsOverview : public QWidget {
    Q_OBJECT
public:
    struct Cell {
        std::string strand;
        QString name;
        QImage picture;  ///< what comes out of it; may be null
        bool on = true, selected = false, in_view = false;
    };
    static constexpr int strip_height = 32;

    explicit StrandsOverview(QWidget* parent = nullptr);
    void set_cells(std::vector<Cell> cells);
    const std::vector<Cell>& cells() const { return cells_; }
    QRect place(std::size_t index) const;

signals:
    void wanted(const std::string& strand);

protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    int at(const QPoint& place) const;
    std::vector<Cell> cells_;
};

}  // namespace loom
