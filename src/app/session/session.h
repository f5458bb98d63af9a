#pragma once
// One book, one machine, one program: what the sheets work on. Every change to the book goes through change_book, so
// that each can be undone and is on the disk before the next.
#include <QElapsedTimer>
#include <QFileSystemWatcher>
#include <QObject>
#include <QUndoStack>
#include <functional>
#include <future>
#include <map>
#include <memory>
#include <set>

#include "app/session/book_store.h"
#include "app/session/connection.h"
#include "app/session/loaded_program.h"
#include "app/session/program_checker.h"
#include "app/session/progress_file.h"
#include "core/book/controller_settings.h"
#include "core/book/standing.h"
#include "core/procedures/go_to_zero.h"
#include "core/procedures/run_program.h"
#include "core/program/pauses.h"
#include "core/program/perimeter.h"

namespace ypsi {
struct ResumePlan;
}

namespace ypsi::app {

enum class NoticeLevel { good, attention, danger };

struct NoticeAction {
  QString label;
  std::function<void()> act;
};

struct Notice {
  NoticeLevel level = NoticeLevel::attention;
  QString text;
  std::vector<NoticeAction> actions;
};

enum class MachineFollows : bool { no, yes };

class Session : public QObject {
  Q_OBJECT
 public:
  /// `connection` may be null: then the machine is offline.
  Session(BookStore store, std::unique_ptr<Connection> connection);
  ~Session() override;

  /// Reads the book; when it cannot be used, says so in a notice that offers the save before.
  void open_book();

  const Book& book() const { return book_; }
  LengthUnit unit() const { return book_.unit(); }
  /// Degrees for a rotary axis.
  LengthUnit unit(Axis axis) const;
  QString length(double mm, int decimals) const;  ///< with the screen's unit
  /// Where an axis may go: by the controller's soft limits, or the book's, or its travel.
  struct Room {
    double low = 0, high = 0;
    double size() const { return high - low; }
  };
  Room room(Axis axis) const;
  /// standing_of() of the book as it is now, the record looked through once.
  SheetStanding standing(const std::string& sheet) const;
  bool read_only() const { return read_only_; }
  const QString book_path() const { return store_.path(); }
  /// Changes the book, saves it, and puts the change on the undo stack under `text`.
  /// `machine`: whether undoing it sets the controller as the book then says.
  void change_book(const QString& text, const std::function<void(Book&)>& change,
                   MachineFollows machine = MachineFollows::yes);
  /// The same for what is not worth an undo step (recent files, the program's path).
  void note_in_book(const std::function<void(Book&)>& change);
  bool save();
  QUndoStack& undo_stack() { return undo_; }

  MachineLink* link() { return connection_ ? &connection_->link() : nullptr; }
  Bench* bench() { return connection_ ? connection_->bench() : nullptr; }
  Connection* connection() { return connection_.get(); }
  /// Takes another way to a machine, which must be open; the one before is closed. Refused while a program is cut.
  bool use_connection(std::unique_ptr<Connection> connection);
  /// Says where the controller is set otherwise than the book has it, and leads to where each is settled.
  void compare_settings();
  std::vector<SettingDifference> setting_differences() const;
  /// Settles one difference: the book takes the controller's value, or the controller is set as in the book.
  void settle(const SettingDifference& difference, bool from_controller);
  /// Keeps the build that is being changed, and sets the controller as it says.
  void keep_build(const QString& words);
  /// Opens the connection that was lost again and says what came of it.
  bool connect_again();
  void set_stand_in(StandInFiles files) { stand_in_ = std::move(files); }
  const std::optional<StandInFiles>& stand_in() const { return stand_in_; }
  const MachineStatus& status() const { return status_; }
  bool standing_ready() const { return status_.state == MachineState::ready; }

  /// Asks the machine for something and says in a notice why not.
  bool ask(const Result<void>& result);
  /// Homes, but asks first where inputs or directions were never looked at or are known to be wrong.
  void home(bool even_so = false);
  /// The stand-in's own memory, where there is one, goes to the disk; says when it does not.
  void keep_settings();
  void hold();
  void go_on();
  void jog(Axis axis, double distance_mm);
  void end_jog();
  void set_work_zero(const std::vector<Axis>& axes, double z_offset = 0);
  /// Work zero at machine coordinates, however they were found; what was read goes into the record. False where the
  /// controller refused. `on_bed`: what Z zero is measured from, where that changes.
  bool set_work_zero_at(const std::vector<std::pair<Axis, double>>& places, const RecordJson& readings,
                        const std::string& instrument, std::optional<bool> on_bed = {});
  /// Takes another work frame, 0: G54; the zeros set from now on are its own.
  void use_frame(int frame);
  /// Sets steps per mm of an axis in the book and the controller, carries places over, and adds `entry` to the record.
  bool apply_steps(Axis axis, double steps, Entry entry, const QString& text,
                   const std::function<void(Book&)>& also = {});
  void lift_then_go_to_zero(double stand_off_mm);
  /// Z zero for the tool in the spindle by the tools' lengths. False where they do not tell it, or the controller
  /// refused.
  bool set_zero_by_length();
  void lift_then_go_over(const MachinePosition& place);

  void load_program(const QString& path);
  ProgramLoader& loader() { return loader_; }
  std::shared_ptr<const LoadedProgram> program() const { return program_; }
  /// Starts the program, once it is checked and nothing that stops it is left.
  /// `even_so`: though points of the checklist are not ticked.
  void start_cut(bool even_so = false);
  /// The owner's own points before a cut, ticked for the program that is loaded.
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
  /// Goes on with the program at a line, with the modes it had there and a safe way in; says why when it cannot. `dry`:
  /// lifts and stands over the place where it would begin, no more.
  void resume_cut(std::uint32_t line, bool dry = false);
  /// What the program waits for a hand to do. The machine stands ready meanwhile, so that a tool can be measured.
  const std::optional<Pause>& awaited() const { return awaited_; }
  int tool_awaited() const { return awaited_ ? awaited_->tool : 0; }  ///< 0: none
  /// The awaited tool is in the spindle now; sets Z where the tools' lengths tell it, and says what is left to do.
  void tool_is_in();
  /// Goes on after a pause: what was waited for is done, but for a tool that is not in, which is put in first.
  void continue_after_pause();
  /// The line at which the last cut of the loaded program ended early; 0 when there is none.
  std::uint32_t resume_line() const { return resume_line_; }
  void abandon_cut();
  const ProgramRun& run() const { return run_; }
  bool cutting() const { return run_is_cut_ && run_.state() == RunState::running; }
  /// Line of the loaded program that is cut, or at which its last cut ended; 0: none was. A way to zero or round a
  /// perimeter is no cut.
  std::uint32_t cut_line() const { return cutting() ? run_.line_in_hand() : cut_to_; }
  /// The last cut of the loaded program came to its end.
  bool cut_finished() const { return cut_finished_ && !in_job(); }
  /// A cut was begun and not ended: it runs, or waits for a tool or the dial.
  bool in_job() const { return cutting() || awaited_; }
  double jog_step() const { return jog_step_; }
  void set_jog_step(double mm);

  void notify(const Notice& notice) { emit noticed(notice); }
  QString now() const;  ///< RFC 3339, local

 signals:
  void book_changed();
  void status_changed();
  void program_changed();
  void checked_anew();
  void run_ended();
  void noticed(const ypsi::app::Notice& notice);
  void sheet_wanted(const QString& id);
  void jog_step_changed();
  void connection_changed();
  void leaving_connection();  ///< its link is about to go: put back what is lent from it

 private:
  friend class BookChange;
  void restore(const Book& target, const Book& from, bool undoing, std::size_t entries_from, std::size_t entries_to,
               MachineFollows machine);
  void tick();
  void follow_connection();
  void watch_status(const MachineStatus& before, bool run_told);
  void watch_line();
  void use_book(ReadBook read);
  void set_machine_as_changed(const Book& before);
  void end_of_run();
  void go(const Result<ZeroWay>& way);
  Extents room_in_work() const;
  bool send_work_zero();
  Room read_room(Axis axis) const;
  QString approach_too_fast();
  void run_cut(std::uint32_t first, std::vector<std::string> lead_in, std::uint32_t seen = 0);
  std::optional<ResumePlan> way_in(std::uint32_t line, const std::function<void()>& again);
  void go_on_at(const ResumePlan& plan, std::uint32_t seen);
  bool dial_set(double rpm, const std::function<void()>& then);
  void ask_for_pause();
  void keep_ready_check();
  void keep_end_of_cut(RunState ended, std::uint32_t line);
  void begin_progress();
  void follow_program_checks();
  void offer_left_over();
  void follow_program_file();

  BookStore store_;
  std::unique_ptr<Connection> connection_;
  std::optional<StandInFiles> stand_in_;
  Book book_;
  bool read_only_ = false;
  QUndoStack undo_;
  MachineStatus status_;
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
  bool start_wanted_ = false;
  ProgramChecker checker_;
  ProgressFile progress_;
  std::optional<Progress> left_over_;  ///< of a run that was broken off
  std::map<std::string, QString> overridden_;
  std::set<std::string> ticked_;
  QFileSystemWatcher watcher_;
  std::optional<ReadSetting> read_with_;
  double jog_step_ = 0.1;
  QElapsedTimer told_;  ///< when the sheets last heard of the state
  std::size_t bad_lines_told_ = 0;
  /// The book's file, read while the window is being made: with a record of 10,000 entries either takes 50 ms.
  std::future<Result<ReadBook>> reading_;
  mutable std::optional<Standings> standings_;                 ///< of the book as it is
  mutable std::array<std::optional<Room>, axis_count> rooms_;  ///< read once, until book or connection change
};

QString to_q(const std::string& text);
/// The book without its record: what a step of undo keeps, since the record only grows.
Book without_history(Book& book);

}  // namespace ypsi::app
