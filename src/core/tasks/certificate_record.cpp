#include "core/tasks/certificate_record.h"
#include "core/tasks/limits.h"
#include "core/tasks/measure_cut.h"
#include "core/tasks/tools.h"

namespace ypsi {
namespace {

class CertificateRecordTask final : public Task {
 public:
  CertificateRecordTask() : Task(certificate_record_id, "Certificate", TaskGroup::record) {}
  std::vector<Upstream> depends_on() const override { return {{measure_cut_id}, {limits_id}, {tools_id}}; }
};

}  // namespace

const Task& certificate_record_task() {
  static const CertificateRecordTask task;
  return task;
}

}  // namespace ypsi
