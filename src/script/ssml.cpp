// SSML as synthesisers read it: breaks in whole milliseconds, because some read decimal seconds as
// nothing; one break for each place, because some do not add up two; and never a break that nothing
// stands before, because some drop it.

#include <algorithm>
#include <cmath>
#include <pugixml.hpp>
#include <sstream>
#include <vector>

#include "arvik/ssml.hpp"

namespace arvik {
namespace {

// XML 1.0 has no control characters but tab and row ends, not even escaped, and neither U+FFFE nor
// U+FFFF.
void append_readable(std::string& out, std::string_view text) {
  if (text == "\uFFFC") return;  // an icon, which nobody can speak
  if (text == "\uFFFE" || text == "\uFFFF") text = "\uFFFD";
  for (const char c : text) {
    const bool control = static_cast<unsigned char>(c) < 0x20 && c != '\t';
    if (control) {
      out += "\uFFFD";
    } else {
      out += c;
    }
  }
}

class DocumentWriter {
 public:
  DocumentWriter(const MarkedText& marked, const Steps& steps, const Schedule& schedule,
                 const Language& language, double rate)
      : marked_(marked), steps_(steps), schedule_(schedule), edges_(marked) {
    pugi::xml_node root = document_.append_child("speak");
    root.append_attribute("version") = "1.1";
    root.append_attribute("xmlns") = "http://www.w3.org/2001/10/synthesis";
    root.append_attribute("xml:lang") = language.tag().c_str();
    open_.push_back(root);
    rates_.push_back(rate);
  }

  std::string run() {
    pause_ = steps_.size() > 0 ? schedule_.onsets[0] : schedule_.duration;
    for (std::uint32_t i = 0; i < steps_.size(); ++i) {
      take_edges(steps_.begin_byte(i));
      put_break();
      append_step(i);
      pause_ += pause_after(i);
    }
    take_edges(marked_.text.size());
    put_break();
    put_text();
    std::ostringstream out;
    document_.save(out, "", pugi::format_raw | pugi::format_no_declaration, pugi::encoding_utf8);
    return "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n" + out.str() + "\n";
  }

 private:
  void append_step(std::uint32_t step) {
    if (steps_.kinds[step] == StepKind::row_end) {
      text_ += '\n';
    } else {
      append_readable(text_, steps_.text(marked_.text, step));
    }
  }

  void put_text() {
    if (text_.empty()) return;
    open_.back().append_child(pugi::node_pcdata).set_value(text_.c_str());
    text_.clear();
    something_stands_ = true;
  }

  void put_mark(const std::string& name) {
    if (ruby_depth_ > 0) {
      marks_behind_.push_back(name);
      return;
    }
    put_text();
    open_.back().append_child("mark").append_attribute("name") = name.c_str();
    something_stands_ = true;
  }

  [[nodiscard]] Nanoseconds pause_after(std::uint32_t step) {
    const auto& pauses = schedule_.pauses;
    while (next_pause_ < pauses.size() && pauses[next_pause_].step < step) ++next_pause_;
    if (next_pause_ == pauses.size() || pauses[next_pause_].step != step) return {};
    return pauses[next_pause_].automatic + pauses[next_pause_].written;
  }

  void put_break() {
    if (ruby_depth_ > 0) return;  // behind it
    const auto time = std::chrono::round<std::chrono::milliseconds>(pause_).count();
    pause_ = {};
    if (time <= 0) return;
    put_text();
    if (!something_stands_) put_mark("line-begin");
    const std::string value = std::to_string(time) + "ms";
    open_.back().append_child("break").append_attribute("time") = value.c_str();
  }

  void take_edges(std::size_t until) {
    while (edges_.has_edge_until(until)) {
      edge_ = edges_.take();
      std::visit([this](const auto& tag) { apply(tag); }, *edge_.what);
    }
  }

  // The reading is what is spoken. `sub` holds nothing but text.
  void apply(const tag::Ruby& ruby) {
    if (begins()) {
      if (ruby_depth_ == 0) open("sub", "alias", ruby.reading);
      ++ruby_depth_;
    } else if (--ruby_depth_ == 0) {
      close();
      for (const std::string& name : marks_behind_) put_mark(name);
      marks_behind_.clear();
    }
  }

  void open(const char* name, const char* attribute, const std::string& value) {
    if (ruby_depth_ > 0) return;
    put_text();
    pugi::xml_node node = open_.back().append_child(name);
    node.append_attribute(attribute) = value.c_str();
    open_.push_back(node);
  }

  void close() {
    if (ruby_depth_ > 0) return;
    put_text();
    open_.pop_back();
  }

  [[nodiscard]] bool begins() const { return edge_.kind == EdgeKind::begin; }

  void apply(const tag::Pause&) { put_break(); }

  void apply(const tag::Hold&) { put_mark("hold"); }

  void apply(const tag::Mark& mark) {
    put_mark(edge_.kind == EdgeKind::end ? mark.name + "-end" : mark.name);
  }

  void apply(const tag::Sound& sound) { put_mark("sound-" + sound.name); }

  // Percentages count from the synthesiser's own rate, however they are nested.
  void apply(const tag::Rate& rate) {
    if (!begins()) {
      rates_.pop_back();
      close();
      return;
    }
    const double inner =
        rate.change.relative ? rates_.back() * rate.change.value : rate.change.value;
    rates_.push_back(std::clamp(inner, min_rate, max_rate));
    const double percent = std::max(std::round(rates_.back() / rates_.front() * 100), 1.0);
    open("prosody", "rate", std::to_string(static_cast<std::int64_t>(percent)) + "%");
  }

  void apply(const tag::Lang& language) {
    if (begins()) {
      open("lang", "xml:lang", language.tag);
    } else {
      close();
    }
  }

  template <typename Other>
  void apply(const Other&) {}  // nothing that could be heard

  const MarkedText& marked_;
  const Steps& steps_;
  const Schedule& schedule_;
  EdgeWalker edges_;
  Edge edge_;
  pugi::xml_document document_;
  std::vector<pugi::xml_node> open_;
  std::vector<double> rates_;
  std::string text_;
  Nanoseconds pause_{};
  std::size_t next_pause_ = 0;
  bool something_stands_ = false;
  int ruby_depth_ = 0;
  std::vector<std::string> marks_behind_;  // of what is spoken otherwise
};

}  // namespace

std::string ssml_document(const MarkedText& marked, const Steps& steps, const Schedule& schedule,
                          const Language& language, double rate) {
  return DocumentWriter(marked, steps, schedule, language, rate).run();
}

}  // namespace arvik
