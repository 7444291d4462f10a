#include "train/trainer.h"
#include <CLI/CLI.hpp>
#include <cstdio>
struct P: burnisher::Progress { void advance(const std::string&,double,double) override{} void warn(const std::string&m) override{fprintf(stderr,"%s\n",m.c_str());} void say(const std::string&m) override{fprintf(stderr,"%s\n",m.c_str());}};
int main(int argc,char**argv){ CLI::App app; auto*t=app.add_subcommand("train"); burnisher::train::TrainSettings s;
 t->add_option("--faces",s.faces); t->add_option("--texts",s.texts); t->add_option("--run-dir",s.run_folder); t->add_option("--lines",s.lines); t->add_option("--seed",s.seed); t->add_flag("--go-on",s.go_on); t->add_option("--validate-every",s.validate_every); t->add_option("--rate",s.optimiser.peak_rate); t->add_option("--threads",s.threads);
 CLI11_PARSE(app,argc,argv); P p; try { burnisher::train::train(s,p);} catch(std::exception&e){fprintf(stderr,"%s\n",e.what());return 3;} }
