// Says how long a line lasts, by way of every library that it was built with.
#include <arvik/arvik.hpp>
#include <cstdio>
#ifdef WITH_script
#include <arvik/script_file.hpp>
#endif
#ifdef WITH_fonts
#include <arvik/font_set.hpp>
#endif
#ifdef WITH_audio
#include <arvik/mixer.hpp>
#endif
#ifdef WITH_draw
#include <arvik/draw.hpp>
#endif
#ifdef WITH_check
#include <arvik/check.hpp>
#endif
#ifdef WITH_c
#include <arvik/arvik.h>
#endif

int main() {
  arvik::Typesetter typesetter(arvik::Language::open("en").value());
  const arvik::PreparedLine line =
      typesetter.prepare("Mind the gap.", arvik::Pace{.rate = 10}, arvik::GridFont{}, arvik::Box{})
          .value();
  std::printf("%lld ms", static_cast<long long>(line.schedule.duration.count() / 1'000'000));
#ifdef WITH_script
  std::printf(" script %d", arvik::parse_script("{").has_value() ? 1 : 0);
#endif
#ifdef WITH_fonts
  std::printf(" fonts %d", arvik::FontSet::make({}, 20).has_value() ? 1 : 0);
#endif
#ifdef WITH_audio
  std::printf(" audio %d", arvik::Mixer().silent() ? 0 : 1);
#endif
#ifdef WITH_draw
  std::printf(" draw %d", arvik::Canvas::make(0, 0, {}).has_value() ? 1 : 0);
#endif
#ifdef WITH_check
  const auto report = arvik::check(arvik::parse_for_check("{"));
  std::printf(" check %d", report && report->findings.size() == 1 ? 0 : 1);
#endif
#ifdef WITH_c
  std::printf(" c %u", arvik_abi_version() - ARVIK_ABI);
#endif
  std::printf("\n");
}
