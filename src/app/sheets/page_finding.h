#pragma once
// What one page of a sheet has found, and the right column's labels for it.
#include <QString>
#include <QWidget>

class QLabel;
class QPushButton;

namespace ypsi::app {

class FindingPanel;
class Session;

struct PageFinding {
  QString lead, figure, spread, verdict, text;
  bool can_keep = false;
  QString second{};  ///< words of a second act; empty: none
  QString keep{};    ///< words of the first; empty: "Keep this finding"
};

/// Lead, figure, spread, verdict and text, one under the other, and the acts at the foot.
class FindingLabels {
 public:
  /// Names of the widgets begin with `prefix`.
  FindingLabels(FindingPanel& panel, const QString& prefix, const QString& second_tip);
  void show(const PageFinding& finding, bool read_only);
  QPushButton* keep() { return keep_; }
  QPushButton* second() { return second_; }

 private:
  QLabel *lead_, *figure_, *spread_, *verdict_, *text_;
  QPushButton *keep_, *second_;
};

/// One page of such a sheet.
class FindingPage : public QWidget {
  Q_OBJECT
 public:
  explicit FindingPage(Session& session) : session_(session) {}
  virtual void refresh() = 0;
  virtual void refresh_status() {}
  virtual PageFinding finding() const = 0;
  /// Writes the finding into the book with its readings.
  virtual void keep() = 0;
  virtual void second() {}
  /// What it has under way at the machine is ended: another part of the sheet is shown.
  virtual void cancel() {}

 signals:
  void found();  ///< finding() is another

 protected:
  Session& session_;
};

}  // namespace ypsi::app
