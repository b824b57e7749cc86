// Guarded by tests/check/check_test.cpp.

#include "text_view.hpp"

#include <algorithm>
#include <optional>

#include "../unicode/characters.hpp"

namespace arvik::checking {
namespace {

// How a piece of markup went into the plain text.
class Tracer {
 public:
  Tracer(const TextView& text, const Vocabulary& vocabulary)
      : text_(text), pieces_(pieces_of(text, vocabulary)) {}

  TextRange trace(TextRange plain) {
    begin_ = std::nullopt;
    end_ = text_.source.size();
    at_ = 0;
    branches_.clear();
    for (std::size_t i = 0; i < pieces_.size() && at_ < plain.end; ++i) {
      if (!branches_.empty() && i == branches_.back().close) {
        i = branches_.back().choice_close;
        branches_.pop_back();
      } else {
        i = pass(i, plain);
      }
    }
    const std::size_t begin = begin_.value_or(text_.source.size());
    return {begin, std::max(begin, end_)};
  }

 private:
  static const std::vector<MarkupPiece>& pieces_of(const TextView& text,
                                                   const Vocabulary& vocabulary) {
    if (!text.pieces) text.pieces = cut_markup(text.source, vocabulary);
    return *text.pieces;
  }

  std::size_t pass(std::size_t i, TextRange plain) {
    const TextRange source = pieces_[i].source;
    if (pieces_[i].kind == MarkupPieceKind::text) {
      take(source, source.end - source.begin, true, plain);
    } else if (pieces_[i].kind == MarkupPieceKind::point) {
      take(source, size_of_point(source), false, plain);
    } else if (pieces_[i].kind == MarkupPieceKind::open) {
      if (const std::string* branch = chosen_branch(source.begin)) return enter(i, *branch);
    }
    return i;
  }

  // Goes to the branch of a choice that was taken; the others are not shown.
  std::size_t enter(std::size_t choice, const std::string& branch) {
    for (std::size_t i = choice + 1; i < pieces_[choice].other; i = pieces_[i].other + 1) {
      if (pieces_[i].kind != MarkupPieceKind::open) return choice;
      const std::string_view head = text_.source.substr(pieces_[i].source.begin + 1);
      if (head.substr(0, head.find(':')) == branch) {
        branches_.push_back({pieces_[i].other, pieces_[choice].other});
        return i;
      }
    }
    return pieces_[choice].other;
  }

  // Spans stand in the order of their opening brackets, points in that of the source.
  template <typename Tag>
  static const Tag* find_tag(const std::vector<Tag>& tags, std::size_t source_begin) {
    const auto found = std::lower_bound(
        tags.begin(), tags.end(), source_begin,
        [](const Tag& tag, std::size_t begin) { return tag.source.begin < begin; });
    return found != tags.end() && found->source.begin == source_begin ? &*found : nullptr;
  }

  [[nodiscard]] const std::string* chosen_branch(std::size_t source_begin) const {
    const Span* span = find_tag(text_.marked->spans, source_begin);
    if (span == nullptr) return nullptr;
    if (const auto* plural = std::get_if<tag::Plural>(&span->what)) return &plural->branch;
    if (const auto* select = std::get_if<tag::Select>(&span->what)) return &select->branch;
    return nullptr;
  }

  [[nodiscard]] std::size_t size_of_point(TextRange source) const {
    const Point* point = find_tag(text_.marked->points, source.begin);
    if (point == nullptr) return 0;
    if (const auto* value = std::get_if<tag::Value>(&point->what)) return value->text.size();
    if (std::holds_alternative<tag::Icon>(point->what)) return 3;  // U+FFFC
    return std::holds_alternative<tag::RowEnd>(point->what) ? 1 : 0;
  }

  // `size` bytes of the plain text come from this piece.
  void take(TextRange source, std::size_t size, bool is_text, TextRange plain) {
    const std::size_t end = at_ + size;
    if (!begin_ && plain.begin < end) {
      begin_ = source.begin + (is_text ? plain.begin - at_ : 0);
    }
    if (plain.end <= end && plain.end > at_) {
      end_ = is_text ? source.begin + (plain.end - at_) : source.end;
    }
    at_ = end;
  }

  struct Branch {  // that is being passed, as indices of pieces
    std::size_t close = 0;
    std::size_t choice_close = 0;
  };
  const TextView& text_;
  const std::vector<MarkupPiece>& pieces_;
  std::optional<std::size_t> begin_;
  std::size_t end_ = 0;
  std::size_t at_ = 0;  // in the plain text
  std::vector<Branch> branches_;
};

}  // namespace

char32_t TextView::character(std::uint32_t at) const {
  return unicode::decode(marked->text, steps->begin_byte(at)).code_point;
}

TextRange in_source(const TextView& text, TextRange plain, const Vocabulary& vocabulary) {
  return Tracer(text, vocabulary).trace(plain);
}

bool is_value(const TextView& text, std::size_t byte) {
  const auto& points = text.marked->points;
  const auto behind =
      std::upper_bound(points.begin(), points.end(), byte,
                       [](std::size_t at, const Point& point) { return at < point.at; });
  if (behind == points.begin()) return false;
  const Point& point = *std::prev(behind);
  const auto* value = std::get_if<tag::Value>(&point.what);
  return value != nullptr && byte < point.at + value->text.size();
}

}  // namespace arvik::checking
