#pragma once
// The parts of a sheet: a chip for each in the title's row, and one page at a time under it.
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
  SheetPages(Sheet* sheet, const QString& prefix);
  /// Puts its chip at the end of the title's row; the first added is shown. Two parts may have one page.
  QPushButton* add(const QString& part, const QString& title, const QString& tip, QWidget* page);
  /// A page that is reached from another's, whose chip stands for it.
  void add_under(const QString& part, const QString& other, QWidget* page);
  /// The page that is left is told by `leaving` first. False where there is no such part.
  bool turn_to(const QString& part);
  /// The part that is shown.
  const QString& part() const { return part_; }
  QPushButton* chip(const QString& part) const;

 signals:
  void leaving(QWidget* page);

 private:
  struct Part {
    QString name;
    QPushButton* chip;
    QWidget* page;
  };
  const Part* find(const QString& part) const;
  void put(const QString& part, QPushButton* chip, QWidget* page);
  Sheet* sheet_;
  QString prefix_, part_;
  QButtonGroup* group_;
  std::vector<Part> parts_;
};

}  // namespace ypsi::app
