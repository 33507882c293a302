// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/accessible.h"

#include <QAccessible>
#include <QAccessibleWidget>
#include <QCoreApplication>
#include <QKeyEvent>
#include <map>

#include "app/widgets/direction_dial.h"

namespace loom {

namespace {

class Drawn : public QAccessibleWidget {
public:
    Drawn(QWidget* widget, QAccessible::Role role) : QAccessibleWidget(widget, role) {}

    QAccessible::State state() const override {
        QAccessible::State state = QAccessibleWidget::state();
        if (const QVariant selected = widget()->property("selected"); selected.isValid()) {
            state.selectable = true;
            state.selected = selected.toBool();
        }
        return state;
    }
    QStringList actionNames() const override {
        QStringList names = QAccessibleWidget::actionNames();
        if (presses()) names.prepend(pressAction());
        return names;
    }
    void doAction(const QString& name) override {
        if (name != pressAction() || !presses()) return QAccessibleWidget::doAction(name);
        for (QEvent::Type type : {QEvent::KeyPress, QEvent::KeyRelease}) {
            QKeyEvent key(type, Qt::Key_Return, Qt::NoModifier);
            QCoreApplication::sendEvent(widget(), &key);
        }
    }

private:
    bool presses() const { return role() == QAccessible::Button || role() == QAccessible::ListItem; }
};

class Turned : public Drawn, public QAccessibleValueInterface {
public:
    explicit Turned(DirectionDial* dial) : Drawn(dial, QAccessible::Dial), dial_(dial) {}
    void* interface_cast(QAccessible::InterfaceType type) override {
        return type == QAccessible::ValueInterface ? static_cast<QAccessibleValueInterface*>(this) : Drawn::interface_cast(type);
    }
    QVariant currentValue() const override { return dial_->degrees(); }
    void setCurrentValue(const QVariant& value) override { dial_->turn_to(value.toDouble()); }
    QVariant minimumValue() const override { return dial_->low(); }
    QVariant maximumValue() const override { return dial_->high(); }
    QVariant minimumStepSize() const override { return 1.0; }

private:
    DirectionDial* dial_;
};

QAccessibleInterface* drawn_by_hand(const QString& of, QObject* object) {
    using A = QAccessible::Role;
    static const std::map<QString, A> roles = {{"loom::StepCard", A::ListItem},
                                               {"loom::StrandHeader", A::Button},
                                               {"loom::FoldedStrands", A::Button},
                                               {"loom::Swatch", A::Button},
                                               {"loom::Pad", A::Slider},
                                               {"loom::ClothCanvas", A::Graphic},
                                               {"loom::HistogramView", A::Chart},
                                               {"loom::SeedStrip", A::List},
                                               {"loom::TrySheet", A::List},
                                               {"loom::ComparePane", A::Graphic},
                                               {"loom::CurveArea", A::Chart},
                                               {"loom::CurveEdit", A::Grouping},
                                               {"loom::ColourField", A::ColorChooser},
                                               {"loom::TowardPanel", A::Grouping},
                                               {"loom::GradientStrip", A::Slider},
                                               {"loom::NoticeBar", A::AlertMessage},
                                               {"loom::FirstCloth", A::HelpBalloon},
                                               {"loom::StrandColumn", A::Grouping},
                                               {"loom::NumberEdit", A::Grouping},
                                               {"loom::PairEdit", A::Grouping},
                                               {"loom::JoinCard", A::Grouping},
                                               {"loom::DraftEdit", A::Grouping},
                                               {"loom::StrokesEdit", A::Grouping},
                                               {"loom::InputsEdit", A::Grouping},
                                               {"loom::GroupBand", A::Grouping}};
    auto* widget = qobject_cast<QWidget*>(object);
    if (!widget) return nullptr;
    if (auto* dial = qobject_cast<DirectionDial*>(object)) return new Turned(dial);
    const auto found = roles.find(of);
    return found == roles.end() ? nullptr : new Drawn(widget, found->second);
}

}  // namespace

void install_accessibility() { QAccessible::installFactory(drawn_by_hand); }

}  // namespace loom
