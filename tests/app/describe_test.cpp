// A controller is described in the window, from its answers alone, saved, and then worked with.
#include "app/describe/describe_dialog.h"

#include <QCheckBox>
#include <QComboBox>
#include <QListWidget>
#include <QTableWidget>

#include "app/describe/part_page.h"
#include "app/describe/part_words.h"
#include "app/session/described_controllers.h"
#include "app/session/machine_session.h"
#include "link/describing/describing_bench.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

using link::Part;

class Describe : public WindowTest {
 protected:
  void open_bench() {
    auto* action = find<QAction>("describe");
    ASSERT_NE(action, nullptr);
    action->trigger();
    bench_ = window_->findChild<DescribeDialog*>("describe-dialog");
    ASSERT_NE(bench_, nullptr);
  }
  template <class T>
  T* on(const QString& name) {
    return bench_->findChild<T*>(name);
  }
  void press(const QString& name) {
    auto* button = on<QPushButton>(name);
    ASSERT_NE(button, nullptr) << name.toStdString();
    ASSERT_TRUE(button->isEnabled()) << name.toStdString();
    QTest::mouseClick(button, Qt::LeftButton);
  }
  void write(const QString& name, const QString& text) {
    auto* field = on<QLineEdit>(name);
    ASSERT_NE(field, nullptr) << name.toStdString();
    field->clear();
    QTest::keyClicks(field, text);
  }
  void choose(const QString& name, const QString& words) {
    auto* box = on<QComboBox>(name);
    ASSERT_NE(box, nullptr) << name.toStdString();
    for (int i = 0; i < box->count(); ++i)
      if (box->itemText(i).contains(words)) {
        box->setCurrentIndex(i);
        emit box->activated(i);
        return;
      }
    FAIL() << "no “" << words.toStdString() << "” in " << name.toStdString();
  }
  void on_line(const QString& face) {
    choose("describe-lines", "“" + face + "”");
    press("describe-open");
    ASSERT_TRUE(wait_for([this] { return on<QLineEdit>("describe-say")->isEnabled(); }))
        << on<QLabel>("describe-status")->text().toStdString();
    bench_->connection()->set_speed(20);
  }
  void part(Part which) { on<QListWidget>("describe-parts")->setCurrentRow(static_cast<int>(which)); }
  /// Says it, and chooses the newest line of the log that begins with what is to come.
  void hear(const QString& text, const QString& beginning, const QString& as = "as a line") {
    choose("describe-say-kind", as);
    write("describe-say", text);
    press("describe-say-it");
    auto* log = on<QListWidget>("describe-log");
    const int before = log->count();
    ASSERT_TRUE(wait_for([&] {
      for (int i = log->count() - 1; i >= before; --i)
        if (log->item(i)->text().contains(QChar(0x25C2)) && log->item(i)->text().contains(beginning)) {
          log->setCurrentRow(i);
          return true;
        }
      return false;
    })) << text.toStdString();
  }
  void mean(const QStringList& meanings) {
    for (int i = 0; i < meanings.size(); ++i)
      if (!meanings[i].isEmpty()) choose(QStringLiteral("describe-means-%1").arg(i), meanings[i]);
  }
  QString try_it() {
    press("describe-try");
    auto* outcome = on<QLabel>("describe-outcome");
    EXPECT_TRUE(wait_for([&] { return outcome->text() != "Trying…"; }));
    return outcome->text();
  }
  QPointer<DescribeDialog> bench_;
};

TEST_F(Describe, FromItsAnswersToAMachineThatHomes) {
  open_bench();
  write("describe-name", "Oriel, as asked");
  on_line("asked");
  hear("who", "asked mill");
  press("describe-take");
  EXPECT_EQ(on<QLineEdit>("describe-line")->text(), "who") << "what was said before it asks for it";
  EXPECT_TRUE(try_it().startsWith("It says: asked mill"));

  part(Part::taken);
  hear("G4 P0.01", "took");
  press("describe-take");
  EXPECT_TRUE(try_it().contains("once it was taken")) << on<QLabel>("describe-outcome")->text().toStdString();
  part(Part::refused);
  hear("nonsense", "left it");
  press("describe-take");
  mean({"", "", "why"});
  EXPECT_EQ(on<QLineEdit>("describe-pattern")->text(), "^left it: (?P<why>.*)$");
  EXPECT_TRUE(try_it().contains("why"));

  part(Part::place);
  hear("05", "stands", "as bytes");
  press("describe-take");
  EXPECT_EQ(on<QLineEdit>("describe-said")->text(), "05");
  EXPECT_EQ(on<QComboBox>("describe-said-kind")->currentText(), "bytes: 1b 5a");
  mean({"", "machine X", "machine Y", "machine Z", "its state", "", "the feed"});
  auto* states = on<QTableWidget>("describe-states");
  ASSERT_EQ(states->rowCount(), 1) << "the state that was seen waits for a meaning";
  const auto is = [states](int row, const QString& ours) {
    auto* means = qobject_cast<QComboBox*>(states->cellWidget(row, 1));
    means->setCurrentIndex(means->findText(ours));
    emit means->activated(means->currentIndex());
  };
  is(0, "Not homed");
  EXPECT_TRUE(try_it().contains("its state lost = Not homed"));
  const std::pair<const char*, const char*> others[] = {
      {"still", "Ready"}, {"running", "Moving"}, {"paused", "Held"}, {"halted", "Stopped"}};
  for (const auto& [its, ours] : others) {
    press("describe-states-add");
    states->item(states->rowCount() - 1, 0)->setText(its);
    is(states->rowCount() - 1, ours);
  }
  EXPECT_EQ(bench_->draft().states.size(), 5u);
  bench_->resize(1180, 760);
  shoot("controller", bench_);

  part(Part::home);
  write("describe-said", "seek home");
  EXPECT_TRUE(try_it().startsWith("Homed; it stands at X ")) << on<QLabel>("describe-outcome")->text().toStdString();
  part(Part::jog);
  EXPECT_TRUE(try_it().startsWith("X moved by 5.00 mm")) << on<QLabel>("describe-outcome")->text().toStdString();
  part(Part::hold);
  write("describe-said", "13");
  choose("describe-said-kind", "bytes");
  EXPECT_TRUE(try_it().contains("continue")) << "a hold needs what lets go of it";
  part(Part::go_on);
  write("describe-said", "11");
  choose("describe-said-kind", "bytes");
  bench_->connection()->set_speed(1);
  EXPECT_TRUE(try_it().startsWith("It went on from its hold")) << on<QLabel>("describe-outcome")->text().toStdString();
  bench_->connection()->set_speed(20);
  part(Part::words);
  write("describe-words", "m6");
  part(Part::trust);
  on<QCheckBox>("describe-has-limits")->click();

  part(Part::settings);
  auto* settings = on<QTableWidget>("describe-settings");
  EXPECT_TRUE(on<QLabel>("describe-leaves")->text().contains("You set its settings"));
  settings->item(0, 1)->setText("tell x_steps");
  settings->item(0, 2)->setText("let x_steps {value}");
  press("describe-for-yz");
  EXPECT_EQ(bench_->draft().settings.at("axis.z.steps_per_mm").set, "let z_steps {value}");
  EXPECT_TRUE(try_it().startsWith("3")) << on<QLabel>("describe-outcome")->text().toStdString();
  EXPECT_EQ(settings->item(0, 4)->text(), "80");
  EXPECT_FALSE(on<QLabel>("describe-leaves")->text().contains("You set its settings"));
  EXPECT_TRUE(on<QLabel>("describe-leaves")->text().contains("It does not probe"));

  press("describe-save");
  EXPECT_TRUE(on<QLabel>("describe-status")->text().startsWith("Saved"))
      << on<QLabel>("describe-status")->text().toStdString();
  press("describe-close");
  ASSERT_TRUE(wait_for([this] { return !bench_ || !bench_->isVisible(); }));
  const auto read = read_described("oriel-as-asked");
  ASSERT_TRUE(read) << read.error().message;
  EXPECT_EQ(read->acts.hold.bytes, "13");
  EXPECT_TRUE(read->trust.has_limits);
  EXPECT_FALSE(read->takes("M6"));
}

TEST_F(Describe, WhatIsWrongIsSaidAndNothingIsLost) {
  open_bench();
  press("describe-save");
  EXPECT_TRUE(on<QLabel>("describe-status")->text().contains("called")) << "it has no name yet";
  choose("describe-begin-with", "Bare bench");
  EXPECT_EQ(on<QLineEdit>("describe-name")->text(), "Bare bench");
  press("describe-save");
  EXPECT_TRUE(on<QLabel>("describe-status")->text().startsWith("Saved"));
  EXPECT_TRUE(read_described("bare-bench"));
  press("describe-save");
  EXPECT_TRUE(on<QLabel>("describe-status")->text().startsWith("Saved")) << "its own is written anew";
  choose("describe-begin-with", "Asked mill");
  write("describe-name", "Bare bench");
  press("describe-save");
  EXPECT_TRUE(on<QLabel>("describe-status")->text().contains("of that name already"))
      << on<QLabel>("describe-status")->text().toStdString();
  EXPECT_EQ(read_described("bare-bench")->acts.home.block, "M860") << "what was there stays";
  write("describe-name", "Another");
  part(Part::taken);
  write("describe-pattern", "((");
  EXPECT_TRUE(on<QLabel>("describe-finds")->text().contains("cannot be used"));
  press("describe-save");
  EXPECT_FALSE(read_described("another"));
  EXPECT_FALSE(on<QPushButton>("describe-try")->isEnabled()) << "no line is open";
  write("describe-pattern", "^took$");
  press("describe-save");
  press("describe-close");
  ASSERT_TRUE(wait_for([this] { return !bench_ || !bench_->isVisible(); }));
}

TEST_F(Describe, AMoveIsBrokenOffAndTheLineMayGo) {
  open_bench();
  choose("describe-begin-with", "Asked mill");
  on_line("asked");
  part(Part::home);
  EXPECT_TRUE(try_it().startsWith("Homed"));
  bench_->connection()->set_speed(1);
  part(Part::end_jog);
  press("describe-try");
  ASSERT_TRUE(wait_for([this] { return on<QPushButton>("describe-give-up")->isVisible(); }));
  EXPECT_FALSE(on<QLineEdit>("describe-say")->isEnabled());
  press("describe-give-up");
  EXPECT_TRUE(wait_for([this] { return on<QLabel>("describe-outcome")->text().contains("given up"); }));
  part(Part::jog);
  press("describe-try");
  press("describe-open");  // closes it, in the middle of a move
  EXPECT_EQ(bench_->connection(), nullptr);
  EXPECT_FALSE(on<QPushButton>("describe-try")->isEnabled());
  press("describe-close");
}

TEST_F(Describe, EveryPartHasItsPage) {
  open_bench();
  choose("describe-begin-with", "Telling bench 7");
  for (const Part each : link::all_parts) {
    part(each);
    auto* page = bench_->findChild<PartPage*>("describe-page");
    ASSERT_NE(page, nullptr);
    EXPECT_EQ(page->part(), each);
    EXPECT_FALSE(part_title(each).isEmpty());
    EXPECT_FALSE(part_task(each).isEmpty());
    EXPECT_EQ(bench_->findChild<QPushButton*>("describe-try") != nullptr, link::can_be_tried(each));
  }
  const auto shipped = read_described("telling");
  ASSERT_TRUE(shipped);
  EXPECT_EQ(link::write_controller(bench_->draft()), link::write_controller(*shipped)) << "looking changes nothing";
  press("describe-close");
  EXPECT_FALSE(bench_ && bench_->isVisible()) << "nothing is to be saved";
}

}  // namespace
}  // namespace ypsi::app
