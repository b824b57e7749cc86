// voice_tests "the table of docs/voices.md" prints it. Not among the tests of ctest: it takes
// minutes.
#include <catch2/catch.hpp>
#include <cstdio>
#include <functional>

#include "measure.hpp"

using namespace voices;

namespace {

void print_row(const std::string& name, const std::function<Errors(bool, Way)>& run) {
  const Errors paced = run(false, Way::paced);
  const Errors fitted = run(false, Way::fitted);
  const Errors clean = run(false, Way::aligned);
  const Errors noisy = run(true, Way::aligned);
  std::printf("| %s | %zu | %.0f / %.0f | %.0f / %.0f | %.0f / %.0f | %.0f / %.0f | %zu |\n",
              name.c_str(), clean.errors.size(), paced.median(), paced.nine_in_ten(),
              fitted.median(), fitted.nine_in_ten(), clean.median(), clean.nine_in_ten(),
              noisy.median(), noisy.nine_in_ten(), clean.doubtful + noisy.doubtful);
}

}  // namespace

TEST_CASE("the table of docs/voices.md", "[.]") {
  for (const auto& [title, speakers] :
       {std::pair("as tuned", known), std::pair("other voices", others)}) {
    for (const Sentences& sentences : all_sentences()) {
      print_row(sentences.language + ", " + title, [&, &who = speakers](bool noise, Way way) {
        return speak_all(sentences, who, noise, 1, way);
      });
    }
  }
  print_row("en, another synthesiser",
            [](bool noise, Way way) { return speak_all_otherwise(flite, noise, 1, way); });
}
