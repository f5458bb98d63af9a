#pragma once
// The job: a program loaded, checked, cut, paused, ended, resumed.
#include <QFileSystemWatcher>
#include <QObject>
#include <QTimer>
#include <functional>
#include <map>
#include <memory>
#include <set>

#include "app/session/loaded_program.h"
#include "app/session/notices.h"
#include "app/session/opening_mark.h"
#include "app/session/program_checker.h"
#include "app/session/progress_file.h"
#include "core/procedures/go_to_zero.h"
#include "core/procedures/run_program.h"
#include "core/program/pauses.h"
#include "core/program/perimeter.h"

namespace ypsi {
struct ResumePlan;
}

namespace ypsi::app {

class BookEditor;
class MachineSession;

class JobSession : public QObject {
  Q_OBJECT
 public:
  JobSession(BookEditor& editor, MachineSession& machine, Notices& notices);

  void load_program(const QString& path);
  ProgramLoader& loader() { return loader_; }
  std::shared_ptr<const LoadedProgram> program() const { return program_; }

  // -- before the start
  /// What no sensor sees, to be ticked before a cut: the vacuum's hold where there is one, then the owner's own points.
  std::vector<std::string> points() const;
  /// Ticked for the program that is loaded.
  void tick_point(const std::string& point, bool done);
  bool ticked(const std::string& point) const { return ticked_.contains(point); }
  std::size_t unticked() const;
  /// What is against the program as book and machine are now; may be of a moment ago, see checked().
  const std::vector<Finding>& findings() const { return checker_.findings(); }
  bool checked() const { return checker_.current(); }
  /// Why the owner goes on in spite of a finding that stops; empty: it was not said.
  QString overridden(const Finding& finding) const;
  void override_finding(const Finding& finding, const QString& why);
  std::size_t stops() const;  ///< that were not overridden
  /// Round the program at the safe height.
  void trace_perimeter(PerimeterKind kind);
  void lift_then_go_to_zero(double stand_off_mm);
  void lift_then_go_over(const MachinePosition& place);

  // -- the cut
  /// Starts the program, once it is checked and nothing that stops it is left; a start that waits for the check is
  /// dropped by whatever happens in between, and after two seconds. `even_so`: though points of the checklist are not
  /// ticked.
  void start_cut(bool even_so = false);
  bool start_waits() const { return wish_ != nullptr; }
  void drop_start();
  /// Goes on with the program at a line, with the modes it had there and a safe way in, after the same judgement as a
  /// start; says why when it cannot. `dry`: lifts and stands over the place where it would begin, no more. `even_so`:
  /// though zero or machine are not those of the cut that ended there.
  void resume_cut(std::uint32_t line, bool dry = false, bool even_so = false);
  /// What the program waits for a hand to do. The machine stands ready meanwhile, so that a tool can be measured.
  const std::optional<Pause>& awaited() const { return awaited_; }
  int tool_awaited() const { return awaited_ ? awaited_->tool : 0; }  ///< 0: none
  /// The awaited tool is in the spindle now; sets Z where the tools' lengths tell it, and says what is left to do.
  void tool_is_in();
  /// Goes on after a pause: what was waited for is done, but for a tool that is not in, which is put in first.
  void continue_after_pause(bool even_so = false);
  /// The line at which the last cut of the loaded program ended early; 0 when there is none.
  std::uint32_t resume_line() const { return resume_line_; }
  void abandon_cut();
  const ProgramRun& run() const { return run_; }
  std::uint32_t run_first_ = 1;  ///< line at which the run in hand began ...
  int run_tool_ = 0;             ///< ... and the tool that was in
  bool cutting() const { return run_is_cut_ && run_.state() == RunState::running; }
  /// Line of the loaded program that is cut, or at which its last cut ended; 0: none was. A way to zero or round a
  /// perimeter is no cut.
  std::uint32_t cut_line() const { return cutting() ? run_.line_in_hand() : cut_to_; }
  /// The last cut of the loaded program came to its end.
  bool cut_finished() const { return cut_finished_ && !in_job(); }
  /// A cut was begun and not ended: it runs, or waits for a tool or the dial.
  bool in_job() const { return cutting() || awaited_; }

 signals:
  void program_changed();
  void checked_anew();
  void run_ended();

 private:
  bool tick();
  void end_of_run();
  void go(const Result<ZeroWay>& way);
  bool must_be_idle();
  bool judged(const std::function<void()>& go);
  std::function<bool()> this_job_still() const;
  NoticeAction resume_act();
  CutGround ground() const;
  bool on_the_same_ground(bool z_may_differ, const QString& act, const std::function<void()>& even_so);
  Extents room_in_work() const;
  void run_cut(std::uint32_t first, std::vector<std::string> lead_in, std::uint32_t seen = 0);
  bool knows_its_place(std::uint32_t line, const std::function<void()>& again);
  std::optional<ResumePlan> way_in(std::uint32_t line);
  void go_on_at(const ResumePlan& plan, std::uint32_t seen);
  bool dial_set(double rpm, const std::function<void()>& then);
  void ask_for_pause();
  void keep_ready_check();
  void count_metres(std::uint32_t last);
  void keep_end_of_cut(RunState ended, std::uint32_t line);
  void begin_progress();
  void follow_program_checks();
  void load_last_program();
  void offer_left_over();
  void follow_program_file();

  BookEditor& editor_;
  MachineSession& machine_;
  Notices& notices_;
  ProgramLoader loader_;
  std::shared_ptr<const LoadedProgram> program_;
  std::shared_ptr<const LoadedProgram> cut_program_;  ///< kept alive while it runs
  ProgramRun run_;
  std::string way_text_;
  bool run_is_cut_ = false;
  std::uint32_t resume_line_ = 0, cut_to_ = 0;
  bool cut_finished_ = false;
  std::optional<Pause> pause_;    ///< before which the run ends that runs
  std::optional<Pause> awaited_;  ///< that it ended at
  double dialled_ = 0;            ///< rpm that the dial stands at by the owner's word, 0: nobody knows
  std::function<void()> wish_;    ///< a start, once it is checked
  QTimer wish_ends_;
  std::optional<CutGround> ground_;  ///< of the last cut of the loaded program
  ProgramChecker checker_;
  int tool_checked_ = 0;  ///< in the spindle when the check was last wanted
  ProgressFile progress_;
  OpeningMark opening_;
  std::optional<Progress> left_over_;  ///< of a run that was broken off
  std::map<std::string, QString> overridden_;
  std::set<std::string> ticked_;
  QFileSystemWatcher watcher_;
  std::optional<ReadSetting> read_with_;
};

}  // namespace ypsi::app
