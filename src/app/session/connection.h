#pragma once
// The way to a machine: a line with the client at this end of it, or its owner's hands; and, for the stand-in in this
// window, the machine at the other end and the winding of its clock.
#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <memory>
#include <optional>

#include "link/client.h"

namespace ypsi {
struct Book;
}

namespace ypsi::standin {
class ServedMachine;
}

namespace ypsi::link {
struct ControllerDescription;
class DescribingBench;
class HandLink;
class LineLink;
}  // namespace ypsi::link

namespace ypsi::app {

/// Where a machine is to be found. As text: "stand-in", "by-hand", "tcp:127.0.0.1:7125",
/// "serial:/dev/ttyUSB0:115200", "serial:/dev/ttyUSB0:115200:stays-up"; where it takes G-code a line at a time with its
/// description behind: "... as asked".
struct Line {
  enum class Kind { stand_in, by_hand, tcp, serial };
  Kind kind = Kind::stand_in;
  QString address;        ///< host or device
  int number = 0;         ///< port or baud
  bool stays_up = false;  ///< of a serial line: its ready line when it is closed
  QString controller{};   ///< id of its description; empty: it speaks the project's own link
  QString to_text() const;
  /// None where the text is no line.
  static std::optional<Line> from_text(const QString& text);
  bool operator==(const Line&) const = default;
};

/// The stand-in's files, where there is one in this window.
struct StandInFiles {
  QString scenario;
  QString settings;  ///< the controller's own memory, kept beside the scenario
};

class Connection : public QObject {
  Q_OBJECT
 public:
  /// To the stand-in in this window. Errors: what reading its scenario says.
  static Result<std::unique_ptr<Connection>> to_stand_in(const StandInFiles& files);
  /// To whatever a line leads to; not opened yet. Precondition: not the stand-in in this window.
  /// `token`: what a machine on a network asks for; of one on this computer it is found.
  static std::unique_ptr<Connection> to_line(const Line& line, const QString& token = {});
  /// To a controller that is described, over the line or at the stand-in in this window (`files`), which then answers
  /// as that face; not opened yet. What the line cannot tell is the book's, or in the file `memory`.
  /// Where that file cannot be used, `damaged` says so. Errors: what reading its description, or the scenario, says.
  static Result<std::unique_ptr<Connection>> described(const Line& line, const Book& book, const QString& memory,
                                                       const std::optional<StandInFiles>& files,
                                                       QString* damaged = nullptr);
  /// To a line whose controller is yet to be described, at the bench; not opened yet. The stand-in in this window
  /// answers as the face that the line names. Precondition of link(): not one of these. Errors: as described().
  static Result<std::unique_ptr<Connection>> to_describe(const Line& line, const Book& book,
                                                         const std::optional<StandInFiles>& files,
                                                         std::shared_ptr<link::ControllerDescription> draft);
  /// To one that its owner works by hand; what was told of it before is read from the file `memory`, else what the
  /// book says is taken. Where that file cannot be used, `damaged` says so.
  static std::unique_ptr<Connection> by_hand(const Book& book, const QString& memory, QString* damaged = nullptr);
  ~Connection() override;

  /// Begins to open it, again after it was lost; waits for nothing. Error: `offline` with why.
  Result<void> open();
  /// What has come of it: false while it is being opened, and then an error that says why it was not.
  Result<bool> opened() const;
  const Line& line() const { return line_; }
  bool up() const { return opened().value_or(false); }
  bool simulated() const { return client_ ? client_->simulated() : lines_ && machine_; }
  /// "Stand-in 0.1.0 at 127.0.0.1:7125"
  QString description() const;

  MachineLink& link();
  /// How many lines have come garbled since it was opened.
  std::size_t bad_lines() const;
  /// Of the line: "127.0.0.1:7125".
  QString name() const;
  /// The owner's hands; null where a line leads to the machine.
  link::HandLink* hands() { return hands_.get(); }
  /// Whose cards say what is to be done at the machine: the hands, or what a described line cannot do; else null.
  link::HandLink* cards();
  /// A controller that takes G-code a line at a time; null for any other.
  link::LineLink* lines() { return lines_.get(); }
  /// Where its controller is being described; null for any other.
  link::DescribingBench* describing() { return describing_.get(); }
  /// Null where the machine is not simulated.
  Bench* bench();
  /// The stand-in in this window; null for any other line.
  standin::ServedMachine* machine() { return machine_.get(); }
  bool in_this_window() const { return machine_ != nullptr; }
  /// Lets the stand-in in this window do at once what it would do in `seconds`; nothing on any other line.
  void advance(double seconds);
  /// Times real time; 0: as fast as it goes without freezing the window.
  void set_speed(double factor);
  /// Writes the stand-in's memory, or what is known of a machine that is worked by hand, when it differs from what is
  /// on the disk. False where it could not be written.
  bool save_settings();

 signals:
  void ticked();

 private:
  Connection(std::unique_ptr<standin::ServedMachine> machine, std::unique_ptr<link::Transport> transport, Line line);
  explicit Connection(std::unique_ptr<link::HandLink> hands);
  Connection(std::unique_ptr<standin::ServedMachine> machine, std::unique_ptr<link::DescribingBench> describing,
             Line line);
  Connection(std::unique_ptr<standin::ServedMachine> machine, std::unique_ptr<link::LineLink> lines, Line line);
  void begin_ticking(int every_ms);
  void follow(QIODevice* device);
  void poll_line();
  double now_s() const;
  void tick();
  void step();
  void keep_pace();

  Line line_;
  std::unique_ptr<standin::ServedMachine> machine_;  // outlives the client, whose line ends at it
  std::unique_ptr<link::Client> client_;             // there is one of these four
  std::unique_ptr<link::HandLink> hands_;
  std::unique_ptr<link::LineLink> lines_;
  std::unique_ptr<link::DescribingBench> describing_;
  std::uint64_t saved_changes_ = 0;
  QString settings_path_, machine_settings_path_, typed_token_;
  std::string saved_settings_;
  QTimer timer_;
  double advanced_at_ = 0;
};

}  // namespace ypsi::app
