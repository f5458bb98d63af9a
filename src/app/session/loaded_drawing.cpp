#include "app/session/loaded_drawing.h"

#include "app/session/text_file.h"
#include "app/to_q.h"
#include "core/drawing_in/drawing_program.h"

namespace ypsi::app {

DrawingLoader::~DrawingLoader() {
  if (worker_.joinable()) worker_.join();
}

void DrawingLoader::load(const QString& path, const std::string& unit, const MachineSetup& machine) {
  if (worker_.joinable()) worker_.join();  // a drawing is read in a second or two at most
  busy_ = true;
  worker_ = std::thread([this, path, unit, machine, asked = ++asked_] {
    auto made = std::make_shared<LoadedDrawing>();
    made->path = path;
    DrawingSetting setting;
    setting.unit_mm = unit_by_name(unit);
    QString sentence;
    if (const auto bytes = read_file(path); !bytes) {
      sentence = to_q(bytes.error().message);
    } else if (auto drawing = read_drawing(*bytes, setting); !drawing) {
      sentence = to_q(drawing.error().message);
    } else {
      made->drawing = std::move(*drawing);
      made->mended = mend(made->drawing);
      made->findings = look_over(made->drawing, made->mended, machine);
    }
    QMetaObject::invokeMethod(
        this,
        [this, asked, path, sentence, made = std::shared_ptr<const LoadedDrawing>(std::move(made))] {
          if (asked != asked_) return;
          busy_ = false;
          if (sentence.isEmpty())
            emit loaded(made);
          else
            emit failed(path, sentence);
        },
        Qt::QueuedConnection);
  });
}

}  // namespace ypsi::app
