// The same line in several paces, with a named style and a value of the game, and at the speeds
// that a player can choose.

#include <arvik/arvik.hpp>
#include <cstdio>

namespace {

double seconds(arvik::Nanoseconds time) { return std::chrono::duration<double>(time).count(); }

}  // namespace

int main() {
  using namespace std::chrono_literals;
  arvik::Typesetter typesetter(arvik::Language::open("en").value());

  // What the game adds to the markup. A value's text is never parsed.
  typesetter.vocabulary().styles["dread"] = {.italic = true, .entrance = arvik::Entrance::fade};
  typesetter.vocabulary().value = [](std::string_view name) {
    return name == "keeper" ? std::optional<std::string>("Odrun [keeper]") : std::nullopt;
  };
  const char* markup = "[value keeper] listened. [style dread: Nothing…] ♪ Not a sound.";

  // A pace is a plain struct: copy one and change a few values.
  const arvik::Pace calm{.rate = 24, .sentence = 400ms};
  arvik::Pace dread = calm;
  dread.rate *= 0.5;
  dread.characters = {{"♪", 600ms}};
  arvik::Pace report = calm;
  report.unit = arvik::RevealUnit::word;
  report.fit = 2s;
  report.fit_pauses = arvik::FitPauses::keep;

  arvik::PlayerSettings player;
  player.reduced_motion = true;

  const struct {
    const char* name;
    const arvik::Pace& pace;
  } takes[] = {{"calm", calm}, {"dread", dread}, {"report", report}};
  for (const auto& take : takes) {
    const arvik::Pace pace = adjusted(player, take.pace);
    const arvik::PreparedLine line =
        typesetter.prepare(markup, pace, arvik::GridFont{}, arvik::Box{.width = 60}).value();
    std::printf("%-7s lasts %.2f s:", take.name, seconds(line.schedule.duration));
    for (player.speed = 0; player.speed < player.speeds.size(); ++player.speed) {
      arvik::Reveal reveal = line.reveal();
      apply(player, reveal);
      reveal.tick(1s);
      std::printf(" %s %u", player.speeds[player.speed].name.c_str(), reveal.shown_steps());
    }
    std::printf(" after a second\n");
  }
}
