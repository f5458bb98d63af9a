#pragma once
// What the sheets work on, handed out: the book's editor, the machine, the job, the notices. Include the header of the
// one that is used.
#include <memory>
#include <vector>

namespace ypsi {
class Task;
}

namespace ypsi::app {

class BookEditor;
class BookStore;
class Connection;
class JobSession;
class MachineSession;
class Notices;

class Session {
 public:
  /// `connection` may be null: then the machine is offline.
  /// `tasks`: the order of work, all_tasks() unless a test has another.
  Session(BookStore store, std::unique_ptr<Connection> connection);
  Session(BookStore store, std::unique_ptr<Connection> connection, const std::vector<const Task*>& tasks);
  ~Session();
  Notices& notices() const { return *notices_; }
  BookEditor& editor() const { return *editor_; }
  MachineSession& machine() const { return *machine_; }
  JobSession& job() const { return *job_; }

 private:
  std::unique_ptr<Notices> notices_;
  std::unique_ptr<BookEditor> editor_;
  std::unique_ptr<MachineSession> machine_;
  std::unique_ptr<JobSession> job_;
};

}  // namespace ypsi::app
