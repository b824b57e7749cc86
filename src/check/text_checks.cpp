// The one pipeline over the texts of a locale, and every rule on what comes out of it. Guarded by
// tests/check.

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "../script/text_checker.hpp"
#include "../unicode/characters.hpp"
#include "arvik/locale.hpp"
#include "arvik/typesetter.hpp"
#include "job.hpp"
#include "kept_rules.hpp"
#include "text_rules.hpp"

namespace arvik::checking {
namespace {

// Values for `[value …]`, `[plural …]`, `[select …]`: a text with choices is looked at several
// times, each time with other ones, so that every branch has its turn.
class Values {
 public:
  Vocabulary vocabulary(const NamedStyles& styles) {
    return {.styles = styles, .value = [this](std::string_view name) { return find(name); }};
  }

  // Returns how often a text must be looked at.
  std::size_t begin(std::string_view source, const Vocabulary& vocabulary) {
    pass_ = 0;
    branches_.clear();
    const bool selects = source.find("[select ") != std::string_view::npos;
    const bool plurals = source.find("[plural ") != std::string_view::npos;
    if (!selects && !plurals) return 1;
    std::size_t passes = plurals ? numbers.size() : 1;
    if (!selects) return passes;
    const auto pieces = cut_markup(source, vocabulary);
    const auto text_of = [&](std::size_t i) {
      return source.substr(pieces[i].source.begin, pieces[i].source.end - pieces[i].source.begin);
    };
    for (std::size_t i = 0; i < pieces.size(); ++i) {
      constexpr std::string_view head = "[select ";
      if (pieces[i].kind != MarkupPieceKind::open || !text_of(i).starts_with(head)) continue;
      std::string_view name = text_of(i).substr(head.size());
      auto& branches = branches_[std::string(name.substr(0, name.find_first_of(": ")))];
      for (std::size_t at = i + 1; at < pieces[i].other; at = pieces[at].other + 1) {
        if (pieces[at].kind != MarkupPieceKind::open) break;
        const std::string_view branch = text_of(at);
        branches.emplace_back(branch.substr(1, branch.find(':') - 1));
      }
      passes = std::max(passes, branches.size());
    }
    return std::min<std::size_t>(passes, 16);
  }
  void go_to(std::size_t pass) { pass_ = pass; }

 private:
  std::optional<TextValue> find(std::string_view name) const {
    const auto found = branches_.find(name);
    if (found != branches_.end() && !found->second.empty()) {
      return found->second[pass_ % found->second.size()];
    }
    return std::int64_t{numbers[pass_ % numbers.size()]};
  }

  static constexpr std::array<int, 4> numbers{5, 1, 2, 0};
  std::map<std::string, std::vector<std::string>, std::less<>> branches_;
  std::size_t pass_ = 0;
};

}  // namespace

struct TextChecks::Impl {
  Impl(const Job& for_job, Language language, Language source_language)
      : job(for_job),
        wishes(*job.wishes),
        typesetter(std::move(language)),
        source_typesetter(std::move(source_language)),
        names(job.sounds.empty() ? nullptr : &job.sounds,
              job.clip_names.empty() ? nullptr : &job.clip_names) {
    typesetter.vocabulary() = values.vocabulary(job.script->styles);
    source_typesetter.vocabulary() = values.vocabulary(job.source->styles);
  }
  Impl(const Impl&) = delete;
  Impl& operator=(const Impl&) = delete;
  ~Impl() = default;

  void check(std::uint32_t begin, std::uint32_t end, std::vector<RawFinding>& to);
  void check_own(const std::string& key, std::string_view source, std::string_view text,
                 std::vector<RawFinding>& to);

 private:
  [[nodiscard]] const TextRef& ref(std::uint32_t index) const { return (*job.texts)[index]; }
  [[nodiscard]] const DialogueLine& line_of(const TextRef& of) const {
    return job.script->conversations[of.conversation].lines[of.line];
  }
  std::uint32_t check_block(std::uint32_t first, std::uint32_t end);
  void check_line(std::uint32_t index);
  void check_together(const std::vector<std::uint32_t>& lines);
  void check_choice(std::uint32_t index);
  void begin_text() {
    first_ = out_->size();
    is_full_ = false;
  }
  bool prepare(std::string_view text, const Pace& pace, const Box& box);
  void check_view(const TextView& view, const Schedule& schedule, const Layout* layout);
  void check_markup(const TextView& view, const Speaker* speaker);
  [[nodiscard]] Tell teller(const TextView& view);
  void check_writing(const TextView& view);
  void check_translation(const TextView& view);
  [[nodiscard]] bool is_kept_elsewhere() const;
  void check_layout(const TextView& view, const Layout& layout, TextRange part);
  bool check_missing(const TextView& view, const Layout& layout, TextRange part);
  void check_glyphs(const TextView& view);
  void check_pages(const Layout& layout);
  void check_lone_letters(const TextView& view, const Layout& layout);
  void check_times(const DialogueLine& line, const Schedule& schedule);
  void check_voice(const DialogueLine& line, const Schedule& schedule, const MarkedText& marked);
  void check_timing(const DialogueLine& line, const SpokenClip& clip, const MarkedText& marked);
  [[nodiscard]] const Speaker* find_speaker(const std::string& id) const;
  void note_uses(const DialogueLine* line, const MarkedText& marked);
  [[nodiscard]] bool is_missing(const std::string& key, std::string_view source) const;
  [[nodiscard]] bool has_own_text(const std::string& key) const;

  void tell(std::string_view code, Severity severity, TextRange range, std::string message,
            std::string hint = {});
  void tell_missing();
  void tell(Rule rule, TextRange range, std::string message, std::string hint = {}) {
    if (!wishes.has(rule)) return;
    tell(rule_of(rule).code, rule_of(rule).severity, range, std::move(message), std::move(hint));
  }
  void tell(const Diagnostic& problem, TextRange range) {
    tell(diagnostic_name(problem.code), problem.severity, range, problem.message, problem.hint);
  }

 public:
  const Job& job;
  const Wishes& wishes;
  Values values;
  Typesetter typesetter;
  Typesetter source_typesetter;
  script::NameChecker names;
  Uses uses;

 private:
  PreparedLine line_;
  PreparedLine source_line_;
  PreparedLine faced_line_;
  std::set<char32_t> seen_;  // that are in the locale's faces
  MarkedText source_marked_;
  Steps source_steps_;
  std::vector<Boundary> source_boundaries_;
  // Of the text under way.
  std::vector<RawFinding>* out_ = nullptr;
  std::size_t first_ = 0;  // of its findings
  bool is_full_ = false;   // more of them are not told
  std::uint32_t text_ = no_text;
  std::string own_key_;
  std::string_view written_;  // in the locale
  std::string_view source_;   // in the source locale
  std::string_view before_, behind_;
  bool own_text_ = true;  // of this very locale, not of a parent
  bool appended_ = false, followed_ = false;
};

void Uses::add(const Uses& other) {
  for (const auto member : {&Uses::styles, &Uses::typing, &Uses::clips, &Uses::portraits}) {
    (this->*member).insert((other.*member).begin(), (other.*member).end());
  }
}

tl::expected<SpokenClip, Diagnostic> Clips::find(const std::string& file) {
  {
    const std::lock_guard lock(mutex_);
    const auto known = known_.find(file);
    if (known != known_.end()) return known->second;
  }
  auto read = read_(file);
  const std::lock_guard lock(mutex_);
  return known_.emplace(file, std::move(read)).first->second;
}

const std::string& text_in(const Script& script, const TextRef& ref) {
  const DialogueLine& line = script.conversations[ref.conversation].lines[ref.line];
  return ref.choice == no_text ? line.text : line.choices[ref.choice].text;
}

const std::string& key_in(const Script& script, const TextRef& ref) {
  const DialogueLine& line = script.conversations[ref.conversation].lines[ref.line];
  return ref.choice == no_text ? line.id : line.choices[ref.choice].id;
}

void TextChecks::Impl::tell(std::string_view code, Severity severity, TextRange range,
                            std::string message, std::string hint) {
  if (!wishes.has(code) || is_full_) return;
  // The same may be found once for each value that a text was looked at with.
  for (std::size_t i = first_; i < out_->size(); ++i) {
    const RawFinding& known = (*out_)[i];
    if (known.code == code && known.range == range && known.message == message) return;
  }
  if (out_->size() - first_ >= max_diagnostics) {
    is_full_ = true;
    code = diagnostic_name(DiagnosticCode::too_many_diagnostics);
    message = "there is more in this text";
    range = {};
  }
  out_->push_back({.code = std::string(code),
                   .severity = severity,
                   .message = std::move(message),
                   .hint = std::move(hint),
                   .range = range,
                   .text = text_,
                   .key = own_key_,
                   .locale = job.locale});
}

void TextChecks::Impl::tell_missing() {
  const std::size_t before = out_->size();
  tell(diagnostic_name(DiagnosticCode::missing_text), Severity::warning, {},
       "there is no text in the locale " + quoted_word(job.locale));
  if (out_->size() > before) out_->back().is_missing = true;
}

void TextChecks::Impl::check(std::uint32_t begin, std::uint32_t end, std::vector<RawFinding>& to) {
  out_ = &to;
  own_key_.clear();
  for (std::uint32_t at = begin; at < end;) at = check_block(at, end);
}

// A line, what is appended to it, and the answers of each. Returns where the next block begins.
std::uint32_t TextChecks::Impl::check_block(std::uint32_t first, std::uint32_t end) {
  std::vector<std::uint32_t> lines{first};
  std::uint32_t at = first + 1;
  for (; at < end; ++at) {
    if (ref(at).choice != no_text) continue;
    if (ref(at).conversation != ref(first).conversation || !line_of(ref(at)).append) break;
    lines.push_back(at);
  }
  for (std::uint32_t i = first; i < at; ++i) {
    if (ref(i).choice != no_text) check_choice(i);
  }
  if (lines.size() == 1) {
    check_line(first);
  } else {
    check_together(lines);
  }
  return at;
}

bool TextChecks::Impl::is_missing(const std::string& key, std::string_view source) const {
  if (job.is_source || job.is_made_up || job.inherits_source) return false;
  if (key.empty()) return !source.empty();
  return !job.source->strings || !job.source->strings->text(key, job.chain);
}

bool TextChecks::Impl::has_own_text(const std::string& key) const {
  if (job.is_source || !job.source->strings) return true;
  return job.source->strings->text(key, job.locale).has_value();
}

// Prepares a text alone; what the box refuses is told and clipped.
bool TextChecks::Impl::prepare(std::string_view text, const Pace& pace, const Box& box) {
  auto done = typesetter.prepare(text, pace, *job.font, box, line_);
  if (!done) {
    tell(done.error(), {});
    if (done.error().code != DiagnosticCode::text_overflows) return false;
    Box clipping = box;
    clipping.overflow = Overflow::clip;
    done = typesetter.prepare(text, pace, *job.font, clipping, line_);
  }
  return done.has_value();
}

void TextChecks::Impl::check_line(std::uint32_t index) {
  const TextRef& of = ref(index);
  const DialogueLine& line = line_of(of);
  const auto& lines = job.script->conversations[of.conversation].lines;
  text_ = index;
  begin_text();
  written_ = line.text;
  source_ = text_in(*job.source, of);
  before_ = of.line > 0 ? std::string_view(lines[of.line - 1].text) : std::string_view();
  behind_ =
      of.line + 1 < lines.size() ? std::string_view(lines[of.line + 1].text) : std::string_view();
  appended_ = line.append;
  followed_ = of.line + 1 < lines.size() && lines[of.line + 1].append;
  own_text_ = has_own_text(line.id);
  const bool missing = is_missing(line.id, source_);
  if (missing) {
    tell_missing();
    return check_voice(line, {}, {});
  }
  const std::size_t passes = values.begin(written_, typesetter.vocabulary());
  for (std::size_t pass = 0; pass < passes; ++pass) {
    values.go_to(pass);
    if (!prepare(written_, *line.pace, job.box)) return;
    const TextView view{written_, &line_.marked, &line_.steps, &line_.boundaries};
    check_view(view, line_.schedule, &line_.layout);
    if (pass == 0) check_voice(line, line_.schedule, line_.marked);
  }
}

void TextChecks::Impl::check_choice(std::uint32_t index) {
  const TextRef& of = ref(index);
  const DialogueLine& line = line_of(of);
  text_ = index;
  begin_text();
  written_ = text_in(*job.script, of);
  source_ = text_in(*job.source, of);
  before_ = behind_ = {};
  appended_ = followed_ = false;
  const std::string& key = key_in(*job.script, of);
  own_text_ = has_own_text(key);
  if (is_missing(key, source_)) {
    tell_missing();
    return;
  }
  Box box = job.box;  // answers have a box of the game's own, of which only the width is known
  box.height = std::numeric_limits<float>::infinity();
  box.max_rows = 0;
  const std::size_t passes = values.begin(written_, typesetter.vocabulary());
  for (std::size_t pass = 0; pass < passes; ++pass) {
    values.go_to(pass);
    if (!prepare(written_, *line.pace, box)) return;
    const TextView view{written_, &line_.marked, &line_.steps, &line_.boundaries};
    note_uses(nullptr, line_.marked);
    check_markup(view, nullptr);
    if (own_text_) check_writing(view);
    check_layout(view, line_.layout, {0, view.plain().size()});
    check_glyphs(view);
  }
}

// Everything about a line that stands alone in its box, or, without a layout, about one of several.
void TextChecks::Impl::check_view(const TextView& view, const Schedule& schedule,
                                  const Layout* layout) {
  const DialogueLine& line = line_of(ref(text_));
  note_uses(&line, *view.marked);
  check_markup(view, find_speaker(line.speaker));
  if (own_text_) check_writing(view);
  check_glyphs(view);
  if (layout != nullptr) {
    check_layout(view, *layout, {0, view.plain().size()});
    check_pages(*layout);
    if (wishes.has(Rule::lone_letter)) check_lone_letters(view, *layout);
  }
  for (const Diagnostic& problem : schedule.diagnostics) tell(problem, {});
  check_times(line, schedule);
}

void TextChecks::Impl::check_markup(const TextView& view, const Speaker* speaker) {
  for (const Diagnostic& problem : view.marked->diagnostics) tell(problem, problem.range);
  if (view.marked->points.empty() && view.marked->spans.empty()) return;
  names.check(view.source, *view.marked, speaker,
              [&](const Diagnostic& problem) { tell(problem, problem.range); });
}

// Parts of what is shown are looked for in the source only where somebody will read of them.
Tell TextChecks::Impl::teller(const TextView& view) {
  return [this, &view](Rule rule, TextPart part, std::string message, std::string hint) {
    if (is_full_ || !wishes.has(rule)) return;
    tell(rule, part.is_shown ? in_source(view, part.range, typesetter.vocabulary()) : part.range,
         std::move(message), std::move(hint));
  };
}

void TextChecks::Impl::check_writing(const TextView& view) {
  if (job.is_made_up) return;
  const Tell told = teller(view);
  TextPlace place{.appended = appended_,
                  .followed = followed_,
                  .language = job.language,
                  .before = before_,
                  .behind = behind_};
  if (!job.is_source) place.source = source_;
  check_text(view, place, wishes, told);
  if (!job.is_source) check_translation(view);
}

// Whether half of the other locales have the source's text, too, as they have names, cries and
// made-up languages.
bool TextChecks::Impl::is_kept_elsewhere() const {
  if (!job.source->strings || text_ == no_text) return false;
  const std::string& key = key_in(*job.source, ref(text_));
  std::size_t others = 0, same = 0;
  for (const std::string& locale : job.source->strings->locales()) {
    if (locale == job.locale || locale == job.source->source_locale) continue;
    const auto text = job.source->strings->text(key, locale);
    if (!text) continue;
    ++others;
    if (*text == source_) ++same;
  }
  return same > 0 && 2 * same >= others;
}

void TextChecks::Impl::check_translation(const TextView& view) {
  const Tell told = teller(view);
  if (written_ == source_) {
    const bool same_language = job.language == job.source_language;
    if (!same_language && wishes.has(Rule::same_as_source) && !is_kept_elsewhere() &&
        is_untranslated(view, job.source_letters, job.letters, *job.common_words)) {
      tell(Rule::same_as_source, {}, "this is the text of the source");
    }
    return;
  }
  source_typesetter.read(source_, source_marked_, source_steps_);
  source_boundaries_.clear();
  bool asks = false;
  for (std::uint32_t i = 0; i < source_steps_.size() && !asks; ++i) {
    asks =
        source_steps_.kinds[i] == StepKind::terminal || source_steps_.kinds[i] == StepKind::clause;
  }
  if (asks && wishes.has(Rule::lost_question)) {
    source_boundaries_ =
        read_boundaries(source_marked_.text, source_steps_, source_typesetter.language());
  }
  const TextView source{source_, &source_marked_, &source_steps_, &source_boundaries_};
  check_kept(source, view, job.language, wishes, told);
}

// What the layout says of a text, which stands at `part` of the plain text that was laid out.
void TextChecks::Impl::check_layout(const TextView& view, const Layout& layout, TextRange part) {
  check_missing(view, layout, part);
  for (const Diagnostic& problem : layout.diagnostics) {
    if (problem.code == DiagnosticCode::missing_glyph || is_full_) continue;
    // What the box refuses was told.
    if (problem.code == DiagnosticCode::text_overflows && job.box.overflow == Overflow::refuse) {
      continue;
    }
    if (problem.range.begin < part.begin || problem.range.begin > part.end) continue;
    const TextRange plain{problem.range.begin - part.begin,
                          std::min(problem.range.end, part.end) - part.begin};
    const bool whole = problem.code == DiagnosticCode::text_overflows;
    tell(problem, whole ? TextRange{} : in_source(view, plain, typesetter.vocabulary()));
  }
  if (layout.scale < wishes.limit(Limit::least_size) && wishes.has(Rule::small_text)) {
    tell(Rule::small_text, {},
         fmt::format("the text fits at {:.0f} % of its size", layout.scale * 100));
  }
}

// All characters of a text that no face has, as one finding at the first of them. Returns whether
// there are any.
bool TextChecks::Impl::check_missing(const TextView& view, const Layout& layout, TextRange part) {
  std::vector<std::string_view> missing;
  TextRange first;
  for (const Diagnostic& problem : layout.diagnostics) {
    if (problem.code != DiagnosticCode::missing_glyph) continue;
    if (problem.range.begin < part.begin || problem.range.end > part.end) continue;
    const TextRange plain{problem.range.begin - part.begin, problem.range.end - part.begin};
    const std::string_view character = view.plain().substr(plain.begin, plain.end - plain.begin);
    if (missing.empty()) first = plain;
    if (std::find(missing.begin(), missing.end(), character) == missing.end()) {
      missing.push_back(character);
    }
  }
  if (missing.empty()) return false;
  constexpr std::size_t most = 12;
  const std::size_t shown = std::min(missing.size(), most);
  tell(diagnostic_name(DiagnosticCode::missing_glyph), Severity::warning,
       in_source(view, first, typesetter.vocabulary()),
       fmt::format(
           "no font of the locale has {}{}",
           fmt::join(missing.begin(), missing.begin() + static_cast<std::ptrdiff_t>(shown), " "),
           missing.size() > most ? fmt::format(" and {} more characters", missing.size() - most)
                                 : ""));
  return true;
}

// Characters that no face of the locale has. Shaped are only texts with characters that no text
// before them had.
void TextChecks::Impl::check_glyphs(const TextView& view) {
  if (job.faces == nullptr || !wishes.has(diagnostic_name(DiagnosticCode::missing_glyph))) return;
  bool is_new = false;
  for (std::size_t at = 0; at < view.plain().size();) {
    const unicode::Decoded next = unicode::decode(view.plain(), at);
    is_new = is_new || !seen_.contains(next.code_point);
    at += next.size;
  }
  if (!is_new) return;
  if (!typesetter.prepare(view.source, Pace(), *job.faces, Box(), faced_line_)) return;
  if (check_missing(view, faced_line_.layout, {0, view.plain().size()})) return;
  for (std::size_t at = 0; at < view.plain().size();) {
    const unicode::Decoded next = unicode::decode(view.plain(), at);
    seen_.insert(next.code_point);
    at += next.size;
  }
}

// More pages or rows than the source takes, which is laid out only if somebody asks.
void TextChecks::Impl::check_pages(const Layout& layout) {
  if (job.is_source || text_ == no_text) return;
  const bool pages = layout.pages.size() > 1 && wishes.has(Rule::more_pages);
  const bool rows = layout.rows.size() > 1 && wishes.has(Rule::more_rows);
  if (!pages && !rows) return;
  const TextRef& of = ref(text_);
  const DialogueLine& line = job.source->conversations[of.conversation].lines[of.line];
  const auto done = source_typesetter.prepare(line.text, *line.pace, *job.source_font,
                                              job.source_box, source_line_);
  if (!done) return;  // told of the source
  const Layout& source = source_line_.layout;
  if (pages && layout.pages.size() > source.pages.size()) {
    tell(Rule::more_pages, {},
         fmt::format("the text takes {} pages, its source {}", layout.pages.size(),
                     source.pages.size()));
  }
  if (rows && layout.rows.size() > source.rows.size()) {
    tell(Rule::more_rows, {},
         fmt::format("the text takes {} rows, its source {}", layout.rows.size(),
                     source.rows.size()));
  }
}

void TextChecks::Impl::check_lone_letters(const TextView& view, const Layout& layout) {
  if (layout.rows.size() < 2) return;
  for (const Row& row : layout.rows) {
    const bool lone = row.end_ink_step == row.first_step + 1 &&
                      view.steps->kinds[row.first_step] == StepKind::letter;
    const bool written =
        row.first_step > 0 && view.steps->kinds[row.first_step - 1] == StepKind::row_end;
    if (!lone || written) continue;
    tell(Rule::lone_letter,
         in_source(view, view.bytes(row.first_step, row.end_ink_step), typesetter.vocabulary()),
         "a row holds this letter alone");
  }
}

namespace {

// The letters that had come when the last ones do: those take no time of the line. Of a line that
// comes at once there are none.
double letters_before_last(const Schedule& schedule) {
  const auto& onsets = schedule.onsets;
  if (onsets.empty()) return 0;
  const auto last = std::lower_bound(onsets.begin(), onsets.end(), onsets.back());
  return schedule.letters * static_cast<double>(last - onsets.begin()) /
         static_cast<double>(onsets.size());
}

}  // namespace

void TextChecks::Impl::check_times(const DialogueLine& line, const Schedule& schedule) {
  constexpr double least_letters = 8;  // shorter ones are seen at a glance
  if (schedule.letters < least_letters) return;
  const double seconds = in_seconds(schedule.duration);
  const double fastest = wishes.limit(Limit::fastest);
  const double rate = seconds > 0 ? letters_before_last(schedule) / seconds : 0;
  if (rate > fastest) {
    const Rule rule = line.pace->fit ? Rule::fitted_too_fast : Rule::too_fast;
    tell(rule, {},
         fmt::format("{:.0f} letters a second, and nobody reads more than {:.0f}", rate, fastest));
  }
  if (!line.automatic || line.automatic->reading || !wishes.has(Rule::unread_advance)) return;
  const double stands = seconds + in_seconds(line.automatic->after);
  const double needed = schedule.letters / wishes.limit(Limit::reading);
  if (stands < needed) {
    tell(Rule::unread_advance, {},
         fmt::format("the line is gone after {:.1f} s and takes {:.1f} s to read", stands, needed),
         "auto: reading waits until it can be read");
  }
}

// Whether a game puts words into a text, so that nobody can have spoken all of them.
bool has_values(const MarkedText& marked) {
  return std::any_of(marked.spans.begin(), marked.spans.end(), [](const Span& span) {
    return std::holds_alternative<tag::Value>(span.what) ||
           std::holds_alternative<tag::Plural>(span.what) ||
           std::holds_alternative<tag::Select>(span.what);
  });
}

void TextChecks::Impl::check_timing(const DialogueLine& line, const SpokenClip& clip,
                                    const MarkedText& marked) {
  if (line.voice_sync == VoiceSync::free) return;
  if (line.timing == nullptr) {
    return tell(Rule::no_voice_timing, {}, "the line does not keep step with its voice",
                "arvik voices align writes when the clip speaks the words");
  }
  const VoiceTiming& timing = *line.timing;
  const bool other_clip = clip.fingerprint != 0 && timing.clip != clip.fingerprint;
  const bool other_text = timing.text != text_fingerprint(marked.text) && !has_values(marked);
  if (other_clip || other_text) {
    return tell(Rule::stale_voice_timing, {},
                std::string("the timing of the clip was made from another ") +
                    (other_clip ? "recording" : "text"),
                "arvik voices align makes it anew");
  }
  if (timing.end <= timing.begin) {
    return tell(Rule::doubtful_voice_timing, {}, "nobody speaks in the clip");
  }
  if (line.voice_sync == VoiceSync::align && !timing.given && timing.anchors.empty()) {
    tell(
        Rule::doubtful_voice_timing, {},
        fmt::format("the clip does not sound like the line (confidence {:.2f})", timing.confidence),
        "listen to it; \"voice_timing\": \"fit\" says that it is right");
  }
}

void TextChecks::Impl::check_voice(const DialogueLine& line, const Schedule& schedule,
                                   const MarkedText& marked) {
  if (job.is_made_up) return;
  const TextRef& of = ref(text_);
  if (line.voice.empty()) {
    const DialogueLine& source = job.source->conversations[of.conversation].lines[of.line];
    if (!job.is_source && job.has_voices && !source.voice.empty() &&
        wishes.has(Rule::missing_voice)) {
      tell(Rule::missing_voice, {},
           "the line is not spoken in the locale " + quoted_word(job.locale));
    }
    return;
  }
  uses.clips.insert(line.voice);
  if (!job.clips->can_read()) return;
  const auto named = job.clip_names.find(line.voice);
  if (named == job.clip_names.end()) return;  // the game's own
  const auto clip = job.clips->find(job.script->clips[named->second].file);
  if (!clip) {
    return tell(Rule::unreadable_voice, {}, clip.error().message);
  }
  const double spoken = in_seconds(clip->length - clip->lead - clip->tail);
  const double letters = schedule.letters;
  const double most = letters / wishes.limit(Limit::slowest_speech) + 2;
  if (wishes.has(Rule::short_voice) && spoken < letters / wishes.limit(Limit::fastest_speech)) {
    tell(Rule::short_voice, {},
         fmt::format("{:.1f} s of speech for {:.0f} letters", spoken, letters));
  }
  if (wishes.has(Rule::long_voice) && letters > 0 && spoken > most) {
    tell(Rule::long_voice, {},
         fmt::format("{:.1f} s of speech for {:.0f} letters", spoken, letters));
  }
  if (!marked.text.empty()) check_timing(line, *clip, marked);
  if (!wishes.has(Rule::silent_edge)) return;
  const double silence = wishes.limit(Limit::silence);
  if (in_seconds(clip->lead) > silence) {
    tell(Rule::silent_edge, {},
         fmt::format("the clip begins with {:.1f} s of silence", in_seconds(clip->lead)));
  }
  if (in_seconds(clip->tail) > 2 * silence) {
    tell(Rule::silent_edge, {},
         fmt::format("the clip ends with {:.1f} s of silence", in_seconds(clip->tail)));
  }
}

const Speaker* TextChecks::Impl::find_speaker(const std::string& id) const {
  const auto found = job.speakers.find(id);
  return found == job.speakers.end() ? nullptr : &job.source->cast[found->second];
}

void TextChecks::Impl::note_uses(const DialogueLine* line, const MarkedText& marked) {
  for (const Span& span : marked.spans) {
    if (const auto* look = std::get_if<tag::Look>(&span.what)) {
      if (!look->style.empty()) uses.styles.insert(look->style);
    } else if (const auto* typing = std::get_if<tag::Typing>(&span.what)) {
      uses.typing.insert(typing->name);
    }
  }
  for (const Point& point : marked.points) {
    if (const auto* sound = std::get_if<tag::Sound>(&point.what)) {
      uses.clips.insert(sound->name);
    } else if (const auto* portrait = std::get_if<tag::Portrait>(&point.what)) {
      if (line != nullptr) uses.portraits.insert(line->speaker + "." + portrait->name);
    }
  }
}

// Lines that stand in a box together.
void TextChecks::Impl::check_together(const std::vector<std::uint32_t>& lines) {
  std::vector<PartSource> parts;
  for (const std::uint32_t index : lines) {
    const DialogueLine& line = line_of(ref(index));
    parts.push_back({line.text, &*line.pace, {}});
  }
  values.begin({}, typesetter.vocabulary());
  begin_text();
  text_ = lines[0];
  const auto prepared = typesetter.prepare_together(parts, nullptr, *job.font, job.box);
  if (!prepared) return tell(prepared.error(), {});
  std::size_t at = 0;
  for (std::size_t i = 0; i < lines.size(); ++i) {
    const TextRef& of = ref(lines[i]);
    const DialogueLine& line = line_of(of);
    const PreparedPart& part = prepared->parts[i];
    text_ = lines[i];
    begin_text();
    written_ = line.text;
    source_ = text_in(*job.source, of);
    before_ = i > 0 ? std::string_view(line_of(ref(lines[i - 1])).text) : std::string_view();
    behind_ = i + 1 < lines.size() ? std::string_view(line_of(ref(lines[i + 1])).text)
                                   : std::string_view();
    appended_ = i > 0;
    followed_ = i + 1 < lines.size();
    own_text_ = has_own_text(line.id);
    const TextView view{written_, &part.marked, &part.steps, &part.boundaries};
    if (is_missing(line.id, source_)) {
      tell_missing();
    } else {
      check_view(view, part.schedule, nullptr);
      check_layout(view, prepared->layout, {at, at + view.plain().size()});
      check_voice(line, part.schedule, part.marked);
    }
    at += view.plain().size();
  }
}

void TextChecks::Impl::check_own(const std::string& key, std::string_view source,
                                 std::string_view text, std::vector<RawFinding>& to) {
  out_ = &to;
  begin_text();
  text_ = no_text;
  own_key_ = key;
  written_ = text;
  source_ = source;
  before_ = behind_ = {};
  appended_ = followed_ = false;
  own_text_ = true;
  const std::size_t passes = values.begin(text, typesetter.vocabulary());
  for (std::size_t pass = 0; pass < passes; ++pass) {
    values.go_to(pass);
    typesetter.read(text, line_.marked, line_.steps);
    line_.boundaries = read_boundaries(line_.marked.text, line_.steps, typesetter.language());
    const TextView view{written_, &line_.marked, &line_.steps, &line_.boundaries};
    note_uses(nullptr, line_.marked);
    check_markup(view, nullptr);
    check_writing(view);
  }
}

TextChecks::TextChecks(std::unique_ptr<Impl> impl) : impl_(std::move(impl)) {}
TextChecks::TextChecks(TextChecks&&) noexcept = default;
TextChecks& TextChecks::operator=(TextChecks&&) noexcept = default;
TextChecks::~TextChecks() = default;

tl::expected<TextChecks, Diagnostic> TextChecks::open(const Job& job) {
  auto language = Language::open(job.is_made_up ? job.source->source_locale : job.locale);
  if (!language) return tl::unexpected(std::move(language.error()));
  auto source = Language::open(job.source->source_locale);
  if (!source) return tl::unexpected(std::move(source.error()));
  return TextChecks(std::make_unique<Impl>(job, std::move(*language), std::move(*source)));
}

void TextChecks::check(std::uint32_t begin, std::uint32_t end, std::vector<RawFinding>& out) {
  impl_->check(begin, end, out);
}
void TextChecks::check_own(const std::string& key, std::string_view source, std::string_view text,
                           std::vector<RawFinding>& out) {
  impl_->check_own(key, source, text, out);
}
const Uses& TextChecks::uses() const { return impl_->uses; }

}  // namespace arvik::checking
