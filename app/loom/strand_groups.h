// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Strands that are folded to their name, and the names of groups above the strands they hold.
#pragma once

#include <QWidget>
#include <string>

class QToolButton;

namespace loom {

/// Height of the strip in which groups' names stand.
constexpr int group_strip = 20;

/// One strand or one group, folded to a narrow thread with its name along it.
class FoldedStrands : public QWidget {
    Q_OBJECT
public:
    /// `strand`: the first one; `count`: how many are folded, 0 for a strand by itself.
    FoldedStrands(std::string strand, const QString& name, int count, bool on, QWidget* parent = nullptr);
    const std::string& strand_id() const { return strand_; }
    bool of_group() const { return count_ > 0; }
    QToolButton* unfold_button() const { return unfold_; }
    bool on() const { return on_; }
    void set_selected(bool selected);
    /// Keeps name and foot within what can be seen.
    void pin(int top, int height);

signals:
    void chosen();
    void unfold_wanted();
    void menu_wanted(const QPoint& place);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;

private:
    std::string strand_;
    QString name_;
    int count_;
    bool on_, selected_ = false;
    int top_ = 0, seen_ = 0;
    QToolButton* unfold_;
};

/// A group's name over its strands; a click folds it, a double click renames it.
class GroupBand : public QWidget {
    Q_OBJECT
public:
    GroupBand(std::string strand, const QString& name, QWidget* parent = nullptr);
    const std::string& strand_id() const { return strand_; }
    QToolButton* fold_button() const { return fold_; }

signals:
    void fold_wanted();
    void rename_wanted();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;

private:
    std::string strand_;
    QString name_;
    QToolButton* fold_;
};

}  // namespace loom
