// Locale by locale, several threads share the texts. What they find is put into one order, so that
// it does not matter who found it. Guarded by tests/check.

#include "arvik/check.hpp"

#include <algorithm>
#include <exception>
#include <filesystem>
#include <thread>
#include <tuple>

#include "../unicode/written.hpp"
#include "arvik/locale.hpp"
#include "arvik/read_file.hpp"
#include "arvik/translation.hpp"
#include "job.hpp"
#include "locator.hpp"

namespace arvik {
namespace checking {
namespace {

constexpr std::uint32_t chunk_texts = 256;

bool fits(std::string_view pattern, std::string_view key) {
  const std::size_t star = pattern.find('*');
  if (star == std::string_view::npos) return pattern == key;
  const std::string_view rest = pattern.substr(star + 1);
  if (!key.starts_with(pattern.substr(0, star))) return false;
  for (std::size_t at = star; at <= key.size(); ++at) {
    if (fits(rest, key.substr(at))) return true;
  }
  return false;
}

class Checker {
 public:
  Checker(const CheckedScript& input, const CheckOptions& options)
      : input_(input),
        options_(options),
        wishes_(input.map.wishes, options,
                [this](std::string message, std::string hint) {
                  raw_.push_back({.code = std::string(rule_of(Rule::unknown_code).code),
                                  .severity = rule_of(Rule::unknown_code).severity,
                                  .message = std::move(message),
                                  .hint = std::move(hint)});
                }),
        clips_(options.clip) {}

  tl::expected<CheckReport, Diagnostic> run() {
    CheckReport report;
    if (input_.script == nullptr) {
      Locator locator(input_, texts_);
      for (const Diagnostic& problem : input_.diagnostics) {
        report.findings.push_back(locator.locate(problem));
      }
      return report;
    }
    script_ = input_.script;
    if (auto problem = find_locales()) return tl::unexpected(std::move(*problem));
    list_texts();
    list_own_keys();
    const auto all = (texts_.size() + own_keys_.size()) * locales_.size();
    for (const std::string& locale : locales_) {
      if (is_stopped()) break;
      if (auto problem = check_locale(locale, all)) return tl::unexpected(std::move(*problem));
      report.locales.push_back(locale);
    }
    report.stopped = is_stopped();
    if (source_job_ && !report.stopped) {
      check_whole(*source_job_, options_, uses_, raw_);
      check_keys();
      check_unchecked();
    }
    report.texts = done_;
    put_in_order(report);
    return report;
  }

 private:
  [[nodiscard]] bool is_stopped() const {
    return options_.stop != nullptr && options_.stop->load();
  }

  std::optional<Diagnostic> find_locales() {
    for (const std::vector<std::string>* codes : {&options_.off, &options_.on}) {
      for (const std::string& code : *codes) {
        if (is_code(code)) continue;
        return Diagnostic{.code = DiagnosticCode::bad_value,
                          .message = "no finding has the code " + quoted_word(code),
                          .hint = std::string(nearest_code(code))};
      }
    }
    if (options_.locales.empty()) {
      locales_ = script_->locales;
      return std::nullopt;
    }
    // The source first: others are compared with it.
    for (const std::string& word : options_.locales) {
      auto localized = in_locale(script_, word);
      if (!localized) return std::move(localized.error());
      const std::string& tag = (*localized)->locale;
      if (std::find(locales_.begin(), locales_.end(), tag) == locales_.end()) {
        locales_.insert(tag == script_->source_locale ? locales_.begin() : locales_.end(), tag);
      }
    }
    return std::nullopt;
  }

  void list_texts() {
    const auto& conversations = script_->conversations;
    for (std::uint32_t c = 0; c < conversations.size(); ++c) {
      for (std::uint32_t l = 0; l < conversations[c].lines.size(); ++l) {
        const DialogueLine& line = conversations[c].lines[l];
        const bool new_block = l == 0 || !line.append;
        if (new_block && (chunks_.empty() || texts_.size() - chunks_.back() >= chunk_texts)) {
          chunks_.push_back(static_cast<std::uint32_t>(texts_.size()));
        }
        texts_.push_back({c, l, no_text});
        for (std::uint32_t i = 0; i < line.choices.size(); ++i) texts_.push_back({c, l, i});
      }
    }
    chunks_.push_back(static_cast<std::uint32_t>(texts_.size()));
  }

  // Texts of the tables that no line has: names of speakers, and what the script says the game has.
  void list_own_keys() {
    if (!script_->strings) return;
    std::set<std::string_view> known;
    for (const TextRef& of : texts_) known.insert(key_in(*script_, of));
    for (const StringsTable& table : script_->strings->tables()) {
      for (std::uint32_t row = 0; row < table.rows(); ++row) {
        const std::string_view key = table.key(row);
        if (!known.insert(key).second) continue;
        const bool is_name =
            key.starts_with("cast.") && script_->find_speaker(key.substr(5)) != nullptr;
        const auto& own = input_.map.wishes.own_keys;
        const bool is_own = std::any_of(
            own.begin(), own.end(), [&](const std::string& pattern) { return fits(pattern, key); });
        (is_name || is_own ? own_keys_ : unused_keys_).emplace_back(key);
      }
    }
  }

  std::optional<Diagnostic> check_locale(const std::string& locale, std::size_t all) {
    auto localized = in_locale(script_, locale);
    if (!localized) return std::move(localized.error());
    auto job = std::make_shared<Job>();
    job->input = &input_;
    job->texts = &texts_;
    job->wishes = &wishes_;
    job->clips = &clips_;
    job->source = source_script();
    job->script = std::move(*localized);
    job->locale = locale;
    job->chain = locale_chain(locale);
    if (job->chain.empty()) job->chain.push_back(locale);
    const std::string& source = script_->source_locale;
    job->language = locale.substr(0, locale.find('-'));
    job->source_language = source.substr(0, source.find('-'));
    job->is_source = locale == source;
    job->inherits_source =
        std::find(job->chain.begin(), job->chain.end(), source) != job->chain.end();
    const auto& known = script_->locales;
    job->is_made_up = (locale == accented_locale || locale == right_to_left_locale) &&
                      std::find(known.begin(), known.end(), locale) == known.end();
    job->source_letters = script_of(script_->source_locale);
    job->letters = script_of(locale);
    job->common_words = common_words();
    job->font = open_font(*job->script);
    if (options_.faces) job->faces = options_.faces(*job->script);
    job->source_font = job->is_source ? job->font : source_font_;
    if (job->is_source) source_font_ = job->font;
    if (job->source_font == nullptr) {
      source_font_ = job->source_font = open_font(*job->source);
    }
    job->box = options_.box.value_or(job->script->box);
    job->source_box = options_.box.value_or(job->source->box);
    const auto name = [](const auto& entry) -> std::string_view { return entry.name; };
    job->sounds = script::index_of(job->script->sounds, name);
    job->clip_names = script::index_of(job->script->clips, name);
    job->speakers = script::index_of(
        job->source->cast, [](const Speaker& speaker) -> std::string_view { return speaker.id; });
    for (const ScriptConversation& conversation : job->script->conversations) {
      job->has_voices = job->has_voices ||
                        std::any_of(conversation.lines.begin(), conversation.lines.end(),
                                    [](const DialogueLine& line) { return !line.voice.empty(); });
    }
    if (auto problem = run_threads(*job, all)) return problem;
    if (job->is_source) source_job_ = std::move(job);
    return std::nullopt;
  }

  std::shared_ptr<const CommonWords> common_words() {
    if (common_words_ == nullptr) {
      auto words = std::make_shared<CommonWords>();
      const auto source = source_script();
      for (const TextRef& of : texts_) words->add(text_in(*source, of));
      common_words_ = std::move(words);
    }
    return common_words_;
  }

  std::shared_ptr<const Script> source_script() const {
    return in_locale(script_, script_->source_locale).value_or(script_);
  }

  std::shared_ptr<const Font> open_font(const Script& localized) {
    if (options_.font) {
      auto font = options_.font(localized);
      if (font) return std::move(*font);
      raw_.push_back({.code = std::string(diagnostic_name(font.error().code)),
                      .severity = font.error().severity,
                      .message = font.error().message,
                      .locale = localized.locale});
    }
    return std::make_shared<const GridFont>();
  }

  // Each thread takes the next chunk until none is left.
  std::optional<Diagnostic> run_threads(const Job& job, std::size_t all) {
    const std::size_t chunks = chunks_.size() - 1;
    std::vector<std::vector<RawFinding>> found(chunks + 1);  // the last: the own texts
    const unsigned wanted = options_.threads != 0
                                ? options_.threads
                                : std::max(1U, std::thread::hardware_concurrency());
    const std::size_t count = std::clamp<std::size_t>(wanted, 1, std::max<std::size_t>(chunks, 1));
    std::atomic<std::size_t> next{0};
    std::vector<Uses> uses(count);
    std::vector<std::exception_ptr> failures(count);
    std::vector<std::optional<Diagnostic>> problems(count);
    const auto work = [&](std::size_t self) {
      try {
        auto checks = TextChecks::open(job);
        if (!checks) {
          problems[self] = std::move(checks.error());
          return;
        }
        for (std::size_t i = next++; i <= chunks && !is_stopped(); i = next++) {
          if (i < chunks) {
            checks->check(chunks_[i], chunks_[i + 1], found[i]);
            tell_progress(chunks_[i + 1] - chunks_[i], all);
          } else {
            check_own_texts(job, *checks, found[i]);
            tell_progress(own_keys_.size(), all);
          }
        }
        uses[self] = checks->uses();
      } catch (...) {
        failures[self] = std::current_exception();
      }
    };
    std::vector<std::thread> threads;
    for (std::size_t i = 1; i < count; ++i) threads.emplace_back(work, i);
    work(0);
    for (std::thread& thread : threads) thread.join();
    for (const std::exception_ptr& failure : failures) {
      if (failure != nullptr) std::rethrow_exception(failure);
    }
    for (auto& problem : problems) {
      if (problem) return std::move(problem);
    }
    for (const Uses& of_thread : uses) uses_.add(of_thread);
    for (auto& findings : found) {
      drop_even(job, findings);
      raw_.insert(raw_.end(), std::move_iterator(findings.begin()),
                  std::move_iterator(findings.end()));
    }
    return std::nullopt;
  }

  void tell_progress(std::size_t texts, std::size_t all) {
    const std::lock_guard lock(progress_mutex_);
    done_ += texts;
    if (options_.progress) options_.progress(done_, all);
  }

  void check_own_texts(const Job& job, TextChecks& checks, std::vector<RawFinding>& out) const {
    if (job.is_made_up) return;
    for (const std::string& key : own_keys_) {
      const auto source = script_->strings->text(key, script_->source_locale);
      const auto text = script_->strings->text(key, job.chain);
      if (text) {
        if (!job.is_source && !script_->strings->text(key, job.locale)) continue;  // a parent's
        checks.check_own(key, source.value_or(""), *text, out);
      } else if (!job.inherits_source && (!source || !source->empty())) {
        const auto code = diagnostic_name(DiagnosticCode::missing_text);
        if (!wishes_.has(code)) continue;
        out.push_back({.code = std::string(code),
                       .message = "there is no text in the locale " + quoted_word(job.locale),
                       .key = key,
                       .locale = job.locale,
                       .is_missing = true});
      }
    }
  }

  // Where most letters of a locale are written in several characters, those are no mistake.
  void drop_even(const Job& job, std::vector<RawFinding>& findings) {
    const std::string_view code = rule_of(Rule::mixed_composition).code;
    const auto is_one = [&](const RawFinding& finding) { return finding.code == code; };
    if (std::none_of(findings.begin(), findings.end(), is_one)) return;
    if (!composed_.contains(job.locale)) composed_[job.locale] = is_mostly_composed(job);
    if (!composed_[job.locale]) std::erase_if(findings, is_one);
  }

  [[nodiscard]] bool is_mostly_composed(const Job& job) const;
  void check_keys();
  void check_unchecked();
  void put_in_order(CheckReport& report);

  const CheckedScript& input_;
  const CheckOptions& options_;
  std::vector<RawFinding> raw_;
  Wishes wishes_;
  Clips clips_;
  std::shared_ptr<const Script> script_;
  std::vector<std::string> locales_;
  std::vector<TextRef> texts_;
  std::vector<std::uint32_t> chunks_;  // where each begins, and the end
  std::vector<std::string> own_keys_, unused_keys_;
  std::shared_ptr<const CommonWords> common_words_;
  std::shared_ptr<const Font> source_font_;
  std::shared_ptr<const Job> source_job_;
  Uses uses_;
  std::mutex progress_mutex_;
  std::size_t done_ = 0;
  std::map<std::string, bool> composed_;  // by locale
};

bool Checker::is_mostly_composed(const Job& job) const {
  std::size_t composed = 0, decomposed = 0;
  for (const TextRef& of : texts_) {
    const std::string& text = text_in(*job.script, of);
    const TextRange found = unicode::find_decomposed(text);
    if (found.begin != found.end) {
      ++decomposed;
    } else if (unicode::has_composed(text)) {
      ++composed;
    }
  }
  return composed >= decomposed;
}

void Checker::check_keys() {
  if (!wishes_.has(Rule::unused_key)) return;
  for (const std::string& key : unused_keys_) {
    raw_.push_back({.code = std::string(rule_of(Rule::unused_key).code),
                    .severity = rule_of(Rule::unused_key).severity,
                    .message = "nothing in the script has the key " + quoted_word(key),
                    .hint = "check.own_keys says which texts are the game's own",
                    .key = key});
  }
}

// Codes that lines are not checked for and that are none.
void Checker::check_unchecked() {
  if (!wishes_.has(Rule::unknown_code)) return;
  const auto look = [&](const UncheckedCode& code, std::uint32_t text, const std::string& key,
                        const ScriptSpot& spot) {
    if (is_code(code.code)) return;
    raw_.push_back({.code = std::string(rule_of(Rule::unknown_code).code),
                    .severity = rule_of(Rule::unknown_code).severity,
                    .message = "no finding has the code " + quoted_word(code.code),
                    .hint = std::string(nearest_code(code.code)),
                    .text = text,
                    .key = key,
                    .spot = spot});
  };
  for (const auto& [text, words] : input_.map.unchecked) {
    const ScriptSpot& spot = input_.map.texts[text].whole;
    for (const std::string& word : words) look(read_unchecked(word), no_text, {}, spot);
  }
  if (!script_->strings) return;
  for (const StringsTable& table : script_->strings->tables()) {
    const auto column = table.find_column(unchecked_header);
    if (!column) continue;
    for (std::uint32_t row = 0; row < table.rows(); ++row) {
      for (const UncheckedCode& code : read_unchecked_cell(table.cell(row, *column))) {
        look(code, no_text, std::string(table.key(row)), {});
      }
    }
  }
}

void Checker::put_in_order(CheckReport& report) {
  Locator locator(input_, texts_);
  for (const Diagnostic& problem : input_.diagnostics) {
    if (wishes_.has(diagnostic_name(problem.code))) {
      report.findings.push_back(locator.locate(problem));
    }
  }
  for (const RawFinding& raw : raw_) {
    if (!locator.is_unchecked(raw)) report.findings.push_back(locator.locate(raw));
  }
  std::map<std::string_view, std::size_t> files, locales;
  files.emplace(input_.name, 0);
  for (const std::string& file : script_->files) files.emplace(file, files.size());
  for (const std::string& locale : locales_) locales.emplace(locale, locales.size() + 1);
  const auto place = [&](const Finding& finding) {
    const auto file = files.find(finding.file);
    const auto locale = locales.find(finding.locale);
    return std::tuple(file == files.end() ? files.size() : file->second, finding.range.begin,
                      locale == locales.end() ? 0 : locale->second);
  };
  std::stable_sort(report.findings.begin(), report.findings.end(),
                   [&](const Finding& a, const Finding& b) { return place(a) < place(b); });
}

CheckedScript make_checked(tl::expected<Script, std::vector<Diagnostic>> script,
                           CheckedScript checked) {
  if (!script) {
    checked.diagnostics = std::move(script.error());
    return checked;
  }
  checked.diagnostics = std::move(script->diagnostics);
  checked.script = std::make_shared<const Script>(std::move(*script));
  return checked;
}

}  // namespace
}  // namespace checking

CheckedScript parse_for_check(std::string_view json, const ScriptFiles& files, std::string name) {
  CheckedScript checked{.name = std::move(name)};
  auto script = parse_script(json, ScriptErrors::repair, files, checked.name, &checked.map);
  return checking::make_checked(std::move(script), std::move(checked));
}

tl::expected<CheckedScript, Diagnostic> load_for_check(const std::string& path) {
  const auto json = read_file(path);
  if (!json) return tl::unexpected(json.error());
  const std::filesystem::path whole(path);
  const std::string folder = whole.parent_path().string();
  return parse_for_check(*json, files_in(folder.empty() ? "." : folder), whole.filename().string());
}

tl::expected<CheckReport, Diagnostic> check(const CheckedScript& script,
                                            const CheckOptions& options) {
  return checking::Checker(script, options).run();
}

}  // namespace arvik
