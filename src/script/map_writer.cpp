// Guarded by tests/check/check_test.cpp.

#include "map_writer.hpp"

#include <utility>

namespace arvik::script {

void MapWriter::add_file(const ScriptSource& source) {
  if (map_ == nullptr) return;
  files_.emplace(&source, static_cast<std::uint32_t>(map_->files.size()));
  map_->files.push_back({source.path, std::string(source.text())});
}

ScriptSpot MapWriter::spot_of(TextRange range, const ScriptSource& source) const {
  return {files_.at(&source), static_cast<std::uint32_t>(range.begin),
          static_cast<std::uint32_t>(range.end)};
}

void MapWriter::add_name(ScriptPart part, std::string name, const JsonValue& member,
                         const ScriptSource& source) {
  if (map_ == nullptr) return;
  map_->names.push_back({part, std::move(name), spot_of(member.key_range(), source)});
}

void MapWriter::add_names(ScriptPart part, const JsonValue& object, const ScriptSource& source) {
  if (!object.is_object()) return;
  object.each([&](const JsonValue& member) { add_name(part, member.key(), member, source); });
}

void MapWriter::add_bases(const JsonValue& paces) {
  if (map_ == nullptr || !paces.is_object()) return;
  paces.each([&](const JsonValue& pace) {
    const auto base = pace.is_object() ? pace.find("based_on") : std::nullopt;
    if (base && base->text() != pace.key()) map_->base_paces.push_back(base->text());
  });
}

void MapWriter::add_text(const JsonValue& json, std::vector<std::string> unchecked,
                         const ScriptSource& source) {
  if (map_ == nullptr) return;
  if (!unchecked.empty()) {
    map_->unchecked.emplace(static_cast<std::uint32_t>(map_->texts.size()), std::move(unchecked));
  }
  TextSpot& spots = map_->texts.emplace_back();
  if (source.is_made()) return;
  spots.whole = spot_of(json.range(), source);
  const auto text = json.find("text");
  if (text && text->is_string()) spots.text = spot_of(text->range(), source);
}

void MapWriter::add_wishes(CheckWishes wishes) {
  if (map_ == nullptr) return;
  const auto add = [](std::vector<std::string>& to, const std::vector<std::string>& from) {
    to.insert(to.end(), from.begin(), from.end());
  };
  add(map_->wishes.off, wishes.off);
  add(map_->wishes.on, wishes.on);
  add(map_->wishes.starts, wishes.starts);
  add(map_->wishes.own_keys, wishes.own_keys);
  map_->wishes.has_starts = map_->wishes.has_starts || wishes.has_starts;
  map_->wishes.limits.merge(wishes.limits);
}

}  // namespace arvik::script
