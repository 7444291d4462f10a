// Pages on their way into documents: each waits until its neighbours have shown what repeats from
// page to page.
#pragma once

#include <deque>
#include <functional>
#include <optional>
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
  using Settled = std::function<bool(const Item&)>;
  // `settled`: pages on which nothing is to be changed; empty: none.
  PageQueue(const std::function<Page&(Item&)>& page_of, const Sink& sink,
            const Settled& settled = nullptr)
      : page_of_(page_of), sink_(sink), settled_(settled) {}

  void push(Item item) {
    waiting_.push_back(std::move(item));
    const bool fixed = settled(waiting_.back());
    Page& newest = page_of_(waiting_.back());
    if (!fixed) layout::settle_kinds(newest);
    for (size_t i = 0; i + 1 < waiting_.size(); ++i) {
      // What is settled tells its neighbours, and stays.
      Page& other = page_of_(waiting_[i]);
      std::optional<Page> newest_as_it_is, other_as_it_is;
      if (fixed) newest_as_it_is = newest;
      if (settled(waiting_[i])) other_as_it_is = other;
      layout::mark_repeated(newest, other);
      if (newest_as_it_is) newest = std::move(*newest_as_it_is);
      if (other_as_it_is) other = std::move(*other_as_it_is);
    }
    hand_on(kNeighbours);
  }
  // To be called where a document ends.
  void flush() { hand_on(0); }

 private:
  bool settled(const Item& item) const { return settled_ && settled_(item); }

  static constexpr size_t kNeighbours = 2;  // left and right pages have heads of their own

  void hand_on(size_t left) {
    for (; waiting_.size() > left; waiting_.pop_front()) sink_(waiting_.front());
  }

  std::function<Page&(Item&)> page_of_;
  Sink sink_;
  Settled settled_;
  std::deque<Item> waiting_;
};

}  // namespace burnisher::run
