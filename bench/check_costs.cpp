// arvik::check beside bare preparation of the same lines, on a grid and with a real font, with one
// thread and with two, and the memory of it all. Usage: check_costs LINES

#include <sys/resource.h>

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <string>
#include <thread>

#include "arvik/check.hpp"
#include "arvik/font_set.hpp"
#include "arvik/read_file.hpp"
#include "arvik/typesetter.hpp"

namespace {

using namespace arvik;

constexpr const char* font_file = "/usr/share/fonts/truetype/noto/NotoSerif-Regular.ttf";
constexpr int rounds = 5;

// Lines of 60 to 110 characters, all of them different.
std::string script_of(int lines) {
  static constexpr const char* sentences[] = {
      "The tide clock stopped at a quarter past four, and nobody saw it stop.",
      "Somebody has to talk to the wall; it has never once said anything back.",
      "Then why did it begin with you? You were not even on the pier that night!",
      "High water at ten past four. I have said so to this wall for forty years.",
      "Once? Well, twice. It was raining, and the handle was so very blue, Odrun."};
  std::string json =
      R"({"arvik_script": 1, "box": {"width": 46, "rows": 3}, "conversations": {"a": [)";
  for (int i = 0; i < lines; ++i) {
    json += (i > 0 ? ",\n" : "\n") + std::string(R"({"id": "line_)") + std::to_string(i) +
            R"(", "text": ")" + sentences[i % 5] + " Pipe " + std::to_string(i) + R"(."})";
  }
  return json + "]}}";
}

template <typename Work>
double seconds_of(Work work) {
  const auto begin = std::chrono::steady_clock::now();
  work();
  return std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
}

void fail(const char* what) {
  std::fprintf(stderr, "check_costs: %s\n", what);
  std::exit(1);
}

void prepare(const Script& script, const Font& font, const Box& box, std::size_t begin,
             std::size_t end) {
  Typesetter typesetter(Language::open(script.locale).value());
  typesetter.vocabulary().styles = script.styles;
  PreparedLine out;
  for (std::size_t i = begin; i < end; ++i) {
    const DialogueLine& line = script.conversations[0].lines[i];
    if (!typesetter.prepare(line.text, *line.pace, font, box, out)) fail("a line was not prepared");
  }
}

void check_all(const CheckedScript& script, const CheckOptions& options) {
  const auto report = check(script, options);
  if (!report || !report->findings.empty()) fail("there are findings");
}

void prepare_all(const Script& script, const Font& font, const Box& box, int threads) {
  const std::size_t lines = script.conversations[0].lines.size();
  std::vector<std::thread> others;
  const std::size_t share = lines / static_cast<std::size_t>(threads);
  for (int i = 1; i < threads; ++i) {
    const std::size_t begin = share * static_cast<std::size_t>(i);
    others.emplace_back([&, begin] { prepare(script, font, box, begin, begin + share); });
  }
  prepare(script, font, box, 0, share);
  for (std::thread& thread : others) thread.join();
}

// The best of some rounds of each, by turns, so that what the machine does else hits all alike.
void compare(const char* name, const CheckedScript& script, std::shared_ptr<const Font> font,
             const Box& box) {
  double bare = 1e9, bare_two = 1e9, one = 1e9, two = 1e9;
  CheckOptions options{.box = box};
  options.font = [&](const Script&) -> tl::expected<std::shared_ptr<const Font>, Diagnostic> {
    return font;
  };
  for (int round = 0; round < rounds; ++round) {
    bare = std::min(bare, seconds_of([&] { prepare_all(*script.script, *font, box, 1); }));
    bare_two = std::min(bare_two, seconds_of([&] { prepare_all(*script.script, *font, box, 2); }));
    options.threads = 1;
    one = std::min(one, seconds_of([&] { check_all(script, options); }));
    options.threads = 2;
    two = std::min(two, seconds_of([&] { check_all(script, options); }));
  }
  std::printf(
      "%s: one thread %.2f of bare preparation (%.2f s); two threads %.2f times as fast, and "
      "preparation alone %.2f times\n",
      name, one / bare, bare, one / two, bare / bare_two);
}

}  // namespace

int main(int argc, char** argv) {
  const int lines = argc > 1 ? std::atoi(argv[1]) : 100'000;
  const std::string json = script_of(lines);
  const CheckedScript script = parse_for_check(json);
  if (script.script == nullptr) fail("the script was not read");
  compare("grid", script, std::make_shared<const GridFont>(), script.script->box);
  rusage usage{};
  getrusage(RUSAGE_SELF, &usage);
  std::printf("%d lines, %.1f MB of JSON: peak memory %.0f MB\n", lines,
              static_cast<double>(json.size()) / 1e6, static_cast<double>(usage.ru_maxrss) / 1e3);
  const auto data = std::make_shared<const std::string>(read_file(font_file).value());
  compare("Noto Serif", script,
          std::make_shared<const FontSet>(FontSet::make({{.data = data}}, 20).value()),
          {.width = 480, .height = 90});
  return 0;
}
