// How many pixels are worked on at the same time: a map of 400 megapixels among letters must not
// make the machine swap.
#pragma once

#include <condition_variable>
#include <memory>
#include <mutex>

namespace burnisher::run {

class PixelBudget {
 public:
  explicit PixelBudget(double most = kMost) : most_(most) {}
  PixelBudget(const PixelBudget&) = delete;
  PixelBudget& operator=(const PixelBudget&) = delete;

  // Waits until `pixels` fit beside those that are held, or nothing is held at all; they count
  // until the result goes. Who holds some must not ask for more.
  std::shared_ptr<void> hold(double pixels) {
    std::unique_lock<std::mutex> lock(guard_);
    freed_.wait(lock, [&] { return held_ == 0 || held_ + pixels <= most_; });
    held_ += pixels;
    return std::shared_ptr<void>(this,
                                 [pixels](PixelBudget* budget) { budget->give_back(pixels); });
  }

 private:
  // About 15 bytes a pixel are in use while a page is cleaned and read: 3 GB.
  static constexpr double kMost = 200e6;

  void give_back(double pixels) {
    const std::lock_guard<std::mutex> lock(guard_);
    held_ -= pixels;
    freed_.notify_all();
  }

  double most_, held_ = 0;
  std::mutex guard_;
  std::condition_variable freed_;
};

}  // namespace burnisher::run
