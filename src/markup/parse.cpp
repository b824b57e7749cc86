// Markup to marked text, in two passes over the source.
//
// The first cuts the source into pieces: text, points, span openings, span closings. It knows at
// every `]` how many spans are open, but learns only at the end of the text which openings are
// never closed. Those openings are then turned back into text, and the second pass writes the plain
// text, spans and points out. Nothing has to be moved, and both passes are linear.
//
// `]]` has two readings: a literal bracket, or the ends of two spans, as in `[b: [i: x]]`. It is
// literal unless two spans or more are open, and there, too, where it matches a literal `[[` of the
// innermost span. So both `[b: [i: x]]` and `[b: [i: [[E]]]]` mean what they look like.
//
// A tag that cannot be read is shown as it stands, head and closing bracket; its content is parsed
// as usual, so that a slip in one tag does not bring others to the screen.
//
// Guarded by tests/markup/parse_test.cpp, and by the properties of random input in
// tests/whole/promises_test.cpp.

#include <algorithm>
#include <array>
#include <forward_list>
#include <functional>

#include "../unicode/characters.hpp"
#include "arvik/markup.hpp"
#include "arvik/steps.hpp"
#include "tags.hpp"

namespace arvik {
namespace {

using markup::TagHead;

enum class PieceKind : std::uint8_t { text, point, open, close };

struct Piece {
  PieceKind kind{};
  TextRange source;
  Instruction what;       // of points and openings
  std::size_t other = 0;  // of closings: the opening piece; of openings, once written: the span
};

struct OpenSpan {
  std::size_t piece = 0;
  bool known = true;  // false: the head is shown as text, and so will be its closing bracket
  std::size_t literal_opens = 0;
};

bool is_blank(char c) { return c == ' ' || c == '\t' || c == '\n' || c == '\r'; }

bool starts_name(char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z'); }

// At most `most` bytes, never ending inside a character.
std::string_view cut_at_character(std::string_view text, std::size_t most) {
  std::size_t size = std::min(text.size(), most);
  const auto continues = [&](std::size_t at) {
    return (static_cast<unsigned char>(text[at]) & 0xC0U) == 0x80U;
  };
  while (size > 0 && size < text.size() && continues(size)) --size;
  return text.substr(0, size);
}

class Parser {
 public:
  Parser(std::string_view source, const Vocabulary& vocabulary, MarkedText& out)
      : source_(source), vocabulary_(vocabulary), out_(out), sink_(source, out.diagnostics) {}

  void run() {
    next_open_ = std::min(source_.find('['), source_.size());
    next_close_ = std::min(source_.find(']'), source_.size());
    if (next_open_ == source_.size() && next_close_ == source_.size()) {  // as most lines
      append_repaired({0, source_.size()});
      return;
    }
    cut();
    revert_unclosed();
    for (Piece& piece : pieces_) write(piece);
    sort_results();
  }

 private:
  void cut() {
    while (at_ < source_.size()) {
      const std::size_t bracket = next_bracket();
      add_text(at_, bracket);
      at_ = bracket;
      if (at_ == source_.size()) return;
      const bool doubled = at_ + 1 < source_.size() && source_[at_ + 1] == source_[at_];
      if (source_[at_] == '[') {
        doubled ? add_literal_open() : read_head();
      } else {
        doubled&& is_literal_close() ? add_literal_close() : close_span();
      }
    }
  }

  // Each kind is looked for on its own, which is fast, and only once in every stretch.
  std::size_t next_bracket() {
    if (next_open_ < at_) next_open_ = std::min(source_.find('[', at_), source_.size());
    if (next_close_ < at_) next_close_ = std::min(source_.find(']', at_), source_.size());
    return std::min(next_open_, next_close_);
  }

  void add_text(std::size_t begin, std::size_t end) {
    if (begin < end) pieces_.push_back({PieceKind::text, {begin, end}, {}, 0});
  }

  void add_literal_open() {
    add_text(at_, at_ + 1);
    at_ += 2;
    if (!open_.empty()) ++open_.back().literal_opens;
  }

  [[nodiscard]] bool is_literal_close() const {
    return open_.size() < 2 || open_.back().literal_opens > 0;
  }

  void add_literal_close() {
    add_text(at_, at_ + 1);
    at_ += 2;
    if (!open_.empty() && open_.back().literal_opens > 0) --open_.back().literal_opens;
  }

  void close_span() {
    const std::size_t bracket = at_++;
    if (open_.empty()) {
      report(DiagnosticCode::stray_bracket, {bracket, bracket + 1},
             "this bracket closes nothing: write ]] to show one");
      add_text(bracket, bracket + 1);
      return;
    }
    const OpenSpan span = open_.back();
    open_.pop_back();
    if (span.known) {
      pieces_.push_back({PieceKind::close, {bracket, bracket + 1}, {}, span.piece});
    } else {
      add_text(bracket, bracket + 1);
    }
  }

  // At a single `[`.
  void read_head() {
    const std::size_t begin = at_;
    std::size_t end = begin + 1;
    if (end == source_.size() || !starts_name(source_[end])) {
      report(DiagnosticCode::stray_bracket, {begin, begin + 1},
             "this bracket opens no tag: write [[ to show one");
      add_text(begin, begin + 1);
      at_ = begin + 1;
      return;
    }
    end = source_.find_first_of("[]:", begin + 1);
    if (end == std::string_view::npos || source_[end] == '[') {
      const std::size_t name_end = source_.find_first_of(" \t\r\n[", begin + 1);
      report(DiagnosticCode::missing_bracket, {begin, std::min(name_end, source_.size())},
             "this tag is never closed: a ] is missing");
      add_text(begin, begin + 1);
      at_ = begin + 1;
      return;
    }
    std::string_view words = source_.substr(begin + 1, end - begin - 1);
    if (!unicode::is_valid(words)) {
      report(DiagnosticCode::invalid_utf8, {begin, end + 1},
             "this tag is not UTF-8; its wrong bytes are read as U+FFFD");
      words = repaired_heads_.emplace_front(unicode::repaired(words));
    }
    TagHead head = cut_head(words);
    head.is_span = source_[end] == ':';
    ++end;
    if (head.is_span && end < source_.size() && source_[end] == ' ') ++end;
    at_ = end;
    add_tag(head, {begin, end});
  }

  static TagHead cut_head(std::string_view words) {
    TagHead head;
    std::size_t at = 0;
    while (at < words.size()) {
      while (at < words.size() && is_blank(words[at])) ++at;
      const std::size_t begin = at;
      while (at < words.size() && !is_blank(words[at])) ++at;
      if (begin == at) break;
      const std::string_view word = words.substr(begin, at - begin);
      if (head.name.empty()) {
        head.name = word;
      } else {
        head.arguments.push_back(word);
      }
    }
    return head;
  }

  void add_tag(const TagHead& head, TextRange source) {
    auto instruction = markup::read_tag(head, vocabulary_);
    bool known = instruction.has_value();
    if (!known) {
      report_tag(instruction.error(), source);
    } else if (auto* value = std::get_if<tag::Value>(&*instruction)) {
      cut_value(*value, source);
    } else if (head.is_span && open_.size() >= max_nesting) {
      report(DiagnosticCode::too_deep, {source.begin, source.begin + 1},
             "more than " + std::to_string(max_nesting) + " spans inside each other");
      known = false;
    }
    if (head.is_span) open_.push_back({pieces_.size(), known, 0});
    if (known) {
      const PieceKind kind = head.is_span ? PieceKind::open : PieceKind::point;
      pieces_.push_back({kind, source, std::move(*instruction), 0});
    } else {
      add_text(source.begin, source.end);
    }
  }

  void revert_unclosed() {
    for (const OpenSpan& span : open_) {
      Piece& piece = pieces_[span.piece];
      report(DiagnosticCode::missing_bracket, piece.source,
             "this span is never closed: a ] is missing");
      piece.kind = PieceKind::text;
    }
  }

  void write(Piece& piece) {
    switch (piece.kind) {
      case PieceKind::text:
        append_repaired(piece.source);
        break;
      case PieceKind::point:
        write_point(piece);
        break;
      case PieceKind::open:
        piece.other = out_.spans.size();
        out_.spans.push_back(
            {out_.text.size(), out_.text.size(), piece.source, std::move(piece.what)});
        break;
      case PieceKind::close: {
        Span& span = out_.spans[pieces_[piece.other].other];
        span.end = out_.text.size();
        span.source.end = piece.source.end;
        break;
      }
    }
  }

  void write_point(Piece& piece) {
    out_.points.push_back({out_.text.size(), piece.source, std::move(piece.what)});
    Instruction& what = out_.points.back().what;
    if (std::holds_alternative<tag::RowEnd>(what)) out_.text += '\n';
    if (std::holds_alternative<tag::Icon>(what)) {
      unicode::append(out_.text, 0xFFFC);  // object replacement character: one step
    }
    if (auto* value = std::get_if<tag::Value>(&what)) {
      append_value(value->text, piece.source);
      value->text.assign(out_.text, out_.points.back().at);
    }
  }

  // Text of the game, which may be longer than anything and in any bytes.
  void append_value(std::string_view text, TextRange tag) {
    if (unicode::is_valid(text)) {
      out_.text += text;
      return;
    }
    out_.text += unicode::repaired(text);
    report(DiagnosticCode::invalid_utf8, tag,
           "this value is not UTF-8; its wrong bytes are shown as U+FFFD");
  }

  // All values of a text together stay within the limit of a text; what goes beyond it is cut off
  // before it is kept anywhere.
  void cut_value(tag::Value& value, TextRange tag) {
    const std::size_t room = max_text_bytes - source_.size() - value_bytes_;
    const std::string_view read = cut_at_character(value.text, room);
    value_bytes_ += read.size();
    if (read.size() == value.text.size()) return;
    std::string(read).swap(value.text);  // anything else would keep the memory
    report(DiagnosticCode::text_too_long, tag, "this value makes the text longer than 16 MiB");
  }

  void append_repaired(TextRange range) {
    const std::string_view readable = source_.substr(0, range.end);
    std::size_t at = range.begin;
    while (at < range.end) {
      const std::size_t good = unicode::valid_run(readable, at);
      out_.text.append(readable, at, good);
      at += good;
      if (at == range.end) return;
      const auto wrong = unicode::decode(readable, at);
      unicode::append(out_.text, wrong.code_point);
      report(DiagnosticCode::invalid_utf8, {at, at + wrong.size},
             "these bytes are not UTF-8 and are shown as U+FFFD");
      at += wrong.size;
    }
  }

  // A head that had to be repaired is no part of the source: then the whole tag is meant.
  void report_tag(const markup::TagProblem& problem, TextRange tag) {
    const std::less<> before;
    const char* end = source_.data() + source_.size();
    if (!before(problem.where.data(), source_.data()) && !before(end, problem.where.data())) {
      tag.begin = static_cast<std::size_t>(problem.where.data() - source_.data());
      tag.end = tag.begin + problem.where.size();
    }
    report(problem.code, tag, problem.message, problem.hint);
  }

  void report(DiagnosticCode code, TextRange range, std::string message, std::string hint = {}) {
    sink_.add({.code = code,
               .severity = Severity::error,
               .message = std::move(message),
               .range = range,
               .hint = std::move(hint)});
  }

  void sort_results() {
    const auto by_place = [](const Diagnostic& a, const Diagnostic& b) {
      return a.range.begin < b.range.begin;
    };
    auto last = out_.diagnostics.end();
    const bool cut_short = !out_.diagnostics.empty() &&
                           out_.diagnostics.back().code == DiagnosticCode::too_many_diagnostics;
    if (cut_short) --last;
    std::stable_sort(out_.diagnostics.begin(), last, by_place);
  }

  std::string_view source_;
  const Vocabulary& vocabulary_;
  MarkedText& out_;
  DiagnosticSink sink_;
  std::size_t at_ = 0;
  std::size_t next_open_ = 0;
  std::size_t next_close_ = 0;
  std::vector<Piece> pieces_;
  std::vector<OpenSpan> open_;
  std::forward_list<std::string> repaired_heads_;  // whose addresses stay
  std::size_t value_bytes_ = 0;                    // of all values so far
};

}  // namespace

void parse(std::string_view source, MarkedText& out, const Vocabulary& vocabulary) {
  out.text.clear();
  out.spans.clear();
  out.points.clear();
  out.diagnostics.clear();
  const std::string_view read = cut_at_character(source, max_text_bytes);
  Parser(read, vocabulary, out).run();
  if (read.size() < source.size()) {
    const auto place = TextLocator(source).locate(read.size());
    out.diagnostics.push_back({.code = DiagnosticCode::text_too_long,
                               .severity = Severity::error,
                               .message = "the text is longer than 16 MiB; the rest is left out",
                               .range = {read.size(), source.size()},
                               .row = place.row,
                               .column = place.column});
  }
}

MarkedText parse(std::string_view source, const Vocabulary& vocabulary) {
  MarkedText marked;
  parse(source, marked, vocabulary);
  return marked;
}

std::string escape(std::string_view text) {
  std::string markup;
  markup.reserve(text.size());
  for (const char c : text) {
    if (c == '[' || c == ']') markup += c;
    markup += c;
  }
  return markup;
}

EdgeWalker::EdgeWalker(const MarkedText& marked) : marked_(&marked) { find_next(); }

// Spans nest, so the first to end is the last that began. A span's source ends behind its bracket,
// where the next tag may begin: the end comes first.
void EdgeWalker::find_next() {
  const auto& spans = marked_->spans;
  const auto& points = marked_->points;
  constexpr std::size_t never = std::string_view::npos;
  const std::size_t end = depth_ > 0 ? spans[open_[depth_ - 1]].source.end : never;
  const std::size_t begin = span_ < spans.size() ? spans[span_].source.begin : never;
  const std::size_t point = point_ < points.size() ? points[point_].source.begin : never;
  has_next_ = std::min({end, begin, point}) != never;
  if (!has_next_) return;
  if (end <= begin && end <= point) {
    const Span& span = spans[open_[depth_ - 1]];
    next_ = {EdgeKind::end, span.end, span.end, &span.what};
  } else if (begin < point) {
    const Span& span = spans[span_];
    next_ = {EdgeKind::begin, span.begin, span.end, &span.what};
  } else {
    const Point& point_here = points[point_];
    next_ = {EdgeKind::point, point_here.at, point_here.at, &point_here.what};
  }
}

Edge EdgeWalker::take() {
  const Edge edge = next_;
  switch (edge.kind) {
    case EdgeKind::end:
      --depth_;
      break;
    case EdgeKind::begin:
      if (depth_ < max_nesting) open_[depth_++] = span_;
      ++span_;
      break;
    case EdgeKind::point:
      ++point_;
      break;
  }
  find_next();
  return edge;
}

}  // namespace arvik
