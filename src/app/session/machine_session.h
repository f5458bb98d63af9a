#pragma once
// The machine at the other end: the way to it, what it tells, the one procedure that drives it, and what its owner asks
// of it.
#include <QElapsedTimer>
#include <QObject>
#include <QPointer>
#include <functional>
#include <memory>

#include "app/session/beam_points.h"
#include "app/session/connection.h"
#include "app/session/lent_file.h"
#include "app/session/notices.h"
#include "core/book/controller_settings.h"
#include "core/procedures/probe_circuit.h"
#include "core/procedures/runner.h"

namespace ypsi {
struct Entry;
}

namespace ypsi::app {

class BookEditor;

/// Until the owner says otherwise: slow enough to let go in time.
inline constexpr double slow_jog_mm_min = 600;

/// What streams blocks to the machine beside the procedures: the job's program.
struct Streaming {
  std::function<bool()> running = [] { return false; };
  /// Feeds it; true where it ended just now and has told why it failed.
  std::function<bool()> tick = [] { return false; };
  std::function<void()> status_known = [] {};
  /// What the owner can do once a lost line is there again; takes what there is besides.
  std::function<std::vector<NoticeAction>(std::vector<NoticeAction>)> after_reconnecting = [](auto acts) {
    return acts;
  };
};

class MachineSession : public QObject {
  Q_OBJECT
 public:
  /// `connection` may be null: then the machine is offline.
  MachineSession(std::unique_ptr<Connection> connection, BookEditor& editor, Notices& notices);
  ~MachineSession() override;
  void set_streaming(Streaming streaming) { streaming_ = std::move(streaming); }

  MachineLink* link() { return connection_ ? &connection_->link() : nullptr; }
  Bench* bench() { return connection_ ? connection_->bench() : nullptr; }
  Connection* connection() { return connection_.get(); }
  /// The owner's hands; null where a line leads to the machine, or nothing does.
  link::HandLink* hands() { return connection_ ? connection_->hands() : nullptr; }
  /// Whose cards say what is to be done at the machine; null where a line does all.
  link::HandLink* cards() { return connection_ ? connection_->cards() : nullptr; }
  /// Who is told by the owner what the inputs show; nobody where the line says it.
  link::HandLink* told_inputs() const;
  bool up() const { return connection_ && connection_->up(); }
  /// Takes another way to a machine, which must be open; the one before is closed. Refused while the machine moves.
  bool use_connection(std::unique_ptr<Connection> connection);
  /// From now on its owner's hands are the way to it; refused like use_connection().
  bool work_by_hand();
  /// Opens the connection that was lost again; what comes of it is said when it is known.
  void connect_again();
  void set_stand_in(StandInFiles files) { stand_in_ = std::move(files); }
  const std::optional<StandInFiles>& stand_in() const { return stand_in_; }
  /// Another number for another machine: a wish that was uttered about one is void at the next.
  int which_machine() const { return which_machine_; }
  const MachineStatus& status() const { return status_; }
  bool standing_ready() const { return status_.state == MachineState::ready; }

  /// Begins a procedure by its own start(), whose arguments after the link these are, and puts it into `slot`; says in
  /// a notice why not, and then the slot is as it was. It is ended by end_procedure(), by another connection, a lost
  /// line, an emergency stop, a closing window.
  template <class P, class... Args>
  bool start(std::shared_ptr<P>& slot, Args&&... args) {
    auto fresh = std::make_shared<P>();
    if (!begin(fresh, [&](MachineLink& to) { return fresh->start(to, std::forward<Args>(args)...); })) return false;
    slot = std::move(fresh);
    return true;
  }
  const Runner& runner() const { return runner_; }
  /// Before blocks are sent: an owner's hands do not know those of the heads by themselves.
  void tell_hands_the_blocks();
  /// Ends what is under way and says so with `why`; nothing where nothing is.
  void end_procedure(const QString& why);
  /// The same by the owner's own wish, who need not be told.
  void end_procedure();
  /// The probe's circuit, one for all that touches.
  const ProbeCircuit& circuit() const { return circuit_; }
  void check_circuit();
  void forget_circuit() { circuit_.forget(); }

  const BeamPoints& beam_points() const { return beam_points_; }
  void see_to(BeamPoint point, bool seen);
  /// To be seen to anew.
  void forget_beam_points();
  /// Whether a beam may shine as far as a person must see to it; says what is missing.
  bool beam_seen_to();

  /// Where an axis may go: by the controller's soft limits, or the book's, or its travel.
  struct Room {
    double low = 0, high = 0;
    double size() const { return high - low; }
  };
  Room room(Axis axis) const;
  /// Says where the controller is set otherwise than the book has it, and leads to where each is settled.
  void compare_settings();
  std::vector<SettingDifference> setting_differences() const;
  /// Settles one difference: the book takes the controller's value, or the controller is set as in the book.
  void settle(const SettingDifference& difference, bool from_controller);
  /// Keeps the build that is being changed, or the one in the book as looked at, and sets the controller as it says.
  void keep_build(const QString& words);
  /// The stand-in's own memory, where there is one, goes to the disk; says when it does not.
  void keep_settings();

  /// Asks the machine for something and says in a notice why not.
  bool ask(const Result<void>& result);
  /// Says that there is no machine to ask. For acts that need one: `if (!session_.machine().must_be_there()) return;`
  bool must_be_there();
  /// The same, and says so where a procedure is under way.
  bool must_be_free();
  bool armed_for(const std::function<void()>& then);
  /// Asks for what is switched on next; `then` follows once it is on.
  void ask_to_arm(const std::function<void()>& then);
  /// What its owner said is on, or found not to come on.
  void armed_next(const std::function<void()>& then);
  void does_not_come_on(const std::string& point, const QString& why = {});
  /// As must_be_there(), and says so where the book is open for reading only: it changes no controller. For every act
  /// that sets something in one.
  bool may_set();
  /// Homes, but asks first where inputs or directions were never looked at or are known to be wrong.
  void home(bool even_so = false);
  void hold();
  void go_on();
  /// At a part of the jog rate, or the axis's fastest where that is less.
  void jog(Axis axis, double distance_mm, double part_of_rate = 1);
  /// How far an axis can go that way: to its limit, or 10 mm before homing.
  double room_ahead(Axis axis, double sign) const;
  void end_jog();
  double jog_step() const { return jog_step_; }
  void set_jog_step(double mm);
  double jog_rate() const { return jog_rate_; }  ///< mm/min
  void set_jog_rate(double mm_min);
  /// The owner says that another tool is in the spindle.
  bool tool_put_in(int number);
  /// Sets steps per mm of an axis in the book and the controller, carries places over, and adds `entry` to the record.
  bool apply_steps(Axis axis, double steps, Entry entry, const QString& text,
                   const std::function<void(Book&)>& also = {});

  /// Lets the person at a simulated machine look or read, and hands on what was seen once it is there: at once in this
  /// window, a moment later over a network. Why nothing was seen is said, and then `otherwise` called. Nothing where
  /// the machine is a real one, another was chosen meanwhile, or `asker` is gone or looks already. Example: look(this,
  /// [](Bench& b) { return b.read_width("beam", "caliper"); }, [this](double mm) { width_->show_value(mm); });
  template <class Look, class Then>
  void look(QObject* asker, const Look& see, const Then& then, const std::function<void()>& otherwise = {}) {
    look_until(asker, [this, see, then, otherwise] {
      const auto seen = see(*bench());
      if (!seen && seen.error().code == being_taken) return false;
      if (seen)
        then(*seen);
      else if (!ask(tl::make_unexpected(seen.error())) && otherwise)
        otherwise();
      return true;
    });
  }

  // -- whose place is looked at
  /// The head whose place the rail tells and by which zero is set: a pointer over a mark, say. The first of the build
  /// where it is empty, not there, or of no known place.
  void look_by(const std::string& head);
  const std::string& looks_by() const { return looks_by_; }
  /// The head that is looked by; null for the first.
  const Head* looking() const;
  /// From where the controller counts to that head's point along an axis, mm: 0 for the first, and along Z.
  double looks_beside(Axis axis) const;

  // -- work zero
  void set_work_zero(const std::vector<Axis>& axes, double z_offset = 0);
  /// Work zero at machine coordinates, however they were found; what was read goes into the record. False where the
  /// controller refused. `on_bed`: what Z zero is measured from, where that changes.
  bool set_work_zero_at(const std::vector<std::pair<Axis, double>>& places, const RecordJson& readings,
                        const std::string& instrument, std::optional<bool> on_bed = {});
  /// Z zero for the tool in the spindle by the tools' lengths. False where they do not tell it, or the controller
  /// refused.
  bool set_zero_by_length();
  /// Takes another work frame, 0: G54; the zeros set from now on are its own.
  void use_frame(int frame);
  /// The controller may be another than the one at which work zero was set. False where it refused.
  bool send_work_zero();

 signals:
  void status_changed();
  void acted();  ///< the owner did something at the machine: what waited for another act is dropped
  void connection_changed();
  void connected_elsewhere();  ///< to another machine, or to none
  void procedure_ended(const ypsi::Procedure* over);
  void jog_step_changed();

 private:
  bool begin(const std::shared_ptr<Procedure>& procedure, const std::function<Result<void>(MachineLink&)>& start);
  void tick();
  void look_until(QObject* asker, std::function<bool()> seen);
  void go_on_looking();
  void watch_opening();
  void follow_connection();
  void watch_status(const MachineStatus& before, bool run_told);
  void watch_line();
  void watch_refusals(const MachineStatus& before);
  void came_back();
  void procedure_over();
  void give_back_what_was_lent();
  void watch_what_is_lent();
  bool know_limits_in_use(Axis axis);
  std::function<bool()> while_it_is(bool connected) const;
  void set_machine_as_changed(const Book& before);
  Room read_room(Axis axis) const;
  QString approach_too_fast();

  BookEditor& editor_;
  Notices& notices_;
  std::unique_ptr<Connection> connection_;
  std::optional<StandInFiles> stand_in_;
  Streaming streaming_;
  Runner runner_;
  LentFile lent_;
  bool lent_before_ = true;  ///< what an earlier run may have left is not looked at yet
  ProbeCircuit circuit_;
  MachineStatus status_;
  std::string looks_by_;
  BeamPoints beam_points_;
  std::size_t armed_ = 0;  ///< so many of what is switched on first are on, as its owner said
  bool clear_ = false;     ///< nothing lies where homing goes, as its owner said
  double jog_step_ = 0.1, jog_rate_ = slow_jog_mm_min;
  int which_machine_ = 0;
  bool line_lost_ = false;  ///< told, and not come back
  bool connecting_again_ = false;
  struct Looking {
    QPointer<QObject> asker;
    int at_machine = 0;
    std::function<bool()> seen;
  };
  std::vector<Looking> looking_;
  QElapsedTimer told_;   ///< when the sheets last heard of the state
  bool untold_ = false;  ///< it is another since
  std::size_t bad_lines_told_ = 0;
  mutable std::array<std::optional<Room>, axis_count> rooms_;  ///< read once, until book or connection change
};

}  // namespace ypsi::app
