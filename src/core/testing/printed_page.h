// Pages drawn for tests: text set with Cairo at known places, and a temporary folder.
#pragma once

#include <string>
#include <vector>

#include "base/plane.h"
#include "raster/image.h"

namespace burnisher::testing {

struct PrintedLine {
  std::string text;
  double x = 0, baseline = 0;
  double size = 40;  // em in pixels
  std::string face = "Liberation Serif";
  double angle = 0;  // degrees counter-clockwise about the line's beginning
};

// White paper with black text.
class PrintedPage {
 public:
  PrintedPage(int width, int height);

  PrintedPage& print(const PrintedLine& line);
  // Lines one below the other, `pitch` apart; returns the baseline after the last.
  double print_column(const std::vector<std::string>& lines, double x, double baseline, double size,
                      double pitch);
  PrintedPage& rule(double x0, double y0, double x1, double y1, double thickness);
  PrintedPage& disc(double x, double y, double radius);
  // An empty square, its sides `thickness` wide.
  PrintedPage& square(double x, double y, double side, double thickness);

  // The page turned counter-clockwise about its middle, white where nothing was.
  Gray picture(double degrees = 0) const;

 private:
  int width_, height_;
  std::vector<PrintedLine> lines_;
  struct Rule {
    Box box;
    bool round;
  };
  std::vector<Rule> rules_;
};

// Prose for filling pages: `count` lines of about `characters` characters.
std::vector<std::string> prose(int count, int characters);

// A fresh folder below the system's temporary one, removed with everything in it at the end.
class TemporaryFolder {
 public:
  TemporaryFolder();
  ~TemporaryFolder();
  TemporaryFolder(const TemporaryFolder&) = delete;
  TemporaryFolder& operator=(const TemporaryFolder&) = delete;

  const std::string& path() const { return path_; }
  std::string file(const std::string& name) const { return path_ + "/" + name; }

 private:
  std::string path_;
};

}  // namespace burnisher::testing
