// WebVTT's traps, each with a test in tests/project/check_vtt.py: `-->` in the text would end the
// cue, so `>` is always escaped; an empty row ends the cue, so it gets a no-break space; timestamps
// must lie inside the cue and rise.

#include <algorithm>
#include <array>
#include <string_view>
#include <vector>

#include "arvik/vtt.hpp"

namespace arvik {
namespace {

using Milliseconds = std::chrono::milliseconds;

Milliseconds milliseconds(Nanoseconds time) { return std::chrono::round<Milliseconds>(time); }

void append_number(std::string& out, std::int64_t value, std::size_t digits) {
  const std::string number = std::to_string(value);
  out.append(digits > number.size() ? digits - number.size() : 0, '0');
  out += number;
}

// hh:mm:ss.mmm; hours have two digits or more.
std::string timestamp(Milliseconds time) {
  const std::int64_t all = time.count();
  std::string out;
  append_number(out, all / 3'600'000, 2);
  out += ':';
  append_number(out, all / 60'000 % 60, 2);
  out += ':';
  append_number(out, all / 1000 % 60, 2);
  out += '.';
  append_number(out, all % 1000, 3);
  return out;
}

void append_escaped(std::string& out, std::string_view text) {
  for (const char c : text) {
    const bool control = static_cast<unsigned char>(c) < 0x20 || c == 0x7F;
    switch (c) {
      case '&':
        out += "&amp;";
        break;
      case '<':
        out += "&lt;";
        break;
      case '>':
        out += "&gt;";
        break;
      default:
        if (control) {
          out += c == '\t' ? "\t" : "\uFFFD";
        } else {
          out += c;
        }
    }
  }
}

// Writes one tag, or its end.
struct TagPutter {
  std::string& out;
  bool begins;
  void operator()(std::string_view tag, std::string_view annotation = {}) const {
    out += begins ? "<" : "</";
    out += tag;
    if (begins && !annotation.empty()) {
      out += ' ';
      out += annotation;
    }
    out += '>';
  }
};

class CueWriter {
 public:
  CueWriter(const MarkedText& marked, const Steps& steps, const Schedule& schedule,
            Language& language, const CueOptions& options)
      : marked_(marked),
        steps_(steps),
        schedule_(schedule),
        options_(options),
        edges_(marked),
        last_stamp_(milliseconds(options.begin)) {
    if (options.unit == RevealUnit::word) language.word_starts(marked.text, steps, word_starts_);
  }

  std::string run() {
    open_voice();
    for (std::uint32_t i = 0; i < steps_.size(); ++i) {
      take_edges(steps_.begin_byte(i));
      if (begins_unit(i)) stamp(schedule_.onsets[i]);
      append_step(i);
    }
    take_edges(marked_.text.size());
    if (row_is_empty_) out_ += "&nbsp;";
    if (!options_.speaker.empty()) out_ += "</v>";
    return std::move(out_);
  }

 private:
  void open_voice() {
    if (options_.speaker.empty()) return;
    std::string name = options_.speaker;
    std::replace_if(
        name.begin(), name.end(), [](char c) { return static_cast<unsigned char>(c) < 0x20; }, ' ');
    out_ += "<v ";
    append_escaped(out_, name);
    out_ += '>';
  }

  [[nodiscard]] bool begins_unit(std::uint32_t step) const {
    switch (options_.unit) {
      case RevealUnit::step:
        return true;
      case RevealUnit::word:
        return word_starts_[step] != 0;
      case RevealUnit::row:
        return step == 0 || steps_.kinds[step - 1] == StepKind::row_end;
      case RevealUnit::line:
        break;
    }
    return false;
  }

  void stamp(Nanoseconds onset) {
    const Milliseconds time = milliseconds(options_.begin + onset);
    if (time <= last_stamp_ || time >= milliseconds(cue_end(schedule_, options_))) return;
    last_stamp_ = time;
    out_ += '<' + timestamp(time) + '>';
  }

  void append_step(std::uint32_t step) {
    const std::string_view text = steps_.text(marked_.text, step);
    if (steps_.kinds[step] == StepKind::row_end) {
      if (row_is_empty_) out_ += "&nbsp;";
      out_ += '\n';
      row_is_empty_ = true;
    } else if (text != "\uFFFC") {  // an icon, which has no text
      append_escaped(out_, text);
      row_is_empty_ = false;
    }
  }

  // The looks that WebVTT has; a named style may have several, which end in the other order.
  static void put_look(const StyleChange& change, const TagPutter& put) {
    const std::array<std::pair<std::optional<bool>, const char*>, 3> looks{
        {{change.bold, "b"}, {change.italic, "i"}, {change.underline, "u"}}};
    for (std::size_t i = 0; i < looks.size(); ++i) {
      const auto& [is_set, name] = looks[put.begins ? i : looks.size() - 1 - i];
      if (is_set == true) put(name);
    }
  }

  // The reading stands behind its base. Ruby inside ruby is not in WebVTT.
  void put_ruby(const tag::Ruby& ruby, const TagPutter& put) {
    ruby_depth_ += put.begins ? 1 : -1;
    if (ruby_depth_ > (put.begins ? 1 : 0)) return;
    if (!put.begins) {
      out_ += "<rt>";
      append_escaped(out_, ruby.reading);
      out_ += "</rt>";
    }
    put("ruby");
  }

  void take_edges(std::size_t until) {
    while (edges_.has_edge_until(until)) {
      const Edge edge = edges_.take();
      const TagPutter put{out_, edge.kind == EdgeKind::begin};
      if (const auto* look = std::get_if<tag::Look>(edge.what)) put_look(look->change, put);
      if (const auto* language = std::get_if<tag::Lang>(edge.what)) put("lang", language->tag);
      if (const auto* ruby = std::get_if<tag::Ruby>(edge.what)) put_ruby(*ruby, put);
    }
  }

  const MarkedText& marked_;
  const Steps& steps_;
  const Schedule& schedule_;
  const CueOptions& options_;
  EdgeWalker edges_;
  std::vector<std::uint8_t> word_starts_;
  Milliseconds last_stamp_;
  bool row_is_empty_ = true;
  int ruby_depth_ = 0;
  std::string out_;
};

}  // namespace

std::string vtt_header() { return "WEBVTT\n\n"; }

Nanoseconds cue_end(const Schedule& schedule, const CueOptions& options) {
  const Nanoseconds begin = std::max(options.begin, Nanoseconds::zero());
  const Nanoseconds end = add_saturated(add_saturated(begin, schedule.duration),
                                        std::max(options.stay, Nanoseconds::zero()));
  return std::max(milliseconds(end), milliseconds(begin) + Milliseconds(1));
}

std::string vtt_cue(const MarkedText& marked, const Steps& steps, const Schedule& schedule,
                    Language& language, const CueOptions& options) {
  if (steps.size() == 0) return {};
  return timestamp(milliseconds(options.begin)) + " --> " +
         timestamp(milliseconds(cue_end(schedule, options))) + '\n' +
         CueWriter(marked, steps, schedule, language, options).run() + "\n\n";
}

}  // namespace arvik
