// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A formula: the expression in a field that marks the character at which it goes wrong, and all words it may use.
#pragma once

#include <QTimer>
#include <QWidget>
#include <vector>

class QCompleter;
class QLabel;
class QMenu;
class QPlainTextEdit;
class QToolButton;

namespace loom {

class FormulaEdit : public QWidget {
    Q_OBJECT
public:
    static constexpr int picture_side = 36;
    explicit FormulaEdit(const QString& accessible_name, QWidget* parent = nullptr);

    void set_expression(const QString& text);
    QPlainTextEdit* field() const { return field_; }
    /// What the strands that are read hand on beside their tone, listed among the words.
    struct Part {
        QString word, help;
        bool operator==(const Part&) const = default;
    };
    void set_parts(std::vector<Part> parts);
    void set_part_picture(std::size_t part, const QImage& picture);
    QMenu* part_list() const { return parts_menu_; }
    /// What is wrong now, as it is shown, or "".
    QString fault() const;
    QSize sizeHint() const override { return {320, 104}; }

signals:
    /// A sound expression, a moment after the last key; changes of one visit to the field belong together.
    void changed(const QString& text, const QString& gesture);
    /// Somebody looks at the parts, and should see what they look like now.
    void parts_shown();

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
    void add_word(QMenu* menu, const QString& form, const QString& help);

    QCompleter* completer_ = nullptr;
    bool typing_ = false;  ///< a key is being answered
    QPlainTextEdit* field_;
    QLabel* fault_;
    QToolButton* words_;
    QMenu* parts_menu_ = nullptr;
    std::vector<Part> parts_;
    QTimer later_;
    QString committed_;
    int visits_ = 0;
    bool sound_ = true;
};

}  // namespace loom
