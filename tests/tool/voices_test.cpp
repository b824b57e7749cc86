// `arvik voices`: aligning the demo's clips, a second time, times of a person, errors; and the
// chart of a recording.
#include <unistd.h>

#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>

#include "support/tool.hpp"

using namespace arvik::test;
namespace fs = std::filesystem;

namespace {

// A script with two of the demo's recordings.
class VoiceProject : public ScratchFolder {
 public:
  VoiceProject() {
    fs::create_directories(path() / "voices");
    const fs::path clips = ARVIK_SOURCE_DIR "/demo/voices/en";
    for (const char* name : {"stop_06.wav", "stop_14.wav"}) {
      fs::copy_file(clips / name, path() / "voices" / name);
    }
    write("s.json", R"({"arvik_script": 1,
      "voices": {"files": {"en": {"a": "voices/stop_06.wav", "b": "voices/stop_14.wav"}}},
      "conversations": {"x": [{"id": "a", "text": "I [b: know]. Breathe."},
                              {"id": "b", "text": "Then why did it begin with you?"},
                              {"id": "c", "text": "Not spoken."}]}})");
  }
};

std::string states(const VoiceProject& project, const std::string& command = "list") {
  const Outcome outcome = arvik_tool({"voices", command, project.path("s.json"), "--json"});
  std::string all;
  const auto document = nlohmann::json::parse(outcome.out);
  for (const auto& clip : document["clips"]) {
    all += clip["key"].get<std::string>() + " " + clip["state"].get<std::string>() + " ";
  }
  return all;
}

}  // namespace

TEST_CASE("arvik voices writes timings beside the clips, once") {
  const VoiceProject project;
  CHECK(states(project) == "a missing b missing ");
  const Outcome first = arvik_tool({"voices", "align", project.path("s.json")});
  CHECK(first.status == 0);
  CHECK(first.err.empty());
  CHECK(contains(first.out, "en      a     aligned"));
  CHECK(contains(first.out, "2 of 2 were aligned now"));
  CHECK(fs::exists(project.path() / "voices/stop_06.timing.json"));
  CHECK(states(project) == "a aligned b aligned ");
  const Outcome second = arvik_tool({"voices", "align", project.path("s.json")});
  CHECK(contains(second.out, "0 of 2 were aligned now"));
  const Outcome anew = arvik_tool({"voices", "align", project.path("s.json"), "--anew"});
  CHECK(contains(anew.out, "2 of 2 were aligned now"));
  const Outcome checked = arvik_tool({"check", project.path("s.json")});
  CHECK(checked.status == 0);
  CHECK_FALSE(contains(checked.out, "voice-timing"));
}

TEST_CASE("another recording and another text make a timing stale") {
  const VoiceProject project;
  REQUIRE(arvik_tool({"voices", "align", project.path("s.json")}).status == 0);
  fs::copy_file(project.path() / "voices/stop_14.wav", project.path() / "voices/stop_06.wav",
                fs::copy_options::overwrite_existing);
  CHECK(states(project) == "a stale b aligned ");
  CHECK(contains(arvik_tool({"check", project.path("s.json")}).out, "stale-voice-timing"));
  const Outcome outcome = arvik_tool({"voices", "align", project.path("s.json")});
  CHECK(contains(outcome.out, "1 of 2 were aligned now"));
}

TEST_CASE("times that a person has given count") {
  const VoiceProject project;
  project.write("voices/stop_06.labels.txt", "0.5\t0.6\tI\n0.6\t0.9\tknow\n1\t1.2\tbreathe\n");
  CHECK(states(project, "align") == "a given b aligned ");
  std::ifstream file(project.path("voices/stop_06.timing.json"));
  const auto document = nlohmann::json::parse(file);
  CHECK(document["given"] == true);
  CHECK(document["words"][1]["at_us"] == 600'000);
  const Outcome schedule =
      arvik_tool({"chart", "I know. Breathe.", "--voice", project.path("voices/stop_06.wav"), "-o",
                  project.path("c.png")});
  CHECK(schedule.status == 0);
  project.write("voices/stop_06.labels.txt", "0.5 x I\n");
  const Outcome bad = arvik_tool({"voices", "align", project.path("s.json"), "--anew"});
  CHECK(bad.status == 1);
  CHECK(contains(bad.err, "stop_06.labels.txt:1: a row must be begin, end and text"));
  CHECK(contains(bad.out, "1 of 2 were aligned now"));  // the other one all the same
}

TEST_CASE("clips that cannot be read do not keep the others from being aligned") {
  const VoiceProject project;
  project.write("voices/stop_06.wav", "no sound");
  const Outcome outcome = arvik_tool({"voices", "align", project.path("s.json")});
  CHECK(outcome.status == 1);
  CHECK(contains(outcome.out, "a     unreadable"));
  CHECK(contains(outcome.out, "b     aligned"));
  CHECK(contains(outcome.err, "stop_06.wav: no sound file"));
}

TEST_CASE("arvik voices: wrong usage, and nothing to do") {
  const VoiceProject project;
  CHECK(arvik_tool({"voices"}).status == 2);
  CHECK(arvik_tool({"voices", "align"}).status == 2);
  CHECK(arvik_tool({"voices", "align", project.path("none.json")}).status == 2);
  CHECK(arvik_tool({"voices", "list", project.path("s.json"), "--locale", "no locale"}).status ==
        2);
  CHECK(arvik_tool({"voices", "align", project.path("s.json"), "--least-confidence", "2"}).status ==
        2);
  project.write("e.json", R"({"arvik_script": 1, "conversations": {"x": [{"text": "A"}]}})");
  const Outcome none = arvik_tool({"voices", "align", project.path("e.json")});
  CHECK(none.status == 0);
  CHECK(contains(none.out, "no line is spoken"));
}

TEST_CASE("a chart shows a recording under its text") {
  const VoiceProject project;
  const std::string clip = project.path("voices/stop_14.wav");
  const Outcome outcome = arvik_tool(
      {"chart", "Then why did it begin with you?", "--voice", clip, "-o", project.path("c.svg")});
  CHECK(outcome.status == 0);
  CHECK(fs::file_size(project.path() / "c.svg") > 20'000);
  const Outcome other = arvik_tool({"chart", "Hi.", "--voice", clip, "-o", project.path("d.png")});
  CHECK(other.status == 0);
  CHECK(contains(other.err, "(voice-length)"));
  CHECK(
      arvik_tool({"chart", "Hi.", "--voice", project.path("none.wav"), "-o", project.path("e.png")})
          .status == 1);
  // An output never overwrites what was read.
  CHECK(arvik_tool({"chart", "Hi.", "--voice", clip, "-o", clip}).status == 2);
}
