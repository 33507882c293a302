// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The view in which a texture leaves: which maps, as what, how large and under which names, what that takes, and how far it is.
#pragma once

#include <QTimer>

#include "app/document/session.h"
#include "app/document/try_service.h"
#include "app/export/export_work.h"
#include "app/pages/page.h"

class QAbstractButton;
class QButtonGroup;
class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPlainTextEdit;
class QPushButton;
class QToolButton;
class QGridLayout;
class QVBoxLayout;

namespace loom {

class MapCard;
class PackRow;
class WrittenList;
class WrittenPanel;

class ExportView : public Page {
    Q_OBJECT
public:
    explicit ExportView(Session& session, QWidget* parent = nullptr);

    QString id() const override { return "export"; }
    QString title() const override { return tr("Export"); }
    bool shows_recipe() const override { return true; }
    void add_commands(Commands& commands, std::function<bool()> shown) override;
    QVariantMap state() const override;
    void set_state(const QVariantMap& state) override;

    /// What is asked for now.
    ExportPreset preset() const;
    void set_preset(const ExportPreset& preset);
    QLineEdit* folder_field() const { return folder_; }
    QLineEdit* names_field() const { return names_; }
    QLineEdit* size_field() const { return own_size_; }
    QAbstractButton* size_button(int size) const;
    QAbstractButton* material_button(Material material) const;
    QCheckBox* colourways_box() const { return colourways_; }
    MapCard* card(Map map) const { return cards_[static_cast<std::size_t>(map)]; }
    QPushButton* add_pack_button() const { return add_pack_; }
    const std::vector<PackRow*>& packs() const { return packs_; }
    QPushButton* write_button() const { return write_; }
    QPushButton* stop_button() const;
    QComboBox* presets() const { return presets_; }
    WrittenList* written() const;
    QString message() const;
    QString command() const;
    bool writing() const { return work_.writing(); }
    void stop() { work_.stop(); }
    /// Whether every picture and the estimate have come.
    bool settled() const { return missing_ == 0 && !expected_.empty(); }

    /// Asks first where files would be replaced that this window has not written itself.
    void write();
    /// Asks for a name and keeps what is chosen in the recipe.
    void keep();
    void keep_as(const std::string& name);

signals:
    /// What was being written is there, or it went wrong or was stopped.
    void writing_ended(const loom::Ended& how);

protected:
    void showEvent(QShowEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    QWidget* build_left();
    QWidget* build_right();
    void lay_cards(int columns);
    PackRow* add_pack(const ExportPicture& picture);
    std::string folder() const;
    std::vector<int> sizes() const;
    /// After anything has changed: names, what it takes, the command.
    void follow();
    void follow_recipe();
    void ask_before_replacing(const QStringList& there);
    /// Names under which nothing lies in the folder yet.
    void choose_new_names();
    void show_plan(std::size_t bytes, const QString& error);
    void show_estimate(double seconds, const std::vector<double>& bytes);

    Session& session_;
    TryService pictures_{256};
    ExportWork work_;
    QTimer later_;
    std::vector<MapCard*> cards_;
    std::vector<PackRow*> packs_;
    QVBoxLayout* pack_rows_;
    QGridLayout* grid_;
    int columns_ = 0;
    QPushButton *add_pack_, *write_, *copy_;
    std::vector<QCheckBox*> sizes_;  ///< several may be on
    QButtonGroup *materials_, *green_;
    QLineEdit *own_size_, *names_, *folder_;
    QCheckBox* colourways_;
    QComboBox* presets_;
    QToolButton *keep_, *forget_;
    QLabel *name_shown_, *name_rule_, *head_, *memory_, *disk_, *time_;
    QPlainTextEdit* command_;
    WrittenPanel* panel_;
    std::vector<ExportRun> runs_;
    std::vector<double> expected_;  // bytes, file by file
    double expected_s_ = 0;
    std::uint64_t ticket_ = 0, document_ = 0;
    bool setting_ = false;
    QStringList own_files_;    ///< written by this window, or allowed to be replaced
    std::size_t missing_ = 0;  // pictures that have not come
};

}  // namespace loom
