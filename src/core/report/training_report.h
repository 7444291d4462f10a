// How a training from transcribed pages went: the curve, the letters that are still mixed up, and
// the lines that are still read worst.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "train/page_trainer.h"
#include "train/rounds.h"
#include "train/trainer.h"

namespace burnisher::report {

std::string training_html(const train::RoundsReport& report);

// Errors of lines on faces and texts never trained on, by the lines seen; PNG.
std::vector<uint8_t> training_curve(const std::vector<train::TrainRow>& log);
// How well the page network's maps are seen on composed pages it was not taught with, by the pages
// seen; PNG.
std::vector<uint8_t> pages_curve(const std::vector<train::PageTrainRow>& log);
// Errors of the kept-back lines by round; PNG.
std::vector<uint8_t> rounds_curve(const train::RoundsReport& report);

}  // namespace burnisher::report
