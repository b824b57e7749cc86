#include "translation_tags.hpp"

#include <algorithm>

#include "arvik/locale.hpp"

namespace arvik::script {
namespace {

// Adds and leaves out branches of plural choices.
class BranchFitter {
 public:
  BranchFitter(std::string_view markup, Language& language, const Vocabulary& vocabulary)
      : markup_(markup), language_(language), pieces_(cut_markup(markup, vocabulary)) {}

  std::string run() {
    put(0, pieces_.size());
    return std::move(out_);
  }

 private:
  [[nodiscard]] std::string_view source(std::size_t piece) const {
    const TextRange range = pieces_[piece].source;
    return markup_.substr(range.begin, range.end - range.begin);
  }

  void put(std::size_t begin, std::size_t end) {
    for (std::size_t i = begin; i < end; ++i) {
      const MarkupPiece& piece = pieces_[i];
      if (piece.kind == MarkupPieceKind::open && source(i).starts_with("[plural ")) {
        put_choice(i);
        i = piece.other;
      } else {
        put_piece(i);
      }
    }
  }

  void put_piece(std::size_t i) {
    out_ += pieces_[i].kind == MarkupPieceKind::text ? escape(source(i)) : std::string(source(i));
  }

  // The name in a branch's head.
  [[nodiscard]] std::string_view name(std::size_t branch) const {
    const std::string_view head = source(branch);
    return head.substr(1, head.find(':') - 1);
  }

  void put_choice(std::size_t choice) {
    std::vector<std::size_t> branches;
    for (std::size_t i = choice + 1; i < pieces_[choice].other; i = pieces_[i].other + 1) {
      if (pieces_[i].kind != MarkupPieceKind::open) {  // something is wrong with it: as it stands
        for (std::size_t all = choice; all <= pieces_[choice].other; ++all) put_piece(all);
        return;
      }
      branches.push_back(i);
    }
    const auto other = std::find_if(branches.begin(), branches.end(),
                                    [&](std::size_t branch) { return name(branch) == "other"; });
    out_ += source(choice);
    for (const std::size_t branch : branches) {
      const auto category = plural_category_of(name(branch));
      if (category && !language_.has_category(*category)) continue;
      if (category == PluralCategory::other) put_missing(branches, *other);
      out_ += source(branch);
      put(branch + 1, pieces_[branch].other);
      out_ += ']';
    }
    out_ += ']';
  }

  void put_missing(const std::vector<std::size_t>& branches, std::size_t other) {
    for (const PluralCategory category : language_.needed_categories()) {
      const std::string_view wanted = plural_category_name(category);
      const bool there = std::any_of(branches.begin(), branches.end(),
                                     [&](std::size_t branch) { return name(branch) == wanted; });
      if (there || category == PluralCategory::other) continue;
      out_ += '[' + std::string(wanted) + ": ";
      for (std::size_t i = other + 1; i < pieces_[other].other; ++i) put_piece(i);
      out_ += ']';
    }
  }

  std::string_view markup_;
  Language& language_;
  std::vector<MarkupPiece> pieces_;
  std::string out_;
};

}  // namespace

Vocabulary any_vocabulary(const Script& script) {
  return {.styles = script.styles,
          .value = [](std::string_view name) { return std::string(name); }};
}

std::vector<TextPart> parts_of(std::string_view markup, const Vocabulary& vocabulary) {
  const auto pieces = cut_markup(markup, vocabulary);
  std::vector<TextPart> parts;
  std::vector<std::size_t> tag_of(pieces.size());
  std::size_t tags = 0;
  for (std::size_t i = 0; i < pieces.size(); ++i) {
    const MarkupPiece& piece = pieces[i];
    std::string text(markup.substr(piece.source.begin, piece.source.end - piece.source.begin));
    if (piece.kind == MarkupPieceKind::text) {
      if (!parts.empty() && parts.back().kind == MarkupPieceKind::text) {
        parts.back().text += text;
        continue;
      }
    } else if (piece.kind == MarkupPieceKind::close) {
      tag_of[i] = tag_of[piece.other];
    } else {
      tag_of[i] = ++tags;
    }
    parts.push_back({piece.kind, std::move(text), tag_of[i]});
  }
  return parts;
}

std::string with_branches_of(std::string_view markup, Language& language,
                             const Vocabulary& vocabulary) {
  if (markup.find("[plural ") == std::string_view::npos) return std::string(markup);
  return BranchFitter(markup, language, vocabulary).run();
}

}  // namespace arvik::script
