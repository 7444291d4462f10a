// Pages on their way into documents: each waits until its neighbours have shown what repeats from
// page to page.
#pragma once

#include <deque>
#include <functional>
#include <string>
#include <vector>

#include "layout/document.h"
#include "page/page.h"

namespace burnisher::run {

// `Item` holds a page, which `page_of` gives.
template <typename Item>
class PageQueue {
 public:
  using Sink = std::function<void(Item&)>;
  PageQueue(const std::function<Page&(Item&)>& page_of, const Sink& sink)
      : page_of_(page_of), sink_(sink) {}

  void push(Item item) {
    waiting_.push_back(std::move(item));
    Page& newest = page_of_(waiting_.back());
    layout::settle_kinds(newest);
    for (size_t i = 0; i + 1 < waiting_.size(); ++i)
      layout::mark_repeated(newest, page_of_(waiting_[i]));
    hand_on(kNeighbours);
  }
  // To be called where a document ends.
  void flush() { hand_on(0); }

 private:
  static constexpr size_t kNeighbours = 2;  // left and right pages have heads of their own

  void hand_on(size_t left) {
    for (; waiting_.size() > left; waiting_.pop_front()) sink_(waiting_.front());
  }

  std::function<Page&(Item&)> page_of_;
  Sink sink_;
  std::deque<Item> waiting_;
};

}  // namespace burnisher::run
