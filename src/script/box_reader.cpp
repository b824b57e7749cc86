#include "box_reader.hpp"

#include "fields.hpp"

namespace arvik::script {

void read_box(const JsonValue& json, Problems& problems, Box& box) {
  Fields fields(json, "a box", problems);
  constexpr double most = 100'000;
  const auto out_of_range = [&](const JsonValue& value, std::string_view key) {
    problems.bad_value(value, std::string(key) + " is out of range");
  };
  const auto length = [&](std::string_view key, float& out, double least) {
    const auto value = fields.value(key);
    if (!value) return;
    if (!value->is_number()) {
      problems.bad_value(*value, std::string(key) + " must be a number");
    } else if (value->number() < least || value->number() > most) {
      out_of_range(*value, key);
    } else {
      out = static_cast<float>(value->number());
    }
  };
  length("width", box.width, 1);
  length("height", box.height, 1);
  length("row_spacing", box.row_spacing, 0);
  if (const auto rows = fields.value("rows")) {
    const auto whole = rows->whole();
    if (!whole) {
      problems.bad_value(*rows, "rows must be a whole number");
    } else if (*whole < 1 || *whole > static_cast<std::uint64_t>(most)) {
      out_of_range(*rows, "rows");
    } else {
      box.max_rows = static_cast<std::uint32_t>(*whole);
    }
  }
  box.balanced = fields.flag("balanced").value_or(box.balanced);
  fields.word<Align>("align", box.align,
                     {{"start", Align::start}, {"center", Align::center}, {"end", Align::end}});
  fields.word<Overflow>("overflow", box.overflow,
                        {{"pages", Overflow::pages},
                         {"shrink", Overflow::shrink},
                         {"clip", Overflow::clip},
                         {"refuse", Overflow::refuse}});
  fields.finish();
}

}  // namespace arvik::script
