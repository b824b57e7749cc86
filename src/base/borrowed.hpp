#pragma once

#include <utility>
#include <vector>

namespace arvik::base {

/// An empty vector with the memory of an earlier one: takes it from a slot and gives it back at the
/// end of its life. The slot must outlive it. Where two borrow from one slot, the second gets fresh
/// memory.
template <typename T>
class Borrowed {
 public:
  explicit Borrowed(std::vector<T>& slot) : slot_(&slot), vector_(std::move(slot)) {
    vector_.clear();
  }
  Borrowed(Borrowed&& other) noexcept
      : slot_(std::exchange(other.slot_, nullptr)), vector_(std::move(other.vector_)) {}
  Borrowed& operator=(Borrowed&&) = delete;
  Borrowed(const Borrowed&) = delete;
  Borrowed& operator=(const Borrowed&) = delete;
  ~Borrowed() {
    if (slot_ != nullptr) *slot_ = std::move(vector_);
  }

  std::vector<T>& operator*() { return vector_; }
  const std::vector<T>& operator*() const { return vector_; }
  std::vector<T>* operator->() { return &vector_; }
  const std::vector<T>* operator->() const { return &vector_; }
  T& operator[](std::size_t i) { return vector_[i]; }
  const T& operator[](std::size_t i) const { return vector_[i]; }

 private:
  std::vector<T>* slot_;
  std::vector<T> vector_;
};

}  // namespace arvik::base
