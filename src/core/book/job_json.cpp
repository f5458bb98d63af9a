#include "core/book/job_json.h"

#include <algorithm>

namespace ypsi {

using nlohmann::json;

Job read_job(Taker in) {
  Job job;
  in.take_positive("part_width_mm", job.part_width);
  in.take_positive("part_height_mm", job.part_height);
  in.take("stock_name", job.stock_name);
  in.take("stock_size_mm", job.stock_size);
  in.take("stock_corner_mm", job.stock_corner);
  in.take("bed_skin_mm", job.bed_skin);
  if (!(job.bed_skin >= 0))
    refuse("out_of_range", "The book is damaged: “job.bed_skin_mm” must not be below zero.", "job.bed_skin_mm");
  in.take("program", job.program);
  in.take("recent_programs", job.recent_programs);
  in.take("queue", job.queue);
  in.take("work_zero", job.frames[0]);
  std::vector<FrameZero> others;
  in.take("other_work_zeros", others);
  for (std::size_t i = 1; i < job.frames.size() && i <= others.size(); ++i) job.frames[i] = others[i - 1];
  in.take("work_frame", job.frame);
  if (job.frame < 0 || job.frame >= static_cast<int>(work_frame_count))
    refuse("out_of_range", "The book is damaged: “job.work_frame” must be from 0 (G54) to 5 (G59).", "job.work_frame");
  in.take("zero_spot", job.zero_spot);
  in.take("clamps", job.clamps);
  for (std::size_t i = 0; i < job.clamps.size(); ++i)
    if (const Clamp& c = job.clamps[i]; !(c.width_mm > 0 && c.depth_mm > 0 && c.height_mm > 0))
      refuse("out_of_range", fmt::format("The book is damaged: “job.clamps[{}]” must have a size.", i),
             fmt::format("job.clamps[{}]", i));
  in.take("checklist", job.checklist);
  job.unknown = in.unknown();
  return job;
}

json write_job(const Job& job) {
  json out = base(job.unknown);
  out["part_width_mm"] = job.part_width;
  out["part_height_mm"] = job.part_height;
  out["stock_name"] = job.stock_name;
  out["stock_size_mm"] = job.stock_size;
  if (job.stock_corner != std::array<double, 2>{}) out["stock_corner_mm"] = job.stock_corner;
  if (job.bed_skin != Job{}.bed_skin) out["bed_skin_mm"] = job.bed_skin;
  out["program"] = job.program;
  out["recent_programs"] = job.recent_programs;
  if (!job.queue.empty()) out["queue"] = job.queue;
  out["work_zero"] = job.frames[0];
  std::erase_if(out["work_zero"].get_ref<json::object_t&>(), [](const auto& item) { return item.second.is_null(); });
  if (std::any_of(job.frames.begin() + 1, job.frames.end(), [](const FrameZero& f) { return f != FrameZero{}; }))
    out["other_work_zeros"] = std::vector<FrameZero>(job.frames.begin() + 1, job.frames.end());
  if (job.frame != 0) out["work_frame"] = job.frame;
  if (job.zero_spot) out["zero_spot"] = *job.zero_spot;
  if (!job.clamps.empty()) out["clamps"] = job.clamps;
  if (!job.checklist.empty()) out["checklist"] = job.checklist;
  return out;
}

}  // namespace ypsi
