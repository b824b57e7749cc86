#include "schedule_writer.hpp"

#include <fmt/format.h>

#include <iterator>
#include <nlohmann/json.hpp>

#include "output.hpp"
#include "report.hpp"

namespace arvik::tool {
namespace {

using nlohmann::ordered_json;

std::string_view step_text(const ScheduledLine& line, std::uint32_t step) {
  return line.steps.text(line.marked.text, step);
}

Nanoseconds whole_pause(const StepPause& pause) { return pause.automatic + pause.written; }

std::string pause_reason(const StepPause& pause) {
  std::string reason(boundary_name(pause.reason));
  if (pause.written > Nanoseconds::zero()) reason += reason.empty() ? "written" : ", written";
  return reason;
}

std::string attribute_list(const Event& event) {
  std::string list;
  for (const Attribute& attribute : event.attributes) {
    list += (list.empty() ? "" : " ") + attribute.key + "=" + attribute.value;
  }
  return list;
}

// The pause after each step, asked for in rising order of steps.
class PauseCursor {
 public:
  explicit PauseCursor(const Schedule& schedule) : pauses_(schedule.pauses) {}
  StepPause after(std::uint32_t step) {
    while (next_ < pauses_.size() && pauses_[next_].step < step) ++next_;
    return next_ < pauses_.size() && pauses_[next_].step == step ? pauses_[next_] : StepPause{};
  }

 private:
  const std::vector<StepPause>& pauses_;
  std::size_t next_ = 0;
};

// Calls for every step and event in the order in which a reveal brings them.
template <typename OnStep, typename OnEvent>
void in_order(const ScheduledLine& line, OnStep on_step, OnEvent on_event) {
  std::uint32_t step = 0;
  for (const Event& event : line.schedule.events) {
    while (step < event.step) on_step(step++);
    on_event(event);
  }
}

std::string shown_in_table(std::string_view text, StepKind kind) {
  switch (kind) {
    case StepKind::blank:
      return text == " " ? "␣" : "␣ (blank)";
    case StepKind::row_end:
      return "⏎";
    case StepKind::unseen:
      return "(unseen)";
    default:
      return printable(text);
  }
}

std::string csv_field(std::string_view text) {
  if (text.find_first_of(",\"\r\n") == std::string_view::npos) return std::string(text);
  std::string quoted = "\"";
  for (const char c : text) quoted += c == '"' ? std::string("\"\"") : std::string(1, c);
  return quoted + "\"";
}

ordered_json event_json(const Event& event) {
  ordered_json attributes = ordered_json::object();
  for (const Attribute& attribute : event.attributes) attributes[attribute.key] = attribute.value;
  ordered_json json = {{"kind", event_kind_name(event.kind)}};
  if (!event.name.empty()) json["name"] = event.name;
  json["step"] = event.step;
  json["time_us"] = in_microseconds(event.time);
  json["attributes"] = std::move(attributes);
  return json;
}

}  // namespace

std::string schedule_table(const ScheduledLine& line) {
  PauseCursor pauses(line.schedule);
  fmt::memory_buffer out;
  auto end = std::back_inserter(out);
  fmt::format_to(end, "    onset   step  shows       pause after\n");
  in_order(
      line,
      [&](std::uint32_t i) {
        const StepPause pause = pauses.after(i);
        std::string rest;
        if (whole_pause(pause) > Nanoseconds::zero()) {
          rest =
              fmt::format("{:5} ms  {}",
                          std::chrono::round<std::chrono::milliseconds>(whole_pause(pause)).count(),
                          pause_reason(pause));
        }
        const std::string shown = shown_in_table(step_text(line, i), line.steps.kinds[i]);
        // fmt pads by the width that a terminal gives the text.
        const std::string row = fmt::format("{:8.3f} s {:6}  {:<10}{}",
                                            in_seconds(line.schedule.onsets[i]), i, shown, rest);
        fmt::format_to(end, "{}\n", row.substr(0, row.find_last_not_of(' ') + 1));
      },
      [&](const Event& event) {
        const std::string attributes = attribute_list(event);
        fmt::format_to(end, "{:8.3f} s      ▸  {}{}{}{}{}\n", in_seconds(event.time),
                       event_kind_name(event.kind), event.name.empty() ? "" : " ",
                       printable(event.name), attributes.empty() ? "" : " ", printable(attributes));
      });
  return fmt::to_string(out);
}

std::string schedule_json(const ScheduledLine& line, bool indented) {
  PauseCursor pauses(line.schedule);
  ordered_json steps = ordered_json::array();
  for (std::uint32_t i = 0; i < line.steps.size(); ++i) {
    ordered_json step = {{"text", step_text(line, i)},
                         {"begin", line.steps.begin_byte(i)},
                         {"end", line.steps.end_byte(i)},
                         {"onset_us", in_microseconds(line.schedule.onsets[i])}};
    if (const StepPause pause = pauses.after(i); whole_pause(pause) > Nanoseconds::zero()) {
      step["pause_us"] = in_microseconds(whole_pause(pause));
      step["pause_reason"] = pause_reason(pause);
    }
    steps.push_back(std::move(step));
  }
  ordered_json boundaries = ordered_json::array();
  for (const Boundary& boundary : line.boundaries) {
    ordered_json json = {{"step", boundary.step}, {"kind", boundary_name(boundary.kind())}};
    if (boundary.sentence != SentenceKind::none) {
      json["sentence"] = sentence_name(boundary.sentence);
    }
    boundaries.push_back(std::move(json));
  }
  ordered_json events = ordered_json::array();
  for (const Event& event : line.schedule.events) events.push_back(event_json(event));
  const ordered_json json = {{"arvik_schedule", 1},
                             {"text", line.marked.text},
                             {"duration_us", in_microseconds(line.schedule.duration)},
                             {"steps", std::move(steps)},
                             {"boundaries", std::move(boundaries)},
                             {"events", std::move(events)}};
  return json_text(json, indented ? 2 : -1) + "\n";
}

std::string schedule_csv(const ScheduledLine& line) {
  PauseCursor pauses(line.schedule);
  fmt::memory_buffer out;
  auto end = std::back_inserter(out);
  fmt::format_to(end, "kind,step,text,begin,end,time_us,pause_us,pause_reason,attributes\r\n");
  in_order(
      line,
      [&](std::uint32_t i) {
        const StepPause pause = pauses.after(i);
        fmt::format_to(end, "step,{},{},{},{},{},{},{},\r\n", i, csv_field(step_text(line, i)),
                       line.steps.begin_byte(i), line.steps.end_byte(i),
                       in_microseconds(line.schedule.onsets[i]),
                       in_microseconds(whole_pause(pause)), csv_field(pause_reason(pause)));
      },
      [&](const Event& event) {
        fmt::format_to(end, "{},{},{},,,{},,,{}\r\n", event_kind_name(event.kind), event.step,
                       csv_field(event.name), in_microseconds(event.time),
                       csv_field(attribute_list(event)));
      });
  return fmt::to_string(out);
}

}  // namespace arvik::tool
