// The book in the window: undo, full disk, damaged files, files of a later version.
#include <sys/resource.h>
#include <sys/stat.h>

#include <csignal>

#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "core/book/record.h"
#include "core/book/worksheets/lost_motion.h"
#include "core/book/worksheets/scale.h"
#include "core/tasks/certificate.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class BookInWindow : public WindowTest {
 protected:
  std::string on_disk() { return read_file(demo_.book).value(); }
  void overwrite(const std::string& bytes) {
    close();
    QFile file(demo_.book);
    ASSERT_TRUE(file.open(QIODevice::WriteOnly));
    file.write(bytes.data(), static_cast<qint64>(bytes.size()));
    file.close();
    open();
  }
  QStringList set_aside() { return QDir(folder_.path()).entryList({"*.set-aside-*"}); }
};

/// Files may not grow beyond `bytes` while this lives: a write then fails as on a full disk.
struct FullDisk {
  explicit FullDisk(rlim_t bytes) {
    std::signal(SIGXFSZ, SIG_IGN);
    getrlimit(RLIMIT_FSIZE, &before);
    rlimit now = before;
    now.rlim_cur = bytes;
    setrlimit(RLIMIT_FSIZE, &now);
  }
  ~FullDisk() { setrlimit(RLIMIT_FSIZE, &before); }
  rlimit before{};
};

TEST_F(BookInWindow, AFullDiskWhileSavingLosesNothing) {
  const std::string before = on_disk();
  sheet("program");
  {
    FullDisk full(4096);
    type("stock-z", "20");
    EXPECT_TRUE(text("notice-text").contains("could not be saved")) << text("notice-text").toStdString();
    EXPECT_EQ(on_disk(), before) << "the last save must stay as it was";
  }
  EXPECT_DOUBLE_EQ(session_->editor().book().job.stock_size[2], 20) << "the change is still in the window";
  click("notice-action-0");  // Save again
  EXPECT_NEAR(read_book(on_disk()).value().book.job.stock_size[2], 20, 1e-12);
}

/// Every member of every object and array in `in` made `strange`, the shape above them left.
void make_strange(nlohmann::json& in, const nlohmann::json& strange) {
  for (auto& each : in)
    if (each.is_structured())
      make_strange(each, strange);
    else
      each = strange;
}

// The record is what people and programs wrote over years: what the check of a book passes must not end the window.
TEST_F(BookInWindow, WhatTheCheckOfABookPassesEverySheetOpens) {
  const auto good = nlohmann::json::parse(read_file(YPSI_TEST_DATA "/books/every_sheet.ypsi").value());
  ASSERT_GT(good.at("history").size(), 10u);
  const nlohmann::json of_another_kind[] = {1e300, -1e300, 0, "words", true, nullptr, {1, {2}}, {{"words", {1}}}};
  int opened = 0;
  for (const auto& strange : of_another_kind)
    for (const bool within : {true, false}) {
      auto book = good;
      book.erase("checksum");
      for (auto& entry : book["history"])
        for (const char* what : {"result", "readings"})
          if (!within)
            entry[what] = strange;
          else if (entry.contains(what))
            make_strange(entry[what], strange);
      const auto read = read_book(book.dump());
      if (!read) continue;  // said by name, and not opened
      session_->editor().note_in_book([&](Book& b) { b = read->book; });
      for (const Task* task : session_->editor().tasks()) window_->open_sheet(task->id());
      (void)readings_csv(session_->editor().book());
      (void)certificate_of(session_->editor().book(), session_->editor().tasks());
      ++opened;
    }
  EXPECT_GT(opened, 8) << "most are sound by the schema";
}

TEST_F(BookInWindow, APipeIsNoFile) {
  const QByteArray pipe = QFile::encodeName(folder_.filePath("pipe.ngc"));
  ASSERT_EQ(mkfifo(pipe.constData(), 0600), 0);
  EXPECT_EQ(read_file(folder_.filePath("pipe.ngc")).error().code, "not_a_file");
  EXPECT_EQ(read_file("/dev/zero").error().code, "not_a_file");
  EXPECT_EQ(read_file(folder_.path()).error().code, "not_a_file");
  session_->job().load_program(folder_.filePath("pipe.ngc"));
  EXPECT_TRUE(wait_for([this] { return text("notice-text").contains("not a file"); }))
      << text("notice-text").toStdString();
  QFile long_file(folder_.filePath("long.ngc"));
  ASSERT_TRUE(long_file.open(QIODevice::WriteOnly) && long_file.resize(1000));
  EXPECT_TRUE(read_file(long_file.fileName(), 1000));
  EXPECT_EQ(read_file(long_file.fileName(), 999).error().code, "too_long");
}

TEST_F(BookInWindow, UndoAndRedoGoThroughEveryChange) {
  sheet("steps_per_unit");
  type("told", "300");
  type("measured", "299");
  type("told", "300");
  type("measured", "298.5");
  ASSERT_EQ(session_->editor().book().worksheets[scale_worksheets][0].readings.size(), 2u);
  undo();
  EXPECT_EQ(session_->editor().book().worksheets[scale_worksheets][0].readings.size(), 1u);
  undo();
  EXPECT_TRUE(session_->editor().book().worksheets[scale_worksheets][0].readings.empty());
  redo();
  ASSERT_EQ(session_->editor().book().worksheets[scale_worksheets][0].readings.size(), 1u);
  EXPECT_DOUBLE_EQ(session_->editor().book().worksheets[scale_worksheets][0].readings[0].measured, 299);
}

TEST_F(BookInWindow, UndoTakesNothingBackThatWasNotedSince) {
  sheet("steps_per_unit");
  type("told", "300");
  type("measured", "299");
  auto* inches = window_->findChild<QAction*>("unit-in");
  ASSERT_NE(inches, nullptr);
  inches->trigger();
  session_->editor().note_in_book([](Book& b) {
    b.worksheets[positioning_worksheets][0].runs.push_back({});  // as taken at the machine
  });
  undo();
  EXPECT_TRUE(session_->editor().book().worksheets[scale_worksheets][0].readings.empty());
  EXPECT_EQ(session_->editor().book().length_unit, "in");
  EXPECT_EQ(session_->editor().book().worksheets[positioning_worksheets][0].runs.size(), 1u);
  redo();
  EXPECT_EQ(session_->editor().book().worksheets[scale_worksheets][0].readings.size(), 1u);
  EXPECT_EQ(session_->editor().book().length_unit, "in");
}

TEST_F(BookInWindow, TheWarmthIsAskedOnceAndKeptWithWhatIsFound) {
  sheet("steps_per_unit");
  EXPECT_TRUE(text("warmth-question").contains("How warm"));
  type("warmth", "200");
  EXPECT_TRUE(text("notice-text").contains("No workshop")) << text("notice-text").toStdString();
  EXPECT_FALSE(session_->editor().temperature_C());
  type("warmth", "8");
  EXPECT_FALSE(text("warmth-question").contains("How warm"));
  const auto find_x = [this] {
    session_->editor().change_book("found", [](Book& b) {
      Entry e;
      e.time = "2026-04-09T10:00";
      e.sheet = "steps_per_unit";
      e.subject = "X";
      b.history.push_back(e);
    });
  };
  find_x();
  EXPECT_EQ(last().temperature_C, 8);
  EXPECT_EQ(text("warmth-said"), "");
  type("warmth", "24");
  // (23 - 11.5) millionths per K over 16 K.
  EXPECT_TRUE(text("warmth-said").contains("0.18 mm per m")) << text("warmth-said").toStdString();
  session_->editor().note_in_book([](Book& b) { b.length_unit = "in"; });
  EXPECT_TRUE(text("warmth-unit").contains("F"));
  EXPECT_TRUE(find<QLineEdit>("warmth")->text().startsWith("75")) << "24 degrees C are 75.2 degrees F";
  type("warmth", "50");
  EXPECT_EQ(session_->editor().temperature_C(), 10);
  undo();
  EXPECT_EQ(session_->editor().temperature_C(), 10) << "what is undone does not make the day colder";
  close();
  open();
  EXPECT_FALSE(session_->editor().temperature_C()) << "another sitting, another day";
  find_x();
  EXPECT_FALSE(last().temperature_C);
}

TEST_F(BookInWindow, UndoOfAnApplyPutsTheControllerBackAndTheRecordGrows) {
  home();
  sheet("steps_per_unit");
  for (const char* measured : {"597", "597.5", "597"}) {
    type("told", "600");
    type("measured", measured);
  }
  const std::size_t lines = session_->editor().book().history.size();
  click("apply");
  const double applied = session_->editor().book().machine.axis(Axis::x).steps_per_mm;
  ASSERT_GT(applied, 80.2);
  const auto limits = session_->editor().book().machine.axis(Axis::x).soft_max;
  undo();
  EXPECT_DOUBLE_EQ(session_->editor().book().machine.axis(Axis::x).steps_per_mm, 80);
  EXPECT_DOUBLE_EQ(machine().link().setting("axis.x.steps_per_mm").value(), 80);
  EXPECT_DOUBLE_EQ(*session_->editor().book().machine.axis(Axis::x).soft_max, 808);
  EXPECT_EQ(session_->editor().book().worksheets[scale_worksheets][0].readings.size(), 3u)
      << "the readings are there again";
  ASSERT_EQ(session_->editor().book().history.size(), lines + 2) << "the record only grows";
  EXPECT_EQ(session_->editor().book().history.back().note, "undone");
  redo();
  EXPECT_DOUBLE_EQ(session_->editor().book().machine.axis(Axis::x).steps_per_mm, applied);
  EXPECT_EQ(session_->editor().book().machine.axis(Axis::x).soft_max, limits);
  EXPECT_EQ(session_->editor().book().history.size(), lines + 3);
  EXPECT_EQ(*newest(session_->editor().book(), "steps_per_unit", "X"), lines);
}

TEST_F(BookInWindow, PutBackReturnsWhatWasFound) {
  home();
  sheet("steps_per_unit");
  for (const char* measured : {"597", "597.5", "597"}) {
    type("told", "600");
    type("measured", measured);
  }
  click("apply");
  click("put-back");
  EXPECT_DOUBLE_EQ(session_->editor().book().machine.axis(Axis::x).steps_per_mm, 80);
  EXPECT_DOUBLE_EQ(machine().link().setting("axis.x.steps_per_mm").value(), 80);
  EXPECT_EQ(session_->editor().book().history.back().note, "put back");
}

TEST_F(BookInWindow, ACutOffBookIsSetAsideAndThePreviousSaveIsOffered) {
  sheet("program");
  type("stock-z", "21");
  type("stock-z", "22");
  const std::string whole = on_disk();
  overwrite(whole.substr(0, whole.size() / 2));
  EXPECT_TRUE(text("notice-text").contains("cut off")) << text("notice-text").toStdString();
  ASSERT_EQ(set_aside().size(), 1);
  EXPECT_EQ(read_file(folder_.filePath(set_aside().first())).value(), whole.substr(0, whole.size() / 2));
  EXPECT_EQ(on_disk(), whole.substr(0, whole.size() / 2)) << "nothing is overwritten before the owner chooses";
  click("notice-action-0");  // Open the previous save
  EXPECT_EQ(session_->editor().book().machine.name, "Oriel");
  EXPECT_DOUBLE_EQ(session_->editor().book().job.stock_size[2], 21);
  EXPECT_TRUE(read_book(on_disk()));
  EXPECT_TRUE(read_book(read_file(demo_.book + ".previous").value()))
      << "the damaged one must not push the good one out";
}

TEST_F(BookInWindow, ABookOfALaterVersionOpensForReadingOnly) {
  std::string later = on_disk();
  later.replace(later.find("\"version\": 1"), 12, "\"version\": 9");
  overwrite(later);
  EXPECT_TRUE(text("notice-text").contains("later Ypsilograph")) << text("notice-text").toStdString();
  EXPECT_TRUE(session_->editor().read_only());
  EXPECT_EQ(session_->editor().book().machine.name, "Oriel");
  sheet("program");
  type("stock-z", "33");
  EXPECT_EQ(on_disk(), later) << "a later book must not be written";
  EXPECT_TRUE(text("book-title").contains("reading only"));
}

TEST_F(BookInWindow, OneWriterAtATimeAndNothingIsLost) {
  auto second = std::make_unique<Session>(BookStore(demo_.book),
                                          Connection::to_stand_in({demo_.scenario, demo_.settings}).value());
  QStringList said;
  QObject::connect(&second->notices(), &Notices::noticed, [&](const Notice& n) { said << n.text; });
  second->editor().open_book();
  EXPECT_TRUE(second->editor().read_only());
  EXPECT_TRUE(said.join("\n").contains("open in another window already")) << said.join("\n").toStdString();
  session_->editor().change_book("Stock", [](Book& b) { b.job.stock_size[2] = 31; });
  second->editor().change_book("Stock", [](Book& b) { b.job.stock_size[2] = 99; });
  EXPECT_DOUBLE_EQ(read_book(on_disk())->book.job.stock_size[2], 31);
  // Once the first has gone, the second reads what it left and may write.
  close();
  second->editor().open_book();
  EXPECT_FALSE(second->editor().read_only());
  EXPECT_DOUBLE_EQ(second->editor().book().job.stock_size[2], 31);
  second->editor().change_book("Stock", [](Book& b) { b.job.stock_size[2] = 32; });
  EXPECT_DOUBLE_EQ(read_book(on_disk())->book.job.stock_size[2], 32);
}

TEST_F(BookInWindow, AChangeByAnotherProgramIsNeverOverwritten) {
  session_->editor().change_book("Stock", [](Book& b) { b.job.stock_size[2] = 31; });
  Book theirs = read_book(on_disk())->book;
  theirs.job.stock_size[2] = 77;
  write(QFileInfo(demo_.book).fileName(), QByteArray::fromStdString(write_book(theirs)));
  const std::string changed = on_disk();
  session_->editor().change_book("Stock", [](Book& b) { b.job.stock_size[2] = 33; });
  EXPECT_TRUE(text("notice-text").contains("Another program has changed the book"))
      << text("notice-text").toStdString();
  EXPECT_EQ(on_disk(), changed);
  click("notice-action-0");  // Read what is on the disk
  EXPECT_DOUBLE_EQ(session_->editor().book().job.stock_size[2], 77);
  ASSERT_EQ(set_aside().size(), 1);
  EXPECT_DOUBLE_EQ(read_book(read_file(folder_.filePath(set_aside().first())).value())->book.job.stock_size[2], 33)
      << "what was changed here is beside it";
  session_->editor().change_book("Stock", [](Book& b) { b.job.stock_size[2] = 34; });
  EXPECT_DOUBLE_EQ(read_book(on_disk())->book.job.stock_size[2], 34) << "and saving goes on";
}

TEST_F(BookInWindow, WhatIsHereMayTakeThePlaceOfWhatAnotherProgramWrote) {
  session_->editor().change_book("Stock", [](Book& b) { b.job.stock_size[2] = 31; });
  const std::string theirs = on_disk() + "\n";
  write(QFileInfo(demo_.book).fileName(), QByteArray::fromStdString(theirs));
  session_->editor().change_book("Stock", [](Book& b) { b.job.stock_size[2] = 33; });
  click("notice-action-1");  // Keep what is here
  EXPECT_DOUBLE_EQ(read_book(on_disk())->book.job.stock_size[2], 33);
  ASSERT_EQ(set_aside().size(), 1);
  EXPECT_EQ(read_file(folder_.filePath(set_aside().first())).value(), theirs);
}

TEST_F(BookInWindow, WhatAKilledRunLeftIsClearedAway) {
  close();
  const QString name = QFileInfo(demo_.book).fileName();
  write(name + ".kQxYzA", "half a boo");
  write(name + ".previous.new", "half a boo");
  write(name + ".progress", "{}\n");
  write(name + ".set-aside-20260101-120000", "mine");
  open();
  EXPECT_FALSE(QFile::exists(folder_.filePath(name + ".kQxYzA")));
  EXPECT_FALSE(QFile::exists(folder_.filePath(name + ".previous.new")));
  EXPECT_TRUE(QFile::exists(folder_.filePath(name + ".progress")));
  EXPECT_TRUE(QFile::exists(folder_.filePath(name + ".set-aside-20260101-120000")));
}

TEST_F(BookInWindow, WhatTheProgramWritesByItselfOverwritesNothing) {
  write("surfacing.ngc", "(the owner's own)\n");
  const QString path = folder_.filePath("surfacing.ngc");
  const auto first = write_beside(path, "G21\n"), again = write_beside(path, "G21\n"),
             other = write_beside(path, "G20\n");
  EXPECT_EQ(*first, folder_.filePath("surfacing-2.ngc"));
  EXPECT_EQ(*again, *first) << "the same once more is the same file";
  EXPECT_EQ(*other, folder_.filePath("surfacing-3.ngc"));
  EXPECT_EQ(*read_file(path), "(the owner's own)\n");
}

TEST_F(BookInWindow, AFlippedBitIsTold) {
  session_->editor().change_book("Stock", [](Book& b) { b.job.stock_size[2] = 31; });
  std::string flipped = on_disk();
  const auto at = flipped.find("31.0");
  ASSERT_NE(at, std::string::npos);
  flipped[at] ^= 1;  // 21
  overwrite(flipped);
  EXPECT_TRUE(text("notice-text").contains("not as it was saved last")) << text("notice-text").toStdString();
  EXPECT_FALSE(session_->editor().read_only());
}

TEST_F(BookInWindow, JunkAndAnEmptyFileAreNotABook) {
  overwrite("");
  EXPECT_TRUE(text("notice-text").contains("empty")) << text("notice-text").toStdString();
  overwrite(
      std::string("\x7f"
                  "ELF\0\1\2",
                  7));
  EXPECT_TRUE(text("notice-text").contains("not a book at all")) << text("notice-text").toStdString();
  overwrite("{\"format\": \"something else\"}");
  EXPECT_TRUE(text("notice-text").contains("not a machine book")) << text("notice-text").toStdString();
}

TEST_F(BookInWindow, InchesOnTheScreenMillimetresInTheFile) {
  sheet("program");
  session_->editor().note_in_book([](Book& b) { b.length_unit = "in"; });
  type("stock-z", "3/4");
  EXPECT_NEAR(session_->editor().book().job.stock_size[2], 19.05, 1e-9);
  EXPECT_EQ(find<QLineEdit>("stock-z")->text(), "0.750");
  EXPECT_NEAR(read_book(on_disk()).value().book.job.stock_size[2], 19.05, 1e-9);
}

TEST_F(BookInWindow, ATypedSentenceIsRefusedAndNothingChanges) {
  sheet("program");
  type("stock-z", "about 18");
  EXPECT_TRUE(text("notice-text").contains("not part of a number")) << text("notice-text").toStdString();
  EXPECT_DOUBLE_EQ(session_->editor().book().job.stock_size[2], 18);
  type("stock-z", "36/2+1,5");
  EXPECT_DOUBLE_EQ(session_->editor().book().job.stock_size[2], 19.5);
}

}  // namespace
}  // namespace ypsi::app
