#include "app/sheets/steps_table.h"

#include "app/session/session.h"
#include "app/theme/theme.h"
#include "app/to_q.h"
#include "core/calibration/scale.h"

namespace ypsi::app {

void StepsTable::show(std::vector<ScaleReading> readings, std::vector<ScaleReadingResult> results, QString instrument,
                      LengthUnit unit) {
  beginResetModel();
  readings_ = std::move(readings);
  results_ = std::move(results);
  instrument_ = std::move(instrument);
  unit_ = unit;
  endResetModel();
}

int StepsTable::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(readings_.size());
}
int StepsTable::columnCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : column_count;
}

QVariant StepsTable::data(const QModelIndex& index, int role) const {
  const auto row = static_cast<std::size_t>(index.row());
  if (!index.isValid() || row >= readings_.size()) return {};
  const ScaleReading& r = readings_[row];
  const bool has_result = row < results_.size();
  if (role == Qt::ForegroundRole && has_result && results_[row].flagged) return theme().red;
  if (role == Qt::ToolTipRole && has_result && results_[row].flagged)
    return tr("This reading fits the others badly; measure it again.");
  if (role == Qt::EditRole && index.column() == approach) return r.reversed ? tr("reversed") : tr("same side");
  if (role != Qt::DisplayRole && role != Qt::EditRole) return {};
  switch (index.column()) {
    case number:
      return QString::number(row + 1) + (has_result && results_[row].flagged ? " ⚑" : "");
    case told:
      return to_q(format_length(r.commanded, unit_, 2));
    case measured:
      return to_q(format_length(r.measured, unit_, 2));
    case approach:
      return r.reversed ? tr("reversed") : tr("same side");
    case read_with:
      return instrument_;
    case left_over:
      return has_result ? to_q(format_signed(in_unit(results_[row].residual, unit_), unit_ == LengthUnit::inch ? 4 : 2))
                        : QString("–");
    default:
      return {};
  }
}

QVariant StepsTable::headerData(int section, Qt::Orientation orientation, int role) const {
  if (role == Qt::TextAlignmentRole) return static_cast<int>(Qt::AlignLeft | Qt::AlignVCenter);
  if (orientation != Qt::Horizontal || role != Qt::DisplayRole) return {};
  const QString unit = to_q(unit_name(unit_));
  switch (section) {
    case told:
      return tr("Told %1").arg(unit);
    case measured:
      return tr("Measured %1").arg(unit);
    case approach:
      return tr("Approach");
    case read_with:
      return tr("Read with");
    case left_over:
      return tr("Left over %1").arg(unit);
    default:
      return QString();
  }
}

Qt::ItemFlags StepsTable::flags(const QModelIndex& index) const {
  const bool editable = index.column() == told || index.column() == measured || index.column() == approach;
  return QAbstractTableModel::flags(index) | (editable ? Qt::ItemIsEditable : Qt::NoItemFlags);
}

bool StepsTable::setData(const QModelIndex& index, const QVariant& value, int role) {
  const auto row = static_cast<std::size_t>(index.row());
  if (role != Qt::EditRole || row >= readings_.size()) return false;
  ScaleReading reading = readings_[row];
  if (index.column() == approach) {
    reading.reversed = value.toString().trimmed().startsWith(tr("reversed").left(1), Qt::CaseInsensitive);
  } else {
    const auto mm = parse_length(value.toString().toStdString(), unit_);
    if (!mm || *mm == 0) {
      emit refused(mm ? tr("A length of zero tells nothing; the reading is left as it was.")
                      : to_q(mm.error().message));
      return false;
    }
    (index.column() == told ? reading.commanded.mm : reading.measured) = *mm;
  }
  emit edited(index.row(), reading);
  return true;
}

}  // namespace ypsi::app
