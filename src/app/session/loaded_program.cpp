#include "app/session/loaded_program.h"

#include <QMetaObject>

#include "app/session/book_store.h"
#include "core/program/text_lines.h"
#include "core/program/unroll.h"

namespace ypsi::app {

QString LoadedProgram::line(std::uint32_t number) const {
  if (number == 0 || number > line_starts.size()) return {};
  std::size_t at = line_starts[number - 1];
  const std::string_view found = take_line(text, at);
  return QString::fromUtf8(found.data(), static_cast<qsizetype>(found.size()));
}

ProgramLoader::~ProgramLoader() {
  cancelled_ = true;
  if (worker_.joinable()) worker_.join();
}

void ProgramLoader::finish() {
  if (worker_.joinable()) worker_.join();
  busy_ = false;
}

void ProgramLoader::load(const QString& path, const Kinematics& kinematics, const ReadSetting& setting) {
  cancelled_ = true;
  finish();
  cancelled_ = false;
  busy_ = true;
  worker_ = std::thread([this, path, kinematics, setting] {
    const auto say_failed = [&](const Error& e) {
      const QString sentence = QString::fromStdString(e.message);
      QMetaObject::invokeMethod(
          this,
          [this, path, sentence] {
            finish();
            emit failed(path, sentence);
          },
          Qt::QueuedConnection);
    };
    auto text = read_file(path);
    if (!text) return say_failed(text.error());
    auto result = std::make_shared<LoadedProgram>();
    result->path = path;
    result->text = std::move(*text);
    const double size = static_cast<double>(result->text.size());
    const ReadProgress told = [&](std::uint32_t, std::size_t bytes) {
      const int percent = static_cast<int>(90 * static_cast<double>(bytes) / size);
      QMetaObject::invokeMethod(
          this, [this, percent] { emit progressed(percent); }, Qt::QueuedConnection);
      return !cancelled_;
    };
    auto program = read_program(result->text, setting, told);
    if (program && program->unrolled) {
      // Cut line by line it must be what was judged: with its sub-programs written out.
      auto written_out = unroll(result->text);
      if (!written_out) return say_failed(written_out.error());
      result->text = std::move(written_out->text);
      program = read_program(result->text, setting, told);
    }
    if (!program) return say_failed(program.error());
    result->program = std::move(*program);
    result->time = estimate_time(result->program, kinematics);
    result->line_starts.reserve(result->program.lines);
    for (std::size_t at = 0; at < result->text.size();) {
      result->line_starts.push_back(at);
      take_line(result->text, at);
    }
    std::shared_ptr<const LoadedProgram> done = result;
    QMetaObject::invokeMethod(
        this,
        [this, done] {
          finish();
          emit loaded(done);
        },
        Qt::QueuedConnection);
  });
}

}  // namespace ypsi::app
