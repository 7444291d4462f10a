// A job shared by two nodes of Slurm, both on this machine: the batch system as it is, started for
// the test and ended after it.
#include <gtest/gtest.h>

#include <unistd.h>
#include <chrono>
#include <filesystem>
#include <thread>
#include "base/json.h"

#include "base/files.h"
#include "program.h"
#include "raster/png.h"
#include "testing/printed_page.h"

namespace burnisher::tests {
namespace {

namespace fs = std::filesystem;

using testing::PrintedPage;
using testing::TemporaryFolder;

// Slurm's daemons within a folder of their own.
class Slurm {
 public:
  Slurm() {
    const std::string folder = folder_.path();
    for (const char* name : {"state", "spool-n1", "spool-n2", "log"})
      fs::create_directories(folder_.file(name));
    std::string host = shell("hostname").out;
    host.erase(host.find_last_not_of("\n") + 1);
    put(folder_.file("slurm.conf"),
        "ClusterName=t\nSlurmctldHost=" + host +
            "(127.0.0.1)\nAuthType=auth/munge\n"
            "MpiDefault=none\nSlurmUser=root\nSlurmdUser=root\nSlurmctldPort=16817\n"
            "StateSaveLocation=" +
            folder + "/state\nSlurmdSpoolDir=" + folder +
            "/spool-%n\n"
            "SlurmctldPidFile=" +
            folder + "/ctld.pid\nSlurmdPidFile=" + folder +
            "/d-%n.pid\n"
            "SlurmctldLogFile=" +
            folder + "/log/ctld.log\nSlurmdLogFile=" + folder +
            "/log/d-%n.log\nProctrackType=proctrack/linuxproc\nTaskPlugin=task/none\n"
            "JobAcctGatherType=jobacct_gather/none\nSchedulerType=sched/backfill\n"
            "SelectType=select/cons_tres\nReturnToService=2\nKillWait=5\n"
            "NodeName=n[1-2] NodeHostname=" +
            host +
            " NodeAddr=127.0.0.1 Port=[17001-17002] CPUs=1 State=UNKNOWN\n"
            "PartitionName=p Nodes=ALL Default=YES MaxTime=INFINITE State=UP\n");
    // Another's munge may be at work already; then that is taken.
    own_munge_ = shell("munge -n | unmunge").code != 0;
    if (own_munge_) {
      shell(
          "mkdir -p /run/munge /var/log/munge /var/lib/munge; "
          "chown munge:munge /run/munge /var/log/munge /var/lib/munge; "
          "su -s /bin/sh munge -c /usr/sbin/munged");
    }
    started_ = say("slurmctld -f $SLURM_CONF && slurmd -N n1 -f $SLURM_CONF && "
                   "slurmd -N n2 -f $SLURM_CONF")
                       .code == 0 &&
               wait_for("[ $(sinfo -h -t idle -o %D) -eq 2 ] 2>/dev/null", 60);
  }
  ~Slurm() {
    say("scancel -u root");
    for (const char* daemon : {"d-n1", "d-n2", "ctld"})
      say("kill $(cat " + folder_.file(std::string(daemon) + ".pid") + ") 2>/dev/null");
    wait_for("! pgrep -F " + folder_.file("ctld.pid") + " > /dev/null 2>&1", 10);
    if (own_munge_) shell("kill $(cat /run/munge/munged.pid)");
  }

  bool started() const { return started_; }
  Outcome say(const std::string& command) const {
    return shell("export SLURM_CONF=" + folder_.file("slurm.conf") + "; " + command);
  }
  bool wait_for(const std::string& condition, int seconds) const {
    for (int i = 0; i < 4 * seconds; ++i) {
      if (say(condition).code == 0) return true;
      std::this_thread::sleep_for(std::chrono::milliseconds(250));
    }
    return false;
  }
  std::string logs() const { return say("tail -n 30 " + folder_.path() + "/log/*").out; }

 private:
  TemporaryFolder folder_;
  bool own_munge_ = false, started_ = false;
};

void scans(const TemporaryFolder& folder, int count) {
  fs::create_directories(folder.file("scans"));
  for (int i = 1; i <= count; ++i) {
    PrintedPage page(1200, 1500);
    page.print({"Leaf " + std::to_string(i) + " of the log", 100, 120, 44});
    page.print_column(testing::prose(20, 52), 100, 220, 38, 52);
    char name[32];
    std::snprintf(name, sizeof name, "scans/leaf%03d.png", i);
    write_file(folder.file(name), write_png(page.picture(), 200));
  }
}

TEST(Cluster, TwoNodesDoAJobAndALostWorkerCostsNothing) {
  if (geteuid() != 0) GTEST_SKIP() << "Slurm's daemons are started by root";
  const Slurm slurm;
  ASSERT_TRUE(slurm.started()) << slurm.logs();
  TemporaryFolder here, there;
  scans(here, 60);
  scans(there, 60);
  ASSERT_EQ(in(here, "$B run scans --job job --out all.pdf --out all.txt").code, 0);

  const std::string go = "cd " + there.path() +
                         " && BURNISHER_MODELS=" BURNISHER_MODELS_FOLDER " " BURNISHER_PROGRAM
                         " run scans --job job --out all.pdf --out all.txt "
                         "--on slurm --nodes 2 --slurm=--time=10";
  const Outcome submitted = slurm.say(go);
  ASSERT_EQ(submitted.code, 0) << submitted.err;
  EXPECT_TRUE(contains(submitted.err, "2 workers")) << submitted.err;

  // Both are at work; then the first is killed as a node would die: without a word.
  ASSERT_TRUE(
      slurm.wait_for("[ $(ls " + there.file("job/workers") + "/*.json | wc -l) -eq 2 ]", 60))
      << slurm.logs();
  ASSERT_TRUE(slurm.wait_for("[ $(ls " + there.file("job/read") + "/*.json | wc -l) -ge 6 ]", 60));
  EXPECT_EQ(slurm.say("pkill -9 -o -f 'work " + there.path() + "/job'").code, 0);

  ASSERT_TRUE(slurm.wait_for("[ -z \"$(squeue -h)\" ]", 240)) << slurm.say("squeue").out;
  const std::string log = content_of(there.file("job/log/delivery.txt"));
  EXPECT_TRUE(contains(log, "60 up to date") || contains(log, "to read")) << log;
  for (const char* name : {"all.txt", "all.pdf"}) {
    ASSERT_TRUE(fs::exists(there.file(name))) << log;
    EXPECT_TRUE(content_of(here.file(name)) == content_of(there.file(name))) << name;
  }
  const auto status = parse_json(in(there, "$B status job --json").out);
  EXPECT_EQ(status["read"], 60);
}

TEST(Cluster, WithoutSlurmThatIsSaid) {
  TemporaryFolder folder;
  scans(folder, 1);
  const Outcome o = in(folder, "PATH=/nowhere $B run scans --job job --out a.txt --on slurm");
  EXPECT_EQ(o.code, 3);
  EXPECT_TRUE(contains(o.err, "sbatch")) << o.err;
  EXPECT_EQ(in(folder, "$B run scans --out a.txt --on slurm").code, 2);
}

}  // namespace
}  // namespace burnisher::tests
