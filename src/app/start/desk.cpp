#include "app/start/desk.h"

#include <QApplication>
#include <QScreen>
#include <QTimer>

#include "app/connect_dialog.h"
#include "app/session/book_editor.h"
#include "app/session/connection.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/shipped.h"
#include "app/theme/theme.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {
constexpr std::size_t most_recent = 8;

/// What is larger than its screen is opened as large as that.
void keep_on_screen(QWidget& window) {
  window.resize(window.size().boundedTo(window.screen()->availableSize()));
}

}  // namespace

Desk::Desk(MyMachines machines, QString demo_folder)
    : machines_(std::move(machines)), demo_folder_(std::move(demo_folder)) {}

Desk::~Desk() {
  window_.reset();  // before what it shows
  session_.reset();
}

void Desk::show_start(const QString& said) {
  qApp->setStyleSheet(style_sheet());
  if (!start_) {
    start_ = std::make_unique<StartPage>(machines_);
    start_->setWindowTitle(QStringLiteral("Ypsilograph"));
    start_->resize(1280, 800);
    keep_on_screen(*start_);
    connect(start_.get(), &StartPage::book_chosen, this, [this](const QString& path) { open_book(path); });
    connect(start_.get(), &StartPage::book_begun, this, &Desk::open_book);
    connect(start_.get(), &StartPage::simulated_chosen, this, [this](const QString& machine) {
      if (const auto opened = open_demo(false, machine); !opened) start_->say(to_q(opened.error().message));
    });
  }
  start_->refresh();
  start_->say(said);
  start_->show();
}

bool Desk::put_away() {
  if (!window_) return true;
  if (session_->machine().runner().running()) {
    session_->notices().notify(
        {NoticeLevel::attention,
         tr("Something is under way at this machine. Let it end, or hold it, then choose another."),
         {}});
    return false;
  }
  // A window that makes room for another is not the last one.
  QApplication::setQuitOnLastWindowClosed(false);
  const bool closed = window_->close();
  QApplication::setQuitOnLastWindowClosed(true);
  if (!closed) return false;
  window_.reset();
  session_.reset();
  return true;
}

/// Not while a signal of that window is still on its way.
void Desk::put_away_later(const std::function<void()>& then) {
  QTimer::singleShot(0, this, [this, then] {
    if (put_away()) then();
  });
}

void Desk::show_machine(const QString& book, std::unique_ptr<Connection> connection,
                        const std::optional<StandInFiles>& stand_in) {
  session_ = std::make_unique<Session>(BookStore(book), std::move(connection));
  if (stand_in) session_->machine().set_stand_in(*stand_in);
  window_ = std::make_unique<MainWindow>(*session_);
  connect(window_.get(), &MainWindow::another_machine_wanted, this,
          [this] { put_away_later([this] { show_start(); }); });
  connect(window_.get(), &MainWindow::book_wanted, this,
          [this](const QString& path) { put_away_later([this, path] { open_book(path); }); });
  window_->set_recent([this, book] {
    MainWindow::RecentMachines others;
    for (const QString& other : machines_.books())
      if (other != book && others.size() < most_recent) others.emplace_back(look_at(other).name, other);
    return others;
  });
  keep_on_screen(*window_);
  window_->show();
  session_->editor().open_book();
  if (start_) start_->hide();
}

void Desk::open_book(const QString& path, BeginWay way) {
  if (!put_away()) return;
  machines_.remember(path);
  show_machine(path, nullptr, std::nullopt);
  if (way == BeginWay::line) (new ConnectDialog(*session_, window_.get()))->show();
  if (way == BeginWay::by_hand) session_->machine().work_by_hand();
}

Result<void> Desk::open_demo(bool fresh, const QString& machine) {
  auto demo = prepare_demo(shipped_folder(QStringLiteral("demo")), demo_folder_, fresh, machine);
  if (!demo) return tl::make_unexpected(demo.error());
  const StandInFiles files{demo->scenario, demo->settings};
  auto connection = Connection::to_stand_in(files);
  if (!connection) return tl::make_unexpected(connection.error());
  if (!put_away()) return {};
  show_machine(demo->book, std::move(*connection), files);
  return {};
}

}  // namespace ypsi::app
