#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>
#include <filesystem>

#include "arvik/draw.hpp"
#include "arvik/frame.hpp"
#include "arvik/schedule.hpp"
#include "commands.hpp"
#include "fonts.hpp"
#include "input.hpp"
#include "output.hpp"
#include "report.hpp"

namespace arvik::tool {
namespace {

constexpr std::size_t most_files = 10'000;
constexpr std::size_t strip_moments = 8;
constexpr float margin = 16;
constexpr float label_size = 13;

struct FramesOptions {
  TextOptions text;
  PaceOptions pace;
  BoxOptions box{.width = 480, .padding = 16};
  FontOptions font{.family = "sans-serif"};
  std::vector<std::string> at;
  std::string every;
  std::string output = "frames";
  Entrance entrance = Entrance::cut;
  bool strip = false;
  bool debug = false;
};

// A line ready to be painted at any moment.
struct Scene {
  Layout layout;
  Schedule schedule;
  FrameOptions options;
  bool debug = false;
};

Scene prepare(const FramesOptions& options, const InputText& input, const FontSet& fonts,
              ExitStatus& status) {
  const Pace pace = read_pace(options.pace);
  Typesetter typesetter = make_typesetter(options.text);
  PreparedLine line = prepare_line(input, typesetter, pace, fonts, make_box(options.box), status);
  Scene scene{
      .layout = std::move(line.layout), .schedule = std::move(line.schedule), .options = {}};
  scene.options.entrance = options.entrance;
  scene.options.rise = fonts.pixel_size() * 0.4F;
  scene.options.softness = fonts.pixel_size() * 0.5F;
  scene.debug = options.debug;
  return scene;
}

Nanoseconds read_time(const std::string& word) {
  const auto time = parse_time(word);
  if (!time) throw Failure(wrong_usage, time.error());
  return *time;
}

// The last moment at which anything changes.
Nanoseconds end_of(const Scene& scene) {
  const bool cut = scene.options.entrance == Entrance::cut;
  return scene.schedule.duration + (cut ? Nanoseconds::zero() : scene.options.entrance_time);
}

std::vector<Nanoseconds> moments_of(const FramesOptions& options, const Scene& scene) {
  std::vector<Nanoseconds> moments;
  for (const std::string& word : options.at) moments.push_back(read_time(word));
  if (!options.every.empty()) {
    const Nanoseconds step = read_time(options.every);
    if (step <= Nanoseconds::zero()) throw Failure(wrong_usage, "--every needs more than 0");
    if (end_of(scene) / step > static_cast<std::int64_t>(most_files)) {
      throw Failure(wrong_usage, fmt::format("--every {} would make more than {} pictures",
                                             options.every, most_files));
    }
    for (Nanoseconds now{}; now < end_of(scene) + step; now += step) moments.push_back(now);
  }
  if (moments.empty() && options.strip) {
    for (std::size_t i = 1; i <= strip_moments; ++i) {
      moments.push_back(end_of(scene) * static_cast<std::int64_t>(i) /
                        static_cast<std::int64_t>(strip_moments));
    }
  }
  if (moments.empty()) moments.push_back(end_of(scene));
  return moments;
}

// Holds let go by themselves here: what is shown at a time is what has an onset until then.
void paint(const Scene& scene, const Painter& painter, Nanoseconds now, Canvas& canvas, float x,
           float y) {
  const auto& onsets = scene.schedule.onsets;
  const auto shown = static_cast<std::uint32_t>(
      std::upper_bound(onsets.begin(), onsets.end(), now) - onsets.begin());
  Frame frame;
  make_frame(scene.layout, appearances(scene.schedule, shown), now, scene.options, frame);
  painter.paint_box(canvas, scene.layout, x, y);
  painter.paint_frame(canvas, scene.layout, frame, x, y);
  if (scene.debug) painter.paint_debug(canvas, scene.layout, frame.page, x, y);
}

Canvas make_canvas(float width, float height) {
  auto canvas = Canvas::make(static_cast<int>(std::ceil(width)),
                             static_cast<int>(std::ceil(height)), DrawColors{}.paper);
  if (!canvas) throw Failure(input_has_errors, canvas.error().message);
  return std::move(*canvas);
}

std::string seconds(Nanoseconds time) { return fmt::format("{:.2f} s", in_seconds(time)); }

// A name that ends in .png is a file, any other a folder.
bool is_picture(const std::filesystem::path& output) {
  return output.has_extension() && !std::filesystem::is_directory(output);
}

// Called when there is something to put into it.
std::filesystem::path make_folder(const std::filesystem::path& path) {
  std::error_code problem;
  std::filesystem::create_directories(path, problem);
  if (!problem) return path;
  throw Failure(wrong_usage, "cannot make the folder " + path.string() + ": " + problem.message());
}

// In milliseconds, with as many decimals as tell it apart from its neighbours.
std::string name_of(Nanoseconds moment) {
  const std::int64_t microseconds = in_microseconds(moment);
  const std::int64_t rest = microseconds % 1000;
  return rest == 0 ? fmt::format("frame-{:06}ms.png", microseconds / 1000)
                   : fmt::format("frame-{:06}.{:03}ms.png", microseconds / 1000, rest);
}

void write_strip(const FramesOptions& options, const Scene& scene, const FontSet& fonts,
                 const std::vector<Nanoseconds>& moments) {
  const Painter painter(fonts);
  LabelPainter label(fonts, label_size);
  constexpr float sheet_width = 1280;
  constexpr float label_height = 20;
  const float cell_width = scene.layout.box_width + margin;
  const float cell_height = scene.layout.box_height + label_height + margin;
  const auto columns =
      static_cast<std::size_t>(std::max(1.0F, std::floor((sheet_width - margin) / cell_width)));
  const std::size_t rows = (moments.size() + columns - 1) / columns;
  Canvas canvas =
      make_canvas(margin + cell_width * static_cast<float>(std::min(columns, moments.size())),
                  margin + cell_height * static_cast<float>(rows));
  for (std::size_t i = 0; i < moments.size(); ++i) {
    const std::size_t column = i % columns;
    const std::size_t row = i / columns;
    const float x = margin + cell_width * static_cast<float>(column);
    const float y = margin + cell_height * static_cast<float>(row);
    label.paint(canvas, seconds(moments[i]), x, y, DrawColors{}.debug);
    paint(scene, painter, moments[i], canvas, x, y + label_height);
  }
  const std::filesystem::path path = is_picture(options.output)
                                         ? std::filesystem::path(options.output)
                                         : make_folder(options.output) / "strip.png";
  write_file(path, canvas.file());
  print_out("{}\n", path.string());
}

void write_frames(const FramesOptions& options, const Scene& scene, const FontSet& fonts,
                  const std::vector<Nanoseconds>& moments) {
  const Painter painter(fonts);
  // On a terminal a bar and a count tell more than a long list of names.
  constexpr std::size_t few = 4;
  const bool on_terminal = isatty(STDOUT_FILENO) != 0;
  const bool list = !on_terminal || moments.size() <= few;
  ProgressBar bar(moments.size() > few ? moments.size() : 0);
  for (std::size_t i = 0; i < moments.size(); ++i) {
    Canvas canvas =
        make_canvas(scene.layout.box_width + 2 * margin, scene.layout.box_height + 2 * margin);
    paint(scene, painter, moments[i], canvas, margin, margin);
    const std::filesystem::path path = is_picture(options.output)
                                           ? std::filesystem::path(options.output)
                                           : make_folder(options.output) / name_of(moments[i]);
    write_file(path, canvas.file());
    if (list) print_out("{}\n", path.string());
    bar.set(i + 1);
  }
  if (!list) print_out("{} pictures in {}\n", moments.size(), options.output);
}

void run(const FramesOptions& options, ExitStatus& status) {
  const InputText input = read_line(options.text);
  const FontSet fonts = load_fonts(options.font.family, options.font.size, input.text);
  const Scene scene = prepare(options, input, fonts, status);
  const std::vector<Nanoseconds> moments = moments_of(options, scene);
  const std::filesystem::path output = options.output;
  if (output.has_extension() && !std::filesystem::is_directory(output)) {
    check_ending(output, {".png"});
    if (!options.strip && moments.size() > 1) {
      throw Failure(wrong_usage,
                    fmt::format("--output: {} is one file, but there are {} pictures: name a "
                                "folder, or add --strip",
                                quoted_word(options.output), moments.size()));
    }
  }
  if (options.strip) {
    write_strip(options, scene, fonts, moments);
  } else {
    write_frames(options, scene, fonts, moments);
  }
}

}  // namespace

void add_frames_command(CLI::App& app, ExitStatus& status) {
  auto options = std::make_shared<FramesOptions>();
  CLI::App* command = app.add_subcommand("frames", "Paint moments of a line as PNG pictures");
  command->footer(
      "Without --at, --every or --strip it paints the end of the line. Holds take no time. It "
      "prints\n"
      "the names of the files that it writes.");
  add_text_options(*command, options->text);
  add_pace_options(*command, options->pace);
  add_font_options(*command, options->font);
  add_box_options(*command, options->box, "pixels", true);
  command->add_option("--at", options->at, "A moment to paint, like 0.5s; repeat it for several")
      ->allow_extra_args(false)
      ->type_name("TIME");
  command->add_option("--every", options->every, "Paint one picture per this much time")
      ->type_name("TIME");
  add_choice<Entrance>(*command, "--enter", options->entrance,
                       {{"cut", Entrance::cut},
                        {"fade", Entrance::fade},
                        {"wipe", Entrance::wipe},
                        {"rise", Entrance::rise}},
                       "How each character comes in");
  command->add_flag("--strip", options->strip, "One sheet with all moments and their times");
  command->add_flag("--debug", options->debug, "Row boxes, baselines and step numbers");
  command
      ->add_option("-o,--output", options->output,
                   "The folder to write to; for one picture also a file, NAME.png")
      ->capture_default_str()
      ->type_name("PATH");
  command->callback([options, &status] { run(*options, status); });
}

}  // namespace arvik::tool
