#include "terminal.hpp"

#include <fcntl.h>
#include <sys/ioctl.h>
#include <termios.h>
#include <unistd.h>

#include <cerrno>
#include <csignal>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <string>

// Last: these define short macros.
#include <curses.h>
#include <term.h>

namespace arvik::tool {
namespace {

volatile std::sig_atomic_t stop_asked = 0;
termios saved_modes;

extern "C" void note_stop(int) { stop_asked = 1; }

void handle_stop(void (*handler)(int)) {
  struct sigaction action {};
  action.sa_handler = handler;
  sigemptyset(&action.sa_mask);
  sigaction(SIGTSTP, &action, nullptr);  // without SA_RESTART, so that waiting ends
}

// terminfo marks a capability that a terminal takes back by the address -1.
bool is_there(const char* capability) {
  return capability != nullptr && reinterpret_cast<std::intptr_t>(capability) != -1;
}

std::string* put_target = nullptr;  // tputs takes a plain function
int put_byte(int byte) {
  put_target->push_back(static_cast<char>(byte));
  return byte;
}

}  // namespace

bool Terminal::is_usable() {
  if (isatty(STDOUT_FILENO) == 0) return false;
  const char* name = std::getenv("TERM");
  if (name == nullptr || *name == '\0') return false;
  int problem = 0;
  if (setupterm(nullptr, STDOUT_FILENO, &problem) != OK || cur_term == nullptr) return false;
  // The names are macros that look into cur_term.
  const bool usable =
      is_there(parm_right_cursor) && is_there(parm_up_cursor) && is_there(parm_down_cursor);
  del_curterm(cur_term);
  return usable;
}

Terminal::Terminal(live::FrameClock& clock) : clock_(clock) {
  int problem = 0;
  setupterm(nullptr, STDOUT_FILENO, &problem);
  if (isatty(STDIN_FILENO) != 0) {
    keys_ = STDIN_FILENO;
  } else {  // the text came through a pipe; the keyboard is still there
    keys_ = open("/dev/tty", O_RDONLY | O_CLOEXEC);
    owns_keys_ = keys_ >= 0;
  }
  if (keys_ >= 0) tcgetattr(keys_, &saved_modes);
  handle_stop(note_stop);
  enter();
}

Terminal::~Terminal() {
  leave();
  if (owns_keys_) close(keys_);
  handle_stop(SIG_DFL);
}

int Terminal::width() {
  winsize size{};
  const bool known = ioctl(STDOUT_FILENO, TIOCGWINSZ, &size) == 0 && size.ws_col > 0;
  return known ? size.ws_col : 80;
}

int Terminal::height() {
  winsize size{};
  const bool known = ioctl(STDOUT_FILENO, TIOCGWINSZ, &size) == 0 && size.ws_row > 0;
  return known ? size.ws_row : 24;
}

void Terminal::enter() {
  if (keys_ >= 0) {
    termios modes = saved_modes;
    modes.c_lflag &= ~static_cast<tcflag_t>(ICANON | ECHO);
    modes.c_cc[VMIN] = 1;
    modes.c_cc[VTIME] = 0;
    tcsetattr(keys_, TCSADRAIN, &modes);
  }
  put(cursor_invisible);
  flush();
}

void Terminal::leave() {
  put(exit_attribute_mode);
  put(cursor_normal);
  flush();
  if (keys_ >= 0) tcsetattr(keys_, TCSADRAIN, &saved_modes);
}

void Terminal::put(const char* capability) {
  if (!is_there(capability)) return;
  put_target = &buffer_;
  tputs(capability, 1, put_byte);
}

void Terminal::write(std::string_view text) { buffer_ += text; }

void Terminal::move_to(int cell) {
  buffer_ += '\r';
  if (cell > 0) put(tparm(parm_right_cursor, cell, 0, 0, 0, 0, 0, 0, 0, 0));
}

void Terminal::move_up(int rows) {
  if (rows > 0) put(tparm(parm_up_cursor, rows, 0, 0, 0, 0, 0, 0, 0, 0));
}

void Terminal::move_down(int rows) {
  if (rows > 0) put(tparm(parm_down_cursor, rows, 0, 0, 0, 0, 0, 0, 0, 0));
}

void Terminal::clear_row_end() { put(clr_eol); }

void Terminal::set_style(bool bold, bool italic) {
  put(exit_attribute_mode);
  if (bold) put(enter_bold_mode);
  if (italic) put(enter_italics_mode);
}

void Terminal::set_faint() { put(enter_dim_mode); }

void Terminal::flush() {
  const bool written = std::fwrite(buffer_.data(), 1, buffer_.size(), stdout) == buffer_.size();
  if (!written || std::fflush(stdout) != 0) keys_gone_ = true;  // so is the terminal
  buffer_.clear();
}

void Terminal::stop_if_asked() {
  if (stop_asked == 0) return;
  stop_asked = 0;
  leave();
  std::raise(SIGSTOP);
  enter();
}

std::optional<char> Terminal::wait_for_key(std::chrono::milliseconds frame) {
  const bool ready = clock_.wait(frame, keys_gone_ ? -1 : keys_);
  stop_if_asked();
  if (!ready) return std::nullopt;
  char key = 0;
  const ssize_t got = read(keys_, &key, 1);
  if (got == 1) return key;
  keys_gone_ = got == 0 || errno != EINTR;
  return std::nullopt;
}

bool Terminal::interrupted() const {
  return SignalWatch::has_come() || keys_gone_ || clock_.has_ended();
}

}  // namespace arvik::tool
