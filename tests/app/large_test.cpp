// Large and Positions only: everything fits or scrolls, what is pressed is large enough for a glove, nothing that was
// typed and no connection is lost by it, Hold stays in sight.
#include "app/theme/large.h"

#include <QDialog>
#include <QMenu>
#include <QScreen>
#include <QScrollArea>
#include <QSettings>
#include <QVBoxLayout>

#include "layout_faults.h"
#include "pages_fixture.h"

namespace ypsi::app {
namespace {

constexpr double glove_on_screen_px = 44;

class Large : public PagesTest {
 protected:
  void TearDown() override {
    set_large(1);
    WindowTest::TearDown();
  }
  /// The window has this size on the screen, whatever is enlarged in it.
  void on_screen(QSize px) { window_->resize(px / large()); }

  /// What is pressed or typed into and is smaller than a gloved finger, a line each.
  static QStringList small_targets(QWidget* root) {
    QStringList small;
    for (auto* w : root->findChildren<QWidget*>()) {
      const bool target =
          qobject_cast<QAbstractButton*>(w) || qobject_cast<QLineEdit*>(w) || qobject_cast<QComboBox*>(w);
      if (!target || !w->isVisible() || qobject_cast<QComboBox*>(w->parentWidget()) ||
          w->parentWidget()->inherits("QAbstractSpinBox") || w->parentWidget()->inherits("QTableView"))
        continue;
      if (std::min(w->width(), w->height()) * large() < glove_on_screen_px - 0.5)
        small << QString("%1 is %2 × %3 px at %4")
                     .arg(w->objectName())
                     .arg(w->width() * large())
                     .arg(w->height() * large())
                     .arg(large());
    }
    return small;
  }
};

TEST_F(Large, EveryPageFitsOrScrollsAndItsTargetsAreForGloves) {
  home();
  session_->machine().connection()->set_speed(1);
  std::map<QString, QStringList> where;  // by fault
  const std::pair<double, QSize> screens[] = {
      {1.25, QSize(1280, 800)}, {1.5, QSize(1920, 1080)}, {2, QSize(1920, 1080)}, {1.5, QSize(1280, 800)}};
  for (const auto& each : screens) {
    const double factor = each.first;
    const QSize screen = each.second;
    set_large(factor);
    on_screen(screen);
    each_page([&](const QString& shown, QWidget* page) {
      const QStringList faults = faults_of(page) + small_targets(window_.get());
      for (const QString& fault : faults)
        where[shown + ": " + fault] << QString("%1 on %2").arg(factor).arg(screen.width());
      if (!faults.isEmpty()) shoot(QString("fault-%1-%2-%3").arg(shown).arg(factor).arg(screen.width()));
    });
  }
  for (const auto& [fault, at] : where) ADD_FAILURE() << fault.toStdString() << " at " << at.join(", ").toStdString();
}

TEST_F(Large, TakesHoldAtOnceAndLosesNothing) {
  home();
  on_screen({1280, 800});
  sheet("program");
  auto* field = find<QLineEdit>("stock-x");
  const int small_text = field->fontMetrics().height();
  field->setFocus();
  field->selectAll();
  QTest::keyClicks(field, "312");
  const Connection* connection = session_->machine().connection();
  QTest::keyClick(window_.get(), Qt::Key_Plus, Qt::ControlModifier);
  EXPECT_EQ(large(), 1.25);
  EXPECT_EQ(window_->devicePixelRatioF(), 1.25);
  EXPECT_EQ(window_->size(), QSize(1024, 640)) << "as large on the screen as it was";
  EXPECT_EQ(field->text(), "312");
  EXPECT_EQ(field->fontMetrics().height(), small_text) << "all is scaled, none of it twice";
  EXPECT_EQ(session_->machine().connection(), connection);
  EXPECT_TRUE(session_->machine().status().all_homed());
  for (int i = 0; i < 5; ++i) QTest::keyClick(window_.get(), Qt::Key_Equal, Qt::ControlModifier);
  EXPECT_EQ(large(), 2);
  EXPECT_EQ(window_->size(), QSize(640, 400));
  for (int i = 0; i < 5; ++i) QTest::keyClick(window_.get(), Qt::Key_Minus, Qt::ControlModifier);
  EXPECT_EQ(large(), 1);
  EXPECT_EQ(window_->devicePixelRatioF(), 1);
  EXPECT_EQ(window_->size(), QSize(1280, 800));
  EXPECT_EQ(field->height(), 28) << "as it was made";
}

TEST_F(Large, IsKeptForTheNextStart) {
  set_large(1.5);
  EXPECT_EQ(QSettings().value("view/large").toDouble(), 1.5);
  QSettings().setValue("view/large", 1.25);
  restore_large();
  EXPECT_EQ(large(), 1.25);
  for (const char* nonsense : {"3", "-1", "nan", "large", ""}) {
    QSettings().setValue("view/large", nonsense);
    restore_large();
    EXPECT_EQ(large(), 1) << nonsense;
  }
}

TEST_F(Large, HoldAndThePlacesStayInSightOnASmallScreen) {
  for (const double factor : large_factors) {
    set_large(factor);
    on_screen({1280, 800});
    sheet("cut");
    const QRect seen = window_->rect();
    for (const char* name : {"hold", "axis-X", "axis-Y", "axis-Z", "state"}) {
      auto* widget = find<QWidget>(name);
      EXPECT_TRUE(widget->isVisible()) << name;
      EXPECT_TRUE(seen.contains(QRect(widget->mapTo(window_.get(), QPoint(0, 0)), widget->size())))
          << name << " at " << factor;
    }
    auto* start = find<QPushButton>("start");
    auto* area = window_->findChild<QScrollArea*>("sheet-area");
    area->ensureWidgetVisible(start);
    const QRect at(start->mapTo(area->viewport(), QPoint(0, 0)), start->size());
    EXPECT_TRUE(area->viewport()->rect().contains(at)) << "Start can be come by at " << factor;
  }
}

TEST_F(Large, TheOrderOfWorkShowsItsMarksWhereThereIsNoRoomForItsWords) {
  auto* staff = find<QWidget>("staff");
  on_screen({1280, 800});
  EXPECT_EQ(staff->width(), 232);
  set_large(1.5);
  QTest::qWait(1);
  EXPECT_LT(staff->width(), 60);
  const QString before = window_->current_sheet();
  auto* list = static_cast<QAbstractScrollArea*>(staff);
  QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, QPoint(20, 60));
  EXPECT_EQ(staff->width(), 232) << "its words can be read before one is chosen";
  EXPECT_EQ(window_->current_sheet(), before);
  QTest::qWait(1);
  QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, QPoint(60, 110));
  EXPECT_NE(window_->current_sheet(), before);
  EXPECT_LT(staff->width(), 60);
}

TEST_F(Large, ADialogThatTheScreenHasNoRoomForScrolls) {
  set_large(2);
  QDialog dialog(window_.get());
  auto* column = new QVBoxLayout(&dialog);
  QList<QPushButton*> buttons;
  const QSize room = dialog.screen()->availableSize();
  for (int i = 0; i * least_target_px() < 2 * room.height(); ++i) {
    buttons << new QPushButton(QString("act %1").arg(i), &dialog);
    column->addWidget(buttons.last());
  }
  dialog.show();
  ASSERT_TRUE(wait_for([&] { return dialog.isVisible(); }));
  EXPECT_LE(dialog.width(), room.width());
  EXPECT_LE(dialog.height(), room.height());
  auto* area = dialog.findChild<QScrollArea*>("dialog-area");
  ASSERT_NE(area, nullptr);
  QTest::qWait(1);
  for (auto* button : buttons) {
    area->ensureWidgetVisible(button);
    EXPECT_TRUE(dialog.rect().contains(QRect(button->mapTo(&dialog, QPoint(0, 0)), button->size())))
        << button->text().toStdString();
  }
  set_large(1);
  EXPECT_LE(dialog.height(), dialog.screen()->availableSize().height());
}

TEST_F(Large, PositionsFillTheWindowAndHoldIsWithThem) {
  home();
  session_->machine().connection()->set_speed(1);
  auto* page = find<QWidget>("positions-page");
  EXPECT_FALSE(page->isVisible());
  QTest::keyClick(window_.get(), Qt::Key_F11);
  EXPECT_TRUE(page->isVisible());
  EXPECT_FALSE(find<QWidget>("rail")->isVisible());
  EXPECT_FALSE(find<QWidget>("staff")->isVisible());
  EXPECT_GT(page->height() * page->width(), window_->height() * window_->width() * 8 / 10);
  const QImage before = page->grab().toImage();
  session_->machine().jog(Axis::x, 60);
  ASSERT_TRUE(wait_for([&] { return session_->machine().status().position.x > 5; }));
  EXPECT_NE(page->grab().toImage(), before) << "the places are of now";
  click("positions-hold");
  ASSERT_TRUE(wait_for([&] {
    const MachineState state = session_->machine().status().state;
    return state == MachineState::held || state == MachineState::ready;
  }));
  EXPECT_LT(session_->machine().status().position.x, 60);
  QTest::keyClick(page, Qt::Key_Escape);
  EXPECT_FALSE(page->isVisible());
  EXPECT_TRUE(find<QWidget>("rail")->isVisible());
  EXPECT_TRUE(find<QWidget>("staff")->isVisible());
}

}  // namespace
}  // namespace ypsi::app
