// Compiled once for each case, without being linked; see tests/CMakeLists.txt.
#include <arvik/arvik.hpp>

arvik::Steps make_steps();
arvik::Schedule make_schedule();
arvik::PreparedLine make_line();
arvik::MarkedText make_text();

void use() {
  const arvik::Steps steps = make_steps();
  const arvik::Schedule schedule = make_schedule();
#if defined(REVEAL_OF_TEMPORARY_STEPS)
  const arvik::Reveal reveal(make_steps(), schedule);
#elif defined(REVEAL_OF_TEMPORARY_SCHEDULE)
  const arvik::Reveal reveal(steps, make_schedule());
#elif defined(REVEAL_OF_TEMPORARY_LINE)
  const arvik::Reveal reveal = make_line().reveal();
#elif defined(WALKER_OF_TEMPORARY_TEXT)
  const arvik::EdgeWalker walker(make_text());
#elif defined(DONE_RIGHT)
  const arvik::PreparedLine line = make_line();
  const arvik::MarkedText text = make_text();
  const arvik::Reveal reveal(steps, schedule);
  const arvik::Reveal other = line.reveal();
  const arvik::EdgeWalker walker(text);
#endif
}
