#pragma once
// The parts of a sheet: a chip for each, as a rule in the title's row, and one page at a time.
#include <QStackedWidget>
#include <vector>

class QButtonGroup;
class QPushButton;

namespace ypsi::app {

class Sheet;

class SheetPages : public QStackedWidget {
  Q_OBJECT
 public:
  /// Names of chips begin with `prefix`. A chip that is pressed asks `sheet` to show its part.
  /// `chips`: where they stand; nothing: in the title's row.
  SheetPages(Sheet* sheet, const QString& prefix, QLayout* chips = nullptr);
  /// Puts its chip at the end of them; the first added is shown. Two parts may have one page.
  QPushButton* add(const QString& part, const QString& title, const QString& tip, QWidget* page);
  /// A page that is reached from another's, whose chip stands for it.
  void add_under(const QString& part, const QString& other, QWidget* page);
  /// False where there is no such part.
  bool turn_to(const QString& part);
  /// The part that is shown.
  const QString& part() const { return part_; }
  QPushButton* chip(const QString& part) const;

 signals:
  void leaving();  ///< another page comes; the one that is left is still the current one

 private:
  struct Part {
    QString name;
    QPushButton* chip;
    QWidget* page;
  };
  const Part* find(const QString& part) const;
  void put(const QString& part, QPushButton* chip, QWidget* page);
  /// What is not shown asks for no room.
  void ask_for_the_room_of_one();
  Sheet* sheet_;
  QString prefix_, part_;
  QLayout* chips_;
  QButtonGroup* group_;
  std::vector<Part> parts_;
};

}  // namespace ypsi::app
