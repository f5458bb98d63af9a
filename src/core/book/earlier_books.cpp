#include "core/book/earlier_books.h"

#include <nlohmann/json.hpp>

namespace ypsi {
namespace {

constexpr const char* layer_keys[] = {"cap_mm", "total_mm", "cap_colour", "core_colour"};

/// Of the worksheet of one trial.
void move_layers(nlohmann::json& trial, nlohmann::json& materials) {
  if (!trial.is_object() || !trial.contains("depth") || !trial["depth"].is_object()) return;
  nlohmann::json& depth = trial["depth"];
  nlohmann::json material = {{"name", trial.value("material", nlohmann::json(""))}};
  for (const char* key : layer_keys)
    if (depth.contains(key)) {
      material[key] = depth[key];
      depth.erase(key);
    }
  if (material.size() > 1) materials.push_back(std::move(material));
}

}  // namespace

void bring_up_to_date(nlohmann::json& book) {
  if (!book.is_object() || !book.contains("worksheets") || !book["worksheets"].is_object()) return;
  nlohmann::json& worksheets = book["worksheets"];
  nlohmann::json materials = nlohmann::json::array();
  if (worksheets.contains("trials")) move_layers(worksheets["trials"], materials);
  if (worksheets.contains("trials_put_by") && worksheets["trials_put_by"].is_array())
    for (nlohmann::json& trial : worksheets["trials_put_by"]) move_layers(trial, materials);
  if (materials.empty() || (book.contains("job") && !book["job"].is_object())) return;
  nlohmann::json& all = book["job"]["materials"];
  if (all.is_null()) all = nlohmann::json::array();
  if (all.is_array())
    for (nlohmann::json& m : materials) all.push_back(std::move(m));
}

}  // namespace ypsi
