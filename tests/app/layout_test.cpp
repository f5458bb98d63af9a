// Every page at three sizes and in both units, of the engraver and the table where there is least room: no text is
// wider than its box, nothing that is typed into or pressed lies over another, no field lies outside its drawing.
#include <QScrollArea>

#include "app/session/book_editor.h"
#include "app/session/phrases.h"
#include "layout_faults.h"
#include "pages_fixture.h"

namespace ypsi::app {
namespace {

class Layout : public PagesTest {
 protected:
  /// Walks over the pages in a window of this size and keeps what is wrong.
  void look(const char* unit, QSize size) {
    session_->machine().connection()->set_speed(1);  // nothing is to be hurried while looking
    session_->editor().note_in_book([&](Book& b) { b.length_unit = unit; });
    window_->resize(size);
    each_page([&](const QString& page, QWidget* of) {
      const QStringList faults = faults_of(of);
      for (const QString& fault : faults) where_[page + ": " + fault] << QString("%1 %2").arg(size.width()).arg(unit);
      if (!faults.isEmpty()) shoot(QString("fault-%1-%2-%3").arg(page).arg(size.width()).arg(unit));
    });
  }
  void expect_no_fault() {
    for (const auto& [fault, sizes] : where_)
      ADD_FAILURE() << fault.toStdString() << " at " << sizes.join(", ").toStdString();
  }

 private:
  std::map<QString, QStringList> where_;  // by fault
};

TEST_F(Layout, EveryPageFitsAtThreeSizesAndInBothUnits) {
  home();
  for (const char* unit : {"mm", "in"})
    for (const QSize size : {QSize(1024, 700), QSize(1280, 800), QSize(1920, 1080)}) look(unit, size);
  expect_no_fault();
}

TEST_F(Layout, EveryPageOfTheOtherMachinesFitsWhereThereIsLeastRoom) {
  for (const char* machine : {"tansy", "fathom"}) {
    open_machine(machine);
    look("mm", QSize(1024, 700));
    expect_no_fault();
  }
}

TEST_F(Layout, APlantedFaultIsFound) {
  sheet("homing");
  auto* page = window_->findChild<QWidget*>("sheet-homing");
  EXPECT_TRUE(faults_of(page).isEmpty()) << faults_of(page).join("\n").toStdString();
  auto* planted = new QPushButton("much too long for where it is", page);
  planted->setObjectName("planted");
  planted->setGeometry(find<QPushButton>("homing-begin")->x(), 0, 40, 20);
  planted->show();
  auto* outside = new QLineEdit(page);
  outside->setObjectName("outside");
  auto* begin = find<QPushButton>("homing-begin");
  auto* over = new QLineEdit(begin->parentWidget());
  over->setObjectName("over");
  auto* low = new QWidget(page);
  low->setObjectName("low");
  low->setFixedSize(90, 30);
  auto* column = new QVBoxLayout(low);
  for (const char* name : {"upper", "lower"}) {
    auto* board = new QWidget(low);
    board->setObjectName(name);
    board->setFixedHeight(40);
    column->addWidget(board);
  }
  auto* blind = new QScrollArea(page);
  blind->setObjectName("blind");
  blind->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  blind->setWidget(new QWidget);
  blind->widget()->setFixedSize(300, 10);
  blind->setFixedSize(100, 30);
  auto* narrow = new QComboBox(page);
  narrow->setObjectName("narrow");
  narrow->addItem("a choice of many words");
  narrow->setFixedWidth(60);
  for (QWidget* w : QWidgetList{low, blind, narrow}) w->show();
  auto* wide = new QWidget(page);
  wide->setMinimumWidth(2000);
  page->layout()->addWidget(wide);
  ASSERT_TRUE(wait_for([&] { return page->width() >= 2000; }));
  outside->setGeometry(page->width() - 20, 40, 90, 24);
  over->setGeometry(begin->geometry());
  for (QWidget* w : {outside, over}) w->show();
  const QString all = faults_of(page).join("\n");
  EXPECT_TRUE(all.contains("upper (QWidget) lies over lower")) << all.toStdString();
  EXPECT_TRUE(all.contains("lower (QWidget): lies below low")) << all.toStdString();
  EXPECT_TRUE(all.contains("blind (QScrollArea): ")) << all.toStdString();
  EXPECT_TRUE(all.contains("“a choice of many words” is wider")) << all.toStdString();
  EXPECT_TRUE(all.contains("is pushed sideways by")) << all.toStdString();
  EXPECT_TRUE(all.contains("planted (QPushButton): “much too long")) << all.toStdString();
  EXPECT_TRUE(all.contains("outside (QLineEdit): lies outside")) << all.toStdString();
  EXPECT_TRUE(all.contains("homing-begin (QPushButton) lies over over (QLineEdit)")) << all.toStdString();
}

}  // namespace
}  // namespace ypsi::app
