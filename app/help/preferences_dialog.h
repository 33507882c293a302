// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The preferences: one line each, with a sentence that says what it is for. What is changed holds at once.
#pragma once

#include <QDialog>

#include "app/document/preferences.h"

class QComboBox;
class QDoubleSpinBox;
class QLineEdit;
class QVBoxLayout;

namespace loom {

class CurveArea;

class PreferencesDialog : public QDialog {
    Q_OBJECT
public:
    explicit PreferencesDialog(QWidget* parent = nullptr);
    QComboBox* theme_box() const { return theme_; }
    QDoubleSpinBox* cache_field() const { return cache_; }
    QDoubleSpinBox* threads_field() const { return threads_; }
    QDoubleSpinBox* journal_field() const { return journal_; }
    QDoubleSpinBox* recent_field() const { return recent_; }
    QLineEdit* folder_field() const { return folder_; }
    CurveArea* pressure_area() const { return pressure_; }

private:
    QDoubleSpinBox* number(QVBoxLayout* stack, const QString& title, const QString& sentence, const QString& unit, double least,
                           double most, int digits);
    void add(QVBoxLayout* stack, const QString& title, const QString& sentence, QWidget* editor);
    void show_all();
    void take();

    QComboBox* theme_;
    QDoubleSpinBox *cache_, *threads_, *journal_, *recent_;
    QLineEdit* folder_;
    CurveArea* pressure_;
    bool showing_ = false;
};

}  // namespace loom
