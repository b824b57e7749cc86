/* Arvik for C and for whatever speaks C (target arvik::c, library libarvik_c).
 *
 * Text is UTF-8. Text that goes in has a length in bytes, or is NUL-terminated where the length is
 * ARVIK_NUL; text that comes out is NUL-terminated and has its length beside it where it may hold
 * NULs. Times are nanoseconds (_ns), of the line unless said otherwise. Indices begin at 0.
 *
 * Ownership. A *_create or *_prepare function gives an object that the matching *_destroy ends;
 * destroying NULL does nothing. Objects may be destroyed in any order: what needs another keeps it
 * alive. Pointers that come out belong to the object they were asked of and live as long as it, or
 * as long as the function says.
 *
 * Structs that go in or come out begin with their size, which the caller sets to sizeof; so a
 * program and a library of different versions understand each other. What an older caller does not
 * know of is left out, what an older library does not know of is ignored. A struct whose size was
 * not set is refused, and so is a text of more than ARVIK_MAX_BYTES.
 *
 * Errors. Functions that can fail return NULL or 0 and fill the arvik_error, if one was given. Bad
 * indices and NULL objects give 0, NULL, or an empty struct. No exception crosses this interface.
 *
 * Threads. An arvik_setter serves one thread at a time, and so does each reveal and talk. Lines,
 * fonts and sounds do not change and may be read by any number of threads. There is no global
 * state. */
#ifndef ARVIK_ARVIK_H
#define ARVIK_ARVIK_H

#include <stddef.h>
#include <stdint.h>

#if defined(_WIN32)
#if defined(ARVIK_C_BUILDING)
#define ARVIK_C_API __declspec(dllexport)
#else
#define ARVIK_C_API __declspec(dllimport)
#endif
#elif defined(__GNUC__)
#define ARVIK_C_API __attribute__((visibility("default")))
#else
#define ARVIK_C_API
#endif

#ifdef __cplusplus
extern "C" {
#endif

/* The version of this interface that a program is compiled with, and the one of the library. They
 * understand each other if they are equal. */
#define ARVIK_ABI 2
ARVIK_C_API uint32_t arvik_abi_version(void);

/* Instead of a length: the text ends with its NUL. */
#define ARVIK_NUL SIZE_MAX
#define ARVIK_MAX_BYTES ((size_t)1 << 30)

typedef struct arvik_setter arvik_setter; /* prepares lines of one language */
typedef struct arvik_font arvik_font;     /* what measures text */
typedef struct arvik_line arvik_line;     /* one prepared line */
typedef struct arvik_reveal arvik_reveal; /* the playback of a line */
typedef struct arvik_sounds arvik_sounds; /* what can be heard */
typedef struct arvik_script arvik_script; /* a cast and conversations */
typedef struct arvik_talk arvik_talk;     /* a conversation that runs */
typedef struct arvik_frame arvik_frame;   /* what to draw at a moment */

typedef struct arvik_error {
  size_t size;
  char code[32];     /* stable, like "bad-pace"; docs/diagnostics.md has all */
  char message[256]; /* one sentence, cut if it is longer */
  uint32_t row;      /* in the source, from 1; 0 where there is none */
  uint32_t column;   /* code point in that row, from 1 */
} arvik_error;

/* One of several problems. The texts live as long as the object that was asked. */
typedef struct arvik_problem {
  size_t size;
  const char *code, *message;
  const char* hint;    /* the nearest known name, or empty */
  const char* pointer; /* in JSON files: the value's JSON pointer (RFC 6901), or empty */
  uint32_t row, column;
  int32_t is_error;   /* 0: a warning */
  const char* file;   /* of scripts of several files: as the script names it, or empty */
  const char* key;    /* of texts in tables of strings, or empty */
  const char* locale; /* the same */
} arvik_problem;

/* Text as markup that shows it as it stands: its brackets doubled. Writes at most capacity bytes
 * into out, with a NUL behind them, and returns how many bytes it needs, without the NUL. */
ARVIK_C_API size_t arvik_escape(const char* text, size_t bytes, char* out, size_t capacity);

/* --- preparing */

/* language: a BCP 47 tag, NULL for "en". Fails with language-unavailable. Costs a millisecond. */
ARVIK_C_API arvik_setter* arvik_setter_create(const char* language, arvik_error* error);
ARVIK_C_API void arvik_setter_destroy(arvik_setter* setter);

/* Sets the text of [value NAME] for lines prepared from now on; it chooses the words of
 * [select NAME: ...], too. */
ARVIK_C_API int32_t arvik_setter_set_value(arvik_setter* setter, const char* name, const char* text,
                                           size_t bytes);
/* The same for a number: it is written as the language writes numbers, and chooses the words of
 * [plural NAME: ...]. */
ARVIK_C_API int32_t arvik_setter_set_number(arvik_setter* setter, const char* name, double number);
/* Sets the named styles for lines prepared from now on: the text of a file of styles. Fails with
 * what is wrong with it; then nothing has changed. */
ARVIK_C_API int32_t arvik_setter_read_styles(arvik_setter* setter, const char* json, size_t bytes,
                                             arvik_error* error);

/* How large an inline picture is, in the font's units. Without it, as wide and high as the font's
 * ascent. Must not call this library; user is handed on and must outlive the setter and the talks
 * that were made with it. */
typedef void (*arvik_icon_size)(void* user, const char* name, float* width, float* height);
ARVIK_C_API void arvik_setter_set_icon_size(arvik_setter* setter, arvik_icon_size size, void* user);

/* The advance of one step (a grapheme cluster), in the font's units, 0 or more. style: bit 0 bold,
 * bit 1 italic; size: factor of the font's size. Must return the same for the same input, and must
 * not call this library. */
typedef float (*arvik_measure)(void* user, const char* step, size_t bytes, uint32_t style,
                               float size);

/* A font that the game measures; user is handed to measure as it is and must outlive the font.
 * row_height and ascent are those of one row. */
ARVIK_C_API arvik_font* arvik_font_create_measured(arvik_measure measure, void* user,
                                                   float row_height, float ascent,
                                                   arvik_error* error);
/* A real font from the bytes of a file (copied), index being the face in a collection. Fails with
 * bad-font, also where the library was built without arvik::fonts. */
ARVIK_C_API arvik_font* arvik_font_create(const void* data, size_t bytes, int32_t index,
                                          float pixel_size, arvik_error* error);
/* Several faces: the first is the main one; what it lacks comes from the others, in order. */
typedef struct arvik_face {
  size_t size;
  const void* data; /* of the file; copied */
  size_t bytes;
  int32_t index; /* in a collection */
  int32_t bold, italic;
  int32_t family; /* faces of one number belong together */
} arvik_face;
ARVIK_C_API arvik_font* arvik_font_create_faces(const arvik_face* faces, uint32_t count,
                                                float pixel_size, arvik_error* error);
ARVIK_C_API void arvik_font_destroy(arvik_font* font);

typedef struct arvik_pace {
  size_t size;
  double rate; /* steps per second */
  int64_t sentence_ns, clause_ns, dash_ns, ellipsis_ns, row_end_ns, paragraph_ns, space_ns;
  double jitter; /* 0 to 1 */
  uint64_t seed;
  int64_t fit_ns;        /* the line lasts just so long; 0: as it comes */
  const char* json;      /* the text of a pace file; all above is ignored then. NULL: none */
  const char* json_name; /* which pace of the file; NULL for the only one */
  double blank;          /* how long a blank takes, times a letter, 0 to 10 */
  int32_t by_script;     /* an ideograph, a syllable and kana take longer than a letter */
} arvik_pace;
/* Sets the size and all values to their defaults. */
ARVIK_C_API void arvik_pace_init(arvik_pace* pace);

enum { ARVIK_ALIGN_START, ARVIK_ALIGN_CENTER, ARVIK_ALIGN_END };
enum { ARVIK_OVERFLOW_PAGES, ARVIK_OVERFLOW_SHRINK, ARVIK_OVERFLOW_CLIP, ARVIK_OVERFLOW_REFUSE };

enum { ARVIK_VERTICAL_TOP, ARVIK_VERTICAL_MIDDLE, ARVIK_VERTICAL_BOTTOM };
enum { ARVIK_DIRECTION_OF_TEXT, ARVIK_DIRECTION_LEFT_TO_RIGHT, ARVIK_DIRECTION_RIGHT_TO_LEFT };

typedef struct arvik_box {
  size_t size;
  float width;   /* in the font's units; 0 for no limit */
  float height;  /* the same */
  uint32_t rows; /* rows on a page; 0 for no limit */
  int32_t align; /* ARVIK_ALIGN_... */
  int32_t overflow;
  float row_spacing;
  float padding_left, padding_top, padding_right, padding_bottom;
  int32_t vertical_align;           /* ARVIK_VERTICAL_... */
  int32_t direction;                /* ARVIK_DIRECTION_... */
  int32_t fit_to_text;              /* as small as its text allows */
  int32_t balanced;                 /* rows of about the same width */
  float least_width;                /* with fit_to_text */
  float least_size;                 /* with ARVIK_OVERFLOW_SHRINK, 0.1 to 1 */
  float picture_width, picture_gap; /* a picture beside the text takes its space off it */
  int32_t picture_right;            /* it stands on the right side */
  float name_height;                /* a name above the text does so, too */
  int32_t no_ruby;                  /* readings ([ruby ...]) are left out */
} arvik_box;
ARVIK_C_API void arvik_box_init(arvik_box* box);

/* Parses, segments, times and lays out. pace, font and box may be NULL: the default pace, a
 * monospace grid, no limits. Mistakes in the markup do not fail: see arvik_line_diagnostic. Fails
 * with bad-pace, bad-json and the like, bad-box, text-overflows. */
ARVIK_C_API arvik_line* arvik_line_prepare(arvik_setter* setter, const char* markup, size_t bytes,
                                           const arvik_pace* pace, const arvik_font* font,
                                           const arvik_box* box, arvik_error* error);
ARVIK_C_API void arvik_line_destroy(arvik_line* line);

/* --- what a line is */

/* The plain text, without tags. */
ARVIK_C_API const char* arvik_line_text(const arvik_line* line, size_t* bytes);
/* The same with its rows cut by newlines, for engines that draw strings. */
ARVIK_C_API const char* arvik_line_row_text(const arvik_line* line, size_t* bytes);
ARVIK_C_API uint32_t arvik_line_steps(const arvik_line* line);
ARVIK_C_API int64_t arvik_line_duration_ns(const arvik_line* line);
ARVIK_C_API int64_t arvik_line_onset_ns(const arvik_line* line, uint32_t step);

/* The sizes of what is shown when so many steps are. */
typedef struct arvik_extent {
  size_t size;
  uint32_t steps, bytes, code_points, utf16_units;
  uint32_t row_text_bytes; /* of arvik_line_row_text */
} arvik_extent;
ARVIK_C_API int32_t arvik_line_extent(const arvik_line* line, uint32_t steps, arvik_extent* extent);

/* What happens: in a line, and in a conversation. */
enum {
  ARVIK_EVENT_MARK,
  ARVIK_EVENT_MARK_BEGIN,
  ARVIK_EVENT_MARK_END,
  ARVIK_EVENT_HOLD,
  ARVIK_EVENT_FINISH,
  ARVIK_EVENT_PAGE,
  ARVIK_EVENT_SOUND,
  ARVIK_EVENT_TYPING_BEGIN,
  ARVIK_EVENT_TYPING_END,
  ARVIK_EVENT_MUTE_BEGIN,
  ARVIK_EVENT_MUTE_END,
  ARVIK_EVENT_PORTRAIT,
  ARVIK_EVENT_OPENED = 32, /* the box is open */
  ARVIK_EVENT_LINE_STARTED,
  ARVIK_EVENT_LINE_FINISHED,
  ARVIK_EVENT_WAITING,
  ARVIK_EVENT_CHOOSING,
  ARVIK_EVENT_CHOSEN,
  ARVIK_EVENT_LINE_LEFT,
  ARVIK_EVENT_CLOSED
};

typedef struct arvik_event {
  size_t size;
  int32_t kind;
  uint32_t step; /* how many steps stand before it */
  int64_t time_ns;
  const char* kind_name; /* as in exported files: "mark", "hold", ... */
  const char* name;      /* of marks, sounds, portraits; else empty */
  uint32_t attributes;   /* how many */
} arvik_event;
ARVIK_C_API uint32_t arvik_line_events(const arvik_line* line);
ARVIK_C_API int32_t arvik_line_event(const arvik_line* line, uint32_t index, arvik_event* event);
/* key and value of an attribute of an event. */
ARVIK_C_API int32_t arvik_line_attribute(const arvik_line* line, uint32_t event, uint32_t index,
                                         const char** key, const char** value);

typedef struct arvik_row {
  size_t size;
  uint32_t first_step, end_step, page;
  float x, y, width, height, baseline; /* from the top left of the box */
} arvik_row;
ARVIK_C_API uint32_t arvik_line_rows(const arvik_line* line);
ARVIK_C_API int32_t arvik_line_row(const arvik_line* line, uint32_t index, arvik_row* row);
ARVIK_C_API uint32_t arvik_line_pages(const arvik_line* line);

/* Where a step stands. */
typedef struct arvik_step {
  size_t size;
  uint32_t row;
  float x, width;
  uint32_t style;  /* bit 0 bold, 1 italic, 2 underline, 3 strike-through, 4 colour */
  uint32_t color;  /* 0xRRGGBBAA; valid with bit 4 */
  float text_size; /* factor of the font's size */
} arvik_step;
ARVIK_C_API int32_t arvik_line_step(const arvik_line* line, uint32_t index, arvik_step* step);

/* Shaped glyphs, row by row from left to right; none for grids and measured fonts, where each step
 * is its own. */
enum { ARVIK_ICON_FACE = 0xFFFF };
typedef struct arvik_glyph {
  size_t size;
  uint32_t id;   /* in its face; of an inline picture, for arvik_line_icon */
  uint32_t face; /* of the font, in the order in which they were given; or ARVIK_ICON_FACE */
  uint32_t first_step, end_step;
  float x, y; /* the origin, on the baseline, from the top left of the box */
  float left, width, text_size;
  uint32_t style; /* as of arvik_step */
  uint32_t color; /* 0xRRGGBBAA; valid with bit 4 of style */
  int32_t right_to_left;
  int32_t reading; /* it stands above its steps ([ruby ...]) */
} arvik_glyph;
ARVIK_C_API uint32_t arvik_line_glyphs(const arvik_line* line);
ARVIK_C_API int32_t arvik_line_glyph(const arvik_line* line, uint32_t index, arvik_glyph* glyph);

/* The name of an inline picture; NULL if there is none of that id. */
ARVIK_C_API const char* arvik_line_icon(const arvik_line* line, uint32_t id);

/* The size of the whole box, and of the text in it. */
typedef struct arvik_layout {
  size_t size;
  float width, height, box_width, box_height;
  float scale; /* below 1 where text was made smaller to fit */
  int32_t right_to_left;
} arvik_layout;
ARVIK_C_API int32_t arvik_line_layout(const arvik_line* line, arvik_layout* layout);

/* What is wrong with the markup, then with the layout, then with the schedule. */
ARVIK_C_API uint32_t arvik_line_problems(const arvik_line* line);
ARVIK_C_API int32_t arvik_line_problem(const arvik_line* line, uint32_t index,
                                       arvik_problem* problem);

/* --- playing */

/* Nothing is shown before the first tick. */
ARVIK_C_API arvik_reveal* arvik_reveal_create(const arvik_line* line, arvik_error* error);
ARVIK_C_API void arvik_reveal_destroy(arvik_reveal* reveal);

typedef struct arvik_progress {
  size_t size;
  uint32_t first_step, end_step;   /* the steps that appeared */
  uint32_t first_event, end_event; /* the events that happened, as indices of the line's */
  int32_t skipped;                 /* a skip passed them over */
} arvik_progress;
/* Lets real time pass. progress may be NULL. Allocates nothing, but where it is heard and one tick
 * brings more than 32 sounds, more than any before. */
ARVIK_C_API void arvik_reveal_tick(arvik_reveal* reveal, int64_t real_ns, arvik_progress* progress);
/* Goes to a time of the line, as the position of a recorded voice gives it; the speed has no part
 * in it, and a time that has passed brings nothing. */
ARVIK_C_API void arvik_reveal_advance_to(arvik_reveal* reveal, int64_t line_ns,
                                         arvik_progress* progress);
/* Shows the rest, up to the next hold or the finish. */
ARVIK_C_API void arvik_reveal_skip(arvik_reveal* reveal, arvik_progress* progress);
/* Lets go of the hold that it stands at; returns 1 if there was one. */
ARVIK_C_API int32_t arvik_reveal_release_hold(arvik_reveal* reveal);
ARVIK_C_API void arvik_reveal_pause(arvik_reveal* reveal);
ARVIK_C_API void arvik_reveal_resume(arvik_reveal* reveal);
/* In thousandths: 1000 as written, 0 stands still, at most 1000000. */
ARVIK_C_API void arvik_reveal_set_speed(arvik_reveal* reveal, int32_t thousandths);
ARVIK_C_API void arvik_reveal_set_instant(arvik_reveal* reveal, int32_t instant);

enum { ARVIK_REVEALING, ARVIK_HOLDING, ARVIK_FINISHED };
ARVIK_C_API int32_t arvik_reveal_state(const arvik_reveal* reveal);
ARVIK_C_API int64_t arvik_reveal_position_ns(const arvik_reveal* reveal);
ARVIK_C_API int32_t arvik_reveal_shown(const arvik_reveal* reveal, arvik_extent* extent);

/* Where it stands, for saving; belongs to one line. */
typedef struct arvik_line_place {
  size_t size;
  int64_t position_ns;
  int32_t remainder;
  uint32_t shown, next_event;
  int32_t state;
} arvik_line_place;
ARVIK_C_API int32_t arvik_reveal_place(const arvik_reveal* reveal, arvik_line_place* place);
/* Returns 0, and changes nothing, if the line has no such place. */
ARVIK_C_API int32_t arvik_reveal_go_to(arvik_reveal* reveal, const arvik_line_place* place);

/* --- sounds */

/* Typing sounds and clips, from the text of a file of sounds (docs/sound.md). Fails with bad-json,
 * bad-value, unknown-key, bad-sound. */
ARVIK_C_API arvik_sounds* arvik_sounds_create(const char* json, size_t bytes, arvik_error* error);
ARVIK_C_API void arvik_sounds_destroy(arvik_sounds* sounds);
/* All that can be heard, to be loaded ahead: the name that its sounds will have, and its file. */
ARVIK_C_API uint32_t arvik_sounds_files(const arvik_sounds* sounds);
ARVIK_C_API int32_t arvik_sounds_file(const arvik_sounds* sounds, uint32_t index, const char** name,
                                      const char** path);

enum {
  ARVIK_SOUND_TYPING,     /* one sample starts */
  ARVIK_SOUND_LOOP_BEGIN, /* a looping clip starts ... */
  ARVIK_SOUND_LOOP_GAIN,  /* ... goes on louder or softer ... */
  ARVIK_SOUND_LOOP_END,   /* ... and fades out */
  ARVIK_SOUND_CUT,        /* what still rings of a typing sound fades out */
  ARVIK_SOUND_CLIP,       /* a one-off sound */
  ARVIK_SOUND_VOICE_BEGIN,
  ARVIK_SOUND_VOICE_END
};

/* Something to be heard at an exact time. */
typedef struct arvik_sound {
  size_t size;
  int32_t kind;
  uint32_t step;
  const char* kind_name; /* "typing", "loop_begin", ... */
  const char* name;      /* of the sample or clip */
  int64_t delay_ns;      /* since the begin of the tick that brought it */
  int64_t fade_ns;       /* how long what ends takes to fade out */
  uint32_t sound;        /* of typing, cuts and loops: which typing sound, counted from 0 */
  uint32_t channel;      /* of typing: what still rings on the same channel fades out */
  float pitch;           /* semitones */
  float gain;            /* decibels; -INFINITY is silence */
  float pan;             /* -1 left, 1 right */
} arvik_sound;

/* From now on ticks and skips of the reveal bring sounds. typing is the sound that the line begins
 * with, NULL or "" for none. The setter must be of the line's language. Names that the sounds do
 * not have are silent; the first of them is told in error, as unknown-sound. Fails with bad-sound
 * for more than 1000 sounds, and without an object or memory; then nothing has changed. */
ARVIK_C_API int32_t arvik_reveal_hear(arvik_reveal* reveal, arvik_setter* setter,
                                      const arvik_sounds* sounds, const char* typing,
                                      arvik_error* error);
/* Of the last tick or skip. What a sound points to lives as long as the reveal, or until the next
 * arvik_reveal_hear. */
ARVIK_C_API uint32_t arvik_reveal_sounds(const arvik_reveal* reveal);
ARVIK_C_API int32_t arvik_reveal_sound(const arvik_reveal* reveal, uint32_t index,
                                       arvik_sound* sound);

/* --- what to draw */

enum { ARVIK_ENTRANCE_CUT, ARVIK_ENTRANCE_FADE, ARVIK_ENTRANCE_WIPE, ARVIK_ENTRANCE_RISE };
typedef struct arvik_frame_options {
  size_t size;
  int32_t entrance; /* how letters come in, where the markup does not say */
  int64_t entrance_ns;
  float rise, softness; /* in the font's units */
  int32_t reduced_motion;
} arvik_frame_options;
ARVIK_C_API void arvik_frame_options_init(arvik_frame_options* options);

/* Keep one and use it for every frame: then nothing is allocated. */
ARVIK_C_API arvik_frame* arvik_frame_create(arvik_error* error);
ARVIK_C_API void arvik_frame_destroy(arvik_frame* frame);
/* What a reveal or a talk shows now; options may be NULL. Returns how many glyphs it has; none for
 * grids and measured fonts. */
ARVIK_C_API uint32_t arvik_frame_of_reveal(arvik_frame* frame, const arvik_reveal* reveal,
                                           const arvik_frame_options* options);
ARVIK_C_API uint32_t arvik_frame_of_talk(arvik_frame* frame, const arvik_talk* talk,
                                         const arvik_frame_options* options);
ARVIK_C_API uint32_t arvik_frame_page(const arvik_frame* frame);
typedef struct arvik_frame_glyph {
  size_t size;
  uint32_t glyph; /* index of the glyph of the line, for arvik_line_glyph */
  float dy, opacity;
  int32_t clipped; /* only what lies between the clip edges is shown */
  float clip_left, clip_right, softness;
} arvik_frame_glyph;
ARVIK_C_API int32_t arvik_frame_glyph_at(const arvik_frame* frame, uint32_t index,
                                         arvik_frame_glyph* glyph);

/* --- scripts */

/* Reads a script, the text of a JSON file. repair: what is wrong is left out or shown as it stands,
 * for the players of a game; otherwise a script with errors is refused. The object has all problems
 * in either case. NULL only without memory, or for a text that is too long. */
ARVIK_C_API arvik_script* arvik_script_read(const char* json, size_t bytes, int32_t repair,
                                            arvik_error* error);
/* The same from a file, with the tables of strings and the scripts that it includes, from its
 * folder. NULL if the file cannot be read, too (file-unreadable). */
ARVIK_C_API arvik_script* arvik_script_load(const char* path, int32_t repair, arvik_error* error);
/* The locales that it has texts in, its own first; NULL behind the last. */
ARVIK_C_API const char* arvik_script_locale(const arvik_script* script, uint32_t index);
/* An empty script, for conversations that the game makes; locale NULL is "en". */
ARVIK_C_API arvik_script* arvik_script_create(const char* locale, arvik_error* error);
ARVIK_C_API void arvik_script_destroy(arvik_script* script);
/* Whether it can be played: 0 if it was refused. */
ARVIK_C_API int32_t arvik_script_is_good(const arvik_script* script);
ARVIK_C_API uint32_t arvik_script_problems(const arvik_script* script);
ARVIK_C_API int32_t arvik_script_problem(const arvik_script* script, uint32_t index,
                                         arvik_problem* problem);
/* The names of its conversations; NULL behind the last. */
ARVIK_C_API const char* arvik_script_conversation(const arvik_script* script, uint32_t index);

typedef struct arvik_line_source {
  size_t size;
  const char* id; /* this and all texts may be NULL */
  const char* speaker;
  const char* portrait;
  const char* text; /* markup */
  size_t text_bytes;
  const char* typing;
  const char* voice;
  const arvik_pace* pace; /* NULL: the default */
  int64_t auto_ns;        /* goes on by itself after so long; -1: it waits */
  int32_t auto_reading;   /* and not before it can have been read */
  int32_t skippable, append, instant;
} arvik_line_source;
/* Sets the size and all values to their defaults. */
ARVIK_C_API void arvik_line_source_init(arvik_line_source* source);
/* Adds a line to the end of a conversation, which is made if need be. Talks that run do not change.
 * Fails with bad-pace and the like. */
ARVIK_C_API int32_t arvik_script_add_line(arvik_script* script, const char* conversation,
                                          const arvik_line_source* line, arvik_error* error);
/* Adds an answer to the last line of a conversation. leads_to: a conversation; NULL for the line
 * that follows. */
ARVIK_C_API int32_t arvik_script_add_choice(arvik_script* script, const char* conversation,
                                            const char* id, const char* text, size_t bytes,
                                            const char* leads_to, int32_t available,
                                            arvik_error* error);
/* Its typing sounds and clips. */
ARVIK_C_API int32_t arvik_script_set_sounds(arvik_script* script, const arvik_sounds* sounds);

/* --- conversations */

/* Plays the conversations of a script, which is kept alive and shared. Of the setter it takes the
 * values and icon sizes of now; styles, sounds and the language are the script's. setter, font and
 * box may be NULL: no values, a grid, the script's own box. Fails with what is wrong with the
 * script. */
ARVIK_C_API arvik_talk* arvik_talk_create(arvik_setter* setter, const arvik_script* script,
                                          const arvik_font* font, const arvik_box* box,
                                          arvik_error* error);
ARVIK_C_API void arvik_talk_destroy(arvik_talk* talk);

typedef struct arvik_talk_settings {
  size_t size;
  int64_t opening_ns, closing_ns; /* of the box, 0 to one hour */
  int64_t grace_ns;               /* after a skip, presses are ignored for so long */
  int64_t hurry_after_ns;         /* advance held for so long hurries; 0: never */
  int32_t hurry;                  /* speed while hurrying, in thousandths of the player's */
  int32_t by_itself;              /* lines and holds go on when they can have been read */
  double reading_rate;            /* characters a second, for lines that go on by themselves */
  int64_t least_reading_ns;
  int64_t indicator_period_ns;
  int64_t voice_fade_ns;       /* of a voice clip whose line is left */
  int32_t speed;               /* the player's text speed, in thousandths, 0 to 1000000 */
  int32_t instant;             /* the player wants no reveal; stands above the speed */
  int32_t reduced_motion;      /* even intervals, for lines that begin from now on */
  int32_t no_ruby;             /* readings are left out, in lines that begin from now on */
  int32_t voices_set_speed;    /* lines in step with their voice keep its speed */
  int32_t voices_outlast_skip; /* showing the rest of a line does not end its voice */
} arvik_talk_settings;
/* Sets the size and all values to their defaults. */
ARVIK_C_API void arvik_talk_settings_init(arvik_talk_settings* settings);
/* May be called at any time. Times are brought into their ranges. */
ARVIK_C_API int32_t arvik_talk_configure(arvik_talk* talk, const arvik_talk_settings* settings);

/* How long a voice clip lasts, in nanoseconds; 0 if it is not known. Must not call this library. */
typedef int64_t (*arvik_voice_length)(void* user, const char* voice);
/* Typing sounds give way to voices, and lines that go on by themselves wait for them. NULL: none.
 * user is handed on as it is and must outlive the talk. */
ARVIK_C_API void arvik_talk_set_voice_length(arvik_talk* talk, arvik_voice_length length,
                                             void* user);

/* Begins a conversation, NULL for the first, at the line with the id from, NULL for the first.
 * Fails with conversation-runs, unknown-conversation, bad-place, bad-settings. */
ARVIK_C_API int32_t arvik_talk_start(arvik_talk* talk, const char* conversation, const char* from,
                                     arvik_error* error);

enum { ARVIK_BUTTON_ADVANCE = 1, ARVIK_BUTTON_SKIP = 2 };
/* Where the voice clip of the line is, from its begin: the line goes there in the next tick, and
 * not by its time. Call it before each tick while the clip plays. */
ARVIK_C_API void arvik_talk_set_voice_position(arvik_talk* talk, int64_t position_ns);
/* Lets time pass with these buttons held; returns how many events happened. */
ARVIK_C_API uint32_t arvik_talk_tick(arvik_talk* talk, int64_t real_ns, uint32_t buttons);
/* Ends it wherever it is; returns how many events happened. */
ARVIK_C_API uint32_t arvik_talk_stop(arvik_talk* talk);
ARVIK_C_API void arvik_talk_pause(arvik_talk* talk);
ARVIK_C_API void arvik_talk_resume(arvik_talk* talk);

typedef struct arvik_talk_event {
  size_t size;
  int32_t kind;          /* ARVIK_EVENT_... */
  const char* kind_name; /* "opened", "line_started", ...; of the line: "mark", "hold", ... */
  int64_t time_ns;       /* since the conversation's start */
  uint32_t line;
  int32_t skipped;
  uint32_t step;       /* of events of the line */
  uint32_t attributes; /* of marks: how many */
  const char* name;    /* of marks, sounds and portraits; else empty */
  const char* line_id; /* the script's; may be empty */
  uint32_t choice;     /* of ARVIK_EVENT_CHOSEN: which answer, counted from 0 */
} arvik_talk_event;
/* Of the last tick or stop. What it points to lives until the next one or a start. */
ARVIK_C_API int32_t arvik_talk_event_at(const arvik_talk* talk, uint32_t index,
                                        arvik_talk_event* event);
/* key and value of an attribute of such an event. */
ARVIK_C_API int32_t arvik_talk_attribute(const arvik_talk* talk, uint32_t event, uint32_t index,
                                         const char** key, const char** value);

/* What is to be heard of the last tick or stop, voices included; lives until the next one or a
 * start. */
ARVIK_C_API uint32_t arvik_talk_sounds(const arvik_talk* talk);
ARVIK_C_API int32_t arvik_talk_sound(const arvik_talk* talk, uint32_t index, arvik_sound* sound);
/* The script's sounds, for loading their files; belongs to the talk. */
ARVIK_C_API const arvik_sounds* arvik_talk_script_sounds(const arvik_talk* talk);

enum {
  ARVIK_TALK_CLOSED,
  ARVIK_TALK_OPENING,
  ARVIK_TALK_REVEALING,
  ARVIK_TALK_HOLDING,
  ARVIK_TALK_WAITING,
  ARVIK_TALK_CHOOSING,
  ARVIK_TALK_CLOSING
};
typedef struct arvik_talk_view {
  size_t size;
  int32_t state;
  float openness;   /* 0 to 1 */
  const char* text; /* plain, of all that the box will show; NULL while it is closed */
  size_t text_bytes;
  uint32_t shown_steps, shown_bytes, shown_code_points, shown_utf16_units;
  const char* speaker; /* id; never NULL */
  const char* portrait;
  int32_t indicator; /* it waits for the player */
  float phase;       /* of the indicator, 0 to 1 */
  uint32_t line;     /* index of the line */
  int64_t now_ns;    /* the entrances' clock: real time that never goes back */
} arvik_talk_view;
/* What to draw now. Pointers live until the next tick. */
ARVIK_C_API int32_t arvik_talk_view_now(const arvik_talk* talk, arvik_talk_view* view);
/* What stands in the box, as a line: its rows, places, glyphs, string of rows and problems.
 * Appended lines are in it from the start, so that nothing moves when they come. Its events are
 * those of the talk. Belongs to the talk, and lives until this is called again and the talk stands
 * on another line. NULL while it is closed. */
ARVIK_C_API const arvik_line* arvik_talk_line(arvik_talk* talk);
/* Lays the text out anew, in another box, and keeps the place. Fails with bad-box. */
ARVIK_C_API int32_t arvik_talk_set_box(arvik_talk* talk, const arvik_box* box, arvik_error* error);

/* The same with another font. */
ARVIK_C_API int32_t arvik_talk_set_font(arvik_talk* talk, const arvik_font* font,
                                        arvik_error* error);
/* Another version of the script, in the talk's locale: what runs goes on at its place. Fails as
 * arvik_talk_start does, and with bad-place if the line is gone; then nothing has changed. */
ARVIK_C_API int32_t arvik_talk_set_script(arvik_talk* talk, const arvik_script* script,
                                          arvik_error* error);
/* Goes to another of the script's locales, at any moment: the line under way goes on at its place
 * in the other language, and the history is told in it. font: for the locale; NULL: as before.
 * Fails with unknown-locale; then nothing has changed. */
ARVIK_C_API int32_t arvik_talk_set_locale(arvik_talk* talk, const char* locale,
                                          const arvik_font* font, arvik_error* error);
ARVIK_C_API const char* arvik_talk_locale(const arvik_talk* talk);
/* Prepares ahead what stands in the box next, so that its begin costs nothing more. */
ARVIK_C_API void arvik_talk_prepare_next(arvik_talk* talk);

/* The answers that can be given now: none but while the state is ARVIK_TALK_CHOOSING. */
typedef struct arvik_choice {
  size_t size;
  const char *id, *text; /* plain */
  int32_t available;
} arvik_choice;
ARVIK_C_API uint32_t arvik_talk_choices(const arvik_talk* talk);
/* Lives until the next tick. */
ARVIK_C_API int32_t arvik_talk_choice(const arvik_talk* talk, uint32_t index, arvik_choice* choice);
/* An answer as it is laid out. The caller destroys it. */
ARVIK_C_API arvik_line* arvik_talk_choice_line(const arvik_talk* talk, uint32_t index);
/* Gives an answer; what follows comes with the next tick. Fails with bad-choice. */
ARVIK_C_API int32_t arvik_talk_choose(arvik_talk* talk, uint32_t index, arvik_error* error);

typedef struct arvik_speaker {
  size_t size;
  const char* name; /* as shown */
  uint32_t color;   /* 0xRRGGBBAA */
  int32_t has_color;
} arvik_speaker;
/* One of the script's cast; 0 if there is nobody of this id. */
ARVIK_C_API int32_t arvik_talk_speaker(const arvik_talk* talk, const char* id,
                                       arvik_speaker* speaker);
/* The picture of a portrait, as the script names it; NULL if there is none. */
ARVIK_C_API const char* arvik_talk_portrait(const arvik_talk* talk, const char* speaker,
                                            const char* portrait);

/* What was shown so far, in order, for reading back; lives until the next call of it. */
ARVIK_C_API uint32_t arvik_talk_history(arvik_talk* talk);
typedef struct arvik_history_entry {
  size_t size;
  const char *line_id, *speaker, *text;
  const char *choice, *answer; /* the answer that was given: its id and plain text; or empty */
} arvik_history_entry;
ARVIK_C_API int32_t arvik_talk_history_at(const arvik_talk* talk, uint32_t index,
                                          arvik_history_entry* entry);

/* Where it stands, as JSON text for a saved game; lives until the next call of it. NULL if there is
 * no memory left. */
ARVIK_C_API const char* arvik_talk_write_place(arvik_talk* talk, size_t* bytes);
/* Begins at such a place, without events for what lies before it, also of a script that was changed
 * or is in another language. Fails as arvik_talk_start does, and with bad-json, bad-value,
 * bad-place if the line is gone. */
ARVIK_C_API int32_t arvik_talk_start_at(arvik_talk* talk, const char* place, size_t bytes,
                                        arvik_error* error);

#ifdef __cplusplus
}
#endif

#endif
