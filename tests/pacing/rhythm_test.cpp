// Units, fitted durations, jitter and pauses of single characters: what shapes a whole line.
#include <catch2/catch.hpp>
#include <cmath>
#include <limits>
#include <set>

#include "arvik/arvik.hpp"
#include "support/english.hpp"
#include "support/generator.hpp"

using namespace arvik;
using namespace std::chrono_literals;
using test::english;
using test::timed;

namespace {

Nanoseconds pauses_of(const Schedule& schedule) {
  Nanoseconds sum{};
  for (const StepPause& pause : schedule.pauses) sum += pause.automatic + pause.written;
  return sum;
}

// Marks of every kind, pauses, holds, rates, words and rows at once.
std::string random_line(test::Random& random) {
  static const char* pieces[] = {"the tide ",
                                 "clock",
                                 ". ",
                                 "wait, ",
                                 "— ",
                                 "[hold]",
                                 "[pause 300ms]",
                                 "[mark x]",
                                 "[rate x0.5: slow one] ",
                                 "[whole: all at once] ",
                                 "[by word: one two three] ",
                                 "[by row: this row, all of it[br]and this] ",
                                 "水門。",
                                 "[sound s]"};
  std::string line;
  const std::size_t count = 1 + test::below(random, 12);
  for (std::size_t i = 0; i < count; ++i) line += pieces[test::below(random, std::size(pieces))];
  return line;
}

Pace random_pace(test::Random& random) {
  Pace pace;
  pace.rate = 5 + static_cast<double>(test::below(random, 60));
  pace.unit = static_cast<RevealUnit>(test::below(random, 4));
  pace.jitter = static_cast<double>(test::below(random, 3)) / 2;
  pace.seed = random();
  return pace;
}

void check_order(const Schedule& schedule) {
  REQUIRE(std::is_sorted(schedule.onsets.begin(), schedule.onsets.end()));
  Nanoseconds last{};
  for (const Event& event : schedule.events) {
    REQUIRE(event.time >= last);
    if (event.step > 0) REQUIRE(event.time >= schedule.onsets[event.step - 1]);
    if (event.step < schedule.onsets.size()) REQUIRE(event.time <= schedule.onsets[event.step]);
    last = event.time;
  }
  REQUIRE(last == schedule.duration);
}

}  // namespace

TEST_CASE("a fitted line lasts exactly as long as asked, whatever is in it") {
  test::Random random(41);
  for (int i = 0; i < 3000; ++i) {
    const std::string line = random_line(random);
    INFO(line);
    Pace pace = random_pace(random);
    pace.fit = Nanoseconds(1 + static_cast<std::int64_t>(random() % 10'000'000'000ULL));
    for (const FitPauses pauses : {FitPauses::scale, FitPauses::keep}) {
      pace.fit_pauses = pauses;
      const Schedule fitted = timed(line, pace);
      REQUIRE(fitted.duration == *pace.fit);
      check_order(fitted);
    }
  }
}

TEST_CASE("fitting scales pauses with the rest, or keeps them") {
  Pace pace{.rate = 10, .sentence = 400ms};
  const std::string line = "ab. cd";  // five intervals and a pause: 900 ms
  CHECK(timed(line, pace).duration == 900ms);
  pace.fit = 1800ms;
  CHECK(timed(line, pace).onsets[3] == 1400ms);
  CHECK(pauses_of(timed(line, pace)) == 800ms);
  pace.fit_pauses = FitPauses::keep;
  CHECK(timed(line, pace).onsets[3] == 1240ms);  // intervals of 280 ms
  CHECK(pauses_of(timed(line, pace)) == 400ms);
  pace.fit = 400ms;  // just the pause
  CHECK(timed(line, pace).onsets == std::vector<Nanoseconds>{0ms, 0ms, 0ms, 400ms, 400ms, 400ms});
  CHECK(timed(line, pace).diagnostics.empty());
  pace.fit = 90ms;
  const Schedule tight = timed(line, pace);
  CHECK(tight.duration == 90ms);
  CHECK(pauses_of(tight) == 40ms);
  REQUIRE(tight.diagnostics.size() == 1);
  CHECK(tight.diagnostics[0].code == DiagnosticCode::fit_too_short);
  CHECK(tight.diagnostics[0].severity == Severity::warning);
  CHECK(
      tight.diagnostics[0].message ==
      "the pauses alone last 400 ms, but the line must last 90 ms; the pauses are shortened, too");
}

TEST_CASE("a line with nothing to scale rests at its end") {
  for (const char* line : {"", "a", "[whole: all of it]", "[hold]", "a[mark x]"}) {
    INFO(line);
    const Schedule fitted = timed(line, {.fit = 2s});
    CHECK(fitted.duration == 2s);
    check_order(fitted);
  }
}

TEST_CASE("written pauses and events are fitted, too") {
  const Schedule fitted = timed("a[pause 1s][mark m]b", {.rate = 1, .fit = 1s});
  CHECK(fitted.onsets[1] == 1s);
  CHECK(fitted.events[0].time == 1s);
  CHECK(fitted.pauses[0].written == 500ms);
}

TEST_CASE("least and most bound a line and leave others alone") {
  const Pace pace{.rate = 10, .least = 500ms, .most = 2s};
  CHECK(timed("abc", pace).duration == 500ms);
  CHECK(timed("abcdefghijk", pace).duration == 1s);
  CHECK(timed(std::string(100, 'a'), pace).duration == 2s);
  Pace keep{.rate = 10, .sentence = 100ms, .least = 700ms, .fit_pauses = FitPauses::keep};
  CHECK(pauses_of(timed("a. b", keep)) == 100ms);
}

TEST_CASE("units show words, rows and lines at once") {
  const auto groups = [](const std::string& text, RevealUnit unit, const RowStarts& starts = {}) {
    const Schedule schedule = timed(text,
                                    {.rate = 10,
                                     .sentence = {},
                                     .clause = {},
                                     .dash = {},
                                     .ellipsis = {},
                                     .row_end = {},
                                     .unit = unit},
                                    starts);
    std::string out;
    const MarkedText marked = parse(text);
    const Steps steps = english().segment(marked.text);
    for (std::uint32_t i = 0; i < steps.size(); ++i) {
      if (i > 0 && schedule.onsets[i] != schedule.onsets[i - 1]) out += '|';
      out += steps.text(marked.text, i);
    }
    return out;
  };
  CHECK(groups("Mind the gap.", RevealUnit::step) == "M|i|n|d| |t|h|e| |g|a|p|.");
  CHECK(groups("Mind the gap.", RevealUnit::word) == "Mind |the |gap.");
  CHECK(groups("“Well-known,” he said (twice) — don’t!", RevealUnit::word) ==
        "“Well-known,” |he |said |(twice) — |don’t!");
  CHECK(groups("in 3.14 s at 10:30, …then", RevealUnit::word) == "in |3.14 |s |at |10:30, |…then");
  CHECK(groups("Bonjour\u00a0! Oui", RevealUnit::word) == "Bonjour\u00a0! |Oui");
  CHECK(groups("水門の時計は「動く」。", RevealUnit::word) == "水門|の|時計|は|「動く」。");
  CHECK(groups("นาฬิกาน้ำหยุด", RevealUnit::word) == "นาฬิกา|น้ำ|หยุด");
  CHECK(groups("ساعة المد توقفت", RevealUnit::word) == "ساعة |المد |توقفت");
  CHECK(groups("a b\nc d", RevealUnit::row) == "a b\n|c d");
  CHECK(groups("a b c d", RevealUnit::row, {.rows = {4}}) == "a b |c d");
  CHECK(groups("a. b\nc d", RevealUnit::line) == "a. b\nc d");
}

TEST_CASE("words and rows keep the rate of their letters, lines take no time") {
  const std::string text = "the tide clock stopped";
  const Nanoseconds by_step = timed(text, {}).duration;
  // The last word comes at its begin, where its first letter would have come.
  CHECK(timed(text, {.unit = RevealUnit::word}).duration == by_step - 6 * interval_of(30));
  CHECK(timed(text, {.unit = RevealUnit::row}, {.rows = {9}}).onsets[9] == 9 * interval_of(30));
  CHECK(timed(text, {.unit = RevealUnit::line}).duration == 0s);
  CHECK(timed("ab[pause 1s]cd", {.unit = RevealUnit::line}).duration == 1s);
  CHECK(timed("one. [by word: two three]", {.rate = 10, .unit = RevealUnit::line}).onsets[9] ==
        400ms);
}

TEST_CASE("rows of the layout reach the schedule") {
  Typesetter typesetter(Language::open("en").value());
  const PreparedLine line =
      typesetter.prepare("[by row: the tide clock stopped at noon]", {}, GridFont(), {.width = 15})
          .value();
  REQUIRE(line.layout.rows.size() == 2);
  std::set<Nanoseconds> onsets(line.schedule.onsets.begin(), line.schedule.onsets.end());
  CHECK(onsets.size() == 2);
}

TEST_CASE("jitter is uneven, keeps every duration, and comes from the seed alone") {
  test::Random random(43);
  int moved = 0;
  for (int i = 0; i < 2000; ++i) {
    const std::string line = random_line(random);
    INFO(line);
    Pace pace = random_pace(random);
    pace.jitter = 0;
    const Schedule even = timed(line, pace);
    pace.jitter = 0.25 * static_cast<double>(1 + test::below(random, 4));
    const Schedule uneven = timed(line, pace);
    check_order(uneven);
    REQUIRE(uneven.duration == even.duration);
    REQUIRE(uneven.onsets == timed(line, pace).onsets);
    // The slowest rate in any line, and the heaviest step.
    const std::int64_t most = 3 * interval_of(pace.rate / 2).count();
    for (std::size_t s = 0; s < even.onsets.size(); ++s) {
      const auto shift = std::abs((uneven.onsets[s] - even.onsets[s]).count());
      REQUIRE(static_cast<double>(shift) <= pace.jitter / 2 * static_cast<double>(most) + 1);
    }
    for (std::size_t e = 0; e < even.events.size(); ++e) {
      REQUIRE(uneven.events[e].kind == even.events[e].kind);
    }
    if (uneven.onsets != even.onsets) ++moved;
    pace.seed += 1;
    if (uneven.onsets != even.onsets) CHECK(timed(line, pace).onsets != uneven.onsets);
  }
  CHECK(moved > 500);
}

TEST_CASE("jitter uses all of its range, evenly to both sides") {
  const Schedule schedule = timed(std::string(10'000, 'a'), {.rate = 10, .jitter = 1});
  double sum = 0;
  double least = 0;
  double most = 0;
  for (std::size_t i = 0; i < schedule.onsets.size(); ++i) {
    const double shift =
        std::chrono::duration<double>(schedule.onsets[i]).count() - static_cast<double>(i) * 0.1;
    sum += shift;
    least = std::min(least, shift);
    most = std::max(most, shift);
  }
  CHECK(std::abs(sum / 10'000) < 0.001);
  CHECK(least < -0.049);
  CHECK(most > 0.049);
}

TEST_CASE("a character rests as the pace says, in runs, too") {
  const auto pause = [](const std::string& text, const Pace& pace) {
    return pauses_of(timed(text, pace));
  };
  const Pace pace{.characters = {{"♪", 300ms}, {"!", {}}, {"z", 50ms}, {"👍🏽", 70ms}}};
  CHECK(pause("la ♪ la", pace) == 300ms);
  CHECK(pause("la♪, la", pace) == 300ms);  // one rest for the run, the longest
  CHECK(pause("Stop! Go", pace) == 0ms);
  CHECK(pause("Stop?! Go", pace) == 240ms);
  CHECK(pause("azb", pace) == 50ms);
  CHECK(pause("a👍🏽b", pace) == 70ms);
  CHECK(pause("“la ♪” la", pace) == 300ms);
  CHECK(pause("la ♪", pace) == 0ms);  // never delays the finish
  CHECK(timed("la ♪ la", pace).pauses[0].reason == BoundaryKind::character);
  CHECK(pause("♪ a", {.characters = {{"♪", 1ms}, {"♪", 2ms}}}) == 2ms);
}

TEST_CASE("a stretch in another language has that language's abbreviations and words") {
  const auto pauses = [](const std::string& text) { return timed(text, {}).pauses.size(); };
  CHECK(pauses("Er sagt Hr. Pell ist da") == 1);
  CHECK(pauses("Er sagt [lang de: Hr. Pell] ist da") == 0);
  CHECK(pauses("[lang de: Ja, [lang en: Dr. Pell] Hr. Pell]") == 1);
  std::vector<LanguageRun> runs;
  const MarkedText marked = parse("a[lang ja: b[lang ko: c]d][lang xx: e]f");
  find_languages(marked, english().segment(marked.text), runs);
  std::string described;
  for (const LanguageRun& run : runs) {
    described += run.tag + std::to_string(run.first_step) + std::to_string(run.end_step) + ' ';
  }
  CHECK(described == "ja12 ko23 ja34 xx45 ");
}

TEST_CASE("a stretch in another language breaks its rows as that language does") {
  // In loose style a small kana may begin a row, in strict style not.
  const auto width_4 = [](const std::string& markup) {
    const MarkedText marked = parse(markup);
    const Steps steps = english().segment(marked.text);
    const Layout layout = lay_out(marked, steps, english(), GridFont(), {.width = 4}).value();
    std::string ends;
    for (const Row& row : layout.rows) ends += std::to_string(row.end_step) + ' ';
    return ends;
  };
  CHECK(width_4("[lang ja-u-lb-strict: うあぉう]") == "1 3 4 ");
  CHECK(width_4("[lang ja-u-lb-loose: うあぉう]") == "2 4 ");
}

TEST_CASE("values of a pace out of range are refused by name") {
  const auto problem = [](const Pace& pace) { return find_problem(pace).value().message; };
  CHECK(problem({.jitter = -0.1}) == "jitter is out of range: it must be 0 to 100%");
  CHECK(problem({.jitter = 1.01}) == "jitter is out of range: it must be 0 to 100%");
  CHECK(problem({.jitter = std::numeric_limits<double>::quiet_NaN()}) ==
        "jitter is out of range: it must be 0 to 100%");
  CHECK(problem({.fit = 0s}) == "fit is out of range: a duration is more than 0, to one hour");
  CHECK(problem({.least = -1s}) == "least is out of range: a duration is more than 0, to one hour");
  CHECK(problem({.most = 2h}) == "most is out of range: a duration is more than 0, to one hour");
  CHECK(problem({.least = 2s, .most = 1s}) == "least is longer than most");
  CHECK(problem({.fit = 1s, .most = 1s}) ==
        "fit says how long a line lasts, so least and most have nothing to say");
  CHECK(problem({.characters = {{"♪", -1ms}}}) ==
        "the pause after \"♪\" is out of range: a pause is 0 to one hour");
  CHECK(problem({.characters = {{"", 1ms}}}) == "a pause is given for a character that is empty");
  CHECK_FALSE(find_problem({.least = 1s, .most = 1s}).has_value());
}
