// SPDX-License-Identifier: GPL-3.0-or-later
// Speed of what people wait for. Where git does the same work, both are measured in one run, so that
// the ratio holds on a noisy machine. `./dev bench` runs it; figures are in docs/performance.md.
#include "core/merge/text_join.h"
#include "core/system/git/git_place.h"
#include "desktop/resolve/resolve_station.h"
#include "desktop/widgets/theme.h"

#include <QApplication>
#include <QEventLoop>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>

#include <benchmark/benchmark.h>
#include <random>

namespace {
constexpr int kLines = 100'000;
constexpr int kRegions = 1'000;

struct Texts
{
    std::string base;
    std::string ours;
    std::string theirs;
};

/// 100,000 lines; every hundredth changed on both sides, and 5,000 changes on one side or the other.
Texts largeTexts()
{
    Texts texts;
    std::mt19937 random(1);
    for (int i = 0; i < kLines; ++i) {
        const std::string line = "    value_" + std::to_string(random() % 5000) + " = compute("
                                 + std::to_string(i) + ");\n";
        const bool isRegion = i % (kLines / kRegions) == 50;
        const int oneSided = i % 20 == 3 ? i % 40 < 20 ? 1 : 2 : 0;
        texts.base += line;
        texts.ours += isRegion || oneSided == 1 ? "    // ours " + std::to_string(i) + "\n" : line;
        texts.theirs +=
            isRegion || oneSided == 2 ? "    // theirs " + std::to_string(i) + "\n" : line;
    }
    return texts;
}

std::shared_ptr<const rope::Forecast> largeForecast()
{
    const Texts texts = largeTexts();
    auto forecast = std::make_shared<rope::Forecast>();
    rope::FileOutcome file;
    file.path = "large.cpp";
    file.base = file.ours = file.theirs = rope::FileVersion{};
    file.text = std::make_shared<const rope::TextJoin>(
        std::move(rope::joinTexts(texts.base, texts.ours, texts.theirs)).value());
    forecast->join.files = {file};
    return forecast;
}

void write(const QString& path, const std::string& bytes)
{
    QFile file(path);
    if (!file.open(QIODevice::WriteOnly)
        || file.write(bytes.data(), static_cast<qint64>(bytes.size())) < 0) {
        qFatal("cannot write %s", qPrintable(path));
    }
}

void runProgram(benchmark::State& state,
                const QString& folder,
                const QString& program,
                const QStringList& arguments)
{
    QProcess process;
    process.setWorkingDirectory(folder);
    process.setStandardOutputFile(QProcess::nullDevice());
    process.start(program, arguments);
    if (!process.waitForFinished(-1) || process.exitStatus() != QProcess::NormalExit) {
        state.SkipWithError("the program did not run");
    }
}

QString programBeside(const char* name)
{
    return QCoreApplication::applicationDirPath() + QLatin1Char('/') + QLatin1String(name);
}

void mergeFileProcess(benchmark::State& state, bool isGit)
{
    const QTemporaryDir folder;
    const Texts texts = largeTexts();
    write(folder.filePath(QStringLiteral("base")), texts.base);
    write(folder.filePath(QStringLiteral("ours")), texts.ours);
    write(folder.filePath(QStringLiteral("theirs")), texts.theirs);
    const QStringList git{QStringLiteral("merge-file"),
                          QStringLiteral("-p"),
                          QStringLiteral("--diff3"),
                          QStringLiteral("ours"),
                          QStringLiteral("base"),
                          QStringLiteral("theirs")};
    const QStringList own{QStringLiteral("merge-file"),
                          QStringLiteral("base"),
                          QStringLiteral("ours"),
                          QStringLiteral("theirs")};
    for (auto _ : state) {
        runProgram(state,
                   folder.path(),
                   isGit ? QStringLiteral("git") : programBeside("rope-splice"),
                   isGit ? git : own);
    }
}

void demoForecast(benchmark::State& state)
{
    const QString demo = qEnvironmentVariable("ROPE_BENCH_DEMO");
    auto repository = rope::GitPlace::open((demo + QStringLiteral("/slackwater")).toStdString());
    if (!repository) {
        state.SkipWithError("no demo: run this through ./dev bench");
        return;
    }
    const rope::ObjectId ours = *(*repository)->resolveCommit("tide-windows");
    const rope::ObjectId theirs = *(*repository)->resolveCommit("origin/main");
    for (auto _ : state) {
        benchmark::DoNotOptimize(rope::forecastJoin(**repository, ours, theirs));
    }
}

void startToUsableWindow(benchmark::State& state)
{
    const QString demo = qEnvironmentVariable("ROPE_BENCH_DEMO");
    for (auto _ : state) {
        runProgram(state,
                   demo,
                   programBeside("rope-splice-play"),
                   {QStringLiteral("--until-usable"),
                    demo + QStringLiteral("/slackwater"),
                    demo + QStringLiteral("/pictures")});
    }
}

void joinLargeText(benchmark::State& state)
{
    const Texts texts = largeTexts();
    for (auto _ : state) {
        benchmark::DoNotOptimize(rope::joinTexts(texts.base, texts.ours, texts.theirs));
    }
}

void openLargeFile(benchmark::State& state)
{
    const auto forecast = largeForecast();
    for (auto _ : state) {
        rope::Splice splice({"id", "refs/heads/x", "x", "y", {}, {}}, forecast);
        rope::ResolveStation station(nullptr);
        station.resize(1280, 700);
        station.show();
        station.setSplice(&splice);
        QApplication::processEvents();
    }
}

template <typename Act>
void inLargeFile(benchmark::State& state, Act act)
{
    rope::Splice splice({"id", "refs/heads/x", "x", "y", {}, {}}, largeForecast());
    rope::ResolveStation station(nullptr);
    station.resize(1280, 700);
    station.show();
    station.setSplice(&splice);
    // The candidates of so large a file are found beside the interface.
    while (splice.decidedCount() == 0) {
        QApplication::processEvents(QEventLoop::WaitForMoreEvents, 100);
        station.takeCandidate(0);
    }
    station.undo();
    for (auto _ : state) {
        act(station);
        QApplication::processEvents();
    }
}

void nextRegion(benchmark::State& state)
{
    inLargeFile(state, [](rope::ResolveStation& station) { station.goToNextOpen(1); });
}

void takeAndUndo(benchmark::State& state)
{
    inLargeFile(state, [](rope::ResolveStation& station) {
        station.takeCandidate(0);
        station.undo();
    });
}

void decideAllAndUndo(benchmark::State& state)
{
    inLargeFile(state, [](rope::ResolveStation& station) {
        station.decideAllOpen(rope::FileChoice::ours);
        station.undo();
    });
}
}  // namespace

BENCHMARK_CAPTURE(mergeFileProcess, rope_splice, false)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime()
    ->Iterations(10);
BENCHMARK_CAPTURE(mergeFileProcess, git, true)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime()
    ->Iterations(10);
BENCHMARK(joinLargeText)->Unit(benchmark::kMillisecond);
BENCHMARK(demoForecast)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(startToUsableWindow)->Unit(benchmark::kMillisecond)->UseRealTime()->Iterations(8);
BENCHMARK(openLargeFile)->Unit(benchmark::kMillisecond)->Iterations(5);
BENCHMARK(nextRegion)->Unit(benchmark::kMillisecond);
BENCHMARK(takeAndUndo)->Unit(benchmark::kMillisecond);
BENCHMARK(decideAllAndUndo)->Unit(benchmark::kMillisecond);

int main(int argc, char** argv)
{
    QApplication application(argc, argv);
    rope::applyLook(application, rope::Look::light);
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
