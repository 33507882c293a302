// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/watchdog.h"

#include <time.h>

#include <QEvent>
#include <QMetaEnum>
#include <QThread>

namespace loom {

namespace {

/// Time of the processor, so that what else the machine does plays no part. Waiting for a disk is what `takes_its_time` tells.
double thread_ms() {
    timespec now{};
    clock_gettime(CLOCK_THREAD_CPUTIME_ID, &now);
    return static_cast<double>(now.tv_sec) * 1e3 + static_cast<double>(now.tv_nsec) / 1e6;
}

}  // namespace

Watchdog::Watchdog(std::function<void(const QString&)> told, double longest) : told_(std::move(told)), longest_(longest) {
    watch();
}

void Watchdog::watch() {
    watch_answering([this](const char* what) { tell(QString("%1 within %2").arg(what, inner_ ? inner_->name() : QString())); });
}

Watchdog::~Watchdog() { watch_answering({}); }

void Watchdog::tell(const QString& fault) {
    if (known_.contains(fault)) return;
    known_ << fault;
    told_(fault);
}

QString Watchdog::Event::name() const {
    const char* type = QMetaEnum::fromType<QEvent::Type>().valueToKey(type_);
    return QString("%1 at %2 %3").arg(type ? type : "event", class_, receiver_);
}

Watchdog::Event::Event(Watchdog* dog, const QObject* receiver, const QEvent* event)
    : dog_(dog), outer_(dog ? dog->inner_ : nullptr) {
    if (!dog_) return;
    dog_->inner_ = this;
    receiver_ = receiver->objectName(), class_ = receiver->metaObject()->className(), type_ = event->type();
    loop_ = QThread::currentThread()->loopLevel();
    began_ms_ = thread_ms();
}

Watchdog::Event::~Event() {
    if (!dog_) return;
    dog_->inner_ = outer_;
    const double spent = thread_ms() - began_ms_;
    if (outer_) outer_->elsewhere_ms_ += loop_ > outer_->loop_ ? spent : elsewhere_ms_;
    if (dog_->longest_ > 0 && spent - elsewhere_ms_ > dog_->longest_)
        dog_->tell(QString("%1 took %2 ms").arg(name()).arg(spent - elsewhere_ms_, 0, 'f', 0));
}

}  // namespace loom
