// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/help/preferences_dialog.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QThread>
#include <QVBoxLayout>
#include <cmath>

#include "app/theme/theme.h"
#include "app/widgets/curve_edit.h"
#include "app/widgets/number_field.h"

namespace loom {

namespace {
constexpr int editor_width = 214, words_width = 330;
}

PreferencesDialog::PreferencesDialog(QWidget* parent) : QDialog(parent) {
    setWindowTitle(tr("Preferences"));
    auto* stack = new QVBoxLayout(this);
    stack->setContentsMargins(20, 16, 20, 14);
    stack->setSpacing(12);
    theme_ = new QComboBox(this);
    theme_->addItem(tr("Light"), static_cast<int>(Preferences::Theme::light));
    theme_->addItem(tr("Dark"), static_cast<int>(Preferences::Theme::dark));
    theme_->addItem(tr("As the system"), static_cast<int>(Preferences::Theme::system));
    add(stack, tr("Window"), tr("Light or dark; greys have no tint in either, so that colours are judged fairly."), theme_);
    cache_ = number(stack, tr("Memory for pictures"),
                    tr("Steps that were made stay in it, so that only what changes is made anew. It is given back at rest."),
                    tr(" MB"), Preferences::least_cache_mb, Preferences::most_cache_mb, 0);
    cache_->setSingleStep(128);
    threads_ = number(
        stack, tr("Threads"),
        tr("How many work at once; this machine has %1. Fewer leave room for other programs.").arg(QThread::idealThreadCount()),
        {}, 0, Preferences::most_threads, 0);
    threads_->setSpecialValueText(tr("all"));
    folder_ = new QLineEdit;
    folder_->setPlaceholderText(tr("beside the recipe"));
    auto* choose = new QPushButton(tr("Choose…"));
    choose->setAccessibleName(tr("Choose where exports go"));
    choose->setAutoDefault(false);
    auto* where = new QWidget(this);
    auto* line = new QHBoxLayout(where);
    line->setContentsMargins(0, 0, 0, 0);
    line->addWidget(folder_, 1);
    line->addWidget(choose);
    add(stack, tr("Exports go to"), tr("The folder that the Export page begins with; empty: where the recipe's file is."), where);
    folder_->setAccessibleName(tr("Exports go to"));
    journal_ = number(stack, tr("Changes are kept every"),
                      tr("What is not saved is kept aside so often, and offered again after a crash."), tr(" s"),
                      Preferences::least_journal, Preferences::most_journal, 1);
    recent_ = number(stack, tr("Recent files"), tr("How many are listed on the page Samples and in the File menu."), {}, 0,
                     Preferences::most_recent, 0);
    pressure_ = new CurveArea(this);
    pressure_->setFixedHeight(150);
    pressure_->setAccessibleName(tr("Pen pressure"));
    add(stack, tr("Pen pressure"),
        tr("From how hard the pen presses, across, to how hard the brush does, up. Pull it up for a light hand, down for a "
           "heavy one; click the line for more points."),
        pressure_);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
    QPushButton* reset = buttons->addButton(tr("As they were at first"), QDialogButtonBox::ResetRole);
    stack->addStretch(1);
    stack->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(reset, &QPushButton::clicked, this, [this] {
        PresentPreferences::instance().set({});
        show_all();
    });
    connect(theme_, &QComboBox::activated, this, &PreferencesDialog::take);
    connect(folder_, &QLineEdit::editingFinished, this, &PreferencesDialog::take);
    for (QDoubleSpinBox* field : {cache_, threads_, journal_, recent_})
        connect(field, &QDoubleSpinBox::valueChanged, this, &PreferencesDialog::take);
    connect(pressure_, &CurveArea::changed, this, &PreferencesDialog::take);
    connect(choose, &QPushButton::clicked, this, [this] {
        auto* dialog = new QFileDialog(this, tr("Exports go to"), folder_->text());
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->setFileMode(QFileDialog::Directory);
        connect(dialog, &QFileDialog::fileSelected, this, [this](const QString& path) {
            folder_->setText(path);
            take();
        });
        dialog->open();
    });
    show_all();
}

void PreferencesDialog::add(QVBoxLayout* stack, const QString& title, const QString& sentence, QWidget* editor) {
    auto* words = new QVBoxLayout;
    words->setSpacing(1);
    auto* head = new QLabel(title, this);
    head->setFont(theme::strong_font(12));
    head->setBuddy(editor);
    auto* text = new QLabel(sentence, this);
    text->setFont(theme::small_font());
    text->setForegroundRole(QPalette::PlaceholderText);
    text->setWordWrap(true);
    text->setFixedWidth(words_width);
    words->addWidget(head);
    words->addWidget(text);
    words->addStretch(1);
    auto* line = new QHBoxLayout;
    line->setSpacing(18);
    line->addLayout(words);
    editor->setFixedWidth(editor_width);
    if (editor->accessibleName().isEmpty()) editor->setAccessibleName(title);
    editor->setAccessibleDescription(sentence);
    line->addWidget(editor, 0, Qt::AlignTop);
    stack->addLayout(line);
}

QDoubleSpinBox* PreferencesDialog::number(QVBoxLayout* stack, const QString& title, const QString& sentence, const QString& unit,
                                          double least, double most, int digits) {
    auto* field = new NumberField(this);
    field->setRange(least, most);
    field->setDecimals(digits);
    field->setSuffix(unit);
    add(stack, title, sentence, field);
    return field;
}

void PreferencesDialog::show_all() {
    showing_ = true;
    const Preferences& now = preferences();
    theme_->setCurrentIndex(theme_->findData(static_cast<int>(now.theme)));
    cache_->setValue(now.cache_mb);
    threads_->setValue(now.threads);
    folder_->setText(now.export_folder);
    journal_->setValue(now.journal_seconds);
    recent_->setValue(now.recent_files);
    pressure_->set_points(now.pressure);
    showing_ = false;
}

void PreferencesDialog::take() {
    if (showing_) return;
    Preferences next;
    next.theme = static_cast<Preferences::Theme>(theme_->currentData().toInt());
    next.cache_mb = static_cast<int>(std::lround(cache_->value()));
    next.threads = static_cast<int>(std::lround(threads_->value()));
    next.export_folder = folder_->text().trimmed();
    next.journal_seconds = journal_->value();
    next.recent_files = static_cast<int>(std::lround(recent_->value()));
    next.pressure = pressure_->points();
    PresentPreferences::instance().set(next);
}

}  // namespace loom
