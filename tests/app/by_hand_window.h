#pragma once
// The window and a machine with no line to it: a simulated owner carries each card to a stand-in of its own, by what
// the card says in the window, and types what its screen shows.
#include <QCheckBox>
#include <QComboBox>
#include <QListWidget>
#include <QMenu>
#include <QPlainTextEdit>

#include "app/at_machine/hand_words.h"
#include "app/connect_dialog.h"
#include "core/book/first_book.h"
#include "core/book/worksheets/squareness.h"
#include "link/by_hand/hand_link.h"
#include "link/carrier.h"
#include "standin/standin_fixture.h"
#include "window_fixture.h"

namespace ypsi::app {

using link::HandAnswer;
using link::HandCard;

class ByHandWindow : public WindowTest {
 protected:
  void SetUp() override {
    book_ = folder_.filePath("oriel.ypsi");
    make_iron([](standin::Scenario&) {});
    carries_.setInterval(1);
    QObject::connect(&carries_, &QTimer::timeout, [this] { carry(); });
  }
  void TearDown() override {
    carries_.stop();
    close();
  }
  void make_iron(const std::function<void(standin::Scenario&)>& edit) {
    standin::Scenario scenario = standin::demo();
    edit(scenario);
    iron_ = std::make_unique<standin::StandIn>(std::move(scenario));
    owner_ = std::make_unique<Carrier>(*iron_);
  }
  /// A book as the command or the start page makes it.
  void write_first_book(const std::function<void(Book&)>& edit = [](Book&) {}) {
    Book book = first_book({"moving_gantry", "Oriel", {"ruler", "caliper", "indicator"}, {812, 600, 112}}).value();
    edit(book);
    ASSERT_TRUE(write_file(book_, write_book(book)));
  }
  void open_window() {
    session_ = std::make_unique<Session>(BookStore(book_), nullptr);
    window_ = std::make_unique<MainWindow>(*session_);
    window_->show();
    (void)QTest::qWaitForWindowExposed(window_.get(), 2000);
    QApplication::setActiveWindow(window_.get());
    session_->editor().open_book();
  }
  /// By the dialog, as an owner would.
  void connect_by_hand() {
    QTest::keyClick(window_.get(), Qt::Key_L, Qt::ControlModifier);
    auto* dialog = window_->findChild<QDialog*>("connect-dialog");
    ASSERT_NE(dialog, nullptr);
    auto* lines = dialog->findChild<QListWidget*>("connect-lines");
    for (int row = 0; row < lines->count(); ++row)
      if (lines->item(row)->text().startsWith("By hand")) lines->setCurrentRow(row);
    QTest::mouseClick(dialog->findChild<QPushButton*>("connect-now"), Qt::LeftButton);
    ASSERT_TRUE(hands());
    ASSERT_TRUE(told());
    QApplication::setActiveWindow(window_.get());
  }
  link::HandLink* hands() {
    return session_ && session_->machine().connection() ? session_->machine().connection()->hands() : nullptr;
  }
  const HandCard* card() { return hands() ? hands()->card() : nullptr; }
  /// The button, or the entry of the menu, that says this.
  void press(const HandCard& of, HandAnswer::Word word, bool elsewhere) {
    for (const CardAnswer& each : card_answers(of)) {
      if (each.word != word || (each.name == std::string("hand-elsewhere")) != elsewhere) continue;
      if (auto* button = window_->findChild<QPushButton*>(each.name); button && button->isVisible())
        return QTest::mouseClick(button, Qt::LeftButton);
      for (QAction* act : window_->findChild<QPushButton*>("hand-others")->menu()->actions())
        if (act->objectName() == each.name) return act->trigger();
    }
    ADD_FAILURE() << "nothing says " << static_cast<int>(word) << " on " << text("hand-title").toStdString();
  }
  void answer_with(const HandCard& of, const HandAnswer& answer) {
    const auto& at = answer.at;
    bool elsewhere = false;
    for (const Axis axis : card_axes(of)) {
      if (!at) continue;
      elsewhere = elsewhere || (of.kind == HandCard::Kind::move && std::fabs((*at)[axis] - of.to[axis]) > 0.05);
      if (auto* field = find<QLineEdit>(QString("hand-at-%1").arg(QChar(letter(axis))).toUtf8()); field->isVisible())
        type(field->objectName().toUtf8(), QString::number((*at)[axis], 'f', 3), Qt::Key_Tab);
    }
    for (const auto& [name, value] : answer.values)
      type(("hand-value-" + name).c_str(), QString::number(value, 'f', 4), Qt::Key_Tab);
    for (const auto& name : answer.not_taken) find<QCheckBox>(("hand-taken-" + name).c_str())->setChecked(false);
    press(of, answer.word, elsewhere && answer.word == HandAnswer::Word::done);
  }
  /// One card, if there is one: what the window shows is what is carried.
  void carry() {
    if (carrying_ || !card() || !window_->findChild<QWidget*>("hand-card")->isVisible()) return;
    carrying_ = true;
    HandCard shown = *card();
    if (!shown.block.empty()) {
      const QString block = find<QPlainTextEdit>("hand-block")->toPlainText();
      EXPECT_EQ(block.toStdString(), shown.block);
      shown.block = block.toStdString();
    }
    if (shown.kind == HandCard::Kind::program && !shown.touches && !shown.started) {
      press(shown, HandAnswer::Word::started, false);
    } else {
      answer_with(shown, owner_->carry(shown));
      ++carried_;
      if (spotting_ && shown.kind == HandCard::Kind::move && shown.axis == Axis::z && shown.to.z < shown.from.z) {
        const auto& points = session_->editor().book().worksheets[square_worksheet]->points;
        (void)iron_->bench().spot(points[spotted_++ % points.size()].name);
      }
    }
    carrying_ = false;
  }
  void carry_all() {
    ASSERT_TRUE(wait_for([this] { return !card(); }, 60000)) << text("hand-title").toStdString();
    ASSERT_TRUE(told());
  }
  void home_by_hand() {
    QApplication::setActiveWindow(window_.get());
    QTest::keyClick(window_.get(), Qt::Key_H, Qt::ControlModifier);
    if (!card() && find<QWidget>("notice")->isVisible()) ADD_FAILURE() << text("notice-text").toStdString();
    ASSERT_TRUE(wait_for([this] { return session_->machine().status().all_homed() && !card(); }, 30000));
  }
  /// Moves the machine with its own keys, and tells where it then stands.
  void own_keys(Axis axis, double machine_mm) {
    const double by = machine_mm - iron_->link().status().position[axis];
    if (std::fabs(by) < 1e-6) return;
    const auto moved = iron_->link().jog(axis, by, 3000);
    ASSERT_TRUE(moved) << moved.error().message;
    owner_->run();
    tell_place();
  }
  void tell_place() {
    click("hand-tell");
    const MachinePosition at = owner_->shown();
    for (const Axis axis : all_axes)
      type(QString("hand-at-%1").arg(QChar(letter(axis))).toUtf8(), QString::number(at[axis], 'f', 3), Qt::Key_Tab);
    click("hand-done");
    ASSERT_EQ(session_->machine().status().position, at);
  }
  /// What its screen shows at an input is told by a press.
  void lamp(const char* name, bool on) {
    auto* button = find<QPushButton>(name);
    if (button->isChecked() != on) QTest::mouseClick(button, Qt::LeftButton);
    EXPECT_TRUE(told(3));
  }
  void press_and_let_go(const char* name) {
    lamp(name, true);
    lamp(name, false);
  }
  void type(const QByteArray& name, const QString& text, Qt::Key end = Qt::Key_Return) {
    WindowTest::type(name.constData(), text, end);
  }
  void click(const QByteArray& name) { WindowTest::click(name.constData()); }
  template <class T = QWidget>
  T* find(const QByteArray& name) {
    return WindowTest::find<T>(name.constData());
  }
  void the_order_of_work(bool switches);
  void see_directions() {
    sheet("directions");
    for (const Axis axis : {Axis::z, Axis::x, Axis::y}) {
      click(QString("nudge-%1").arg(QChar(letter(axis))).toUtf8());
      ASSERT_TRUE(wait_for([this] {
        return find<QPushButton>("directions-yes")->isVisible() && find<QPushButton>("directions-yes")->isEnabled();
      }));
      click("directions-yes");
    }
  }
  /// Where it stands becomes zero, over the stock.
  void zero_over_stock() {
    sheet("work_zero");
    own_keys(Axis::x, 182);
    own_keys(Axis::y, 122);
    own_keys(Axis::z, -88);
    click("set-zero-all");
    carry_all();
  }
  double read(Axis axis, const char* instrument) { return iron_->bench().read_distance(axis, instrument).value(); }
  void steps(Axis axis, const char* instrument, std::initializer_list<const char*> tolds) {
    sheet("steps_per_unit");
    click(QString("axis-%1").arg(QChar(letter(axis)).toLower()).toUtf8());
    choose("instrument", instrument);
    for (const char* told : tolds) {
      type("told", told);
      click("move-and-mark");
      ASSERT_TRUE(wait_for([this] { return text("hint").contains("Mark where"); }))
          << text("hint").toStdString() << text("notice-text").toStdString();
      iron_->bench().mark(axis);
      click("move-and-mark");
      ASSERT_TRUE(wait_for([this] { return text("hint").contains("It has moved"); })) << text("hint").toStdString();
      type("measured", QString::number(std::fabs(read(axis, instrument)), 'f', 3));
    }
    click("apply");
    carry_all();
    home_by_hand();
  }
  void expect_steps_within_U(Axis axis) {
    const Book& book = session_->editor().book();
    const auto found = newest(book, "steps_per_unit", std::string(1, letter(axis)));
    ASSERT_TRUE(found) << letter(axis);
    const Entry& entry = book.history[*found];
    EXPECT_TRUE(entry.told_by_hand);
    EXPECT_NEAR(entry.result.at("new_steps_per_mm").get<double>(),
                iron_->scenario().axes[index(axis)].true_steps_per_mm,
                entry.result.at("U_new_steps_per_mm").get<double>())
        << letter(axis);
    EXPECT_NEAR(iron_->link().setting(axis_setting(axis, "steps_per_mm")).value(), book.machine.axis(axis).steps_per_mm,
                1e-9)
        << "and it was typed there";
  }

  QString book_;
  std::unique_ptr<standin::StandIn> iron_;
  std::unique_ptr<Carrier> owner_;
  QTimer carries_;
  bool carrying_ = false, spotting_ = false;
  std::size_t spotted_ = 0;
  int carried_ = 0;
};

}  // namespace ypsi::app
