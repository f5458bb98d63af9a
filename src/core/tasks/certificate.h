#pragma once
// What a certificate of a machine says: each quantity that was measured, as found and as left, with its uncertainty,
// what it was measured with and when, and how it went over time. Lengths mm. Source: JCGM 100:2008, 7.2 (what is to be
// told with a result); the wording of as found and as left is that of ISO/IEC 17025:2017, 7.8.4.
#include <optional>
#include <string>
#include <vector>

#include "core/book/book.h"
#include "core/tasks/standing.h"

namespace ypsi {

struct HistoryPoint {
  std::string time;  ///< RFC 3339
  double value = 0;
  std::optional<double> U;
};

struct CertifiedQuantity {
  const Task* task = nullptr;
  CertifiedLine line;  ///< what is told, and in which unit
  Standing standing = Standing::never_done;
  std::string time, instrument;
  bool told_by_hand = false;                      ///< what the machine showed was typed by its owner
  std::optional<double> as_found, as_left, U, k;  ///< k where the record has it
  /// What was measured, where that was not taken over: steps per mm that were left as they were.
  std::optional<double> not_applied;
  std::vector<HistoryPoint> history;  ///< every finding that holds, the oldest first
};

struct Certificate {
  std::string machine, workshop, description;
  std::string first_time, last_time;                     ///< of the findings, RFC 3339
  std::vector<CertifiedQuantity> quantities;             ///< in the order of work; what was never measured has no time
  double skew_mrad = 0;                                  ///< for the drawing; 0 where it was never measured
  std::array<std::optional<double>, axis_count> travel;  ///< between the soft limits, mm
  std::array<double, 2> part{};                          ///< the owner's usual part, mm
};

/// Whether anything in it was told by hand.
bool told_by_hand(const Certificate& certificate);

Certificate certificate_of(const Book& book, const Tasks& tasks = all_tasks());

/// Every reading of the record that holds, one a row: time, sheet, subject, instrument, reading's number, what, value.
std::string readings_csv(const Book& book);

}  // namespace ypsi
