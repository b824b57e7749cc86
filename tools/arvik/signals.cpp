#include "signals.hpp"

#include <csignal>

namespace arvik::tool {
namespace {

constexpr int ending_signals[] = {SIGINT, SIGTERM, SIGHUP, SIGQUIT};

volatile std::sig_atomic_t noted_signal = 0;

extern "C" void note_signal(int signal) { noted_signal = signal; }

void handle_all(void (*handler)(int)) {
  struct sigaction action {};
  action.sa_handler = handler;
  sigemptyset(&action.sa_mask);
  // Without SA_RESTART, so that waiting ends.
  for (const int signal : ending_signals) sigaction(signal, &action, nullptr);
}

}  // namespace

SignalWatch::SignalWatch() { handle_all(note_signal); }

SignalWatch::~SignalWatch() {
  handle_all(SIG_DFL);
  if (noted_signal != 0) std::raise(noted_signal);
}

bool SignalWatch::has_come() { return noted_signal != 0; }

}  // namespace arvik::tool
