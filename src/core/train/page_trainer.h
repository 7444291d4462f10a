// Trains the page network from composed pages. Everything follows from the seed; the number of
// threads changes only the time. A run writes into one folder and can go on from it.
#pragma once

#include <string>
#include <vector>

#include "base/progress.h"
#include "layout/page_network.h"
#include "train/optimiser.h"
#include "train/page_targets.h"

namespace burnisher::train {

struct PageTrainSettings {
  std::string faces;       // table of faces (scripts/training-corpus)
  std::string texts;       // folder of texts
  std::string run_folder;  // checkpoint.safetensors, pages.tsv, pages.safetensors
  std::string from;        // a page model to start from; empty: from nothing
  bool go_on = false;      // go on from the folder's checkpoint
  int64_t pages = 40000;   // length of the whole training
  uint64_t seed = 1;
  int threads = 0;                              // 0: all cores
  int pages_per_step = 4;                       // gradients averaged for one update
  int window_width = 768, window_height = 960;  // pixels of text scale seen of a page, at most
  int64_t validate_every = 1000;
  int validation_pages = 24;
  double checkpoint_minutes = 3;
  layout::PagePlan plan;
  OptimiserSettings optimiser;
};

// How well maps are seen, over pages.
struct MapQuality {
  std::array<double, layout::kShareMaps> f1{};  // of cells at one half, per map
  double axis = 0;  // share of text cells whose axis is right within 15 degrees
};

struct PageTrainRow {
  double minutes = 0;
  int64_t pages = 0;
  double rate = 0;
  double loss = 0;  // a cell, all maps together
  MapQuality quality;
};

// The loss of one page: weighted cross-entropy of the maps and squared error of the axis;
// `gradient` has the shape of the scores (before the logistic function). Both are a cell's mean.
double page_loss(const layout::MapGrid& truth, const std::vector<float>& scores,
                 std::vector<float>& gradient);

MapQuality map_quality(const layout::PageNetwork& network, const std::vector<TrainingPage>& pages);

// Trains to the end and returns the last row. Throws Error.
PageTrainRow train_pages(const PageTrainSettings& settings, Progress& progress);

std::vector<PageTrainRow> read_page_log(const std::string& path);

}  // namespace burnisher::train
