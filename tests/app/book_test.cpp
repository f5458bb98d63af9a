// The book in the window: undo, full disk, damaged files, files of a later version.
#include <sys/resource.h>

#include <csignal>

#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "core/book/record.h"
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

TEST_F(BookInWindow, UndoAndRedoGoThroughEveryChange) {
  sheet("steps_per_unit");
  type("told", "300");
  type("measured", "299");
  type("told", "300");
  type("measured", "298.5");
  ASSERT_EQ(session_->editor().book().scale_worksheets[0].readings.size(), 2u);
  undo();
  EXPECT_EQ(session_->editor().book().scale_worksheets[0].readings.size(), 1u);
  undo();
  EXPECT_TRUE(session_->editor().book().scale_worksheets[0].readings.empty());
  redo();
  ASSERT_EQ(session_->editor().book().scale_worksheets[0].readings.size(), 1u);
  EXPECT_DOUBLE_EQ(session_->editor().book().scale_worksheets[0].readings[0].measured, 299);
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
  EXPECT_EQ(session_->editor().book().scale_worksheets[0].readings.size(), 3u) << "the readings are there again";
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
