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
#include "choosing.hpp"
#include "tags.hpp"

namespace arvik {
namespace {

using markup::TagHead;

enum class PieceKind : std::uint8_t {
  text,
  point,
  open,
  close,
  branch,  // of a choice; with all that is in it no part of the text
  chosen,  // a branch that is
  branch_end
};

struct ReadPiece {
  PieceKind kind{};
  TextRange source;
  Instruction what;  // of points and openings
  // Of closings: the opening piece; of openings, once written: the span; of branches: their end.
  std::size_t other = 0;
};

struct OpenSpan {
  std::size_t piece = 0;
  bool known = true;  // false: the head is shown as text, and so will be its closing bracket
  std::size_t literal_opens = 0;
  bool is_branch = false;
  std::optional<std::size_t> choice{};  // of plural and select: which of those read so far
};

bool is_blank(char c) { return c == ' ' || c == '\t' || c == '\n' || c == '\r'; }

bool starts_name(char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z'); }

// Of names that only branches have: values may be numbers.
bool begins_branch(char c) { return c == '=' || (c >= '0' && c <= '9'); }

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
  Parser(std::string_view source, const Vocabulary& vocabulary, Language* language, MarkedText& out)
      : source_(source),
        context_{vocabulary, language},
        out_(out),
        sink_(source, out.diagnostics) {}

  // The pieces alone.
  std::vector<MarkupPiece> run_to_pieces() {
    find_first_brackets();
    cut();
    revert_unclosed();
    std::vector<MarkupPiece> pieces;
    pieces.reserve(pieces_.size());
    for (std::size_t i = 0; i < pieces_.size(); ++i) {
      const ReadPiece& piece = pieces_[i];
      pieces.push_back({piece_kind(piece.kind), piece.source, piece.other});
      const bool ends = piece.kind == PieceKind::close;
      if (ends) pieces[piece.other].other = i;
      const bool branch = piece.kind == PieceKind::branch || piece.kind == PieceKind::chosen;
      if (branch) branch_ends_.push_back({piece.other, i});
    }
    for (const auto& [end, begin] : branch_ends_) pieces[end].other = begin;
    return pieces;
  }

  void run() {
    find_first_brackets();
    if (next_open_ == source_.size() && next_close_ == source_.size()) {  // as most lines
      append_repaired({0, source_.size()});
      return;
    }
    cut();
    revert_unclosed();
    for (std::size_t i = 0; i < pieces_.size(); ++i) {
      if (pieces_[i].kind == PieceKind::branch) {
        i = pieces_[i].other;
      } else {
        write(pieces_[i]);
      }
    }
    sort_results();
  }

 private:
  static MarkupPieceKind piece_kind(PieceKind kind) {
    switch (kind) {
      case PieceKind::point:
        return MarkupPieceKind::point;
      case PieceKind::open:
      case PieceKind::branch:
      case PieceKind::chosen:
        return MarkupPieceKind::open;
      case PieceKind::close:
      case PieceKind::branch_end:
        return MarkupPieceKind::close;
      case PieceKind::text:
        break;
    }
    return MarkupPieceKind::text;
  }

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

  void find_first_brackets() {
    next_open_ = std::min(source_.find('['), source_.size());
    next_close_ = std::min(source_.find(']'), source_.size());
  }

  // Each kind is looked for on its own, which is fast, and only once in every stretch.
  std::size_t next_bracket() {
    if (next_open_ < at_) next_open_ = std::min(source_.find('[', at_), source_.size());
    if (next_close_ < at_) next_close_ = std::min(source_.find(']', at_), source_.size());
    return std::min(next_open_, next_close_);
  }

  void add_text(std::size_t begin, std::size_t end) {
    if (begin == end) return;
    if (is_in_choice()) {  // between branches
      const std::string_view text = source_.substr(begin, end - begin);
      if (std::all_of(text.begin(), text.end(), is_blank)) return;
      report(DiagnosticCode::bad_argument, {begin, end},
             "this text stands between the branches of a choice, and is always shown");
    }
    put_text(begin, end);
  }

  void put_text(std::size_t begin, std::size_t end) {
    pieces_.push_back({PieceKind::text, {begin, end}, {}, 0});
  }

  [[nodiscard]] bool is_in_choice() const { return !open_.empty() && open_.back().choice; }

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
    if (span.is_branch) {
      pieces_[span.piece].other = pieces_.size();
      pieces_.push_back({PieceKind::branch_end, {bracket, bracket + 1}, {}, 0});
    } else if (span.known) {
      if (span.choice) close_choice(choices_[*span.choice]);
      pieces_.push_back({PieceKind::close, {bracket, bracket + 1}, {}, span.piece});
    } else {
      add_text(bracket, bracket + 1);
    }
  }

  // At a single `[`.
  void read_head() {
    const std::size_t begin = at_;
    std::size_t end = begin + 1;
    const bool branch = is_in_choice() && end < source_.size() && begins_branch(source_[end]);
    if (end == source_.size() || !(starts_name(source_[end]) || branch)) {
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
    if (is_in_choice() && head.is_span && head.arguments.empty()) {
      choices_[*open_.back().choice].branches.push_back({head.name, {begin, end}, pieces_.size()});
      open_.push_back({.piece = pieces_.size(), .is_branch = true});
      pieces_.push_back({PieceKind::branch, {begin, end}, {}, 0});
      return;
    }
    if (is_in_choice()) {
      report(DiagnosticCode::bad_argument, {begin, end},
             "a choice has branches alone, like [other: text]");
    }
    add_tag(head, {begin, end});
  }

  // What is chosen is part of the text, and nothing else of the choice.
  void close_choice(const markup::Choosing& choice) {
    for (markup::BranchProblem& problem : markup::find_problems(choice, context_.language)) {
      report(problem.code, problem.range, std::move(problem.message), std::move(problem.hint),
             problem.severity);
    }
    const markup::Branch* chosen = markup::choose(choice, context_.language);
    if (chosen == nullptr) return;
    pieces_[chosen->piece].kind = PieceKind::chosen;
    Instruction& what = pieces_[choice.piece].what;
    if (auto* plural = std::get_if<tag::Plural>(&what)) plural->branch = chosen->name;
    if (auto* select = std::get_if<tag::Select>(&what)) select->branch = chosen->name;
  }

  // The value of a choice, if the game gives it.
  void begin_choice(const Instruction& instruction, const TagHead& head, TextRange source) {
    markup::Choosing& choice = choices_.emplace_back();
    choice.piece = pieces_.size();
    choice.source = source;
    choice.is_plural = std::holds_alternative<tag::Plural>(instruction);
    const auto& value_of = context_.vocabulary.value;
    if (value_of) choice.value = value_of(head.arguments[0]);
    if (choice.value) return;
    report(DiagnosticCode::unknown_value, source,
           value_of ? "no value is named " + quoted_word(head.arguments[0])
                    : "no values are given here, so " + quoted_word(head.arguments[0]) +
                          " chooses nothing");
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
    auto instruction = markup::read_tag(head, context_);
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
    if (head.is_span) open_.push_back({.piece = pieces_.size(), .known = known});
    if (known && (std::holds_alternative<tag::Plural>(*instruction) ||
                  std::holds_alternative<tag::Select>(*instruction))) {
      open_.back().choice = choices_.size();
      begin_choice(*instruction, head, source);
    }
    if (known) {
      const PieceKind kind = head.is_span ? PieceKind::open : PieceKind::point;
      pieces_.push_back({kind, source, std::move(*instruction), 0});
    } else {
      put_text(source.begin, source.end);
    }
  }

  void revert_unclosed() {
    for (const OpenSpan& span : open_) {
      ReadPiece& piece = pieces_[span.piece];
      report(DiagnosticCode::missing_bracket, piece.source,
             "this span is never closed: a ] is missing");
      piece.kind = PieceKind::text;
      if (!span.choice) continue;
      for (const markup::Branch& branch : choices_[*span.choice].branches) {
        ReadPiece& opening = pieces_[branch.piece];
        if (opening.other > 0) pieces_[opening.other].kind = PieceKind::text;
        opening.kind = PieceKind::text;
      }
    }
  }

  void write(ReadPiece& piece) {
    switch (piece.kind) {
      case PieceKind::text:
        append_repaired(piece.source);
        break;
      case PieceKind::point:
        write_point(piece);
        break;
      case PieceKind::branch:
      case PieceKind::chosen:
      case PieceKind::branch_end:
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

  void write_point(ReadPiece& piece) {
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

  void report(DiagnosticCode code, TextRange range, std::string message, std::string hint = {},
              Severity severity = Severity::error) {
    sink_.add({.code = code,
               .severity = severity,
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
  markup::TagContext context_;
  MarkedText& out_;
  DiagnosticSink sink_;
  std::size_t at_ = 0;
  std::size_t next_open_ = 0;
  std::size_t next_close_ = 0;
  std::vector<ReadPiece> pieces_;
  std::vector<OpenSpan> open_;
  std::vector<markup::Choosing> choices_;
  std::vector<std::pair<std::size_t, std::size_t>> branch_ends_;  // with their begins
  std::forward_list<std::string> repaired_heads_;                 // whose addresses stay
  std::size_t value_bytes_ = 0;                                   // of all values so far
};

}  // namespace

void parse(std::string_view source, MarkedText& out, const Vocabulary& vocabulary,
           Language* language) {
  out.text.clear();
  out.spans.clear();
  out.points.clear();
  out.diagnostics.clear();
  const std::string_view read = cut_at_character(source, max_text_bytes);
  Parser(read, vocabulary, language, out).run();
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

MarkedText parse(std::string_view source, const Vocabulary& vocabulary, Language* language) {
  MarkedText marked;
  parse(source, marked, vocabulary, language);
  return marked;
}

std::vector<MarkupPiece> cut_markup(std::string_view source, const Vocabulary& vocabulary) {
  MarkedText problems;
  return Parser(cut_at_character(source, max_text_bytes), vocabulary, nullptr, problems)
      .run_to_pieces();
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
