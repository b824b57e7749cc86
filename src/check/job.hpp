#pragma once

#include <cstdint>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <set>
#include <string>
#include <vector>

#include "../script/name_index.hpp"
#include "arvik/check.hpp"
#include "arvik/language.hpp"
#include "rules.hpp"
#include "text_rules.hpp"

namespace arvik::checking {

inline constexpr std::uint32_t no_text = 0xFFFFFFFF;

/// A line or an answer, in the script's order.
struct TextRef {
  std::uint32_t conversation = 0;
  std::uint32_t line = 0;
  std::uint32_t choice = no_text;  ///< of the line's answers; no_text: the line itself
};

/// A finding before it is known where that stands in a file.
struct RawFinding {
  std::string code{};
  Severity severity = Severity::warning;
  std::string message{};
  std::string hint{};
  TextRange range{};             ///< in the text
  std::uint32_t text = no_text;  ///< one of the script's texts …
  std::string key{};             ///< … or, without one, of a table
  ScriptSpot spot{};             ///< or else this
  std::string locale{};
  bool is_missing = false;  ///< the text is not there: its place is meant
};

/// What texts name, so that what nothing names is known.
struct Uses {
  std::set<std::string, std::less<>> styles{}, typing{}, clips{}, portraits{};
  void add(const Uses& other);
};

/// What clips are like, kept for whoever asks next.
class Clips {
 public:
  using Read = std::function<tl::expected<SpokenClip, Diagnostic>(const std::string& file)>;
  explicit Clips(const Read& read) : read_(read) {}
  [[nodiscard]] bool can_read() const { return read_ != nullptr; }
  [[nodiscard]] tl::expected<SpokenClip, Diagnostic> find(const std::string& file);

 private:
  const Read& read_;
  std::mutex mutex_;
  std::map<std::string, tl::expected<SpokenClip, Diagnostic>> known_;
};

/// All that the threads share while they check the texts of one locale. Only read, but for the
/// clips.
struct Job {
  const CheckedScript* input = nullptr;
  const std::vector<TextRef>* texts = nullptr;
  const Wishes* wishes = nullptr;
  Clips* clips = nullptr;
  std::shared_ptr<const Script> source{};  ///< in its source locale
  std::shared_ptr<const Script> script{};  ///< in the locale of the job
  std::string locale{};
  std::vector<std::string> chain{};  ///< of the locale
  std::string language{};            ///< of the locale: "de"
  std::string source_language{};
  bool is_source = false;
  bool inherits_source = false;  ///< the source is a parent: "en" of "en-GB"
  bool is_made_up = false;       ///< a pseudo-locale: only what does not fit is of interest
  bool has_voices = false;       ///< any line is spoken in the locale
  ScriptCode source_letters = common_script;
  ScriptCode letters = common_script;
  std::shared_ptr<const Font> font{};
  std::shared_ptr<const Font> source_font{};
  std::shared_ptr<const Font> faces{};  ///< for finding missing glyphs; null: the font does it
  Box box{};
  Box source_box{};
  std::shared_ptr<const CommonWords> common_words{};  ///< of the source
  script::NameIndex sounds{};                         ///< of the script; empty: the game has them
  script::NameIndex clip_names{};                     ///< the same
  script::NameIndex speakers{};                       ///< by id
};

/// Checks the texts of one locale, in one thread.
class TextChecks {
 public:
  /// The job must outlive it. Fails with language_unavailable.
  [[nodiscard]] static tl::expected<TextChecks, Diagnostic> open(const Job& job);
  TextChecks(TextChecks&&) noexcept;
  TextChecks& operator=(TextChecks&&) noexcept;
  ~TextChecks();

  /// The texts from `begin` to before `end`, whole blocks of lines.
  void check(std::uint32_t begin, std::uint32_t end, std::vector<RawFinding>& out);
  /// A text of a table that no line has: of a speaker's name, or the game's own.
  void check_own(const std::string& key, std::string_view source, std::string_view text,
                 std::vector<RawFinding>& out);
  [[nodiscard]] const Uses& uses() const;

 private:
  struct Impl;
  explicit TextChecks(std::unique_ptr<Impl> impl);
  std::unique_ptr<Impl> impl_;
};

/// The text of a line or an answer in a script.
[[nodiscard]] const std::string& text_in(const Script& script, const TextRef& ref);
[[nodiscard]] const std::string& key_in(const Script& script, const TextRef& ref);

/// What nothing uses, and what leads nowhere.
void check_whole(const Job& source, const CheckOptions& options, const Uses& uses,
                 std::vector<RawFinding>& out);

}  // namespace arvik::checking
