#include "app/describe/word_table.h"

#include <QComboBox>
#include <QHeaderView>
#include <QSignalBlocker>

#include "app/theme/theme.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {
constexpr int word_height = 32, most_words = 8;
}

WordTable::WordTable(const QString& name, const QString& what,
                     const std::vector<std::pair<std::string, QString>>& meanings, QWidget* parent)
    : QTableWidget(0, 2, parent), meanings_(meanings) {
  setObjectName(name);
  setAccessibleName(what);
  setHorizontalHeaderLabels({tr("it says"), tr("that is")});
  horizontalHeader()->setStretchLastSection(true);
  horizontalHeader()->setHighlightSections(false);
  verticalHeader()->hide();
  verticalHeader()->setDefaultSectionSize(word_height);
  setSelectionMode(QAbstractItemView::SingleSelection);
  connect(this, &QTableWidget::cellChanged, this, [this] { emit changed(); });
  fit();
}

void WordTable::fit() {
  setFixedHeight(horizontalHeader()->sizeHint().height() + word_height * std::min(std::max(rowCount(), 1), most_words) +
                 4);
}

void WordTable::add(const QString& word, const std::string& meaning) {
  const int row = rowCount();
  insertRow(row);
  auto* item = new QTableWidgetItem(word);
  item->setFont(mono_font(13));
  setItem(row, 0, item);
  if (meanings_.empty()) {
    setItem(row, 1, new QTableWidgetItem(to_q(meaning)));
  } else {
    auto* means = new QComboBox(this);
    means->setObjectName(objectName() + "-" + word);
    means->setAccessibleName(tr("What “%1” means").arg(word));
    means->addItem(tr("— not said yet"), QString());
    for (const auto& [key, words] : meanings_) means->addItem(words, to_q(key));
    means->setCurrentIndex(std::max(0, means->findData(to_q(meaning))));
    connect(means, &QComboBox::activated, this, [this] { emit changed(); });
    setCellWidget(row, 1, means);
  }
  fit();
}

void WordTable::show_words(const std::map<std::string, std::string>& words, const std::vector<std::string>& open) {
  const QSignalBlocker quiet(this);
  setRowCount(0);
  for (const auto& [word, meaning] : words) add(to_q(word), meaning);
  for (const std::string& word : open)
    if (!words.contains(word)) add(to_q(word), {});
  fit();
}

void WordTable::add_word(const QString& word) {
  {
    const QSignalBlocker quiet(this);
    add(word, {});
  }
  emit changed();
}

std::map<std::string, std::string> WordTable::words() const {
  std::map<std::string, std::string> all;
  for (int row = 0; row < rowCount(); ++row) {
    const auto* choice = qobject_cast<QComboBox*>(cellWidget(row, 1));
    const QString meaning = choice         ? choice->currentData().toString()
                            : item(row, 1) ? item(row, 1)->text().trimmed()
                                           : QString();
    const QString word = item(row, 0) ? item(row, 0)->text().trimmed() : QString();
    if (!word.isEmpty() && !meaning.isEmpty()) all[word.toStdString()] = meaning.toStdString();
  }
  return all;
}

}  // namespace ypsi::app
