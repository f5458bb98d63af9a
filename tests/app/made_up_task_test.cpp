// A stop of the order of work that nobody ships: told once, here, it is in the list, the standing, the budget, the
// certificate, the table of readings and the rehearsal.
#include <QListWidget>

#include "app/session/book_editor.h"
#include "app/session/phrases.h"
#include "app/sheets/task_views.h"
#include "core/book/json_number.h"
#include "core/book/record.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/certificate.h"
#include "core/tasks/steps_per_unit.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

constexpr const char* belt_id = "belt_sag";

/// How far the belt of X hangs in its middle.
class BeltTask final : public Task {
 public:
  BeltTask() : Task(belt_id, "Belt sag", TaskGroup::calibrate) {}
  std::vector<Upstream> depends_on() const override { return {{steps_per_unit_id}}; }
  Words summary(const Entry& e) const override { return {{"hangs", {SaidLength{sag(e).value_or(0), 1}}}}; }
  std::vector<BudgetShare> budget(const BudgetQuestion& q) const override {
    BudgetShare share{.entry = newest(q.book, id())};
    if (share.entry)
      if (const auto hangs = sag(q.book.history[*share.entry])) share.off = OffBy{*hangs, 0};
    return {share};
  }
  std::vector<CertifiedLine> certificate(const Book&) const override {
    return {{.code = "certified_sag", .subject = "X", .value = sag}};
  }
  std::vector<rehearsal::Step> rehearsal() const override {
    return {{title(), [](rehearsal::Work&) -> rehearsal::Verdict { return std::string("hangs a little"); }}};
  }

 private:
  static std::optional<double> sag(const Entry& e) { return number_in(e.result.get(), "sag_mm"); }
};

class BeltSheet : public Sheet {
 public:
  BeltSheet(Session& session, const Task& task) : Sheet(session, task, "Press the belt and see how far it gives.") {}
  void refresh() override {}
};

class MadeUpTask : public WindowTest {
 protected:
  void SetUp() override {
    demo_ = prepare_demo(YPSI_DEMO_DATA, folder_.path(), true).value();
    tasks_ = all_tasks();
    tasks_.insert(tasks_.begin() + 5, &belt_);
    views_ = task_views();
    views_.push_back({&belt_, [this](Session& s) -> Sheet* { return new BeltSheet(s, belt_); }});
    session_ = std::make_unique<Session>(BookStore(demo_.book),
                                         Connection::to_stand_in({demo_.scenario, demo_.settings}).value(), tasks_);
    window_ = std::make_unique<MainWindow>(*session_, views_);
    window_->show();
    session_->editor().open_book();
    session_->editor().note_in_book([](Book& b) {
      Entry e;
      e.time = "2026-11-25T10:00:00+00:00";
      e.sheet = belt_id;
      e.subject = "X";
      e.instrument = "steel ruler";
      e.readings = nlohmann::json::array({{{"press", 1}, {"sag_mm", 2.5}}});
      e.result = {{"sag_mm", 2.5}};
      b.history.push_back(e);
    });
  }
  const Book& book() const { return session_->editor().book(); }
  BeltTask belt_;
  Tasks tasks_;
  TaskViews views_;
};

TEST_F(MadeUpTask, IsInTheListAndOpensItsSheet) {
  auto* list = window_->findChild<QListWidget*>("staff");
  QStringList all;
  for (int i = 0; i < list->count(); ++i) all << list->item(i)->data(Qt::AccessibleTextRole).toString();
  EXPECT_TRUE(all.contains("Belt sag, current")) << all.join("; ").toStdString();
  const auto items = list->findItems("Belt sag", Qt::MatchExactly);
  ASSERT_EQ(items.size(), 1);
  EXPECT_EQ(items.front()->toolTip(), "X 2.5 mm") << "a code without a phrase is told by its arguments";
  window_->open_sheet(belt_id);
  EXPECT_EQ(text("sheet-title"), "Belt sag");
}

TEST_F(MadeUpTask, TurnsOutOfDateWithWhatItDependsOn) {
  EXPECT_EQ(session_->editor().standing(belt_id).standing, Standing::current);
  session_->editor().note_in_book([](Book& b) {
    Entry e;
    e.time = "2026-11-26T10:00:00+00:00";
    e.sheet = steps_per_unit_id;
    e.subject = "X";
    e.as_found = {{"axis.x.steps_per_mm", 80.0}};
    e.as_left = {{"axis.x.steps_per_mm", 80.4}};
    b.history.push_back(e);
  });
  EXPECT_EQ(session_->editor().standing(belt_id).standing, Standing::out_of_date);
  EXPECT_TRUE(text("stale").contains("Belt sag")) << "Where it stands asks for it: " << text("stale").toStdString();
}

TEST_F(MadeUpTask, IsInBudgetCertificateAndTableOfReadings) {
  const Budget budget = error_budget(book(), 0, tasks_);
  const auto part =
      std::find_if(budget.parts.begin(), budget.parts.end(), [&](const BudgetPart& p) { return p.task == &belt_; });
  ASSERT_NE(part, budget.parts.end());
  EXPECT_EQ(part->worst(), 2.5);
  EXPECT_EQ(part_name(*part), "Belt sag");
  const Certificate paper = certificate_of(book(), tasks_);
  const auto line = std::find_if(paper.quantities.begin(), paper.quantities.end(),
                                 [&](const CertifiedQuantity& q) { return q.task == &belt_; });
  ASSERT_NE(line, paper.quantities.end());
  EXPECT_EQ(line->as_left, 2.5);
  EXPECT_EQ(line->instrument, "steel ruler");
  EXPECT_NE(readings_csv(book()).find("belt_sag,X,steel ruler,1,sag_mm,2.5"), std::string::npos);
}

TEST_F(MadeUpTask, HasItsStepInTheRehearsal) {
  const auto steps = rehearsal_steps(tasks_);
  EXPECT_EQ(steps.size(), rehearsal_steps().size() + 1);
  const auto own = std::find_if(steps.begin(), steps.end(),
                                [](const rehearsal::Step& s) { return s.title == std::string("Belt sag"); });
  ASSERT_NE(own, steps.end());
  auto served = standin::ServedMachine::from_scenario(*read_file(demo_.scenario)).value();
  Workshop workshop(
      served->link(), served->bench(), [&](double s) { served->advance(s); },
      starting_book(served->link(), &book(), served->known()));
  const Rehearsal done = rehearse(workshop, {*own});
  EXPECT_TRUE(done.completed);
  EXPECT_EQ(done.sheets.back().sheet, "Belt sag");
  EXPECT_EQ(done.sheets.back().verdict, "hangs a little");
}

// Every shipped task has its view, and its titles and keys are nobody else's.
TEST(TaskViews, ThereIsOneForEachTask) {
  std::set<std::string> ids, titles;
  for (const Task* task : all_tasks()) {
    EXPECT_TRUE(ids.insert(task->id()).second) << task->id();
    EXPECT_TRUE(titles.insert(task->title()).second) << task->title();
    const auto& views = task_views();
    EXPECT_EQ(std::count_if(views.begin(), views.end(), [&](const TaskView& v) { return v.task == task; }), 1)
        << task->id();
    for (const Upstream& upstream : task->depends_on())
      EXPECT_NE(find_task(all_tasks(), upstream.id), nullptr) << task->id() << " depends on " << upstream.id;
  }
}

}  // namespace
}  // namespace ypsi::app
