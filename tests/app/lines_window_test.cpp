// Machines whose controllers take G-code a line at a time, through the window: connected by their description, homed,
// moved, set, and what the line cannot do asked on cards.
#include <QDir>
#include <QFile>
#include <QProcess>
#include <QSignalSpy>

#include "app/session/book_editor.h"
#include "app/session/described_controllers.h"
#include "app/session/job_session.h"
#include "app/session/lines_found.h"
#include "app/session/machine_session.h"
#include "app/sheets/certificate_sheet.h"
#include "lines_window.h"

namespace ypsi::app {
namespace {

INSTANTIATE_TEST_SUITE_P(Faces, LinesWindow, ::testing::Values("bare", "asked", "telling"),
                         [](const auto& face) { return std::string(face.param); });

constexpr double as_homed = 0.05;  // where nothing tells the place, homing's own scatter is in it

TEST_P(LinesWindow, IsConnectedHomedAndMoved) {
  connect_as(GetParam());
  EXPECT_EQ(last_line()->controller, GetParam());
  EXPECT_EQ(session_->editor().book().machine.controller, GetParam()) << "the book keeps which";
  EXPECT_TRUE(
      text("link").contains(QString::fromStdString(session_->machine().connection()->lines()->description().name)))
      << text("link").toStdString();
  do_cards();
  home();
  for (const Axis a : all_axes)
    EXPECT_NEAR(session_->machine().status().position[a], truly().position[a], as_homed) << letter(a);
  const double before = truly().position.x;
  session_->machine().jog(Axis::x, 40);
  ASSERT_TRUE(wait_for([&] { return truly().position.x > before + 39.9; }))
      << text("notice-text").toStdString() << " at " << truly().position.x;
  ASSERT_TRUE(wait_ready());
  EXPECT_NEAR(session_->machine().status().position.x, truly().position.x, as_homed);
}

TEST_P(LinesWindow, AnotherMachineCanBeChosen) {
  connect_as(GetParam());
  do_cards();
  home();
  ASSERT_TRUE(session_->machine().use_connection(Connection::to_stand_in({demo_.scenario, demo_.settings}).value()));
  EXPECT_FALSE(session_->machine().connection()->lines());
  EXPECT_EQ(session_->machine().cards(), nullptr);
}

class LinesAtAWindow : public LinesWindow {};
INSTANTIATE_TEST_SUITE_P(Faces, LinesAtAWindow, ::testing::Values("bare"),
                         [](const auto& face) { return std::string(face.param); });

TEST_P(LinesAtAWindow, WhatTheLineCannotSetIsACard) {
  connect_as(GetParam());
  ASSERT_TRUE(wait_for([this] { return session_->machine().cards()->card() != nullptr; }))
      << "what its controller has is asked once";
  EXPECT_TRUE(find<QFrame>("hand-strip")->isVisible());
  do_cards();
  session_->machine().ask({});
  // Its line does not say what its inputs show: its owner does.
  EXPECT_FALSE(session_->machine().status().inputs.home_switch[0]);
  click("hand-lamp-X");
  EXPECT_TRUE(session_->machine().status().inputs.home_switch[0]);
  click("hand-lamp-X");
  ASSERT_TRUE(wait_for([this] { return !find<QFrame>("hand-card")->isVisible(); }));
  ASSERT_TRUE(session_->machine().link()->set_setting("axis.x.steps_per_mm", 81.5));
  session_->machine().ask({});
  ASSERT_TRUE(wait_for([this] { return find<QFrame>("hand-card")->isVisible(); }));
}

TEST_P(LinesAtAWindow, TheCertificateSaysWhatItsLineLeaves) {
  connect_as(GetParam());
  sheet("certificate");
  auto* page = window_->findChild<CertificateSheet*>();
  ASSERT_NE(page, nullptr);
  page->write(demo_.book + ".html");
  QFile file(demo_.book + ".html");
  ASSERT_TRUE(file.open(QIODevice::ReadOnly));
  const QString html = QString::fromUtf8(file.readAll());
  EXPECT_TRUE(html.contains("The controller, Bare bench, was reached over a line"));
  EXPECT_TRUE(html.contains("Only its own emergency stop stops it at once."));
}

TEST_P(LinesAtAWindow, WithoutItsDescriptionItSaysSo) {
  auto line = Line::from_text("tcp:127.0.0.1:1 as nobody");
  ASSERT_TRUE(line);
  EXPECT_EQ(line->to_text(), "tcp:127.0.0.1:1 as nobody");
  const auto made = Connection::described(*line, session_->editor().book(), demo_.book + ".controller", {});
  ASSERT_FALSE(made);
  EXPECT_EQ(made.error().code, "unreadable");
}

TEST_P(LinesAtAWindow, OverTcpToItsOwnProgram) {
  QProcess program;
  program.start(QStringLiteral(YPSI_BIN) + "/ypsilograph-standin",
                {"--scenario", demo_.scenario, "--port", "0", "--speed", "20", "--face", "asked"});
  ASSERT_TRUE(program.waitForReadyRead(10000)) << program.errorString().toStdString();
  const int port = QString(program.readAllStandardOutput()).split('\n').first().split(':').last().toInt();
  auto made = Connection::described(*Line::from_text(QString("tcp:127.0.0.1:%1 as asked").arg(port)),
                                    session_->editor().book(), demo_.book + ".controller", {});
  ASSERT_TRUE(made) << made.error().message;
  (void)(*made)->open();
  ASSERT_TRUE(wait_for([&] { return (*made)->opened().value_or(true); }));
  ASSERT_TRUE((*made)->opened()) << (*made)->opened().error().message;
  ASSERT_TRUE(session_->machine().use_connection(std::move(*made)));
  do_cards();
  home();
  session_->machine().jog(Axis::x, 40);
  ASSERT_TRUE(wait_ready());
  EXPECT_NEAR(session_->machine().status().position.x, 45, 0.05);
  program.kill();
  program.waitForFinished();
  ASSERT_TRUE(wait_for([this] { return session_->machine().status().state == MachineState::offline; }));
  EXPECT_EQ(session_->machine().bench(), nullptr) << "nobody stands at it but its owner";
}

TEST(Lines, ASerialLineIsNamedByWhatStays) {
  const QTemporaryDir folder;
  QFile device(folder.filePath("ttyUSB7"));
  ASSERT_TRUE(device.open(QIODevice::WriteOnly));
  ASSERT_TRUE(QDir(folder.path()).mkdir("by-id"));
  const QString by_id = folder.filePath("by-id");
  EXPECT_EQ(lasting_name(device.fileName(), by_id), device.fileName()) << "nothing leads to it";
  ASSERT_TRUE(QFile::link(device.fileName(), by_id + "/workshop-mill"));
  EXPECT_EQ(lasting_name(device.fileName(), by_id), by_id + "/workshop-mill");
  EXPECT_EQ(lasting_name("/dev/nothing-there", by_id), "/dev/nothing-there");
}

TEST(Lines, APlaceThatWasTyped) {
  const Line tcp{Line::Kind::tcp, "127.0.0.1", 7125}, serial{Line::Kind::serial, "/dev/ttyUSB0", 9600};
  EXPECT_EQ(place_text(tcp), "127.0.0.1:7125");
  EXPECT_EQ(with_place(tcp, " bench:80 ", 0)->to_text(), "tcp:bench:80");
  EXPECT_EQ(with_place(tcp, "bench", 0)->to_text(), "tcp:bench:7125");
  EXPECT_EQ(with_place(serial, "/dev/ttyS1", 57600)->to_text(), "serial:/dev/ttyS1:57600");
  EXPECT_FALSE(with_place(serial, "", 57600));
  EXPECT_EQ(with_place(Line{}, "whatever", 0), Line{}) << "the stand-in in this window has no place";
}

}  // namespace
}  // namespace ypsi::app
