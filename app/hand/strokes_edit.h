// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The brush and the list of strokes at the desk. A stroke under the pointer is shown on the cloth; those that are chosen can be
// taken away, muted, moved up and down, and drawn anew with another size, strength or softness.
#pragma once

#include <QAbstractListModel>
#include <QListView>
#include <QWidget>

#include "app/hand/brush.h"
#include "app/widgets/colour_button.h"
#include "app/widgets/number_edit.h"

class QToolButton;
class QLabel;

namespace loom {

class StrokeList : public QAbstractListModel {
    Q_OBJECT
public:
    using QAbstractListModel::QAbstractListModel;
    void set_strokes(const Strokes& strokes, const Parameter& parameter);
    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;

private:
    Strokes strokes_;
    std::vector<Choice> tools_;
};

class StrokesEdit : public QWidget {
    Q_OBJECT
public:
    StrokesEdit(Session& session, Brush& brush, const Parameter& parameter, QWidget* parent = nullptr);

    /// Takes the recipe's strokes and the brush as they are now.
    void refresh();
    QListView* list() const { return list_; }
    NumberEdit* size_edit() const { return size_; }
    NumberEdit* strength_edit() const { return strength_; }
    QToolButton* tool_button(const QString& tool) const;
    QToolButton* remove_button() const { return remove_; }
    QToolButton* mute_button() const { return mute_; }
    QToolButton* up_button() const { return up_; }
    QToolButton* down_button() const { return down_; }

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    std::vector<int> chosen() const;
    void apply(const Strokes& strokes, const QString& text, const QString& gesture = {});
    /// Changes the brush, and the chosen strokes if there are any.
    void change(const std::function<void(Stroke&)>& edit, const QString& text, const QString& gesture);
    void move(int way);

    Session& session_;
    Brush& brush_;
    const Parameter& parameter_;
    StrokeList* strokes_;
    QListView* list_;
    NumberEdit *size_, *strength_, *softness_;
    ColourButton* colour_ = nullptr;
    QLabel *colour_label_ = nullptr, *empty_;
    QToolButton *remove_, *mute_, *up_, *down_;
    bool refreshing_ = false;
};

}  // namespace loom
