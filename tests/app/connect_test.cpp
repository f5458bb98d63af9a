// Connecting: the dialog, TCP to the stand-in's own program, what a line may be.
#include <QFileInfo>
#include <QListWidget>
#include <QProcess>
#include <QTcpServer>
#include <QTcpSocket>
#include <QThread>
#include <atomic>
#include <filesystem>
#include <fstream>
#include <regex>

#include "app/connect_dialog.h"
#include "app/session/book_editor.h"
#include "app/session/lines_found.h"
#include "app/session/machine_session.h"
#include "link/frame.h"
#include "link/messages.h"
#include "link/transports/token.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class ConnectTest : public WindowTest {
 protected:
  void TearDown() override {
    WindowTest::TearDown();
    stop_program();
  }
  /// Starts the stand-in's own program; returns its port.
  int start_program() {
    program_.start(QStringLiteral(YPSI_BIN) + "/ypsilograph-standin",
                   {"--scenario", demo_.scenario, "--port", "0", "--speed", "20"});
    EXPECT_TRUE(program_.waitForReadyRead(10000)) << program_.errorString().toStdString();
    return QString(program_.readAllStandardOutput()).split('\n').first().split(':').last().toInt();
  }
  void stop_program() {
    if (program_.state() == QProcess::NotRunning) return;
    program_.kill();
    program_.waitForFinished();
  }
  ConnectDialog* dialog() {
    QTest::keyClick(window_.get(), Qt::Key_L, Qt::ControlModifier);
    EXPECT_TRUE(told());
    return window_->findChild<ConnectDialog*>("connect-dialog");
  }
  void choose(ConnectDialog* d, const QString& words) {
    auto* lines = d->findChild<QListWidget*>("connect-lines");
    for (int i = 0; i < lines->count(); ++i)
      if (lines->item(i)->text().contains(words)) return lines->setCurrentRow(i);
    FAIL() << "no line says " << words.toStdString();
  }
  void set_address(ConnectDialog* d, const QString& text) {
    d->findChild<QLineEdit*>("connect-address")->setText(text);
  }
  QString press_connect(ConnectDialog* d) {
    QTest::mouseClick(d->findChild<QPushButton*>("connect-now"), Qt::LeftButton);
    const QPointer<QLabel> said = d->findChild<QLabel*>("connect-status");  // gone once it is connected
    EXPECT_TRUE(wait_for([said] { return !said || !said->text().contains("Connecting"); }));
    return said ? said->text() : QString();
  }
  Result<void> open(Connection& connection) {
    (void)connection.open();
    EXPECT_TRUE(wait_for([&] { return connection.opened().value_or(true); }));
    const auto opened = connection.opened();
    return opened ? Result<void>() : Result<void>(tl::make_unexpected(opened.error()));
  }
  using WindowTest::open;
  QProcess program_;
  std::unique_ptr<QObject> this_asks_ = std::make_unique<QObject>();
};

TEST_F(ConnectTest, ByTcpHomeMoveAndLoseTheMachine) {
  const int port = start_program();
  ASSERT_GT(port, 0);
  auto* d = dialog();
  ASSERT_NE(d, nullptr);
  choose(d, "TCP");
  set_address(d, QString("127.0.0.1:%1").arg(port));
  press_connect(d);
  ASSERT_TRUE(wait_for([this] { return session_->machine().connection()->line().kind == Line::Kind::tcp; }));
  EXPECT_TRUE(text("link").contains(QString::number(port)));
  EXPECT_TRUE(find<QPushButton>("simulated")->isVisible());
  EXPECT_EQ(last_line(), (Line{Line::Kind::tcp, "127.0.0.1", port})) << "it is remembered";
  home();
  session_->machine().jog(Axis::x, 40);
  ASSERT_TRUE(wait_ready());
  EXPECT_NEAR(session_->machine().status().position.x, 45, 0.05);
  EXPECT_TRUE(wait_for([this] { return session_->machine().bench()->stock_seen().has_value(); }));

  stop_program();
  ASSERT_TRUE(wait_for([this] { return session_->machine().status().state == MachineState::offline; }));
  EXPECT_TRUE(text("notice-text").contains("connect again")) << text("notice-text").toStdString();
  EXPECT_EQ(text("state"), "Offline");
  EXPECT_FALSE(find<QPushButton>("simulated")->isVisible());
  // And back to the machine in this window.
  d = dialog();
  choose(d, "stand-in in this window");
  press_connect(d);
  ASSERT_TRUE(wait_for([this] { return session_->machine().connection()->machine() != nullptr; }));
  EXPECT_EQ(session_->machine().status().state, MachineState::not_homed);
}

/// A controller that greets, tells its settings, says that it stands ready, and answers nothing else.
class Taciturn : public QTcpServer {
 public:
  explicit Taciturn(std::atomic<int>& acts) : acts_(acts) {
    listen(QHostAddress::LocalHost);
    connect(this, &QTcpServer::newConnection, this, [this] {
      host_ = nextPendingConnection();
      connect(host_, &QTcpSocket::readyRead, this, [this] { hear(host_->readAll().toStdString()); });
    });
    connect(&heart_, &QTimer::timeout, this, [this] { tell(); });
    heart_.start(50);
  }

 private:
  void say(const link::json& object) {
    const std::string line = link::up_line(object.dump());
    host_->write(line.data(), static_cast<qint64>(line.size()));
  }
  void tell() {
    if (!host_ || taken_ < 0) return;
    MachineStatus status;
    status.state = MachineState::ready;
    status.homed = {true, true, true};
    say({{"state", link::to_json(status)}, {"after", taken_}});
    say({{"done", taken_}, {"credits", 64}});
  }
  void hear(const std::string& bytes) {
    for (const auto& item : decoder_.feed(bytes)) {
      if (const auto* act = std::get_if<link::Act>(&item); act && *act != link::Act::heartbeat) ++acts_;
      const auto* line = std::get_if<link::DownLine>(&item);
      if (!line) continue;
      const auto in = link::json::parse(line->payload);
      taken_ = static_cast<int>(line->number);
      if (in.contains("hello"))
        say({{"hello", link::to_json(link::Identity{"Taciturn", "1", {"x", "y", "z"}, {"simulated"}, 8, 1})},
             {"link", 2}});
      else if (in["do"] == "settings")
        say({{"answer", taken_}, {"value", {{"axis.x.steps_per_mm", 80}, {"work.frame", 0}}}});
      tell();
    }
  }
  std::atomic<int>& acts_;
  QTcpSocket* host_ = nullptr;
  link::DownDecoder decoder_;
  QTimer heart_;
  int taken_ = -1;
};

/// The same in a thread of its own, as at the other end of a line.
class TaciturnThread {
 public:
  TaciturnThread() {
    thread_.reset(QThread::create([this] {
      Taciturn controller(acts);
      port = controller.serverPort();
      QEventLoop loop;
      QTimer end;
      QObject::connect(&end, &QTimer::timeout, &loop, [&] {
        if (QThread::currentThread()->isInterruptionRequested()) loop.quit();
      });
      end.start(20);
      loop.exec();
    }));
    thread_->start();
  }
  ~TaciturnThread() {
    thread_->requestInterruption();
    thread_->wait();
  }
  std::atomic<int> port = 0, acts = 0;

 private:
  std::unique_ptr<QThread> thread_;
};

TEST_F(ConnectTest, NothingWaitsForASilentControllerAndHoldReachesIt) {
  TaciturnThread controller;
  ASSERT_TRUE(wait_for([&] { return controller.port > 0; }));
  auto connection = Connection::to_line({Line::Kind::tcp, "127.0.0.1", controller.port});
  ASSERT_TRUE(open(*connection));
  ASSERT_TRUE(session_->machine().use_connection(std::move(connection)));
  ASSERT_TRUE(told());
  // Each of these once waited 0.7 s for its answer, and the window with it.
  QElapsedTimer since;
  qint64 longest_ms = 0;
  const auto acted = [&] { longest_ms = std::max(longest_ms, since.restart()); };
  since.start();
  session_->machine().compare_settings(), acted();
  session_->machine().set_work_zero({Axis::x, Axis::y, Axis::z}), acted();
  session_->machine().apply_steps(Axis::x, 85, {}, "Apply"), acted();
  session_->machine().send_work_zero(), acted();
  session_->machine().jog(Axis::x, 10), acted();
  session_->machine().home(true), acted();
  session_->machine().look(
      this_asks_.get(), [](Bench& b) { return b.read_distance(Axis::x, "ruler"); },
      [](double) { ADD_FAILURE() << "nothing was answered"; });
  acted();
  EXPECT_LT(longest_ms, 1000) << "none has waited for an answer";
  const int before = controller.acts;
  session_->machine().hold();
  EXPECT_TRUE(wait_for([&] { return controller.acts > before; }));
  // And what never was answered is said.
  EXPECT_TRUE(wait_for([this] {
    return text("notice-text").contains("did not answer in time") ||
           text("notice-text").contains("set otherwise than the book");
  }));
}

TEST_F(ConnectTest, WhileAnotherMachineIsOpenedTheOneBeforeIsHeld) {
  home();
  QTcpServer silent;  // takes whoever comes and says nothing
  ASSERT_TRUE(silent.listen(QHostAddress::LocalHost));
  auto* d = dialog();
  choose(d, "TCP");
  set_address(d, QString("127.0.0.1:%1").arg(silent.serverPort()));
  session_->machine().connection()->set_speed(1);
  session_->machine().jog(Axis::x, 200);
  ASSERT_TRUE(wait_for([this] { return session_->machine().status().state == MachineState::moving; }));
  QTest::mouseClick(d->findChild<QPushButton*>("connect-now"), Qt::LeftButton);
  EXPECT_TRUE(told());
  EXPECT_TRUE(d->findChild<QLabel*>("connect-status")->text().contains("Connecting"));
  session_->machine().hold();
  EXPECT_TRUE(wait_for([this] { return session_->machine().status().feed == 0; }));
  EXPECT_TRUE(d->findChild<QLabel*>("connect-status")->text().contains("Connecting"))
      << "long before the other one is given up";
  EXPECT_TRUE(wait_for([d] { return d->findChild<QLabel*>("connect-status")->text().contains("Nothing answers"); }));
  EXPECT_NE(session_->machine().connection()->machine(), nullptr) << "the old connection stays";
}

TEST_F(ConnectTest, AReadingOverANetworkIsThereAMomentLaterAndOnce) {
  auto connection = Connection::to_line({Line::Kind::tcp, "127.0.0.1", start_program()});
  ASSERT_TRUE(open(*connection));
  ASSERT_TRUE(session_->machine().use_connection(std::move(connection)));
  home();
  session_->machine().bench()->mark(Axis::x);
  std::vector<double> read;
  const auto look = [&] {
    session_->machine().look(
        this_asks_.get(), [](Bench& b) { return b.read_distance(Axis::x, "caliper"); },
        [&](double mm) { read.push_back(mm); });
  };
  look();
  const std::size_t at_once = read.size();  // of a stand-in that was quick
  look();                                   // pressed twice
  ASSERT_TRUE(wait_for([&] { return read.size() > at_once; }));
  EXPECT_TRUE(told(5));
  ASSERT_EQ(read.size(), 1 + at_once);
  EXPECT_NEAR(read.front(), 0, 0.2);
  auto elsewhere = Connection::to_stand_in({demo_.scenario, demo_.settings}).value();
  look();
  const std::size_t before = read.size();
  ASSERT_TRUE(session_->machine().use_connection(std::move(elsewhere)));
  EXPECT_TRUE(told(5));
  EXPECT_EQ(read.size(), before) << "asked of one machine, never answered at another";
}

TEST_F(ConnectTest, AControllerSetOtherwiseThanTheBookIsSaidAndLeftAlone) {
  const int port = start_program();
  session_->editor().note_in_book([](Book& b) { b.machine.axis(Axis::y).steps_per_mm = 81.25; });
  auto* d = dialog();
  choose(d, "TCP");
  set_address(d, QString("127.0.0.1:%1").arg(port));
  press_connect(d);
  ASSERT_TRUE(wait_for([this] { return session_->machine().connection()->line().kind == Line::Kind::tcp; }));
  EXPECT_TRUE(text("notice-text").contains("steps per mm of Y is 80, in the book 81.25"))
      << text("notice-text").toStdString();
  EXPECT_EQ(session_->machine().link()->setting("axis.y.steps_per_mm").value(), 80);
  click("notice-action-0");
  EXPECT_EQ(window_->current_sheet(), "build");
  EXPECT_TRUE(told());
  click("set-axis.y.steps_per_mm");
  EXPECT_EQ(session_->machine().link()->setting("axis.y.steps_per_mm").value(), 81.25);
  EXPECT_EQ(session_->editor().book().history.back().as_found.at("axis.y.steps_per_mm"), 80);
  EXPECT_TRUE(session_->machine().setting_differences().empty());
}

TEST_F(ConnectTest, ASecondHostIsTurnedAwayInWords) {
  const int port = start_program();
  auto first = Connection::to_line({Line::Kind::tcp, "127.0.0.1", port});
  ASSERT_TRUE(open(*first));
  auto second = Connection::to_line({Line::Kind::tcp, "127.0.0.1", port});
  const auto opened = open(*second);
  ASSERT_FALSE(opened);
  EXPECT_NE(opened.error().message.find("Another program"), std::string::npos) << opened.error().message;
}

TEST_F(ConnectTest, WhyItFailedIsSaidInTheDialogAndTheOldConnectionStays) {
  auto* d = dialog();
  choose(d, "TCP");
  set_address(d, "127.0.0.1:1");
  EXPECT_TRUE(press_connect(d).contains("Nobody listens"));
  set_address(d, "127.0.0.1:port");
  EXPECT_TRUE(press_connect(d).contains("no place to connect to"));
  choose(d, "Another serial line");
  set_address(d, "/dev/no-such-line");
  EXPECT_TRUE(press_connect(d).contains("no serial line")) << press_connect(d).toStdString();
  choose(d, "stand-in in this window");
  EXPECT_TRUE(press_connect(d).contains("connected already"));
  EXPECT_NE(session_->machine().connection()->machine(), nullptr);
  EXPECT_TRUE(session_->machine().connection()->up());
}

/// Whether whoever listens at `port` hangs up on one that says `text`; what it answered goes to `answer`.
bool hangs_up_on(int port, const QByteArray& text, QByteArray* answer) {
  QTcpSocket socket;
  socket.connectToHost("127.0.0.1", static_cast<quint16>(port));
  if (!socket.waitForConnected(2000)) return false;
  socket.write(text);
  socket.flush();
  const bool gone = QTest::qWaitFor([&] { return socket.state() == QAbstractSocket::UnconnectedState; }, 20000);
  *answer = socket.readAll();
  return gone;
}

// A page in a browser can send our lines as the body of a form, after a head that is none of ours.
TEST_F(ConnectTest, AWebPageCannotMoveTheMachine) {
  const int port = start_program();
  const std::string token = link::token_of("127.0.0.1", static_cast<quint16>(port)).toStdString();
  ASSERT_FALSE(token.empty());
  const std::string lines = link::down_line(0, R"({"hello":{"link":2,"name":"page","token":")" + token + R"("}})") +
                            link::down_line(1, R"({"do":"home"})");
  QByteArray answer;
  EXPECT_TRUE(hangs_up_on(
      port, "POST / HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: text/plain\r\n\r\n" + QByteArray::fromStdString(lines),
      &answer));
  EXPECT_EQ(answer, "") << "nothing is told to a stranger";
  EXPECT_TRUE(hangs_up_on(port, QByteArray::fromStdString(link::down_line(1, R"({"do":"home"})")), &answer));
  EXPECT_TRUE(hangs_up_on(
      port, QByteArray::fromStdString(link::down_line(0, R"({"hello":{"link":2,"name":"page","token":"guess"}})")),
      &answer));
  EXPECT_TRUE(answer.contains("token")) << "why is said to whoever speaks the link";
  EXPECT_TRUE(hangs_up_on(port, "", &answer)) << "who says nothing is not waited for";
}

TEST_F(ConnectTest, ASilentConnectionDoesNotHoldThePort) {
  const int port = start_program();
  QTcpSocket silent;
  silent.connectToHost("127.0.0.1", static_cast<quint16>(port));
  ASSERT_TRUE(silent.waitForConnected(2000));
  auto connection = Connection::to_line(*Line::from_text(QString("tcp:127.0.0.1:%1").arg(port)));
  const auto opened = open(*connection);
  EXPECT_TRUE(opened) << opened.error().message;
}

TEST_F(ConnectTest, TheTokenOfAMachineOnThisComputerIsItsOwnersAlone) {
  const int port = start_program();
  const QFileInfo file(link::token_path(static_cast<quint16>(port)));
  ASSERT_TRUE(file.exists());
  EXPECT_EQ(file.permissions() & ~QFileDevice::Permissions(QFileDevice::ReadUser | QFileDevice::WriteUser),
            QFileDevice::ReadOwner | QFileDevice::WriteOwner);
  auto connection = Connection::to_line(*Line::from_text(QString("tcp:127.0.0.1:%1").arg(port)), "wrong");
  const auto opened = open(*connection);
  ASSERT_FALSE(opened);
  EXPECT_NE(opened.error().message.find("token"), std::string::npos) << opened.error().message;
}

TEST(Lines, AsTextAndBack) {
  for (const Line& line :
       {Line{}, Line{Line::Kind::tcp, "127.0.0.1", 7125}, Line{Line::Kind::serial, "/dev/ttyUSB0", 115200},
        Line{Line::Kind::serial, "/dev/ttyUSB0", 9600, true},
        Line{Line::Kind::serial, "/dev/ttyUSB0", 9600, true, "asked"}})
    EXPECT_EQ(Line::from_text(line.to_text()), line);
  for (const char* bad :
       {"", "tcp:", "tcp:host", "tcp:host:0", "tcp:host:99999", "serial:/dev/x:fast", "ftp:host:21", "tcp::7"})
    EXPECT_FALSE(Line::from_text(bad)) << bad;
}

/// What a source includes of the stand-in.
std::vector<std::string> standin_includes(const std::filesystem::path& file) {
  std::ifstream in(file);
  std::vector<std::string> found;
  const std::regex include(R"re(^\s*#include\s*"(standin[^"]*)")re");
  std::smatch match;
  for (std::string line; std::getline(in, line);)
    if (std::regex_search(line, match, include)) found.push_back(match[1]);
  return found;
}

// The only way into the machine is its link: what the window, the companion, the core and the link may include of the
// stand-in is the header that takes and gives bytes, and that header includes nothing that knows more.
TEST(Truth, OnlyTheLinkLeadsIn) {
  const std::filesystem::path src = std::filesystem::path(YPSI_RESOURCES) / "../src";
  int files = 0, door = 0;
  for (const char* part : {"app", "cli", "core", "link"})
    for (const auto& entry : std::filesystem::recursive_directory_iterator(src / part)) {
      if (entry.path().extension() != ".h" && entry.path().extension() != ".cpp") continue;
      ++files;
      for (const auto& header : standin_includes(entry.path())) {
        // A rehearsal that is over is judged by the iron; nothing of it goes back into the work.
        const bool judges = entry.path().filename() == "rehearse_command.cpp" &&
                            (header == "standin/true_part.h" || header == "standin/true_figures.h");
        EXPECT_TRUE(header == "standin/served_machine.h" || judges) << header << " in " << entry.path();
        EXPECT_TRUE(part == std::string("app") || part == std::string("cli")) << entry.path();
        ++door;
      }
    }
  EXPECT_GT(files, 100);
  EXPECT_GT(door, 0);
  EXPECT_TRUE(standin_includes(src / "standin/served_machine.h").empty());
}

}  // namespace
}  // namespace ypsi::app
