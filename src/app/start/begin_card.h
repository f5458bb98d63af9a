#pragma once
#include <QCheckBox>
#include <QComboBox>
#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <array>
#include <vector>

#include "app/widgets/field.h"
#include "core/book/first_book.h"
#include "core/result.h"

namespace ypsi::app {

/// How a machine that was just begun is reached.
enum class BeginWay { later, line, by_hand };

/// Five questions of a machine that has no book yet. Each can be left as it stands; what that means is said beside it.
class BeginCard : public QFrame {
  Q_OBJECT
 public:
  explicit BeginCard(QWidget* parent);
  /// The book of the answers. Errors: `no_name`; `out_of_range` for a reach that cannot be.
  Result<Book> book() const;
  QLineEdit* name() { return name_; }
  /// As it was before anything was answered, for the next machine.
  void start_over();
  /// What went wrong, where it was asked; empty: nothing.
  void say(const QString& sentence);

 signals:
  void begun(ypsi::app::BeginWay way);

 private:
  void choose_kind();
  void show_steps();
  FirstAnswers answers() const;
  QLineEdit* name_;
  QComboBox *kind_, *way_, *drive_across_, *drive_z_;
  std::array<LengthField*, axis_count> reach_{};
  QLabel *drives_, *problem_;
  std::vector<QCheckBox*> instruments_;
};

}  // namespace ypsi::app
