/* Every event and every sound of the demo script, with its time, through the C interface (C11).
 *
 * Usage: demo_events_c SCRIPT [LOCALE]
 * With a locale it goes over to that language after ten seconds. */

#include <arvik/arvik.h>
#include <inttypes.h>
#include <stdio.h>

static int complain(const arvik_error* error) {
  fprintf(stderr, "%s (%s)\n", error->message, error->code);
  return 1;
}

int main(int argc, char** argv) {
  arvik_error error = {.size = sizeof error};
  const char* locale = argc == 3 ? argv[2] : NULL;
  if (argc != 2 && argc != 3) {
    fprintf(stderr, "usage: demo_events_c SCRIPT [LOCALE]\n");
    return 2;
  }
  if (arvik_abi_version() != ARVIK_ABI) {
    fprintf(stderr, "the library has another ABI\n");
    return 1;
  }
  arvik_setter* setter = arvik_setter_create("en", &error);
  if (setter == NULL) return complain(&error);
  arvik_setter_set_value(setter, "keeper", "Pell", ARVIK_NUL);
  arvik_script* script = arvik_script_load(argv[1], 0, &error);
  if (script == NULL) return complain(&error);
  for (uint32_t i = 0; i < arvik_script_problems(script); ++i) {
    arvik_problem problem = {.size = sizeof problem};
    arvik_script_problem(script, i, &problem);
    fprintf(stderr, "%s:%u:%u: %s\n", argv[1], problem.row, problem.column, problem.message);
  }
  if (!arvik_script_is_good(script)) return 1;
  arvik_talk* talk = arvik_talk_create(setter, script, NULL, NULL, &error);
  if (talk == NULL) return complain(&error);
  arvik_talk_settings settings;
  arvik_talk_settings_init(&settings);
  settings.by_itself = 1;
  arvik_talk_configure(talk, &settings);
  if (!arvik_talk_start(talk, NULL, NULL, &error)) return complain(&error);

  arvik_talk_view view = {.size = sizeof view};
  int64_t now = 0;
  do {
    if (locale != NULL && now >= INT64_C(10000000000)) {
      if (!arvik_talk_set_locale(talk, locale, NULL, &error)) return complain(&error);
      locale = NULL;
    }
    const uint32_t count = arvik_talk_tick(talk, 16666667, 0);
    for (uint32_t i = 0; i < count; ++i) {
      arvik_talk_event event = {.size = sizeof event};
      arvik_talk_event_at(talk, i, &event);
      printf("%" PRId64 " line %u %s%s%s\n", event.time_ns, event.line, event.kind_name,
             event.name[0] == '\0' ? "" : " ", event.name);
    }
    const uint32_t sounds = arvik_talk_sounds(talk);
    for (uint32_t i = 0; i < sounds; ++i) {
      arvik_sound sound = {.size = sizeof sound};
      arvik_talk_sound(talk, i, &sound);
      printf("%" PRId64 " sound %s %s %.4f st %.2f dB\n", now + sound.delay_ns, sound.kind_name,
             sound.name, (double)sound.pitch, (double)sound.gain);
    }
    now += 16666667;
    arvik_talk_view_now(talk, &view);
  } while (view.state != ARVIK_TALK_CLOSED);

  arvik_talk_destroy(talk);
  arvik_setter_destroy(setter);
  arvik_script_destroy(script);
  return 0;
}
