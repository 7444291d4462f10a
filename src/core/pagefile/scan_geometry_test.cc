#include "pagefile/scan_geometry.h"

#include <gtest/gtest.h>

#include "base/error.h"

namespace burnisher {
namespace {

Custom custom_of(const Page& page, const std::string& image) {
  std::string attribute;
  for (const std::string& entry : scan_entries(page, image)) attribute += entry + " ";
  return Custom(attribute);
}

Page crooked_page() {
  Page page;
  page.number = 12;
  page.part = 2;
  page.dpi = 300;
  page.width = 800;
  page.height = 1200;
  page.geometry.scan_width = 1700;
  page.geometry.scan_height = 1300;
  page.geometry.to_scan = PlaneMap(Affine{0.99987, -0.0123456789, 801.5, 0.0123456789, 0.99987, 3});
  return page;
}

TEST(ScanGeometry, ComesBackToTheLastBit) {
  const Page page = crooked_page();
  Page back;
  read_geometry(custom_of(page, "box 3/leaf;12.tif"), back);
  EXPECT_EQ(back.number, 12);
  EXPECT_EQ(back.part, 2);
  EXPECT_EQ(back.dpi, 300);
  EXPECT_EQ(back.geometry.scan_width, 1700);
  EXPECT_EQ(back.geometry.scan_height, 1300);
  for (const Point p : {Point{0, 0}, Point{799, 1199}, Point{123.25, 77}}) {
    EXPECT_EQ(back.geometry.to_scan(p).x, page.geometry.to_scan(p).x);
    EXPECT_EQ(back.geometry.to_scan(p).y, page.geometry.to_scan(p).y);
  }
}

TEST(ScanGeometry, TheBendComesBackToo) {
  Page page = crooked_page();
  auto field = std::make_shared<DisplacementField>();
  field->step = 400;
  field->columns = 3;
  field->rows = 2;
  field->down = {0.f, 1.1f, 2.7f, 0.3f, -1.9f, 0.0001f};
  page.geometry.to_scan = PlaneMap(page.geometry.to_scan.plane(), field);
  Page back;
  read_geometry(custom_of(page, "leaf.tif"), back);
  ASSERT_NE(back.geometry.to_scan.displacement(), nullptr);
  EXPECT_EQ(back.geometry.to_scan.displacement()->down, field->down);
  EXPECT_EQ(back.geometry.to_scan({300, 500}).y, page.geometry.to_scan({300, 500}).y);
}

TEST(ScanGeometry, WhatNoScanCanHaveIsRefused) {
  const struct {
    const char* attribute;
    const char* says;
  } cases[] = {
      {"scan {width:-5;}", "width"},
      {"scan {dpi:1e6;}", "dpi"},
      {"scan {page:0;}", "page"},
      {"scan {height:9000000;}", "height"},
      {"displacement {step:64;columns:2;rows:2;down:0,1,2;}", "not complete"},
      {"displacement {step:0;columns:2;rows:2;down:0,1,2,3;}", "not complete"},
      {"displacement {step:64;columns:2;rows:2;down:0,1,x,3;}", "shift of x"},
  };
  for (const auto& c : cases) {
    Page page;
    page.width = page.height = 100;
    try {
      read_geometry(Custom(c.attribute), page);
      ADD_FAILURE() << c.attribute << " was taken";
    } catch (const FormatError& error) {
      EXPECT_NE(std::string(error.what()).find(c.says), std::string::npos) << error.what();
    }
  }
}

TEST(ScanGeometry, WithoutEntriesThePageIsItsOwnScan) {
  Page page;
  page.width = 100;
  page.height = 50;
  read_geometry(Custom(""), page);
  EXPECT_TRUE(page.geometry.to_scan.is_identity());
}

}  // namespace
}  // namespace burnisher
