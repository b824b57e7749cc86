// Save and load in the middle of a line: a conversation's place is small, becomes JSON, and goes on
// at exactly the same character.

#include <arvik/arvik.hpp>
#include <arvik/place_file.hpp>
#include <arvik/script_file.hpp>
#include <cstdio>
#include <string>
#include <vector>

namespace {

void show(const char* when, const arvik::Conversation& talk) {
  const arvik::ConversationView view = talk.view();
  const std::string& text = view.block->marked.text;
  std::printf("%s: line %u, \"%s\"\n", when, talk.line(),
              text.substr(0, view.block->steps.extents[view.shown].bytes).c_str());
}

}  // namespace

int main() {
  using namespace std::chrono_literals;
  const std::vector<arvik::DialogueLine> lines{
      {.text = "Nine! It was calling Engine Nine!"},
      {.text = "Then why did it begin with you?"},
  };
  const arvik::GridFont grid;
  arvik::Typesetter typesetter(arvik::Language::open("en").value());

  arvik::Conversation talk(typesetter, grid, arvik::Box{.width = 40});
  if (!talk.start(lines)) return 1;
  talk.tick(2s);
  talk.tick(16ms, {.advance = true});  // goes on to the second line
  talk.tick(400ms);
  show("saved ", talk);
  const std::string saved = arvik::write_place(talk.place());

  // Another day, another process: the same lines, and the place from the file.
  arvik::Conversation later(typesetter, grid, arvik::Box{.width = 40});
  const auto place = arvik::read_place(saved);
  if (!place || !later.start_at(lines, *place)) return 1;
  show("loaded", later);
  talk.tick(100ms);
  later.tick(100ms);
  show("the one that went on", talk);
  show("the one that was loaded", later);
}
