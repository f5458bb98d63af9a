#pragma once
#include <QAbstractTableModel>
#include <functional>
#include <vector>

#include "core/calibration/scale.h"
#include "core/units/length.h"

namespace ypsi::app {

/// The readings of one axis for the keyboard and for history.
class StepsTable : public QAbstractTableModel {
  Q_OBJECT
 public:
  enum Column { number, told, measured, approach, read_with, left_over, column_count };
  using QAbstractTableModel::QAbstractTableModel;
  void show(std::vector<ScaleReading> readings, std::vector<ScaleReadingResult> results, QString instrument,
            LengthUnit unit);
  int rowCount(const QModelIndex& parent = {}) const override;
  int columnCount(const QModelIndex& parent = {}) const override;
  QVariant data(const QModelIndex& index, int role) const override;
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
  Qt::ItemFlags flags(const QModelIndex& index) const override;
  bool setData(const QModelIndex& index, const QVariant& value, int role) override;

 signals:
  void edited(int row, const ypsi::ScaleReading& reading);
  void refused(const QString& sentence);

 private:
  std::vector<ScaleReading> readings_;
  std::vector<ScaleReadingResult> results_;
  QString instrument_;
  LengthUnit unit_ = LengthUnit::millimetre;
};

}  // namespace ypsi::app
