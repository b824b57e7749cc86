#pragma once

#include <string>

#include "arvik/arvik.hpp"

/// A schedule as text in open formats.
namespace arvik::tool {

/// A line with the schedule that is to be written.
struct ScheduledLine {
  MarkedText marked;
  Steps steps;
  Schedule schedule;
  std::vector<Boundary> boundaries{};
};

/// For people: one row a step, one row an event.
[[nodiscard]] std::string schedule_table(const ScheduledLine& line);
/// One JSON object; docs/formats.md describes it. Without row ends inside unless `indented`.
[[nodiscard]] std::string schedule_json(const ScheduledLine& line, bool indented);
/// CSV (RFC 4180) with a header: one record a step, one an event, by time.
[[nodiscard]] std::string schedule_csv(const ScheduledLine& line);

}  // namespace arvik::tool
