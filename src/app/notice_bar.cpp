#include "app/notice_bar.h"

#include <QStyle>

#include "app/sheets/sheet.h"

namespace ypsi::app {
namespace {
constexpr int good_news_ms = 8000;  // what asks for nothing goes by itself
constexpr int look_again_ms = 100;
}  // namespace

NoticeBar::NoticeBar(QWidget* parent) : QFrame(parent) {
  setObjectName(QStringLiteral("notice"));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(12, 6, 8, 6);
  mark_ = make_label("notice-mark", "strong", "", this);
  mark_->setFixedWidth(18);
  text_ = make_label("notice-text", "notice", "", this);
  text_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  row->addWidget(mark_);
  row->addWidget(text_, 1);
  actions_ = new QHBoxLayout;
  row->addLayout(actions_);
  auto* away = make_button("notice-away", tr("Put away"), tr("Hide this message (Escape)"), this);
  connect(away, &QPushButton::clicked, this, &QWidget::hide);
  row->addWidget(away);
  hide();
  good_news_.setSingleShot(true);
  connect(&good_news_, &QTimer::timeout, this, &QWidget::hide);
  look_again_.setInterval(look_again_ms);
  connect(&look_again_, &QTimer::timeout, this, &NoticeBar::look_again);
}

bool NoticeBar::look_again() {
  if (!isHidden() && shown_.holds && !shown_.holds()) hide();
  if (isHidden()) {
    look_again_.stop();
    return false;
  }
  for (std::size_t i = 0; i < buttons_.size(); ++i)
    if (const auto& holds = shown_.actions[i].holds; holds && !holds()) buttons_[i]->hide();
  return true;
}

void NoticeBar::show_notice(const Notice& notice) {
  shown_ = notice;
  buttons_.clear();
  const char* level = notice.level == NoticeLevel::danger ? "danger"
                      : notice.level == NoticeLevel::good ? "good"
                                                          : "attention";
  setProperty("level", level);
  style()->unpolish(this);
  style()->polish(this);
  mark_->setText(notice.level == NoticeLevel::danger ? "✕" : notice.level == NoticeLevel::good ? "●" : "◐");
  text_->setText(notice.text);
  while (QLayoutItem* item = actions_->takeAt(0)) {
    item->widget()->hide();  // gone from the screen now, from memory when its own click has ended
    item->widget()->deleteLater();
    delete item;
  }
  for (std::size_t i = 0; i < notice.actions.size(); ++i) {
    auto* button = make_button(QString("notice-action-%1").arg(i), notice.actions[i].label, {}, this, i == 0);
    connect(button, &QPushButton::clicked, this, [this, button, act = notice.actions[i].act] {
      if (!look_again() || button->isHidden()) return;  // it was pressed while its world went
      hide();
      act();
    });
    buttons_.push_back(button);
    actions_->addWidget(button);
    button->show();  // now, not with the next event: the bar may be on screen already
  }
  look_again_.start();
  good_news_.stop();
  if (notice.level == NoticeLevel::good) good_news_.start(good_news_ms);
  show();
}

}  // namespace ypsi::app
