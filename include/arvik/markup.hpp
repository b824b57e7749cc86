#pragma once

#include <cstddef>
#include <cstdint>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"
#include "arvik/language.hpp"
#include "arvik/units.hpp"

/// Markup: `[name arguments]` is a point, `[name arguments: content]` a span, `[[` and `]]` are
/// literal brackets. docs/markup.md has the whole grammar and every tag.
namespace arvik {

/// How many spans may stand inside each other.
inline constexpr std::size_t max_nesting = 64;

struct Attribute {
  std::string key{};
  std::string value{};
  friend bool operator==(const Attribute&, const Attribute&) = default;
};

/// 8 bits a channel, not premultiplied.
struct Rgba {
  std::uint8_t red = 0, green = 0, blue = 0, alpha = 255;
  friend bool operator==(const Rgba&, const Rgba&) = default;
};

/// What appears at once.
enum class RevealUnit : std::uint8_t { step, word, row, line };
enum class Entrance : std::uint8_t { cut, fade, wipe, rise };

/// What a tag about looks sets, or a named style. What is empty stays as it is around it.
struct StyleChange {
  std::optional<bool> bold{}, italic{}, underline{}, strike{};
  std::optional<Rgba> color{};
  std::optional<double> percent{};  ///< of the size around it, 10 to 1000
  std::optional<Entrance> entrance{};
  Nanoseconds entrance_time{};  ///< where there is an entrance; 0: the game's own
  friend bool operator==(const StyleChange&, const StyleChange&) = default;
};

/// One struct a tag, holding its checked arguments; tags about looks share one. Instruction is one
/// of them.
namespace tag {
struct Pause {
  Nanoseconds time{};
};
/// What follows appears at this time of the line.
struct At {
  Nanoseconds time{};
};
struct Hold {};
struct Rate {
  RateChange change{};
};
struct Whole {};
struct By {
  RevealUnit unit{};  ///< word or row
};
struct Flow {};
struct Mark {
  std::string name{};
  std::vector<Attribute> attributes{};
};
struct Sound {
  std::string name{};
};
struct Typing {
  std::string name{};
};
struct Mute {};
struct Portrait {
  std::string name{};
};
/// Every tag about looks: `b`, `i`, `u`, `s`, `color`, `size`, `enter`, and `style` with a name.
struct Look {
  StyleChange change{};
  std::string style{};  ///< of `[style NAME: …]`; else empty
};
struct Icon {
  std::string name{};
};
struct Value {
  std::string name{};
  std::string text{};  ///< what the game gave, as it stands in the plain text
};
/// Around the words that a number has chosen, of `[plural NAME: [one: …][other: …]]`. The branches
/// that were not chosen are no part of the text.
struct Plural {
  std::string name{};
  std::string branch{};  ///< that was chosen: a plural category, or "=0"
};
/// Around the words that a value has chosen, of `[select NAME: [glad: …][other: …]]`.
struct Select {
  std::string name{};
  std::string branch{};
};
/// A reading that stands small above its content (ruby, as HTML and CSS call it). It is no part of
/// the text: neither counted nor timed.
struct Ruby {
  std::string reading{};
};
struct RowEnd {};
struct PageEnd {};
struct Keep {};
struct Lang {
  std::string tag{};
};
}  // namespace tag

using Instruction =
    std::variant<tag::Pause, tag::Hold, tag::Rate, tag::Whole, tag::By, tag::Flow, tag::Mark,
                 tag::Sound, tag::Typing, tag::Mute, tag::Portrait, tag::Look, tag::Icon,
                 tag::Value, tag::RowEnd, tag::PageEnd, tag::Keep, tag::Lang, tag::Plural,
                 tag::Select, tag::Ruby, tag::At>;

/// A position in the plain text with an instruction.
struct Point {
  std::size_t at = 0;  ///< byte offset in MarkedText::text
  TextRange source{};  ///< the tag, brackets included, in the source
  Instruction what{};
};

/// A range of the plain text with an instruction. Spans nest or follow each other; they never
/// overlap in part.
struct Span {
  std::size_t begin = 0;  ///< byte offset in MarkedText::text
  std::size_t end = 0;    ///< byte offset in MarkedText::text, at or behind begin
  TextRange source{};     ///< from the opening to the closing bracket, in the source
  Instruction what{};
};

/// The result of parsing. Owns everything; nothing points into the source.
struct MarkedText {
  std::string text{};           ///< plain text: valid UTF-8 without any tag
  std::vector<Span> spans{};    ///< in the order of their opening brackets: outer before inner
  std::vector<Point> points{};  ///< in the order of the source
  std::vector<Diagnostic> diagnostics{};  ///< in the order of the source; ranges are in the source
};

/// Named styles, by name.
using NamedStyles = std::map<std::string, StyleChange, std::less<>>;

/// A value of the game: a text, shown as it is, or a number, written as the line's language writes
/// numbers.
using TextValue = std::variant<std::string, std::int64_t, double>;

/// What a game adds to the tags: the looks of `[style NAME: …]`, and the values of `[value NAME]`,
/// `[plural NAME: …]` and `[select NAME: …]`.
struct Vocabulary {
  NamedStyles styles{};
  /// Returns the value of a name, or nothing if there is none. Called while the line is parsed, in
  /// the order of the source. Brackets in a text are no markup. A text of digits alone counts as a
  /// number for `[plural NAME: …]`.
  std::function<std::optional<TextValue>(std::string_view name)> value{};
};

/// Parses markup. Never fails: what it cannot read is shown as it stands, with a diagnostic; so are
/// styles and values that the vocabulary does not have. Text beyond max_text_bytes is cut off
/// (text_too_long). `out` is replaced and its memory reused. Linear in the source. `language` knows
/// how numbers are written and which plural forms there are; without one (null) they are plain
/// digits, and of the category `other`.
ARVIK_API void parse(std::string_view source, MarkedText& out, const Vocabulary& vocabulary = {},
                     Language* language = nullptr);
[[nodiscard]] ARVIK_API MarkedText parse(std::string_view source, const Vocabulary& vocabulary = {},
                                         Language* language = nullptr);

/// A tag of a text as it stands, or what stands between tags.
enum class MarkupPieceKind : std::uint8_t {
  text,   ///< shown as its bytes; of a doubled bracket one
  point,  ///< a whole tag
  open,   ///< the head of a span or of a choice's branch, with the blank behind its colon
  close   ///< its closing bracket
};
struct MarkupPiece {
  MarkupPieceKind kind{};
  TextRange source{};
  std::size_t other = 0;  ///< of open the index of its close, and the other way round
};

/// Cuts a text into its tags and what stands between them, in order, every branch of its choices
/// included: for editors, for translators, for all who change the words and keep the tags. Put
/// together again, with brackets in text doubled (escape()), the pieces are the same markup. Blanks
/// between branches are left out; tags that cannot be read are text. Linear in the source.
[[nodiscard]] ARVIK_API std::vector<MarkupPiece> cut_markup(std::string_view source,
                                                            const Vocabulary& vocabulary = {});

/// `text` as markup that shows it as it stands: its brackets doubled.
[[nodiscard]] ARVIK_API std::string escape(std::string_view text);

/// Where a tag begins, ends or stands.
enum class EdgeKind : std::uint8_t { begin, end, point };

struct Edge {
  EdgeKind kind{};
  std::size_t at = 0;                 ///< byte offset in the plain text
  std::size_t end = 0;                ///< where the span ends, in the plain text; of points, `at`
  const Instruction* what = nullptr;  ///< never null in an edge that take() returned
};

/// Walks all span begins, span ends and points of a text in the order of the source. That order
/// tells what comes first where several stand at one position. Allocates nothing.
class ARVIK_API EdgeWalker {
 public:
  /// Keeps a pointer; `marked` must outlive the walker and not change.
  explicit EdgeWalker(const MarkedText& marked);
  explicit EdgeWalker(MarkedText&&) = delete;
  /// Whether an edge is left at or before this byte offset of the plain text.
  [[nodiscard]] bool has_edge_until(std::size_t at) const { return has_next_ && next_.at <= at; }
  /// Where the next edge stands; only after has_edge_until() said yes.
  [[nodiscard]] std::size_t next_at() const { return next_.at; }
  /// Returns the edge that has_edge_until() told of and goes on to the following one.
  Edge take();

 private:
  void find_next();

  const MarkedText* marked_;
  std::size_t span_ = 0;
  std::size_t point_ = 0;
  std::size_t open_[max_nesting] = {};
  std::size_t depth_ = 0;
  Edge next_;
  bool has_next_ = false;
};

}  // namespace arvik
