#include "app/drawing/path_layer.h"

#include <QPainter>

namespace ypsi::app {
namespace {

constexpr std::size_t drawn_at_once = 20'000;  // motions; some 10 ms

QImage picture(const PathLayer::Request& r) {
  QImage image(r.size * r.dpr, QImage::Format_ARGB32_Premultiplied);
  image.setDevicePixelRatio(r.dpr);
  image.fill(Qt::transparent);
  QPainter painter(&image);
  painter.setRenderHint(QPainter::Antialiasing);
  const std::size_t n = r.program->program.motions.size();
  if (r.cut_width) draw_path(painter, *r.program, r.map, 0, n, PathLook::cut_width, r.wide, r.widths);
  if (r.lines) draw_path(painter, *r.program, r.map, 0, n, PathLook::lines, r.line, r.widths);
  return image;
}

}  // namespace

PathLayer::~PathLayer() {
  if (worker_.joinable()) worker_.join();
}

void PathLayer::draw(const Request& request) {
  ++asked_;
  if (request.program->program.motions.size() <= drawn_at_once) {
    waiting_.reset();
    image_ = picture(request);
    drawn_with_ = request.map;
    return;
  }
  if (busy_)
    waiting_ = request;
  else
    begin(request);
}

void PathLayer::begin(const Request& request) {
  if (worker_.joinable()) worker_.join();
  busy_ = true;
  worker_ = std::thread([this, request, asked = asked_] {
    QImage image = picture(request);
    QMetaObject::invokeMethod(
        this,
        [this, asked, image = std::move(image), map = request.map] {
          busy_ = false;
          if (waiting_ || asked == asked_) {
            image_ = image;
            drawn_with_ = map;
            emit ready();
          }
          if (waiting_) begin(*std::exchange(waiting_, std::nullopt));
        },
        Qt::QueuedConnection);
  });
}

void PathLayer::paint(QPainter& painter, const QTransform& map) const {
  if (image_.isNull()) return;
  painter.save();
  painter.setTransform(drawn_with_.inverted() * map, true);
  painter.drawImage(0, 0, image_);
  painter.restore();
}

}  // namespace ypsi::app
