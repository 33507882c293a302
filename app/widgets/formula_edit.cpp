// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/formula_edit.h"

#include <QAbstractItemView>
#include <QCompleter>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMenu>
#include <QPlainTextEdit>
#include <QProxyStyle>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/theme/theme.h"
#include "app/widgets/text.h"
#include "core/steps/formula/formula.h"

namespace loom {

/// Leaves the keys that choose to an open list of words, and says when somebody types.
class FormulaField : public QPlainTextEdit {
public:
    FormulaField(bool& typing, QWidget* parent) : QPlainTextEdit(parent), typing_(typing) {}
    const QCompleter* completer = nullptr;

protected:
    void keyPressEvent(QKeyEvent* event) override {
        constexpr int choosing[] = {Qt::Key_Return, Qt::Key_Enter, Qt::Key_Escape, Qt::Key_Tab, Qt::Key_Backtab};
        const bool chooses = std::find(std::begin(choosing), std::end(choosing), event->key()) != std::end(choosing);
        if (completer && completer->popup()->isVisible() && chooses) return event->ignore();
        typing_ = true;
        QPlainTextEdit::keyPressEvent(event);
        typing_ = false;
    }

private:
    bool& typing_;
};

/// Menus of pictures need them large enough to be told apart.
class PictureMenuStyle : public QProxyStyle {
public:
    int pixelMetric(PixelMetric metric, const QStyleOption* option, const QWidget* widget) const override {
        return metric == PM_SmallIconSize ? FormulaEdit::picture_side : QProxyStyle::pixelMetric(metric, option, widget);
    }
};

FormulaEdit::FormulaEdit(const QString& accessible_name, QWidget* parent) : QWidget(parent) {
    auto* field = new FormulaField(typing_, this);
    field_ = field;
    field_->setAccessibleName(accessible_name);
    field_->setTabChangesFocus(true);
    field_->setFixedHeight(62);
    QFont mono("monospace");
    mono.setStyleHint(QFont::Monospace);
    mono.setPixelSize(12);
    field_->setFont(mono);
    fault_ = new QLabel(this);
    fault_->setFont(theme::small_font());
    fault_->setWordWrap(true);
    words_ = new QToolButton(this);
    words_->setText(tr("Words"));
    words_->setToolTip(tr("All words that a formula knows; a click puts one in"));
    words_->setPopupMode(QToolButton::InstantPopup);
    words_->setFocusPolicy(Qt::StrongFocus);
    fill_words();
    set_parts({});
    auto* below = new QHBoxLayout;
    below->addWidget(fault_, 1);
    below->addWidget(words_, 0, Qt::AlignTop);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(2);
    layout->addWidget(field_);
    layout->addLayout(below);
    later_.setSingleShot(true);
    later_.setInterval(250);
    field_->installEventFilter(this);
    complete_words();
    field->completer = completer_;
    connect(field_, &QPlainTextEdit::textChanged, this, &FormulaEdit::check);
    connect(&later_, &QTimer::timeout, this, &FormulaEdit::commit);
    check();
}

void FormulaEdit::fill_words() {
    auto* menu = new QMenu(words_);
    const std::pair<FormulaWord::Kind, QString> groups[] = {{FormulaWord::Kind::place, tr("Places")},
                                                            {FormulaWord::Kind::strand, tr("The strand that is read")},
                                                            {FormulaWord::Kind::plane, tr("What the strands are made of")},
                                                            {FormulaWord::Kind::function, tr("Functions")},
                                                            {FormulaWord::Kind::constant, tr("Constants")}};
    for (const auto& [kind, title] : groups) {
        QMenu* group = menu->addMenu(title);
        if (kind == FormulaWord::Kind::plane) {
            parts_menu_ = group;
            auto* style = new PictureMenuStyle;
            style->setParent(group);
            group->setStyle(style);
            connect(group, &QMenu::aboutToShow, this, &FormulaEdit::parts_shown);
            continue;
        }
        for (const FormulaWord& word : formula_words())
            if (word.kind == kind) add_word(group, qt(word.form), qt(word.help));
    }
    words_->setMenu(menu);
}

void FormulaEdit::add_word(QMenu* menu, const QString& form, const QString& help) {
    // What stands after the tab is set to the right, where shortcuts usually are.
    QAction* action = menu->addAction(form + "\t" + help);
    connect(action, &QAction::triggered, this, [this, form] {
        field_->insertPlainText(form);
        field_->setFocus();
    });
}

void FormulaEdit::set_parts(std::vector<Part> parts) {
    if (!parts_menu_->isEmpty() && parts == parts_) return;
    parts_ = std::move(parts);
    parts_menu_->clear();
    // The place is kept from the start, so that nothing moves when a picture comes.
    QPixmap empty(picture_side, picture_side);
    empty.fill(Qt::transparent);
    for (const Part& part : parts_) {
        add_word(parts_menu_, part.word, part.help);
        parts_menu_->actions().back()->setIcon(QIcon(empty));
    }
    if (parts_.empty())
        parts_menu_->addAction(tr("Nothing: no strand that is read hands on what it is made of"))->setEnabled(false);
}

void FormulaEdit::set_part_picture(std::size_t part, const QImage& picture) {
    if (part < parts_.size()) parts_menu_->actions()[static_cast<int>(part)]->setIcon(QIcon(QPixmap::fromImage(picture)));
}

void FormulaEdit::complete_words() {
    QStringList words;
    for (const FormulaWord& word : formula_words())
        if (word.kind != FormulaWord::Kind::plane) words << qt(word.word);
    for (const FormulaSource& source : formula_sources())
        if (const FormulaWord& word = formula_words()[source.word]; word.of_strand())
            words << qt(formula_prefixes[source.strand]) + "." + qt(word.word);
    words.sort();
    completer_ = new QCompleter(words, this);
    completer_->setWidget(field_);
    completer_->setCaseSensitivity(Qt::CaseInsensitive);
    connect(completer_, QOverload<const QString&>::of(&QCompleter::activated), this, [this](const QString& word) {
        QTextCursor cursor = field_->textCursor();
        cursor.movePosition(QTextCursor::Left, QTextCursor::KeepAnchor, static_cast<int>(begun().size()));
        cursor.insertText(word);
        field_->setTextCursor(cursor);
    });
    // Only what is typed asks, not what comes from the recipe; an open list gets the keys and hands them on by itself.
    connect(field_, &QPlainTextEdit::textChanged, this, [this] {
        if (typing_ || completer_->popup()->isVisible()) offer_words();
    });
}

QString FormulaEdit::begun() const {
    const QString before = field_->toPlainText().left(field_->textCursor().position());
    qsizetype from = before.size();
    while (from > 0 && (before[from - 1].isLetterOrNumber() || before[from - 1] == '_' || before[from - 1] == '.')) --from;
    return before.mid(from);
}

void FormulaEdit::offer_words() {
    const QString word = begun();
    if (word.size() < 2 || !word[0].isLetter()) return completer_->popup()->hide();
    completer_->setCompletionPrefix(word);
    const bool done = completer_->completionCount() == 1 && completer_->currentCompletion() == word;
    if (completer_->completionCount() == 0 || done) return completer_->popup()->hide();
    completer_->popup()->setCurrentIndex(completer_->completionModel()->index(0, 0));
    QRect at = field_->cursorRect();
    at.setWidth(completer_->popup()->sizeHintForColumn(0) + 24);
    completer_->complete(at);
}

void FormulaEdit::set_expression(const QString& text) {
    committed_ = text;
    // Not while somebody writes: the cursor would jump.
    if (field_->hasFocus() && (later_.isActive() || !sound_)) return;
    if (field_->toPlainText() != text) {
        const QSignalBlocker quiet(field_);
        field_->setPlainText(text);
    }
    check();
    later_.stop();
}

QString FormulaEdit::fault() const { return sound_ ? QString() : fault_->text(); }

void FormulaEdit::check() {
    const std::string text = field_->toPlainText().toStdString();
    const FormulaReading reading = read_formula(text);
    sound_ = !reading.fault;
    QList<QTextEdit::ExtraSelection> marks;
    QPalette palette = fault_->palette();
    const theme::Colours& c = theme::colours();
    palette.setColor(QPalette::WindowText, sound_ ? c.faint : c.warn);
    fault_->setPalette(palette);
    if (sound_) {
        const std::size_t results = reading.program.results.size();
        fault_->setText(results == 1 ? tr("grey") : results == 3 ? tr("colour") : tr("colour and coverage"));
        if (field_->toPlainText() != committed_) later_.start();
    } else {
        later_.stop();
        // The core counts bytes; what can go wrong before the place is plain ASCII or the place itself.
        const int at = static_cast<int>(QString::fromStdString(text.substr(0, reading.fault->at)).size());
        fault_->setText(tr("Character %1: %2").arg(at + 1).arg(QString::fromStdString(reading.fault->message)));
        QTextEdit::ExtraSelection mark;
        const int length = static_cast<int>(field_->toPlainText().size());
        mark.cursor = QTextCursor(field_->document());
        mark.cursor.setPosition(std::clamp(at, 0, std::max(0, length - 1)));
        mark.cursor.movePosition(QTextCursor::Right, QTextCursor::KeepAnchor);
        mark.format.setUnderlineStyle(QTextCharFormat::WaveUnderline);
        mark.format.setUnderlineColor(c.accent);
        mark.format.setBackground(QColor(c.accent.red(), c.accent.green(), c.accent.blue(), 50));
        marks << mark;
    }
    field_->setExtraSelections(marks);
}

void FormulaEdit::commit() {
    if (!sound_ || field_->toPlainText() == committed_) return;
    committed_ = field_->toPlainText();
    emit changed(committed_, QString("formula %1").arg(visits_));
}

bool FormulaEdit::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::FocusIn) ++visits_;
    if (event->type() == QEvent::FocusOut) {
        later_.stop();
        commit();
    }
    return QWidget::eventFilter(watched, event);
}

}  // namespace loom
