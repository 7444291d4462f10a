// A headless Chromium that is clicked and typed in, through its WebDriver.
#pragma once

#include <string>

namespace burnisher::tests {

class Browser {
 public:
  // Throws std::runtime_error when it does not start.
  Browser();
  ~Browser();
  Browser(const Browser&) = delete;
  Browser& operator=(const Browser&) = delete;

  void open(const std::string& path);
  void open_address(const std::string& address);
  void click(const std::string& css);
  // Keys to what has the focus, or to the element. Enter is "\uE007", the right arrow "\uE014".
  void type(const std::string& keys, const std::string& css = "body");
  std::string text_of(const std::string& css);
  // The mouse pressed at one place of the window, moved to another and let go there; with Shift
  // held down on request.
  void drag(double x0, double y0, double x1, double y1, bool shift = false);
  // The value of a JavaScript expression, as text.
  std::string value_of(const std::string& expression);

 private:
  std::string ask(const std::string& method, const std::string& what, const std::string& body);
  std::string element(const std::string& css);

  int driver_ = 0;  // process
  int port_ = 0;
  std::string session_;
};

}  // namespace burnisher::tests
