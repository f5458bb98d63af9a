#include "app/session/session.h"

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"

namespace ypsi::app {

Session::Session(BookStore store, std::unique_ptr<Connection> connection)
    : Session(std::move(store), std::move(connection), all_tasks()) {}

Session::Session(BookStore store, std::unique_ptr<Connection> connection, const Tasks& tasks)
    : notices_(std::make_unique<Notices>()),
      editor_(std::make_unique<BookEditor>(std::move(store), *notices_, tasks)),
      machine_(std::make_unique<MachineSession>(std::move(connection), *editor_, *notices_)),
      job_(std::make_unique<JobSession>(*editor_, *machine_, *notices_)) {}

Session::~Session() = default;

}  // namespace ypsi::app
