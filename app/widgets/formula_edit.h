// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A formula: the expression in a field that marks the character at which it goes wrong, and all words it may use.
#pragma once

#include <QTimer>
#include <QWidget>

class QCompleter;
class QLabel;
class QPlainTextEdit;
class QToolButton;

namespace loom {

class FormulaEdit : public QWidget {
    Q_OBJECT
public:
    explicit FormulaEdit(const QString& accessible_name, QWidget* parent = nullptr);

    void set_expression(const QString& text);
    QPlainTextEdit* field() const { return field_; }
    /// What is wrong now, as it is shown, or "".
    QString fault() const;
    QSize sizeHint() const override { return {320, 104}; }

signals:
    /// A sound expression, a moment after the last key; changes of one visit to the field belong together.
    void changed(const QString& text, const QString& gesture);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void check();
    void commit();
    /// Offers words while they are typed.
    void complete_words();
    void offer_words();
    /// What stands of a word before the cursor.
    QString begun() const;
    void fill_words();

    QCompleter* completer_ = nullptr;
    bool typing_ = false;  ///< a key is being answered
    QPlainTextEdit* field_;
    QLabel* fault_;
    QToolButton* words_;
    QTimer later_;
    QString committed_;
    int visits_ = 0;
    bool sound_ = true;
};

}  // namespace loom
