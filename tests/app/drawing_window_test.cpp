// A drawing through the real window, on the demo table: dropped on the sheet, its layers given what is done with them,
// made into a program that is loaded; measured, damaged, and with an empty book.
#include <QCheckBox>
#include <QDropEvent>
#include <QMimeData>
#include <QSlider>
#include <QTableWidget>

#include "app/sheets/program/drawing_view.h"
#include "app/sheets/program_sheet.h"
#include "core/book/worksheets/build.h"
#include "core/drawing_in/drawing_program.h"
#include "core/drawing_text.h"
#include "layout_faults.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace drawing_window {

class DrawingWindow : public WindowTest {
 protected:
  void SetUp() override {
    open_machine("fathom");
    QFile::copy(QString(YPSI_DEMO_DATA) + "/gnomon-case.dxf", folder_.filePath("gnomon-case.dxf"));
    session_->editor().change_book("places", [](Book& b) {
      for (std::size_t i = 1; i < b.machine.heads.size(); ++i)
        b.machine.heads[i].place = HeadPlace{20.0 * static_cast<double>(i), 3, 0.1};
      b.job.stock_size = {700, 500, 1};
    });
  }
  const Book& book() { return session_->editor().book(); }
  const DrawingJob& job() { return *book().job.drawing; }
  void drop(const QString& path) {
    QMimeData data;
    data.setUrls({QUrl::fromLocalFile(path)});
    auto* sheet = window_->findChild<ProgramSheet*>();
    QDragEnterEvent enter(QPoint(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QCoreApplication::sendEvent(sheet, &enter);
    QDropEvent event(QPointF(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QCoreApplication::sendEvent(sheet, &event);
  }
  void opened(const QString& path) {
    sheet("program");
    drop(path);
    ASSERT_TRUE(wait_for([this] { return find<QTableWidget>("drawing-layers")->rowCount() > 0; }));
  }
  int row(const QString& layer) {
    const auto* table = find<QTableWidget>("drawing-layers");
    for (int i = 0; i < table->rowCount(); ++i)
      if (table->item(i, 0)->text().startsWith(layer + ":")) return i;
    ADD_FAILURE() << "no layer " << layer.toStdString();
    return 0;
  }
  void choose(const char* box_name, int row, const QString& words) {
    auto* box = find<QComboBox>(QString("%1-%2").arg(box_name).arg(row + 1).toLatin1().constData());
    const int at = box->findText(words, Qt::MatchStartsWith);
    ASSERT_GE(at, 0) << words.toStdString();
    box->setCurrentIndex(at);
    emit box->activated(at);
  }
  void say_all() {
    const std::array<std::array<QString, 3>, 3> acts{
        {{"outline", "cut on the line", "wheel"}, {"fold", "creased", "creaser"}, {"names", "marked", "pen"}}};
    for (const auto& [layer, act, head] : acts) {
      ASSERT_NO_FATAL_FAILURE(choose("layer-with", row(layer), head));
      ASSERT_NO_FATAL_FAILURE(choose("layer-act", row(layer), act));
    }
  }
};

TEST_F(DrawingWindow, FromTheFileToALoadedProgram) {
  ASSERT_NO_FATAL_FAILURE(opened(folder_.filePath("gnomon-case.dxf")));
  EXPECT_TRUE(find<QWidget>("drawing-view")->isVisible());
  EXPECT_EQ(find<QTableWidget>("drawing-layers")->rowCount(), 4);
  EXPECT_TRUE(find<QTableWidget>("drawing-layers")->item(row("outline"), 0)->text().contains("3 closed"));
  EXPECT_FALSE(find<QPushButton>("drawing-write")->isEnabled()) << "nobody has said what is done";
  EXPECT_TRUE(text("program-details").contains("0.400 mm apart")) << text("program-details").toStdString();
  EXPECT_TRUE(text("program-details").contains("gnomon case No. 4"));
  ASSERT_NO_FATAL_FAILURE(say_all());
  ASSERT_EQ(job().acts.size(), 3u);
  EXPECT_TRUE(text("program-details").contains("About ")) << text("program-details").toStdString();
  EXPECT_TRUE(text("program-size").contains("2.63 m to cut")) << text("program-size").toStdString();
  shoot("extra-drawing");
  window_->resize(1024, 700);
  shoot("extra-drawing-1024");
  const QStringList faults = faults_of(find<QWidget>("sheet-program"));
  EXPECT_TRUE(faults.isEmpty()) << faults.join('\n').toStdString();
  window_->resize(1280, 800);
  click("drawing-write");
  ASSERT_TRUE(wait_for([this] { return session_->job().program() != nullptr; }));
  const QString path = session_->job().program()->path;
  EXPECT_TRUE(path.endsWith("/gnomon-case.ngc")) << path.toStdString();
  const std::string& text_of = session_->job().program()->text;
  EXPECT_LT(text_of.find("(names)"), text_of.find("(fold)"));
  EXPECT_LT(text_of.find("(fold)"), text_of.find("(outline)"));
  EXPECT_EQ(text_of.find("(frame)"), std::string::npos);
  EXPECT_TRUE(find<QWidget>("open-program")->isVisible()) << "the program is shown";
  // Once more: what is there is not overwritten unasked.
  click("part-drawing");
  type("drawing-columns", "2");
  click("drawing-write");
  ASSERT_TRUE(wait_for([&] { return session_->job().program() && session_->job().program()->path != path; }));
  // One each: the first is loaded, the other stands beside it.
  click("part-drawing");
  click("drawing-each");
  click("drawing-write");
  ASSERT_TRUE(wait_for([&] { return session_->job().program()->path.endsWith("/gnomon-case-part-1.ngc"); }))
      << text("notice-text").toStdString();
  EXPECT_TRUE(QFile::exists(folder_.filePath("gnomon-case-part-2.ngc")));
  EXPECT_TRUE(text("notice-text").contains("2 programs written")) << text("notice-text").toStdString();
}

/// The bed of the demo has six zones: two lie wholly under the stock.
TEST_F(DrawingWindow, SaysWhatHoldsTheStockAndWhatIsTooSmallForIt) {
  session_->editor().change_book("stock", [](Book& b) {
    b.job.stock_size = {1000, 800, 1};
    b.job.zero(Axis::x) = b.job.zero(Axis::y) = std::nullopt;
  });
  ASSERT_NO_FATAL_FAILURE(opened(folder_.filePath("gnomon-case.dxf")));
  ASSERT_NO_FATAL_FAILURE(say_all());
  EXPECT_TRUE(text("drawing-held").contains("set work zero")) << text("drawing-held").toStdString();
  session_->editor().change_book("zero", [](Book& b) {
    b.job.zero(Axis::x) = 100;
    b.job.zero(Axis::y) = 130;
  });
  // 0.8 m^2 at 18 kPa and 0.3.
  EXPECT_TRUE(text("drawing-held").contains("Open A1, A2: 100 % of the stock, holds 4320 N"))
      << text("drawing-held").toStdString();
  EXPECT_TRUE(text("drawing-held").contains("Least held, once free"));
  EXPECT_FALSE(text("drawing-held").contains("Use tabs"));
  EXPECT_TRUE(text("drawing-places").contains("wheel: the first"));
  EXPECT_TRUE(text("drawing-places").contains("pen: +20.00 +3.00")) << text("drawing-places").toStdString();
  shoot("stock-and-drawing");
  for (const QSize size : {QSize(1024, 700), QSize(1280, 800)}) {
    window_->resize(size);
    QTest::qWait(20);
    const QStringList faults = faults_of(window_->findChild<QWidget*>("sheet-program"));
    EXPECT_TRUE(faults.isEmpty()) << size.width() << ":\n" << faults.join("\n").toStdString();
  }
  session_->editor().change_book("small", [](Book& b) {
    b.machine.vacuum.smallest_piece_cm2 = 1e5;
    b.machine.heads[1].place.reset();
  });
  EXPECT_TRUE(text("drawing-held").contains("does not hold: 3.")) << text("drawing-held").toStdString();
  EXPECT_TRUE(text("drawing-places").contains("pen: not measured"));
  session_->editor().change_book("far", [](Book& b) { b.job.zero(Axis::y) = 1500; });
  EXPECT_TRUE(text("drawing-held").contains("nothing holds it")) << text("drawing-held").toStdString();
  click("part-program");
  EXPECT_FALSE(find<QWidget>("drawing-held")->isVisible());
}

/// What the program rests on is changed after it was written: the check says so until it is written anew.
TEST_F(DrawingWindow, AProgramIsOutOfDateWhenAHeadsPlaceChanges) {
  ASSERT_NO_FATAL_FAILURE(opened(folder_.filePath("gnomon-case.dxf")));
  ASSERT_NO_FATAL_FAILURE(say_all());
  click("drawing-write");
  const auto checked = [this] {
    return wait_for([this] { return session_->job().program() != nullptr && session_->job().checked(); });
  };
  const auto old = [this] {
    const auto& all = session_->job().findings();
    return std::any_of(all.begin(), all.end(), [](const Finding& f) { return f.code == "out_of_date"; });
  };
  ASSERT_TRUE(checked());
  EXPECT_FALSE(old());
  session_->editor().change_book("moved", [](Book& b) { b.machine.heads[1].place->x_mm = 20.5; });
  ASSERT_TRUE(checked());
  EXPECT_TRUE(old());
  click("part-drawing");
  click("drawing-write");
  ASSERT_TRUE(wait_for([&] { return session_->job().checked() && !old(); }));
  QFile file(folder_.filePath("gnomon-case.dxf"));
  ASSERT_TRUE(file.open(QIODevice::Append));
  file.write("\n");
  file.close();
  session_->editor().change_book("anything", [](Book& b) { b.job.part_width = 301; });
  ASSERT_TRUE(wait_for([&] { return session_->job().checked() && old(); })) << "it was drawn anew";
}

/// The cut line by line: the pen's lines first, the last one is the wheel's.
TEST_F(DrawingWindow, ShowsTheCutStepByStep) {
  ASSERT_NO_FATAL_FAILURE(opened(folder_.filePath("gnomon-case.dxf")));
  EXPECT_FALSE(find<QPushButton>("drawing-steps")->isEnabled()) << "nobody has said what is done";
  ASSERT_NO_FATAL_FAILURE(say_all());
  click("drawing-steps");
  auto* step = find<QSlider>("drawing-step");
  ASSERT_TRUE(step->isVisible());
  EXPECT_TRUE(text("drawing-step-words").startsWith("1 of ")) << text("drawing-step-words").toStdString();
  EXPECT_TRUE(text("drawing-step-words").endsWith("names, by the pen")) << text("drawing-step-words").toStdString();
  const QImage before = find<QWidget>("drawing-view")->grab().toImage();
  step->setValue(step->maximum() / 2);
  shoot("extra-drawing-steps");
  step->setValue(step->maximum());
  EXPECT_TRUE(text("drawing-step-words").endsWith("outline, by the wheel")) << text("drawing-step-words").toStdString();
  EXPECT_NE(find<QWidget>("drawing-view")->grab().toImage(), before);
  const int all = step->maximum();
  find<QTableWidget>("drawing-layers")->item(row("outline"), 5)->setText("2");
  ASSERT_TRUE(wait_for([this] { return job().acts.back().overcut_mm == 2; }));
  EXPECT_EQ(step->maximum(), all) << "as many lines, longer ones";
  choose("layer-act", row("names"), "left out");
  EXPECT_LT(step->maximum(), all);
  click("drawing-steps");
  EXPECT_FALSE(step->isVisible());
}

/// So much is drawn that the program is made beside the window: it comes later, and of what was said last.
TEST_F(DrawingWindow, AProgramOfALargeDrawingComesLater) {
  std::string entities;
  for (int i = 0; i < 40; ++i)
    for (int j = 0; j < 30; ++j) entities += drawing_text::circle(10.0 + 15 * i, 10.0 + 15 * j, 5);
  QFile file(folder_.filePath("many.dxf"));
  ASSERT_TRUE(file.open(QIODevice::WriteOnly));
  file.write(drawing_text::dxf(entities).c_str());
  file.close();
  ASSERT_NO_FATAL_FAILURE(opened(folder_.filePath("many.dxf")));
  ASSERT_NO_FATAL_FAILURE(choose("layer-act", row("cut"), "cut on the line"));
  EXPECT_FALSE(find<QPushButton>("drawing-write")->isEnabled());
  ASSERT_NO_FATAL_FAILURE(choose("layer-with", row("cut"), "pen"));
  ASSERT_NO_FATAL_FAILURE(choose("layer-act", row("cut"), "marked"));
  ASSERT_TRUE(wait_for([this] { return find<QPushButton>("drawing-write")->isEnabled(); }));
  EXPECT_TRUE(text("program-size").contains("37.69"))
      << "1200 circles of 31.4 mm: " << text("program-size").toStdString();
  click("drawing-steps");
  EXPECT_EQ(find<QSlider>("drawing-step")->maximum(), 1200);
  EXPECT_TRUE(text("drawing-step-words").endsWith("cut, by the pen")) << text("drawing-step-words").toStdString();
}

TEST_F(DrawingWindow, TabsLeadInAndHatchAreSaidOfTheChosenLayer) {
  ASSERT_NO_FATAL_FAILURE(opened(folder_.filePath("gnomon-case.dxf")));
  EXPECT_FALSE(find<QWidget>("layer-more")->isVisible()) << "nobody has said what is done";
  ASSERT_NO_FATAL_FAILURE(say_all());
  find<QTableWidget>("drawing-layers")->setCurrentCell(row("outline"), 0);
  ASSERT_TRUE(find<QWidget>("layer-more")->isVisible());
  EXPECT_TRUE(text("layer-more-name").startsWith("outline"));
  EXPECT_FALSE(find<QWidget>("layer-tab-mm")->isVisible()) << "no tabs, no length of them";
  EXPECT_FALSE(find<QWidget>("layer-hatch-mm")->isVisible());
  click("drawing-steps");
  const auto lines = [this] { return find<QSlider>("drawing-step")->maximum(); };
  const int before = lines();
  type("layer-tabs", "3");
  const auto outline = [this] {
    return *std::find_if(job().acts.begin(), job().acts.end(), [](const LayerAct& a) { return a.layer == "outline"; });
  };
  EXPECT_EQ(outline().tabs, 3);
  EXPECT_EQ(outline().tab_mm, 6) << "a usual length, until another is typed";
  ASSERT_TRUE(find<QWidget>("layer-tab-mm")->isVisible());
  EXPECT_FALSE(find<QWidget>("layer-tab-high")->isVisible()) << "a wheel is lifted, it leaves all or nothing";
  type("layer-tab-mm", "4");
  EXPECT_EQ(outline().tab_mm, 4);
  EXPECT_GT(lines(), before) << "more lines, lifted between";
  type("layer-tab-mm", "-4");
  EXPECT_EQ(outline().tab_mm, 4);
  shoot("extra-drawing-tabs");
  // The same layer hatched, by the pen, which has no width: apart as is said.
  ASSERT_NO_FATAL_FAILURE(choose("layer-with", row("outline"), "pen"));
  ASSERT_NO_FATAL_FAILURE(choose("layer-act", row("outline"), "hatched"));
  find<QTableWidget>("drawing-layers")->setCurrentCell(row("outline"), 0);
  EXPECT_FALSE(find<QPushButton>("drawing-write")->isEnabled()) << "nobody has said how far apart";
  EXPECT_TRUE(text("program-details").contains("how far apart")) << text("program-details").toStdString();
  type("layer-hatch-mm", "5");
  type("layer-hatch-deg", "30");
  find<QCheckBox>("layer-one-way")->click();
  EXPECT_EQ(outline().hatch_mm, 5);
  EXPECT_EQ(outline().hatch_deg, 30);
  EXPECT_TRUE(outline().hatch_one_way);
  EXPECT_FALSE(find<QWidget>("layer-tabs")->isVisible());
  EXPECT_TRUE(find<QPushButton>("drawing-write")->isEnabled());
  EXPECT_FALSE(text("program-size").contains("2.63")) << "what is drawn by the pen is as long as its lines";
  click("drawing-steps");
  shoot("extra-drawing-hatch");
  undo();
  EXPECT_FALSE(outline().hatch_one_way);
}

TEST_F(DrawingWindow, TheBedsZonesAreSaidInBuild) {
  session_->editor().change_book("none", [](Book& b) { b.machine.vacuum = {}; });
  sheet("build");
  click("build-bed");
  click("zone-add");
  click("zone-add");
  ASSERT_EQ(book().machine.vacuum.zones.size(), 2u);
  EXPECT_DOUBLE_EQ(book().machine.vacuum.zones[1].x_mm, 400) << "beside the first";
  auto* table = find<QTableWidget>("build-zones");
  table->item(1, 0)->setText("B");
  ASSERT_TRUE(wait_for([this] { return book().machine.vacuum.zones[1].name == "B"; }));
  table->item(1, 3)->setText("250");
  ASSERT_TRUE(wait_for([this] { return book().machine.vacuum.zones[1].width_mm == 250; }));
  for (const auto& [column, wrong] : {std::pair{3, "0"}, {4, "wide"}, {0, ""}, {0, "zone 1"}}) {
    const VacuumZone before = book().machine.vacuum.zones[1];
    table->item(1, column)->setText(wrong);
    ASSERT_TRUE(wait_for([this] { return find<QWidget>("notice")->isVisible(); })) << wrong;
    EXPECT_TRUE(text("notice-text").contains("left as it is")) << text("notice-text").toStdString();
    EXPECT_EQ(book().machine.vacuum.zones[1].name, before.name);
    EXPECT_EQ(book().machine.vacuum.zones[1].width_mm, before.width_mm);
    click("notice-away");
  }
  type("vacuum-pressure", "22");
  type("zone-share", "60");
  EXPECT_EQ(book().machine.vacuum.pressure_kPa, 22);
  EXPECT_DOUBLE_EQ(book().machine.vacuum.open_share, 0.6);
  type("zone-share", "160");
  EXPECT_DOUBLE_EQ(book().machine.vacuum.open_share, 0.6);
  type("arming", "air, pumps ,, reset");
  ASSERT_TRUE(book().worksheets[build_worksheet]);
  EXPECT_EQ(book().worksheets[build_worksheet]->arming, (std::vector<std::string>{"air", "pumps", "reset"}));
  session_->editor().undo_stack().undo();
  session_->editor().undo_stack().undo();
  EXPECT_NE(book().machine.vacuum.open_share, 0.6) << "each is one step of undo";
  table->selectRow(0);
  click("zone-remove");
  EXPECT_EQ(book().machine.vacuum.zones.size(), 1u);
  shoot("extra-build-bed");
}

/// Nothing moves before what comes first is on; after an emergency stop it is asked anew.
TEST_F(DrawingWindow, HomingAsksForAirDrivesAndResetFirst) {
  sheet("heads");
  session_->machine().home(true);
  EXPECT_TRUE(asks("Before the first move, 1 of 3: air.")) << text("notice-text").toStdString();
  click("notice-action-1");
  EXPECT_TRUE(asks("Not on: air")) << text("notice-text").toStdString();
  EXPECT_TRUE(text("notice-text").contains("compressor"));
  session_->machine().home(true);
  click("notice-action-0");
  EXPECT_TRUE(asks("Before the first move, 2 of 3: drives.")) << text("notice-text").toStdString();
  EXPECT_TRUE(text("notice-text").contains("at the box")) << "each emergency stop by its place";
  // One of them is still pressed: the machine itself does not let the drives come on.
  session_->machine().bench()->press_emergency_stop(true);
  find<QPushButton>("notice-action-0")->click();  // before the window has heard of the stop
  EXPECT_TRUE(asks("Not on: drives")) << text("notice-text").toStdString();
  EXPECT_TRUE(text("notice-text").contains("emergency stop is pressed"));
  ASSERT_TRUE(wait_for([this] { return session_->machine().status().state == MachineState::emergency_stop; }));
  session_->machine().bench()->press_emergency_stop(false);
  ASSERT_TRUE(wait_for([this] { return session_->machine().status().state != MachineState::emergency_stop; }));
  EXPECT_NE(session_->machine().status().state, MachineState::moving);
  session_->machine().home(true);
  EXPECT_TRUE(asks("Before the first move, 1 of 3")) << "all anew after an emergency stop";
  see_to_the_first_move();
  ASSERT_TRUE(wait_for([this] { return session_->machine().status().all_homed(); }, 60000));
  session_->machine().home(true);
  EXPECT_FALSE(asks("Before the first move")) << "once is enough";
}

/// Whatever is asked of a machine that is not switched on leads to what is to be switched on, and it did not move.
TEST_F(DrawingWindow, AMoveBeforeAnythingIsOnAsksForItToo) {
  session_->machine().jog(Axis::x, 1);
  EXPECT_TRUE(asks("Before the first move, 1 of 3")) << text("notice-text").toStdString();
  EXPECT_EQ(session_->machine().status().state, MachineState::not_homed);
  see_to_the_first_move();
  session_->machine().jog(Axis::x, 1);
  EXPECT_FALSE(asks("Before the first move"));
  EXPECT_TRUE(wait_for([this] { return std::fabs(session_->machine().status().position.x - 1) < 0.05; }));
}

/// What lies on the bed is named, and the way shown, before each homing; the order is the owner's.
TEST_F(DrawingWindow, HomingSaysWhatMustKeepClear) {
  sheet("build");
  click("build-bed");
  auto* order = find<QComboBox>("home-order");
  ASSERT_EQ(order->currentText(), "Z, X, Y");
  WindowTest::choose("home-order", "Z, Y, X");
  EXPECT_EQ(book().worksheets[build_worksheet]->axis(Axis::y).home_turn, 2);
  session_->editor().note_in_book([](Book& b) {
    b.worksheets[build_worksheet].reset();
    b.machine.axis(Axis::y).home_turn = 2;
    b.machine.axis(Axis::x).home_turn = 3;
    b.job.stock_size = {700, 500, 5};
    b.job.clamps.resize(1);
  });
  sheet("work_zero");
  session_->machine().home(true);
  for (int points = 0; points < 3; ++points) click("notice-action-0");
  EXPECT_TRUE(text("notice-text").contains("Z up, then Y to its − end, then X to its − end"))
      << text("notice-text").toStdString();
  EXPECT_TRUE(text("notice-text").contains("the stock, clamp 1")) << text("notice-text").toStdString();
  EXPECT_NE(session_->machine().status().state, MachineState::moving);
  shoot("extra-homing-way");
  sheet("heads");
  session_->machine().home(true);
  click("notice-action-1");
  EXPECT_EQ(text("sheet-title"), "Start point") << "where the way is drawn";
  session_->machine().home(true);
  click("notice-action-0");
  ASSERT_TRUE(wait_for([this] { return session_->machine().status().all_homed(); }));
  session_->machine().home(true);
  EXPECT_TRUE(find<QWidget>("notice")->isVisible() && text("notice-text").contains("the stock"))
      << "something else may lie there by now";
}

TEST_F(DrawingWindow, ATablesSheetsAreCalledAsItsOwnersCallThem) {
  sheet("program");
  EXPECT_EQ(text("sheet-title"), "Stock and drawing");
  EXPECT_TRUE(find<QWidget>("drawing-layers")->isVisible()) << "drawings are what it cuts";
  sheet("work_zero");
  EXPECT_EQ(text("sheet-title"), "Start point");
  session_->editor().change_book("a router", [](Book& b) { b.machine.kind = "moving_gantry"; });
  EXPECT_EQ(text("sheet-title"), "Work zero");
}

TEST_F(DrawingWindow, ADimensionThatIsTypedTellsTheUnit) {
  ASSERT_NO_FATAL_FAILURE(opened(folder_.filePath("gnomon-case.dxf")));
  EXPECT_TRUE(text("drawing-unit").contains("millimetres")) << text("drawing-unit").toStdString();
  type("drawing-width", "15240");
  EXPECT_EQ(job().unit, "in");
  ASSERT_TRUE(wait_for([this] { return text("drawing-unit").contains("25.4"); })) << text("drawing-unit").toStdString();
  EXPECT_TRUE(text("program-details").contains("reaches")) << "it is larger than the bed then";
  session_->editor().undo_stack().undo();
  ASSERT_TRUE(wait_for([this] { return text("drawing-unit").contains("millimetres"); }));
}

TEST_F(DrawingWindow, CopiesZeroAndDepthsAreKept) {
  session_->editor().change_book("no stock", [](Book& b) { b.job.stock_size = {0, 0, 0}; });
  ASSERT_NO_FATAL_FAILURE(opened(folder_.filePath("gnomon-case.dxf")));
  type("drawing-columns", "2");
  type("drawing-gap", "12");
  EXPECT_EQ(job().columns, 2);
  EXPECT_EQ(job().gap_mm, 12);
  type("drawing-rows", "0");
  EXPECT_EQ(job().rows, 1) << "refused";
  find<QTableWidget>("drawing-layers")->item(row("outline"), 3)->setText("2,5");
  ASSERT_TRUE(wait_for([this] { return !job().acts.empty() && job().acts[0].depth_mm == 2.5; }));
  // The middle of the drawing lies in the middle of its room.
  auto* view = find<DrawingView>("drawing-view");
  EXPECT_FALSE(find<QPushButton>("drawing-corner")->isVisible());
  QTest::mouseClick(view, Qt::LeftButton, {}, QPoint(view->width() / 2, 16 + (view->height() - 16 - 44) / 2));
  ASSERT_TRUE(job().zero_mm);
  EXPECT_NEAR((*job().zero_mm)[0], 300, 12);
  window_->resize(1024, 700);
  shoot("extra-drawing-zero-1024");
  const QStringList faults = faults_of(find<QWidget>("sheet-program"));
  EXPECT_TRUE(faults.isEmpty()) << faults.join('\n').toStdString();
  window_->resize(1280, 800);
  EXPECT_NEAR((*job().zero_mm)[1], 230, 12);
  click("drawing-corner");
  EXPECT_FALSE(job().zero_mm);
}

TEST_F(DrawingWindow, WhatIsDamagedIsSaidWithItsLineAndNothingIsLost) {
  QFile bad(folder_.filePath("bad.dxf"));
  ASSERT_TRUE(bad.open(QIODevice::WriteOnly));
  bad.write("0\nSECTION\n2\nENTITIES\n0\nLINE\n8\ncut\n10\nabc\n");
  bad.close();
  sheet("program");
  drop(folder_.filePath("bad.dxf"));
  ASSERT_TRUE(wait_for([this] { return text("notice-text").contains("Line 10"); }))
      << text("notice-text").toStdString();
  EXPECT_EQ(find<QTableWidget>("drawing-layers")->rowCount(), 0);
  EXPECT_FALSE(find<QPushButton>("drawing-write")->isEnabled());
}

TEST_F(DrawingWindow, NothingIsThereAndInches) {
  sheet("program");
  click("part-drawing");
  EXPECT_TRUE(text("program-details").contains("DXF")) << text("program-details").toStdString();
  shoot("extra-drawing-none");
  session_->editor().change_book("inches", [](Book& b) { b.length_unit = "in"; });
  ASSERT_NO_FATAL_FAILURE(opened(folder_.filePath("gnomon-case.dxf")));
  EXPECT_EQ(find<LengthField>("drawing-width")->value(), 600);
  EXPECT_TRUE(find<QLineEdit>("drawing-width")->text().startsWith("23.6"))
      << find<QLineEdit>("drawing-width")->text().toStdString();
}

}  // namespace drawing_window
}  // namespace ypsi::app
