#pragma once
// The program of a drawing, what holds what it frees, and how long it takes: made in a thread of its own where there is
// so much of it that the window would stand still (measured: 25,000 outlines take more than a second).
#include <QObject>
#include <memory>
#include <optional>
#include <thread>

#include "app/session/loaded_drawing.h"
#include "core/book/book.h"
#include "core/drawing_in/drawing_program.h"
#include "core/drawing_in/engraved_look.h"
#include "core/outline/hold_down.h"

namespace ypsi::app {

struct MadeDrawing {
  std::vector<HeadPath> paths;
  Result<HeadProgram> program;
  std::optional<Result<HoldDown>> held;  ///< none where there is no vacuum bed
  double time_s = 0;                     ///< of the program
  EngravedLook look;                     ///< where an engraver makes it
};

class DrawingMaker : public QObject {
  Q_OBJECT
 public:
  explicit DrawingMaker(QObject* parent) : QObject(parent) {}
  ~DrawingMaker() override;
  /// `done` follows: at once where little is drawn, else later; what was asked for before is passed over then.
  /// `turn`: how the stock lies, rad.
  void make(std::shared_ptr<const LoadedDrawing> drawing, Book book, DrawingJob job, double turn);
  /// What was asked for is not wanted any more.
  void forget() {
    waiting_.reset();
    ++asked_;
  }

 signals:
  void done(std::shared_ptr<const ypsi::app::MadeDrawing> made);

 private:
  void start_waiting();
  struct Asked {
    std::shared_ptr<const LoadedDrawing> drawing;
    Book book;
    DrawingJob job;
    double turn = 0;
  };
  std::optional<Asked> waiting_;
  std::thread worker_;
  bool working_ = false;
  unsigned asked_ = 0;
};

}  // namespace ypsi::app
