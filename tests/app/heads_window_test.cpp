// The sheets of a cutting table through the real window, on the demo table: heads by marks, a knife's gap, trials by
// the simulated person, a fence; closed and opened again in between.
#include <QTableWidget>

#include "core/book/worksheets/build.h"
#include "core/book/worksheets/fences.h"
#include "core/book/worksheets/heads.h"
#include "core/book/worksheets/marks.h"
#include "core/book/worksheets/trials.h"
#include "core/tasks/fences.h"
#include "core/tasks/heads.h"
#include "core/tasks/trials.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace heads_window {

class TableWindow : public WindowTest {
 protected:
  void SetUp() override { open_machine("fathom"); }
  const Book& book() { return session_->editor().book(); }
  /// For the first time: what was never looked at is asked about.
  void home_first() {
    QApplication::setActiveWindow(window_.get());
    QTest::keyClick(window_.get(), Qt::Key_H, Qt::ControlModifier);
    see_to_the_first_move();
    QTest::qWait(50);
    if (find<QWidget>("notice")->isVisible() && !session_->machine().status().all_homed()) click("notice-action-1");
    ASSERT_TRUE(
        wait_for([this] { return session_->machine().status().all_homed() && session_->machine().standing_ready(); }));
  }
  void cell(const char* table, int row, int column, const QString& text) {
    find<QTableWidget>(table)->item(row, column)->setText(text);
    QTest::qWait(20);
  }
  /// Over a spot by eye, from below on both axes.
  void bring_over(const std::string& head, const std::string& spot) {
    for (int turn = 0; turn < 3; ++turn) {
      const auto off = machine().bench().head_from(head, spot);
      ASSERT_TRUE(off) << off.error().message;
      const MachinePosition at = session_->machine().status().position;
      for (const auto& [axis, way] : {std::pair{Axis::x, -(*off)[0]}, {Axis::y, -(*off)[1]}}) {
        jog_to(axis, at[axis] + way - 1);
        jog_to(axis, at[axis] + way);
      }
    }
  }
};

TEST_F(TableWindow, TheListFollowsTheMachine) {
  const auto shown = [this](const char* id) {
    for (const Task* t : session_->editor().tasks())
      if (id == std::string(t->id())) return t->applies_to(book().machine);
    return false;
  };
  EXPECT_TRUE(shown(heads_id));
  EXPECT_TRUE(shown(trials_id));
  session_->editor().change_book("no heads", [](Book& b) { b.machine.heads.clear(); });
  EXPECT_FALSE(shown(heads_id));
  EXPECT_FALSE(shown(trials_id));
}

TEST_F(TableWindow, APensPlaceFromFiveMarksGoesIntoTheBookAndOnTheCertificate) {
  ASSERT_NO_FATAL_FAILURE(home_first());
  sheet("heads");
  click("head-2");
  EXPECT_FALSE(find<QPushButton>("keep")->isEnabled());
  jog_to(Axis::z, -5);
  const std::pair<double, double> places[] = {{400, 300}, {1200, 320}, {1190, 900}, {410, 890}, {800, 600}};
  int n = 0;
  for (const auto& [x, y] : places) {
    const std::string spot = "mark " + std::to_string(n++);
    jog_to(Axis::x, x);
    jog_to(Axis::y, y);
    ASSERT_TRUE(machine().bench().spot(spot));
    ASSERT_NO_FATAL_FAILURE(bring_over("wheel", spot));
    EXPECT_TRUE(told());
    click("first-over");
    ASSERT_NO_FATAL_FAILURE(bring_over("pen", spot));
    EXPECT_TRUE(told());
    click("other-over");
  }
  ASSERT_EQ(book().worksheets[heads_worksheet].marks.size(), 5u);
  shoot("heads");
  close();
  open();
  window_->resize(1280, 800);
  sheet("heads");
  ASSERT_EQ(book().worksheets[heads_worksheet].marks.size(), 5u) << "nothing is lost by closing";
  ASSERT_TRUE(find<QPushButton>("keep")->isEnabled());
  click("keep");
  const Head& pen = book().machine.heads[1];
  ASSERT_TRUE(pen.place);
  // Told by the controller's count: a place's length is off by the scale of its axis.
  EXPECT_NEAR(pen.place->x_mm, 75.12, 0.5);
  EXPECT_NEAR(pen.place->y_mm, 3.04, 0.3);
  EXPECT_LT(pen.place->U_mm, 0.5);
  EXPECT_TRUE(text("heads-spread").contains("in the book")) << text("heads-spread").toStdString();
  click("heads-second");
  EXPECT_FALSE(book().machine.heads[1].place) << "taken off";
  session_->editor().undo_stack().undo();
  EXPECT_TRUE(book().machine.heads[1].place);
}

TEST_F(TableWindow, TwoLooksWithoutAMoveBetweenAreNamed) {
  ASSERT_NO_FATAL_FAILURE(home_first());
  sheet("heads");
  click("head-2");
  jog_to(Axis::x, 300);
  EXPECT_TRUE(told());
  click("first-over");
  click("other-over");
  EXPECT_TRUE(text("heads-verdict").contains("Both in one place")) << text("heads-verdict").toStdString();
  jog_to(Axis::x, 225);
  EXPECT_TRUE(told());
  click("first-over");
  click("other-over");
  EXPECT_TRUE(text("heads-text").contains("share a holder")) << "the first mark again";
}

TEST_F(TableWindow, ZeroAndAnEdgeAreSetByThePointer) {
  ASSERT_NO_FATAL_FAILURE(home_first());
  session_->editor().change_book("place", [](Book& b) { b.machine.heads[4].place = HeadPlace{-42.3, 35.8, 0.1}; });
  for (const auto& [axis, at] : {std::pair{Axis::x, 600.0}, {Axis::y, 500.0}}) jog_to(axis, at);
  sheet("work_zero");
  choose("zero-by-head", "pointer");
  EXPECT_FALSE(find<QPushButton>("set-zero-all")->isVisible()) << "its height is not the wheel's";
  shoot("extra-zero-by-pointer");
  click("set-zero-xy");
  ASSERT_TRUE(book().job.zero(Axis::x) && book().job.zero(Axis::y));
  EXPECT_NEAR(*book().job.zero(Axis::x), 557.7, 0.02) << "where the pointer's dot is";
  EXPECT_NEAR(*book().job.zero(Axis::y), 535.8, 0.02);
  EXPECT_FALSE(book().job.zero(Axis::z));
  EXPECT_EQ(last().instrument, "pointer");
  click("zero-part-turned");
  click("touch-edge");
  jog_to(Axis::x, 1000);
  jog_to(Axis::y, 504);
  EXPECT_TRUE(told());
  click("touch-edge");
  EXPECT_TRUE(text("turned-result").contains("+10.0")) << "4 mm over 400: " << text("turned-result").toStdString();
  // A head that was taken off is looked by no more.
  session_->editor().change_book("off", [](Book& b) { head_taken_off(b, 4, "2026-11-28T12:00:00+00:00"); });
  EXPECT_EQ(session_->machine().looking(), nullptr);
}

TEST_F(TableWindow, PrintedMarksSetZeroAndAnOddOneIsNamed) {
  ASSERT_NO_FATAL_FAILURE(home_first());
  sheet("work_zero");
  click("zero-part-marks");
  const double drawn[][2] = {{10, 10}, {390, 10}, {390, 290}, {10, 290}};
  const double turn = 0.02;
  for (int i = 0; i < 4; ++i) {
    click("mark-add");
    cell("printed-marks", i, 1, QString::number(drawn[i][0]));
    cell("printed-marks", i, 2, QString::number(drawn[i][1]));
    jog_to(Axis::x, 700 + drawn[i][0] * std::cos(turn) - drawn[i][1] * std::sin(turn));
    jog_to(Axis::y, 500 + drawn[i][0] * std::sin(turn) + drawn[i][1] * std::cos(turn));
    EXPECT_TRUE(told());
    click("mark-take");
  }
  EXPECT_NEAR(text("marks-result").section('+', 1, 1).section(' ', 0, 0).toDouble(), 20, 0.1)
      << text("marks-result").toStdString();
  shoot("extra-marks");
  click("marks-apply");
  EXPECT_NEAR(*book().job.zero(Axis::x), 700, 0.05);
  EXPECT_NEAR(*book().job.zero(Axis::y), 500, 0.05);
  cell("printed-marks", 2, 3, "1090");
  EXPECT_TRUE(text("marks-words").contains("C does not fit")) << text("marks-words").toStdString();
  EXPECT_FALSE(find<QPushButton>("marks-apply")->isEnabled());
}

TEST_F(TableWindow, MarksAreTypedChangedAndTakenOut) {
  sheet("heads");
  click("head-2");
  session_->editor().change_book("marks", [](Book& b) {
    b.worksheets[heads_worksheet].marks = {{OverMark{100, 100}, OverMark{25, 97}}, {OverMark{500, 100}, {}}};
  });
  cell("head-marks", 1, 3, "425,1");
  cell("head-marks", 1, 4, "97");
  ASSERT_TRUE(book().worksheets[heads_worksheet].marks[1].other);
  EXPECT_NEAR(book().worksheets[heads_worksheet].marks[1].other->x_mm, 425.1, 1e-9);
  cell("head-marks", 1, 3, "rubbish");
  EXPECT_NEAR(book().worksheets[heads_worksheet].marks[1].other->x_mm, 425.1, 1e-9) << "left as it was";
  find<QTableWidget>("head-marks")->selectRow(0);
  EXPECT_TRUE(told());
  click("mark-out");
  EXPECT_EQ(book().worksheets[heads_worksheet].marks.size(), 1u);
}

TEST_F(TableWindow, AKnifesGapIsTypedOnItsDrawing) {
  sheet("heads");
  click("head-4");
  click("heads-trailing");
  type("trailing-gap", "0.78");
  EXPECT_TRUE(text("heads-figure").contains("0.39")) << text("heads-figure").toStdString();
  shoot("extra-trailing");
  click("keep");
  EXPECT_NEAR(*book().machine.heads[3].trailing_mm, 0.39, 1e-6);
  sheet("certificate");
  EXPECT_TRUE(told());
}

TEST_F(TableWindow, TrialsAreLookedAtAndKept) {
  sheet("trials");
  EXPECT_FALSE(find<QPushButton>("trial-take")->isEnabled()) << "nothing was looked at yet";
  type("trial-step", "0.5");
  auto* material = find<QComboBox>("trial-material");
  material->lineEdit()->setText("sailcloth 0.4");
  QTest::keyClick(material->lineEdit(), Qt::Key_Return);
  emit material->lineEdit()->editingFinished();
  EXPECT_EQ(book().worksheets[trials_worksheet].material, "sailcloth 0.4");
  for (int i = 0; i < 30; ++i) {
    ASSERT_TRUE(find<QPushButton>("trial-make")->isEnabled());
    click("trial-make");
    ASSERT_TRUE(find<QPushButton>("trial-take")->isEnabled());
    click("trial-take");
  }
  ASSERT_EQ(book().worksheets[trials_worksheet].looks.size(), 30u);
  shoot("trials");
  click("trial-back");
  EXPECT_EQ(book().worksheets[trials_worksheet].looks.size(), 29u);
  ASSERT_TRUE(find<QPushButton>("keep")->isEnabled());
  click("keep");
  const auto kept = setting_for(book(), "sailcloth 0.4", 0);
  ASSERT_TRUE(kept && kept->through);
  EXPECT_NEAR(*kept->through, 14.2, 1.5);
  EXPECT_TRUE(text("trials-spread").contains("in the book")) << text("trials-spread").toStdString();
  // Another material begins afresh; the first is remembered.
  material->lineEdit()->setText("felt");
  emit material->lineEdit()->editingFinished();
  EXPECT_TRUE(book().worksheets[trials_worksheet].looks.empty());
  EXPECT_GE(material->findText("sailcloth 0.4"), 0);
  type("trial-low", "30");
  EXPECT_LT(trial_range(book())->low, 24) << "a range upside down is not taken";
}

TEST_F(TableWindow, AFenceIsAddedTestedAndCorrected) {
  const std::size_t before = book().history.size();
  sheet("fences");
  click("fence-add");
  ASSERT_EQ(book().fences.size(), 1u);
  type("fence-name", "left stop");
  EXPECT_EQ(book().fences[0].name, "left stop");
  choose("fence-kind", "an edge along Y");
  type("fence-x", "120");
  type("fence-expected", "400");
  type("fence-tolerance", "0.3");
  type("fence-measured", "400.62");
  EXPECT_TRUE(text("fences-verdict").contains("Again")) << text("fences-verdict").toStdString();
  shoot("extra-fences-and-stops");
  click("keep");
  EXPECT_NEAR(book().fences[0].offset_mm, -0.62, 1e-9);
  for (const char* piece : {"400.01", "399.99", "400.00", "400.02"}) type("fence-measured", piece);
  EXPECT_TRUE(text("fences-verdict").contains("Done")) << text("fences-verdict").toStdString();
  click("keep");
  EXPECT_EQ(book().history.size(), before + 2);
  click("fence-add");
  EXPECT_EQ(book().fences.size(), 2u);
  type("fence-name", "left stop");
  EXPECT_NE(book().fences[1].name, "left stop") << "two of one name";
  click("fence-out");
  EXPECT_EQ(book().fences.size(), 1u);
}

TEST_F(TableWindow, BlanksAreCountedMeasuredAndAFenceSetsZero) {
  ASSERT_NO_FATAL_FAILURE(home_first());
  session_->editor().change_book("a fence", [](Book& b) {
    Fence f;
    f.name = "left edge";
    f.kind = FenceKind::along_y;
    f.x_mm = 120;
    f.offset_mm = 0.25;
    b.fences = {f};
    choose_fence(b, f.name);
    b.worksheets[fences_worksheet].expected_mm = 80;
  });
  sheet("fences");
  click("fence-zero");
  ASSERT_TRUE(book().job.zero(Axis::x));
  EXPECT_DOUBLE_EQ(book().job.zero(Axis::x)->mm, 120.25);
  EXPECT_DOUBLE_EQ(session_->machine().link()->setting("work.g54.x_mm").value(), 120.25);
  click("fences-blanks");
  type("blanks-every", "3");
  EXPECT_FALSE(find<QLineEdit>("blanks-size")->isEnabled()) << "none is cut yet";
  const char* sizes[] = {"80.00", "80.03", "80.06", "80.09"};
  for (int n = 0; n < 4; ++n) {
    for (int i = 0; i < (n == 0 ? 1 : 3); ++i) click("blanks-one");
    EXPECT_TRUE(text("blanks-hint").contains("Measure this one")) << n;
    type("blanks-size", sizes[n]);
    if (n < 3) {
      EXPECT_TRUE(text("blanks-hint").contains(QString("number %1").arg(n * 3 + 4)));
    }
  }
  EXPECT_EQ(book().worksheets[fences_worksheet].blanks, 10);
  EXPECT_TRUE(text("fences-verdict").contains("soon be out")) << text("fences-verdict").toStdString();
  EXPECT_TRUE(text("fences-text").contains("from number 12 on")) << text("fences-text").toStdString();
  shoot("extra-blanks");
  click("keep");
  EXPECT_EQ(book().worksheets[fences_worksheet].blanks, 0);
  EXPECT_EQ(last().subject, "left edge, blanks");
}

TEST_F(TableWindow, HeadsAreBuiltInBuild) {
  sheet("build");
  click("build-heads");
  shoot("extra-build-heads");
  auto* table = find<QTableWidget>("build-heads");
  ASSERT_EQ(table->rowCount(), 5);
  click("build-head-add");
  ASSERT_EQ(table->rowCount(), 6);
  cell("build-heads", 5, 0, "camera");
  cell("build-heads", 5, 6, "%");
  cell("build-heads", 5, 8, "many");
  EXPECT_EQ(book().worksheets[build_worksheet]->heads[5].name, "camera");
  EXPECT_EQ(book().worksheets[build_worksheet]->heads[5].gauge_high, 0) << "what is no number is not taken";
  cell("build-heads", 5, 0, "pen");
  EXPECT_EQ(book().worksheets[build_worksheet]->heads[5].name, "camera") << "two of one name";
  EXPECT_TRUE(told());
  click("keep-build");
  EXPECT_EQ(book().machine.heads.size(), 6u);
  sheet("heads");
  EXPECT_TRUE(find<QPushButton>("head-6")->isVisible());
}

/// By hand, with nothing connected and nothing in the book: every sheet says what it needs.
TEST_F(TableWindow, OfflineWithNothingTheSheetsTeach) {
  close();
  session_ = std::make_unique<Session>(BookStore(demo_.book), nullptr);
  window_ = std::make_unique<MainWindow>(*session_);
  window_->resize(1024, 700);
  window_->show();
  session_->editor().open_book();
  const QString folder = qEnvironmentVariable("YPSI_PICTURES", folder_.path());
  for (const bool any : {true, false}) {
    if (!any) session_->editor().change_book("no heads", [](Book& b) { b.machine.heads.clear(); });
    for (const auto& [id, words] :
         {std::pair{"heads", "heads-text"}, {"trials", "trials-text"}, {"fences", "fences-text"}}) {
      window_->open_sheet(id);
      QTest::qWait(30);
      EXPECT_EQ(window_->current_sheet(), id);
      EXPECT_GT(text(words).size(), 60) << id << ": what it is for, and what is needed";
      EXPECT_FALSE(find<QPushButton>("keep")->isEnabled()) << id;
      EXPECT_TRUE(window_->grab().save(folder + "/extra-empty-" + id + (any ? "" : "-none") + ".png"));
    }
  }
}

}  // namespace heads_window
}  // namespace ypsi::app
