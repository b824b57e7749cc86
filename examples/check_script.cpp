// A script checked by a game's own build: what players would stumble over stops it.
//
//   check_script SCRIPT

#include <cstdio>

#include "arvik/check.hpp"

int main(int argc, char** argv) {
  if (argc != 2) {
    std::fputs("usage: check_script SCRIPT\n", stderr);
    return 2;
  }
  const auto script = arvik::load_for_check(argv[1]);
  if (!script) {
    std::fprintf(stderr, "%s\n", script.error().message.c_str());
    return 1;
  }
  const auto report = arvik::check(*script, {.off = {"unused-portrait"}});
  if (!report) {
    std::fprintf(stderr, "%s\n", report.error().message.c_str());
    return 1;
  }
  for (const arvik::Finding& finding : report->findings) {
    std::printf("%s:%zu:%zu: %s (%s %s)\n", finding.file.c_str(), finding.row, finding.column,
                finding.message.c_str(), finding.code.c_str(), finding.locale.c_str());
  }
  std::printf("%zu findings in %zu texts\n", report->findings.size(), report->texts);
  return report->findings.empty() ? 0 : 1;
}
