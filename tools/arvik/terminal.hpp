#pragma once

#include <chrono>
#include <optional>
#include <string>
#include <string_view>

#include "../live/frame_clock.hpp"
#include "signals.hpp"

namespace arvik::tool {

/// The terminal that the tool plays on: written to in the normal flow, row by row, without taking
/// the screen. Between construction and destruction keys come singly and unechoed and the cursor is
/// hidden; afterwards, and after Ctrl-C, Ctrl-\, a hang-up, or while stopped by Ctrl-Z, everything
/// is as it was. What the terminal can do comes from terminfo. One at a time in a process.
class Terminal {
 public:
  /// Whether standard output is a terminal on which text can be put into its place: one that TERM
  /// names and terminfo knows, and whose cursor can be moved along a row.
  [[nodiscard]] static bool is_usable();

  /// Only where is_usable(). Keeps a reference to the clock.
  explicit Terminal(live::FrameClock& clock);
  Terminal(const Terminal&) = delete;
  Terminal& operator=(const Terminal&) = delete;
  ~Terminal();

  /// Cells in a row; 80 if the terminal does not tell.
  [[nodiscard]] static int width();
  /// Rows; 24 if the terminal does not tell.
  [[nodiscard]] static int height();

  void write(std::string_view text);
  /// Moves the cursor to a cell of the present row, from 0.
  void move_to(int cell);
  /// Moves the cursor up or down by some rows of the screen, to the same cell.
  void move_up(int rows);
  void move_down(int rows);
  void clear_row_end();
  void set_style(bool bold, bool italic);
  /// Fainter than normal text, until set_style.
  void set_faint();
  void flush();

  /// Waits for a key, a frame at most. Returns its byte, if one came.
  std::optional<char> wait_for_key(std::chrono::milliseconds frame);

  /// True once the user has asked the program to end (Ctrl-C, Ctrl-\\, hang-up, SIGTERM), or nobody
  /// is there to press keys any more.
  [[nodiscard]] bool interrupted() const;

 private:
  void enter();
  void leave();
  void put(const char* capability);
  void stop_if_asked();

  live::FrameClock& clock_;
  SignalWatch signals_;
  std::string buffer_;
  int keys_ = -1;  // where keys come from
  bool owns_keys_ = false;
  bool keys_gone_ = false;
};

}  // namespace arvik::tool
