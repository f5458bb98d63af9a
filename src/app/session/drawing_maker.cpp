#include "app/session/drawing_maker.h"

#include <utility>

#include "core/drawing_in/freed_pieces.h"
#include "core/motion/machine_kinematics.h"
#include "core/motion/planner.h"
#include "core/tasks/trials.h"

namespace ypsi::app {
namespace {

constexpr std::size_t made_at_once = 1000;  // outlines

std::shared_ptr<const MadeDrawing> made_of(const LoadedDrawing& drawing, const Book& book, const DrawingJob& job,
                                           double turn) {
  auto made = std::make_shared<MadeDrawing>();
  if (!book.machine.vacuum.zones.empty())
    made->held = held_on_bed(book, freed_pieces(book, drawing.drawing, job), turn);
  auto paths = drawing_paths(book, drawing.drawing, job);
  if (!paths) {
    made->program = tl::make_unexpected(paths.error());
    return made;
  }
  made->paths = std::move(*paths);
  if (engraves(book.machine))
    made->look = engraved_look(book, drawing.drawing, job, made->paths,
                               material_named(book.job.materials, book.job.stock_name).cap_mm);
  made->program = drawing_program(book, drawing.drawing, made->paths, job);
  if (made->program) made->time_s = estimate_time(made->program->program, kinematics_of(book.machine)).total_s;
  return made;
}

}  // namespace

DrawingMaker::~DrawingMaker() {
  if (worker_.joinable()) worker_.join();
}

void DrawingMaker::make(std::shared_ptr<const LoadedDrawing> drawing, Book book, DrawingJob job, double turn) {
  ++asked_;
  const std::size_t copies = static_cast<std::size_t>(job.columns) * static_cast<std::size_t>(job.rows);
  if (drawing->drawing.contours.size() * copies <= made_at_once) {
    waiting_.reset();
    emit done(made_of(*drawing, book, job, turn));
    return;
  }
  waiting_ = Asked{std::move(drawing), std::move(book), std::move(job), turn};
  if (!working_) start_waiting();
}

void DrawingMaker::start_waiting() {
  if (!waiting_) return;
  if (worker_.joinable()) worker_.join();  // it has ended: nothing is waited for
  working_ = true;
  worker_ = std::thread([this, of = *std::exchange(waiting_, std::nullopt), asked = asked_] {
    auto made = made_of(*of.drawing, of.book, of.job, of.turn);
    QMetaObject::invokeMethod(
        this,
        [this, asked, made = std::move(made)] {
          working_ = false;
          if (asked == asked_) emit done(made);
          start_waiting();
        },
        Qt::QueuedConnection);
  });
}

}  // namespace ypsi::app
