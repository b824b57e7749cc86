// Times that a person gave to a recording. Guarded by tests/script/voice_file_test.cpp.

#include <algorithm>
#include <charconv>
#include <cmath>
#include <optional>

#include "../unicode/characters.hpp"
#include "../unicode/written.hpp"
#include "arvik/voice_file.hpp"

namespace arvik {
namespace {

std::string_view trimmed(std::string_view text) {
  constexpr std::string_view blanks = " \t\r";
  const std::size_t begin = text.find_first_not_of(blanks);
  if (begin == std::string_view::npos) return {};
  return text.substr(begin, text.find_last_not_of(blanks) - begin + 1);
}

// Takes the first row off.
std::string_view take_row(std::string_view& text) {
  const std::size_t end = text.find('\n');
  const std::string_view row = text.substr(0, end);
  text.remove_prefix(end == std::string_view::npos ? text.size() : end + 1);
  return row;
}

std::optional<Nanoseconds> seconds_of(std::string_view word) {
  double value = 0;
  const auto [end, error] = std::from_chars(word.data(), word.data() + word.size(), value);
  if (error != std::errc() || end != word.data() + word.size()) return std::nullopt;
  if (!(value >= 0) || value > in_seconds(max_duration)) return std::nullopt;
  return Nanoseconds(std::llround(value * 1e9));
}

// hh:mm:ss.mmm or mm:ss.mmm (WebVTT, 4.3 timestamps).
std::optional<Nanoseconds> timestamp_of(std::string_view word) {
  double seconds = 0;
  for (int part = 0; part < 3; ++part) {
    const std::size_t colon = word.find(':');
    const auto value = seconds_of(word.substr(0, colon));
    if (!value) return std::nullopt;
    seconds = seconds * 60 + in_seconds(*value);
    if (colon == std::string_view::npos) {
      if (part == 0 || seconds > in_seconds(max_duration)) return std::nullopt;
      return Nanoseconds(std::llround(seconds * 1e9));
    }
    word.remove_prefix(colon + 1);
  }
  return std::nullopt;
}

std::string unescaped(std::string_view text) {
  struct Entity {
    std::string_view name;
    std::string_view text;
  };
  static constexpr Entity entities[] = {{"&amp;", "&"},  {"&lt;", "<"}, {"&gt;", ">"},
                                        {"&nbsp;", " "}, {"&lrm;", ""}, {"&rlm;", ""}};
  std::string out;
  while (!text.empty()) {
    const auto* found = std::find_if(std::begin(entities), std::end(entities),
                                     [&](const Entity& e) { return text.starts_with(e.name); });
    if (found != std::end(entities)) {
      out += found->text;
      text.remove_prefix(found->name.size());
    } else {
      out += text.front();
      text.remove_prefix(1);
    }
  }
  return out;
}

class TimesReader {
 public:
  explicit TimesReader(std::string_view file) : rest_(file) {
    if (rest_.starts_with("\xEF\xBB\xBF")) rest_.remove_prefix(3);
  }

  tl::expected<std::vector<TimedText>, Diagnostic> run() {
    const bool is_vtt = rest_.starts_with("WEBVTT");
    while (!rest_.empty() && !problem_) {
      const std::string_view row = trimmed(take_row(rest_));
      ++row_;
      is_vtt ? read_vtt_row(row) : read_label(row);
    }
    for (std::size_t i = 1; i < times_.size() && !problem_; ++i) {
      if (times_[i].begin >= times_[i - 1].begin) continue;
      row_ = times_[i].row;
      fail("the times must rise");
    }
    if (problem_) return tl::unexpected(std::move(*problem_));
    return std::move(times_);
  }

 private:
  void fail(std::string message) {
    problem_ =
        Diagnostic{.code = DiagnosticCode::bad_table, .message = std::move(message), .row = row_};
  }

  void read_label(std::string_view row) {
    if (row.empty() || row.front() == '#' || row.front() == '\\') return;
    const auto word = [&] {
      const std::size_t end = std::min(row.find_first_of(" \t"), row.size());
      const std::string_view first = row.substr(0, end);
      row = trimmed(row.substr(end));
      return first;
    };
    const auto begin = seconds_of(word());
    const auto end = seconds_of(word());
    if (!begin || !end || *end < *begin) {
      fail("a row must be begin, end and text, with times in seconds, like \"0.25\t0.6\tword\"");
      return;
    }
    times_.push_back({*begin, *end, std::string(row), row_});
  }

  // A cue's times, its text, or what stands between cues.
  void read_vtt_row(std::string_view row) {
    const std::size_t arrow = row.find("-->");
    if (arrow != std::string_view::npos) {
      const auto begin = timestamp_of(trimmed(row.substr(0, arrow)));
      const std::string_view behind = trimmed(row.substr(arrow + 3));
      const auto end = timestamp_of(behind.substr(0, behind.find_first_of(" \t")));
      if (!begin || !end || *end < *begin) {
        fail("a cue must have its times, like 00:01.250 --> 00:02.000");
        return;
      }
      times_.push_back({*begin, *end, {}, row_});
      in_cue_ = true;
    } else if (row.empty()) {
      in_cue_ = false;
    } else if (in_cue_) {
      if (!times_.back().text.empty()) times_.back().text += ' ';
      read_cue_text(row);
    }
  }

  void read_cue_text(std::string_view text) {
    while (!text.empty()) {
      const std::size_t open = text.find('<');
      times_.back().text += unescaped(text.substr(0, open));
      if (open == std::string_view::npos) return;
      const std::size_t close = text.find('>', open);
      const std::string_view tag = text.substr(open + 1, close - open - 1);
      if (const auto time = timestamp_of(tag)) {
        const Nanoseconds end = times_.back().end;
        if (*time < times_.back().begin || *time > end) {
          fail("a timestamp inside a cue must rise and lie inside its times");
          return;
        }
        times_.back().end = *time;
        times_.push_back({*time, end, {}, row_});
      }
      text.remove_prefix(close == std::string_view::npos ? text.size() : close + 1);
    }
  }

  std::string_view rest_;
  std::size_t row_ = 0;
  bool in_cue_ = false;
  std::vector<TimedText> times_;
  std::optional<Diagnostic> problem_;
};

bool is_spoken(StepKind kind) { return kind == StepKind::letter || kind == StepKind::digit; }

// The letters and digits of a text, bare, each with its step.
struct Letters {
  std::u32string bare;
  std::vector<std::uint32_t> steps;
};

void add_letter(std::string_view cluster, std::uint32_t step, Letters& out) {
  out.bare += unicode::bare_letter(cluster);
  out.steps.push_back(step);
}

Letters letters_of(std::string_view text, const Steps& steps) {
  Letters out;
  for (std::uint32_t step = 0; step < steps.size(); ++step) {
    if (is_spoken(steps.kinds[step])) add_letter(steps.text(text, step), step, out);
  }
  return out;
}

// Of a text that has no steps: code point by code point.
std::u32string letters_of(std::string_view text) {
  Letters out;
  for (std::size_t at = 0; at < text.size();) {
    const unicode::Decoded next = unicode::decode(text, at);
    const std::string_view cluster = text.substr(at, next.size);
    if (unicode::is_spoken(next.code_point)) add_letter(cluster, 0, out);
    at += next.size;
  }
  return out.bare;
}

}  // namespace

tl::expected<std::vector<TimedText>, Diagnostic> read_timed_text(std::string_view file) {
  return TimesReader(file).run();
}

VoiceTiming timing_of(const std::vector<TimedText>& times, std::string_view text,
                      const Steps& steps, std::vector<Diagnostic>& problems) {
  VoiceTiming timing{.text = text_fingerprint(text), .confidence = 1, .given = true};
  if (times.empty()) return timing;
  timing.begin = times.front().begin;
  for (const TimedText& each : times) timing.end = std::max(timing.end, each.end);
  const Letters letters = letters_of(text, steps);
  std::size_t lost = 0;
  std::size_t from = 0;
  std::size_t found_times = 0;
  for (const TimedText& each : times) {
    const std::u32string wanted = letters_of(each.text);
    if (wanted.empty()) continue;
    const std::size_t found = letters.bare.find(wanted, from);
    if (found == std::u32string::npos) {
      if (++lost > max_diagnostics) break;  // another text altogether
      problems.push_back(
          {.code = DiagnosticCode::bad_anchor,
           .severity = Severity::warning,
           .message = quoted_word(each.text) + " is left out: it does not stand there in the text",
           .row = each.row});
      continue;
    }
    const std::uint32_t step = letters.steps[found];
    if (timing.anchors.empty() || timing.anchors.back().step < step) {
      timing.anchors.push_back({step, each.begin});
    }
    from = found + wanted.size();
    ++found_times;
    // Where a stretch ends before the next one begins, its last letter stands at its end.
    const bool rests = &each == &times.back() || (&each + 1)->begin > each.end;
    const std::uint32_t last = letters.steps[from - 1];
    if (rests && last > timing.anchors.back().step && each.end > timing.anchors.back().time) {
      timing.anchors.push_back({last, each.end});
    }
  }
  timing.confidence =
      static_cast<float>(found_times) / static_cast<float>(std::max<std::size_t>(times.size(), 1));
  return timing;
}

}  // namespace arvik
