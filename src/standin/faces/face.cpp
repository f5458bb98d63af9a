#include "standin/faces/face.h"

namespace ypsi::standin {

std::unique_ptr<Face> make_face(std::string_view name, Controller& controller) {
  if (name == "bare") return bare_face(controller);
  if (name == "asked") return asked_face(controller);
  if (name == "telling") return telling_face(controller);
  return nullptr;
}

}  // namespace ypsi::standin
