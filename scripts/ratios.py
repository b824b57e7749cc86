"""Ratios between benchmarks of one run. Usage: ratios.py RESULTS.json..."""
import json
import sys

times, sizes = {}, {}
for path in sys.argv[1:]:
    for entry in json.load(open(path))["benchmarks"]:
        if "cpu_time" not in entry or entry.get("run_type") == "aggregate":
            continue
        per_second = entry.get("items_per_second")
        # Seconds an item where items are counted, nanoseconds a run where not.
        time = 1 / per_second if per_second else entry["cpu_time"]
        name = entry["run_name"]
        # The least of the repetitions: other programs only ever add time.
        times[name] = min(time, times.get(name, time))


def ratio(what, one, other, aim=""):
    if one in times and other in times:
        print(f"{what:58} {times[one] / times[other]:8.2f}  {aim}")


print(f"\n{'ratio':58} {'measured':>8}  aim")
for name, arg, aim in (("English", 0, "<= 0.8"), ("Japanese", 1, "<= 1.1")):
    two = f"baseline/icu_two_passes/{arg}"
    ratio(f"prepare {name} / ICU's two passes", f"arvik/prepare/{arg}", two, aim)
    for stage in ("parse", "segment", "schedule", "layout"):
        ratio(f"  of it {stage}", f"arvik/stage_{stage}/{arg}", two)
    ratio("  ICU's line pass alone", f"baseline/icu_line_pass/{arg}", two)
ratio("idle tick / adding to packed clocks", "arvik/idle_tick", "baseline/add_to_packed_clocks")
ratio("idle tick / adding to clocks of the same size", "arvik/idle_tick", "baseline/add_to_clocks", "<= 3")
ratio("idle tick / adding and comparing", "arvik/idle_tick", "baseline/add_and_compare")
ratio("tick at 60 Hz / adding to clocks", "arvik/tick_at_60_hz", "baseline/add_to_clocks")
ratio("tick of a conversation / of its bare reveal, at 60 Hz", "arvik/one_conversation_at_60_hz", "baseline/one_reveal_at_60_hz")
ratio("step shown / idle tick", "arvik/shown_step", "arvik/idle_tick")
for size in (50, 100, 200, 400, 800):
    ratio(f"hand-written / Arvik, whole line of {size}", f"baseline/hand_written/{size}",
          f"arvik/whole_line/{size}", ">= 40" if size == 100 else "")
ratio("the same with a label made of Arvik's stages, line of 100", "baseline/hand_written_with_arvik/100",
      "arvik/whole_line/100")
for size in (100, 800):
    ratio(f"hand-written for ASCII alone / Arvik, line of {size}", f"baseline/hand_written_ascii/{size}",
          f"arvik/whole_line/{size}")
ratio("Arvik, line of 800 / line of 100", "arvik/whole_line/800", "arvik/whole_line/100", "about 8")
ratio("hand-written, line of 800 / line of 100", "baseline/hand_written/800", "baseline/hand_written/100")
for name, arg, aim in (("English", 0, "<= 1.15"), ("Arabic", 1, "<= 1.2")):
    ratio(f"shaped layout / HarfBuzz and ICU's two passes, {name}", f"arvik/shaped_layout/{arg}",
          f"baseline/harfbuzz_and_icu/{arg}", aim)
ratio("frame, a glyph of 800 / a glyph of 50", "arvik/frame/800", "arvik/frame/50", "about 1")
ratio("step shown with a sound / without", "arvik/sounding_step", "baseline/silent_step")
ratio("planning the sound of a step / showing it", "arvik/plan_typing", "baseline/silent_step")
for kind in ("pitched", "plain"):
    seconds = times.get(f"arvik/mix_second_{kind}")
    if seconds:
        print(f"{'real time / mixing one voice, ' + kind:58} {1 / seconds:8.0f}  >= 200")
