#include "train/script_trainer.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <memory>

#include "base/parallel.h"
#include "base/unicode.h"
#include "compose/typeset.h"
#include "recognise/network.h"
#include "train/line_maker.h"

namespace burnisher::train {
namespace {

using Matrix = Eigen::Matrix<float, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;

constexpr double kReach = 10;      // strip pixels from a letter's middle that are its own
constexpr int kFramesOfLine = 24;  // that one line gives to learn from
constexpr int kEpochs = 30;        // over all frames
constexpr int kBatch = 256;        // frames
constexpr float kRate = 2e-3f;     // of Adam (Kingma and Ba 2015)
constexpr float kDecay = 1e-4f;    // of the weights
constexpr int kLongest = 60;       // characters of a line

// Lines of every script in turn.
class Lines {
 public:
  Lines(const ScriptTrainerSettings& settings, const recognise::Model& model, bool held)
      : faces_(compose::read_typeface_table(settings.faces)), held_(held), frame_(model.frame) {
    for (const recognise::Script& script : recognise::scripts()) {
      alphabets_.push_back(std::make_unique<recognise::Alphabet>(script.characters));
      sources_.push_back(
          std::make_unique<TextSource>(settings.texts, *alphabets_.back(), held, "", script.code));
    }
    for (size_t s = 0; s < sources_.size(); ++s)
      makers_.push_back(
          std::make_unique<LineMaker>(*sources_[s], *alphabets_[s], faces_, held_, frame_));
  }
  size_t scripts() const { return sources_.size(); }
  TrainingLine make(size_t script, compose::ScanLevel level, uint64_t seed) {
    return makers_[script]->make(level, kLongest, seed);
  }

 private:
  std::vector<compose::TypefaceEntry> faces_;
  bool held_;
  recognise::StripFrame frame_;
  std::vector<std::unique_ptr<recognise::Alphabet>> alphabets_;
  std::vector<std::unique_ptr<TextSource>> sources_;
  std::vector<std::unique_ptr<LineMaker>> makers_;
};

// 0: no letter; else 1 + the script's place in the list.
int label_of(char32_t character) {
  if (!is_letter(character)) return 0;
  const std::string script = script_of(character);
  const auto& all = recognise::scripts();
  const auto found = std::find_if(all.begin(), all.end(),
                                  [&](const recognise::Script& s) { return s.code == script; });
  return found == all.end() ? 0 : 1 + static_cast<int>(found - all.begin());
}

struct Frames {
  std::vector<float> context;  // frames x channels
  std::vector<int> labels;
};

Frames frames_of(const TrainingLine& line, const recognise::Network& network, size_t channels,
                 Random& random) {
  const std::vector<float> context = network.context_of(line.strip);
  const auto count = static_cast<int>(context.size() / channels);
  Frames frames;
  for (int k = 0; k < kFramesOfLine && count > 0; ++k) {
    // Any frame: those between letters tell the script, too, and are asked as well.
    const auto frame = static_cast<size_t>(random.index(count));
    const double x = (static_cast<double>(frame) + 0.5) * recognise::kFrameWidth;
    const auto nearest =
        std::min_element(line.centres.begin(), line.centres.end(),
                         [&](float p, float q) { return std::fabs(p - x) < std::fabs(q - x); });
    const bool near = std::fabs(*nearest - x) < kReach;
    const float* from = context.data() + frame * channels;
    frames.context.insert(frames.context.end(), from, from + channels);
    frames.labels.push_back(
        near ? label_of(line.text[static_cast<size_t>(nearest - line.centres.begin())]) : 0);
  }
  return frames;
}

// Weights and biases, moved by Adam.
class LinearLayer {
 public:
  LinearLayer(int classes, int channels)
      : value_(Matrix::Zero(classes, channels + 1)), first_(value_), second_(value_) {}

  void learn(const Matrix& inputs, const std::vector<int>& labels) {
    Matrix scores = inputs * value_.transpose();
    for (int r = 0; r < scores.rows(); ++r) {
      auto row = scores.row(r);
      row = (row.array() - row.maxCoeff()).exp();
      row /= row.sum();
      row(labels[static_cast<size_t>(r)]) -= 1;
    }
    const Matrix gradient =
        scores.transpose() * inputs / static_cast<float>(inputs.rows()) + kDecay * value_;
    ++step_;
    first_ = 0.9f * first_ + 0.1f * gradient;
    second_ = 0.999f * second_ + 0.001f * gradient.cwiseProduct(gradient);
    const float a = 1 - std::pow(0.9f, static_cast<float>(step_)),
                b = 1 - std::pow(0.999f, static_cast<float>(step_));
    value_.array() -= kRate * (first_.array() / a) / ((second_.array() / b).sqrt() + 1e-8f);
  }
  const Matrix& value() const { return value_; }

 private:
  Matrix value_, first_, second_;
  int step_ = 0;
};

// The script most of whose letters the line has; -1 without letters.
int truth_of(const TrainingLine& line) {
  std::vector<int> counts(recognise::scripts().size() + 1, 0);
  for (const char32_t c : line.text) ++counts[static_cast<size_t>(label_of(c))];
  const auto most = std::max_element(counts.begin() + 1, counts.end());
  return *most == 0 ? -1 : static_cast<int>(most - counts.begin()) - 1;
}

}  // namespace

ScriptTrainerReport learn_scripts(const ScriptTrainerSettings& settings,
                                  const recognise::Model& model, Progress& progress) {
  ScriptTrainerReport report;
  const auto channels = static_cast<size_t>(model.plan.context);
  const auto classes = static_cast<int>(recognise::scripts().size()) + 1;
  with_threads(settings.threads, [&] {
    const recognise::Network network(model, recognise::Precision::kFloat32);
    Lines lines(settings, model, false);
    Frames all;
    for (int i = 0; i < settings.lines; ++i) {
      Random random((settings.seed << 32) + static_cast<uint64_t>(i));
      const TrainingLine line =
          lines.make(static_cast<size_t>(i) % lines.scripts(),
                     static_cast<compose::ScanLevel>(random.index(3)), random.next());
      const Frames some = frames_of(line, network, channels, random);
      all.context.insert(all.context.end(), some.context.begin(), some.context.end());
      all.labels.insert(all.labels.end(), some.labels.begin(), some.labels.end());
      if (i % 100 == 0) progress.advance("lines of all scripts", i, settings.lines);
    }
    LinearLayer layer(classes, static_cast<int>(channels));
    Random random(settings.seed);
    const auto batches = static_cast<int>(all.labels.size()) / kBatch * kEpochs;
    for (int b = 0; b < batches; ++b) {
      Matrix inputs(kBatch, static_cast<int>(channels) + 1);
      std::vector<int> labels;
      for (int r = 0; r < kBatch; ++r) {
        const auto at = static_cast<size_t>(random.index(all.labels.size()));
        std::copy_n(all.context.begin() + static_cast<long>(at * channels), channels,
                    inputs.row(r).data());
        inputs(r, static_cast<int>(channels)) = 1;
        labels.push_back(all.labels[at]);
      }
      layer.learn(inputs, labels);
    }
    report.model = model;
    neural::Tensor weight{{classes, static_cast<int>(channels)}, {}}, bias{{classes}, {}};
    std::string codes;
    for (const recognise::Script& s : recognise::scripts())
      codes += (codes.empty() ? "" : ",") + s.code;
    for (int c = 0; c < classes; ++c) {
      const float* row = layer.value().row(c).data();
      weight.values.insert(weight.values.end(), row, row + channels);
      bias.values.push_back(row[channels]);
    }
    report.model.tensors["scripts.weight"] = weight;
    report.model.tensors["scripts.bias"] = bias;
    report.model.record["scripts"] = codes;

    const recognise::Network taught(report.model);
    Lines kept_back(settings, model, true);
    for (int i = 0; i < settings.validation_lines; ++i) {
      const TrainingLine line = kept_back.make(static_cast<size_t>(i) % kept_back.scripts(),
                                               static_cast<compose::ScanLevel>(i / 6 % 3),
                                               0x73637269ull + static_cast<uint64_t>(i));
      const int truth = truth_of(line);
      if (truth < 0) continue;
      const auto told = taught.read({&line.strip}).front().script_log_probability;
      auto& [count, right] = report.lines[recognise::scripts()[static_cast<size_t>(truth)].code];
      ++count;
      right += !told.empty() && std::max_element(told.begin(), told.end()) - told.begin() == truth;
    }
  });
  return report;
}

}  // namespace burnisher::train
