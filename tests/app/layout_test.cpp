// Every page at three sizes and in both units: no text is wider than its box, nothing that is typed into or pressed
// lies over another, no field lies outside its drawing.
#include "app/session/book_editor.h"
#include "app/session/phrases.h"
#include "layout_faults.h"
#include "pages_fixture.h"

namespace ypsi::app {
namespace {

using Layout = PagesTest;

TEST_F(Layout, EveryPageFitsAtThreeSizesAndInBothUnits) {
  home();
  session_->machine().connection()->set_speed(1);  // nothing is to be hurried while looking
  std::map<QString, QStringList> where;            // by fault
  for (const char* unit : {"mm", "in"})
    for (const QSize size : {QSize(1024, 700), QSize(1280, 800), QSize(1920, 1080)}) {
      session_->editor().note_in_book([&](Book& b) { b.length_unit = unit; });
      window_->resize(size);
      each_page([&](const QString& page, QWidget* of) {
        const QStringList faults = faults_of(of);
        for (const QString& fault : faults) where[page + ": " + fault] << QString("%1 %2").arg(size.width()).arg(unit);
        if (!faults.isEmpty()) shoot(QString("fault-%1-%2-%3").arg(page).arg(size.width()).arg(unit));
      });
    }
  for (const auto& [fault, sizes] : where)
    ADD_FAILURE() << fault.toStdString() << " at " << sizes.join(", ").toStdString();
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
  outside->setGeometry(page->width() - 20, 40, 90, 24);
  outside->show();
  auto* begin = find<QPushButton>("homing-begin");
  auto* over = new QLineEdit(begin->parentWidget());
  over->setObjectName("over");
  over->setGeometry(begin->geometry());
  over->show();
  const QString all = faults_of(page).join("\n");
  EXPECT_TRUE(all.contains("planted (QPushButton): “much too long")) << all.toStdString();
  EXPECT_TRUE(all.contains("outside (QLineEdit): lies outside")) << all.toStdString();
  EXPECT_TRUE(all.contains("lies over")) << all.toStdString();
}

}  // namespace
}  // namespace ypsi::app
