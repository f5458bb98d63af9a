#pragma once
// The build as it is being changed: on the side, until it is kept.
#include <QWidget>

#include "app/session/book_editor.h"
#include "app/session/session.h"
#include "core/book/worksheets/build.h"

namespace ypsi::app {

class BuildDraft {
 public:
  explicit BuildDraft(Session& session) : session_(session) {}
  const MachineSetup& machine() const {
    const Book& book = session_.editor().book();
    return book.worksheets[build_worksheet] ? *book.worksheets[build_worksheet] : book.machine;
  }
  bool changed() const { return session_.editor().book().worksheets[build_worksheet].has_value(); }
  void change(const QString& text, const std::function<void(MachineSetup&)>& change) {
    session_.editor().change_book(
        text,
        [&](Book& b) {
          if (!b.worksheets[build_worksheet]) b.worksheets[build_worksheet] = b.machine;
          change(*b.worksheets[build_worksheet]);
        },
        MachineFollows::no);
  }
  /// Another drive for an axis, with the steps per mm that follow from it. Says why it cannot be, and changes nothing.
  void change_drive(Axis axis, const std::function<void(DriveTrain&)>& change);
  Session& session() { return session_; }

 private:
  Session& session_;
};

/// One part of the build, under its chip.
class BuildPage : public QWidget {
 public:
  explicit BuildPage(BuildDraft& draft) : draft_(draft) {}
  virtual void refresh() = 0;
  virtual void refresh_status() {}

 protected:
  BuildDraft& draft_;
  Session& session() { return draft_.session(); }
};

}  // namespace ypsi::app
