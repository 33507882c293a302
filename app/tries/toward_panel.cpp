// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/tries/toward_panel.h"

#include <QCheckBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/document/reference.h"
#include "app/theme/theme.h"
#include "app/tries/place_button.h"
#include "app/widgets/text.h"
#include "core/recipe/edits.h"

namespace loom {

namespace {
constexpr int longest = 192, tries = 240;
constexpr std::size_t most_knobs = 8;
}  // namespace

TowardPanel::TowardPanel(Session& session, ReferencePicture& reference, QWidget* parent)
    : QWidget(parent), session_(session), reference_(reference), client_("toward", [](const QString&) {}) {
    auto* heading = new QLabel(tr("May change"), this);
    heading->setFont(theme::strong_font(13));
    lines_ = new QVBoxLayout;
    lines_->setSpacing(2);
    add_ = new PlaceButton(
        tr("One more value"),
        [](const Recipe& recipe, const Address& at) { return is_number(recipe, at) && at.parameter != "seed"; }, this);
    connect(add_, &PlaceButton::chosen, this, &TowardPanel::add);
    search_ = new QPushButton(this);
    connect(search_, &QPushButton::clicked, this, [this] { searching() ? stop() : this->search(); });
    hint_ = new QLabel(this);
    hint_->setFont(theme::small_font());
    hint_->setForegroundRole(QPalette::PlaceholderText);
    hint_->setWordWrap(true);
    auto* stack = new QVBoxLayout(this);
    stack->setContentsMargins(0, 0, 0, 0);
    stack->setSpacing(6);
    stack->addWidget(heading);
    stack->addLayout(lines_);
    stack->addWidget(add_);
    stack->addSpacing(4);
    stack->addWidget(search_);
    stack->addWidget(hint_);
    connect(&reference_, &ReferencePicture::changed, this, &TowardPanel::show_state);
    show_state();
}

void TowardPanel::follow() {
    const Recipe& recipe = session_.recipe();
    if (document_ != session_.document()) {
        stop();
        added_.clear(), document_ = session_.document(), nearest_ = -1, tried_ = 0;
    }
    std::erase_if(added_, [&](const Address& at) { return !is_number(recipe, at); });
    std::string shape;
    for (const Dial& dial : recipe.dials) shape += "|" + dial.name;
    for (const Address& at : added_) shape += "#" + at.text();
    if (shape != shape_ || boxes_.empty()) {
        shape_ = shape;
        rebuild();
    }
    show_state();
}

void TowardPanel::rebuild() {
    const Recipe& recipe = session_.recipe();
    const auto before = chosen();
    for (QCheckBox* box : boxes_) box->deleteLater();
    boxes_.clear(), offered_.clear();
    for (const Dial& dial : recipe.dials) offered_.push_back({dial.name, {}, 0, 100});
    for (const Address& at : added_) {
        const Span span = usual_span(recipe, at);
        offered_.push_back({"", at, span.from, span.to});
    }
    const auto was = [&](const Knob& knob) {
        return std::any_of(before.begin(), before.end(), [&](const Knob& b) { return b.dial == knob.dial && b.at == knob.at; });
    };
    for (const Knob& knob : offered_) {
        auto* box = new QCheckBox(this);
        const QString name = knob.dial.empty() ? qt(place_title(recipe, knob.at)) : tr("Dial %1").arg(qt(knob.dial));
        box->setText(QString(fontMetrics().elidedText(name, Qt::ElideMiddle, 160)).replace('&', "&&"));
        box->setAccessibleName(name);
        box->setToolTip(name);
        // What was added just now is meant; dials are, until somebody says otherwise.
        const bool added_now = knob.dial.empty() && knob.at == added_.back();
        box->setChecked(before.empty() || was(knob) || added_now);
        connect(box, &QCheckBox::toggled, this, &TowardPanel::show_state);
        lines_->addWidget(box);
        boxes_.push_back(box);
    }
    add_->set_place(recipe, {});
    add_->setText(tr("Add a value …"));
}

void TowardPanel::add(const Address& at) {
    if (std::find(added_.begin(), added_.end(), at) == added_.end()) added_.push_back(at);
    follow();
}

std::vector<Knob> TowardPanel::chosen() const {
    std::vector<Knob> knobs;
    for (std::size_t k = 0; k < boxes_.size(); ++k)
        if (boxes_[k]->isChecked()) knobs.push_back(offered_[k]);
    return knobs;
}

void TowardPanel::show_state() {
    const std::size_t count = chosen().size();
    search_->setText(searching() ? tr("Stop") : tr("Search"));
    search_->setEnabled(searching() || (reference_.is_there() && count > 0 && count <= most_knobs));
    hint_->setText(!reference_.is_there() ? tr("Choose a picture of the material first: View, Reference picture.")
                   : count == 0           ? tr("Choose what may change.")
                   : count > most_knobs
                       ? tr("Eight at most can be searched at once.")
                       : tr("It looks for colours and detail as in %1. Nothing is taken unasked.").arg(reference_.name()));
    emit told_changed();
}

QString TowardPanel::told() const {
    if (!failure_.isEmpty()) return failure_;
    if (searching())
        return tr("%1 of %2 tried · the nearest is %3 away").arg(tried_).arg(tries).arg(std::max(0.0, nearest_), 0, 'f', 3);
    if (nearest_ >= 0)
        return tr("%1 tried · the nearest is %2 away · Enter takes the chosen one").arg(tried_).arg(nearest_, 0, 'f', 3);
    return tr("The best twelve appear here as they are found.");
}

Axis TowardPanel::axis_of(const std::vector<Found>& best) const {
    Axis axis{tr("Toward %1").arg(reference_.name()).toStdString(), {}};
    for (const Found& each : best) {
        const Recipe next = turned(from_, knobs_, each.values);
        Variant variant{tr("%1 away").arg(each.away, 0, 'f', 3).toStdString(), {}};
        for (const Knob& knob : knobs_) {
            std::vector<Address> moved{knob.at};
            for (const Dial& dial : from_.dials)
                if (!knob.dial.empty() && dial.name == knob.dial) {
                    moved.clear();
                    for (const Drive& drive : dial.drives) moved.push_back(drive.at);
                }
            for (const Address& at : moved)
                if (const auto value = value_at(next, at)) variant.set.insert_or_assign(at, *value);
        }
        axis.variants.push_back(std::move(variant));
    }
    return axis;
}

void TowardPanel::search() {
    if (!reference_.is_there()) return;
    from_ = session_.recipe(), knobs_ = chosen();
    if (knobs_.empty() || knobs_.size() > most_knobs) return;
    tried_ = 0, nearest_ = -1, failure_.clear();
    Work work;
    work.doing = "searching";
    work.urgency = Urgency::search, work.slot = "toward";
    work.run = [this, from = from_, knobs = knobs_, picture = reference_.planes()](const WorkContext& context) -> Result<Done> {
        SearchPlan plan;
        plan.knobs = knobs, plan.tries = tries;
        const auto tell = [this, &context](const std::vector<Found>& best, int tried) {
            context.tell([this, best, tried] {
                tried_ = tried, nearest_ = best.empty() ? -1 : best.front().away;
                emit found(axis_of(best));
                emit told_changed();
            });
        };
        // Told more often than it can be looked at, the sheet would never come to rest.
        std::size_t shown = 0;
        double nearest = 1e9;
        int last = 0, all = 0;
        // Beside the cloth and its tries.
        RenderOptions options = context.options;
        options.threads = 1;
        const auto result = search_toward(from, plan, goal_of(*picture, longest, context.job), options, context.job,
                                          [&](const std::vector<Found>& best, int tried) {
                                              all = tried;
                                              const bool news = best.size() > shown || best.front().away < 0.98 * nearest;
                                              if ((!news || tried - last < 6) && tried < plan.tries) return;
                                              shown = best.size(), nearest = best.front().away, last = tried;
                                              tell(best, tried);
                                          });
        if (!result) return result.error();
        tell(*result, all);
        return Done{};
    };
    work.ended = [this](const Ended& how) {
        if (how.failed()) failure_ = QString::fromStdString(how.error.message);
        show_state();
    };
    searching_ = client_.submit(std::move(work));
    show_state();
}

void TowardPanel::stop() { searching_.stop(); }

}  // namespace loom
