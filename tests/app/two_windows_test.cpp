// One book, two windows, and another program: whatever comes in whichever order, nothing that was kept is lost.
#include <gtest/gtest.h>

#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <random>
#include <set>

#include "app/session/book_editor.h"
#include "app/session/notices.h"

namespace ypsi::app {
namespace {

struct Window {
  explicit Window(const QString& path) : editor(BookStore(path), notices) {
    QObject::connect(&notices, &Notices::noticed, [this](const Notice& notice) {
      said = notice.text;
      actions = notice.actions;
    });
    editor.open_book();
  }
  Notices notices;
  BookEditor editor;
  QString said;
  std::vector<NoticeAction> actions;
};

Entry entry_of(const std::string& note) {
  Entry entry;
  entry.time = "2026-03-01T10:00:00+01:00";
  entry.sheet = "build";
  entry.note = note;
  return entry;
}

class TwoWindows : public ::testing::Test {
 protected:
  TwoWindows() : path_(folder_.filePath("oriel.ypsi")) {
    Book book;
    book.machine.name = "Oriel";
    EXPECT_TRUE(BookStore(path_).save(book));
  }
  std::set<std::string> notes_beside() {
    std::set<std::string> notes;
    for (const QString& name : QDir(folder_.path()).entryList(QDir::Files))
      if (const auto read = BookStore::load(folder_.filePath(name)))
        for (const Entry& entry : read->book.history) notes.insert(entry.note);
    return notes;
  }
  QTemporaryDir folder_;
  QString path_;
};

TEST_F(TwoWindows, TheSecondSaysWhoHasTheBookAndReadsItOnly) {
  Window first(path_), second(path_);
  EXPECT_FALSE(first.editor.read_only());
  EXPECT_TRUE(second.editor.read_only());
  EXPECT_TRUE(second.said.contains(QString::number(QCoreApplication::applicationPid()))) << second.said.toStdString();
  second.editor.change_book("try", [](Book& b) { b.machine.name = "Tansy"; });
  EXPECT_EQ(BookStore::load(path_)->book.machine.name, "Oriel");
}

TEST_F(TwoWindows, NothingIsLostHoweverTheyInterleave) {
#ifdef YPSI_SANITIZE
  constexpr unsigned interleavings = 25;
#else
  constexpr unsigned interleavings = 200;
#endif
  for (unsigned seed = 0; seed < interleavings; ++seed) {
    for (const QString& name : QDir(folder_.path()).entryList(QDir::Files)) QFile::remove(folder_.filePath(name));
    Book fresh;
    fresh.machine.name = "Oriel";
    ASSERT_TRUE(BookStore(path_).save(fresh));
    std::mt19937 random(seed);
    const auto roll = [&](int n) { return std::uniform_int_distribution<int>(0, n - 1)(random); };
    std::array<std::unique_ptr<Window>, 2> windows;
    std::set<std::string> kept;
    int writers_at_once = 0;
    for (int step = 0; step < 24; ++step) {
      auto& window = windows[static_cast<std::size_t>(roll(2))];
      const std::string note = std::to_string(seed) + "/" + std::to_string(step) + std::string(step, '.');
      switch (roll(6)) {
        case 0:
          window = window ? nullptr : std::make_unique<Window>(path_);
          break;
        case 1: {  // another program, which takes no lock
          auto book = BookStore::load(path_).value().book;
          book.history.push_back(entry_of(note));
          ASSERT_TRUE(write_file(path_, write_book(book)));
          kept.insert(note);
          break;
        }
        case 2:  // what the window offers, one or the other
          if (window && !window->actions.empty()) {
            const auto offered = std::exchange(window->actions, {});
            offered[static_cast<std::size_t>(roll(static_cast<int>(offered.size())))].act();
          }
          break;
        default:
          if (!window) break;
          window->said.clear();
          window->editor.change_book("Add", [&](Book& b) { b.history.push_back(entry_of(note)); });
          // Kept, unless it was said that it was not.
          if (!window->editor.read_only() && window->said.isEmpty()) kept.insert(note);
      }
      int writers = 0;
      for (const auto& each : windows) writers += each && !each->editor.read_only();
      writers_at_once = std::max(writers_at_once, writers);
    }
    windows = {};
    const auto found = notes_beside();
    for (const std::string& note : kept) EXPECT_TRUE(found.contains(note)) << "seed " << seed << ": " << note;
    EXPECT_LE(writers_at_once, 1) << "seed " << seed;
    if (HasFailure()) return;
  }
}

}  // namespace
}  // namespace ypsi::app
