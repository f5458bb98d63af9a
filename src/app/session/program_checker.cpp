#include "app/session/program_checker.h"

#include <QFileInfo>

#include "app/session/text_file.h"
#include "app/to_q.h"
#include "core/checksum.h"
#include "core/drawing_in/drawing_basis.h"
#include "core/tasks/trials.h"

namespace ypsi::app {
namespace {
constexpr int settle_ms = 60;
}

ProgramChecker::ProgramChecker(QObject* parent) : QObject(parent) {
  soon_.setSingleShot(true);
  soon_.setInterval(settle_ms);
  connect(&soon_, &QTimer::timeout, this, [this] {
    if (busy_)
      soon_.start();  // the one that runs is out of date already; after it the next
    else
      emit wanted();
  });
}

ProgramChecker::~ProgramChecker() {
  ++asked_;  // what is under way is not wanted any more
  if (worker_.joinable()) worker_.join();
}

void ProgramChecker::changed() {
  current_ = false;
  ++asked_;
  soon_.start();
}

void ProgramChecker::check(std::shared_ptr<const LoadedProgram> program, Book book, int tool) {
  if (worker_.joinable()) worker_.join();
  if (!program) {
    findings_.clear();
    current_ = true;
    emit done();
    return;
  }
  busy_ = true;
  const unsigned asked = asked_;
  worker_ = std::thread([this, asked, tool, program = std::move(program), book = std::move(book)] {
    CheckSetting setting;
    setting.tool = tool;
    setting.end_s = program->time.end_s;
    setting.unit = book.unit();
    setting.file_name = QFileInfo(program->path).completeBaseName().toStdString();
    setting.kept = kept_settings(book);
    if (book.job.drawing) {
      const auto drawn = read_file(to_q(book.job.drawing->file));
      setting.rests_on_now = basis_of(book, *book.job.drawing, drawn ? checksum(*drawn) : std::string());
    }
    setting.go_on = [this, asked] { return asked == asked_; };
    auto findings = check_program(program->program, book, setting);
    QMetaObject::invokeMethod(
        this,
        [this, asked, findings = std::move(findings)]() mutable {
          busy_ = false;
          if (asked != asked_) return;
          findings_ = std::move(findings);
          current_ = true;
          emit done();
        },
        Qt::QueuedConnection);
  });
}

}  // namespace ypsi::app
