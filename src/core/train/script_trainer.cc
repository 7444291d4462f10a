#include "train/script_trainer.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <memory>

#include "base/error.h"
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

// The scripts that there are both texts and faces of, and lines of each.
class Lines {
 public:
  Lines(const ScriptTrainerSettings& settings, const recognise::Model& model, bool held)
      : faces_(compose::read_typeface_table(settings.faces)) {
    for (const recognise::Script& script : recognise::scripts()) {
      const auto sets = [&](const compose::TypefaceEntry& face) { return face.sets(script.code); };
      if (TextSource::languages_in(settings.texts, script.code).empty() ||
          std::none_of(faces_.begin(), faces_.end(), sets))
        continue;
      // Where no face of a script is kept back, its lines are set in those learnt from.
      const bool kept_back = std::any_of(faces_.begin(), faces_.end(),
                                         [&](const auto& face) { return face.held && sets(face); });
      codes_.push_back(script.code);
      alphabets_.push_back(std::make_unique<recognise::Alphabet>(script.characters()));
      sources_.push_back(
          std::make_unique<TextSource>(settings.texts, *alphabets_.back(), held, "", script.code));
      makers_.push_back(std::make_unique<LineMaker>(*sources_.back(), *alphabets_.back(), faces_,
                                                    held && kept_back, model.frame));
    }
    if (codes_.size() < 2)
      throw InputError(settings.texts + ": has texts in fewer than two scripts that " +
                       settings.faces + " has faces of");
  }
  const std::vector<std::string>& codes() const { return codes_; }
  // The `number`th line: scripts take turns.
  TrainingLine make(int number, compose::ScanLevel level, uint64_t seed) {
    return makers_[static_cast<size_t>(number) % makers_.size()]->make(level, kLongest, seed);
  }

 private:
  std::vector<compose::TypefaceEntry> faces_;
  std::vector<std::string> codes_;
  std::vector<std::unique_ptr<recognise::Alphabet>> alphabets_;
  std::vector<std::unique_ptr<TextSource>> sources_;
  std::vector<std::unique_ptr<LineMaker>> makers_;
};

// 0: no letter of these scripts; else 1 + the script's place among them.
int label_of(char32_t character, const std::vector<std::string>& codes) {
  if (!is_letter(character)) return 0;
  const auto found = std::find(codes.begin(), codes.end(), script_of(character));
  return found == codes.end() ? 0 : 1 + static_cast<int>(found - codes.begin());
}

struct Frames {
  std::vector<float> context;  // frames x channels
  std::vector<int> labels;
};

void add_frames(const TrainingLine& line, const std::vector<std::string>& codes,
                const recognise::Network& network, size_t channels, Random& random,
                Frames& frames) {
  const std::vector<float> context = network.context_of(line.strip);
  const auto count = static_cast<int>(context.size() / channels);
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
        near ? label_of(line.text[static_cast<size_t>(nearest - line.centres.begin())], codes) : 0);
  }
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

Frames learnt_frames(const ScriptTrainerSettings& settings, const recognise::Model& model,
                     Lines& lines, Progress& progress) {
  const recognise::Network network(model, recognise::Precision::kFloat32);
  Frames frames;
  for (int i = 0; i < settings.lines; ++i) {
    Random random((settings.seed << 32) + static_cast<uint64_t>(i));
    const auto level = static_cast<compose::ScanLevel>(random.index(3));
    const TrainingLine line = lines.make(i, level, random.next());
    add_frames(line, lines.codes(), network, static_cast<size_t>(model.plan.context), random,
               frames);
    if (i % 100 == 0) progress.advance("lines of all scripts", i, settings.lines);
  }
  return frames;
}

LinearLayer fitted(const Frames& frames, int classes, size_t channels, uint64_t seed) {
  LinearLayer layer(classes, static_cast<int>(channels));
  Random random(seed);
  const auto batches = static_cast<int>(frames.labels.size()) / kBatch * kEpochs;
  for (int b = 0; b < batches; ++b) {
    Matrix inputs(kBatch, static_cast<int>(channels) + 1);
    std::vector<int> labels;
    for (int r = 0; r < kBatch; ++r) {
      const auto at = static_cast<size_t>(random.index(frames.labels.size()));
      std::copy_n(frames.context.begin() + static_cast<long>(at * channels), channels,
                  inputs.row(r).data());
      inputs(r, static_cast<int>(channels)) = 1;
      labels.push_back(frames.labels[at]);
    }
    layer.learn(inputs, labels);
  }
  return layer;
}

recognise::Model with_head(recognise::Model model, const LinearLayer& layer,
                           const std::vector<std::string>& codes) {
  const int classes = static_cast<int>(codes.size()) + 1, channels = model.plan.context;
  neural::Tensor weight{{classes, channels}, {}}, bias{{classes}, {}};
  for (int c = 0; c < classes; ++c) {
    const float* row = layer.value().row(c).data();
    weight.values.insert(weight.values.end(), row, row + channels);
    bias.values.push_back(row[channels]);
  }
  model.tensors["scripts.weight"] = weight;
  model.tensors["scripts.bias"] = bias;
  std::string list;
  for (const std::string& code : codes) list += (list.empty() ? "" : ",") + code;
  model.record["scripts"] = list;
  return model;
}

// The script most of whose letters the line has; -1 without letters.
int truth_of(const TrainingLine& line, const std::vector<std::string>& codes) {
  std::vector<int> counts(codes.size() + 1, 0);
  for (const char32_t c : line.text) ++counts[static_cast<size_t>(label_of(c, codes))];
  const auto most = std::max_element(counts.begin() + 1, counts.end());
  return *most == 0 ? -1 : static_cast<int>(most - counts.begin()) - 1;
}

void measure(const ScriptTrainerSettings& settings, ScriptTrainerReport& report) {
  const recognise::Network taught(report.model);
  Lines lines(settings, report.model, true);
  const auto turns = static_cast<int>(lines.codes().size());
  for (int i = 0; i < settings.validation_lines; ++i) {
    const TrainingLine line = lines.make(i, static_cast<compose::ScanLevel>(i / turns % 3),
                                         0x73637269ull + static_cast<uint64_t>(i));
    const int truth = truth_of(line, lines.codes());
    if (truth < 0) continue;
    const auto told = taught.read({&line.strip}).front().script_log_probability;
    auto& [count, right] = report.lines[lines.codes()[static_cast<size_t>(truth)]];
    ++count;
    right += !told.empty() && std::max_element(told.begin(), told.end()) - told.begin() == truth;
  }
}

}  // namespace

ScriptTrainerReport learn_scripts(const ScriptTrainerSettings& settings,
                                  const recognise::Model& model, Progress& progress) {
  ScriptTrainerReport report;
  with_threads(settings.threads, [&] {
    Lines lines(settings, model, false);
    const Frames frames = learnt_frames(settings, model, lines, progress);
    const LinearLayer layer = fitted(frames, static_cast<int>(lines.codes().size()) + 1,
                                     static_cast<size_t>(model.plan.context), settings.seed);
    report.model = with_head(model, layer, lines.codes());
    measure(settings, report);
  });
  return report;
}

}  // namespace burnisher::train
