// Reading a table of strings beside what libcsv alone takes for the same bytes, and its memory
// beside its size. Usage: table_load ROWS COLUMNS

#include <csv.h>
#include <sys/resource.h>

#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <string>

#include "arvik/strings_table.hpp"

namespace {

std::string table_of(int rows, int columns) {
  std::string csv = "key";
  for (int column = 0; column < columns - 1; ++column) {
    csv += ',';
    csv += "#" + std::to_string(column);
  }
  csv += '\n';
  for (int row = 0; row < rows; ++row) {
    csv += "line_" + std::to_string(row);
    for (int column = 0; column < columns - 1; ++column) {
      csv += row % 2 == 0 ? ",\"The tide clock, at a quarter past four\"" : ",Nobody saw it stop.";
    }
    csv += '\n';
  }
  return csv;
}

long peak_kilobytes() {
  rusage usage{};
  getrusage(RUSAGE_SELF, &usage);
  return usage.ru_maxrss;
}

template <typename Work>
double seconds_of(Work work) {
  const auto begin = std::chrono::steady_clock::now();
  work();
  return std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
}

}  // namespace

int main(int argc, char** argv) {
  const int rows = argc > 1 ? std::atoi(argv[1]) : 100'000;
  const int columns = argc > 2 ? std::atoi(argv[2]) : 20;
  const std::string csv = table_of(rows, columns);
  const auto size = static_cast<double>(csv.size());
  std::size_t cells = 0;
  const double bare = seconds_of([&] {
    csv_parser parser{};
    csv_init(&parser, CSV_STRICT);
    csv_parse(
        &parser, csv.data(), csv.size(),
        [](void*, std::size_t, void* count) { ++*static_cast<std::size_t*>(count); }, nullptr,
        &cells);
    csv_free(&parser);
  });
  const long before = peak_kilobytes();
  bool good = false;
  std::uint32_t read = 0;
  const double whole = seconds_of([&] {
    const auto table = arvik::parse_strings(csv);
    good = table.has_value();
    if (good) read = table->rows();
  });
  if (!good || cells == 0) {
    std::fprintf(stderr, "table_load: the table was not read\n");
    return 1;
  }
  std::printf(
      "%u rows of %d columns, %.1f MB: %.2f s, %.2f of libcsv alone (%.2f s); memory %.2f of the "
      "file's size\n",
      read, columns, size / 1e6, whole, whole / bare, bare,
      static_cast<double>(peak_kilobytes() - before) * 1024 / size);
  return 0;
}
