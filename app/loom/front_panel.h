// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The front of a recipe, for whoever just uses it: its colourways as pictures, its dials, another seed; nothing of how it is
// made.
#pragma once

#include <QImage>
#include <QScrollArea>
#include <QTimer>
#include <map>
#include <vector>

#include "app/document/session.h"
#include "app/document/try_service.h"

class QGridLayout;
class QLabel;
class QPushButton;
class QToolButton;

namespace loom {

class NumberEdit;

class FrontPanel : public QScrollArea {
    Q_OBJECT
public:
    explicit FrontPanel(Session& session, QWidget* parent = nullptr);

    NumberEdit* dial(const std::string& name) const;
    QToolButton* colourway(const std::string& name) const;
    QPushButton* seed_button() const { return seed_; }
    /// Whether every colourway has its picture.
    bool complete() const { return missing_ == 0 && !later_.isActive(); }

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    void follow();
    void rebuild();
    void order();

    Session& session_;
    QWidget* form_ = nullptr;
    std::string shape_;
    std::map<std::string, NumberEdit*> dials_;
    std::map<std::string, QToolButton*> colourways_;
    std::vector<QToolButton*> pictured_;
    QPushButton* seed_ = nullptr;
    TryService service_{176};
    QTimer later_;
    std::uint64_t ticket_ = 0;
    int missing_ = 0;
};

}  // namespace loom
