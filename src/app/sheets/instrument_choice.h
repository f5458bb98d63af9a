#pragma once
#include <QComboBox>

#include "core/book/book.h"

namespace ypsi::app {

/// The book's instruments and an indicator, which is chosen at first.
void offer_instruments(QComboBox* box, const Book& book);
/// The instrument of that name; where the book does not describe it, an indicator that reads to 0.01 mm.
Instrument instrument_or_indicator(const Book& book, const QString& name);

}  // namespace ypsi::app
