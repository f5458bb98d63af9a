#pragma once
// The controller's words on the left, what each means on the right: chosen, or in words of one's own.
#include <QTableWidget>
#include <map>
#include <string>
#include <vector>

namespace ypsi::app {

class WordTable : public QTableWidget {
  Q_OBJECT
 public:
  /// `meanings`: what may be chosen, with its words; none: it is written.
  WordTable(const QString& name, const QString& what, const std::vector<std::pair<std::string, QString>>& meanings,
            QWidget* parent);
  /// Words without a meaning yet are `open`: they stand there to be said, and are of no effect.
  void show_words(const std::map<std::string, std::string>& words, const std::vector<std::string>& open = {});
  std::map<std::string, std::string> words() const;
  void add_word(const QString& word);

 signals:
  void changed();

 private:
  void add(const QString& word, const std::string& meaning);
  void fit();
  std::vector<std::pair<std::string, QString>> meanings_;
};

}  // namespace ypsi::app
