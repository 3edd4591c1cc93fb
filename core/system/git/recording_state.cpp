// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_recorder.cpp.
#include "core/system/git/recording_state.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

#include <array>

namespace rope {
namespace {
constexpr std::array kStepNames{"taking-work-off",
                                "bringing-working-tree",
                                "committing",
                                "moving-branch",
                                "finishing",
                                "carrying-work",
                                "handing-back",
                                "undoing"};

/// Bytes as characters of the same number, since JSON holds no bytes.
QString inJson(const std::string& bytes)
{
    return QString::fromLatin1(bytes.data(), static_cast<qsizetype>(bytes.size()));
}
std::string fromJson(const QJsonValue& value)
{
    return value.toString().toLatin1().toStdString();
}

QJsonArray inJson(const std::vector<RepoPath>& paths)
{
    QJsonArray array;
    for (const RepoPath& path : paths) {
        array.append(inJson(path));
    }
    return array;
}
std::vector<RepoPath> pathsFrom(const QJsonValue& value)
{
    std::vector<RepoPath> paths;
    const QJsonArray array = value.toArray();
    for (const QJsonValue path : array) {
        paths.push_back(fromJson(path));
    }
    return paths;
}

QString inJson(const ObjectId& id)
{
    return QString::fromStdString(id.hex());
}
ObjectId idFrom(const QJsonValue& value)
{
    return ObjectId::fromHex(fromJson(value)).value_or(ObjectId{});
}

QJsonArray inJson(const std::vector<RewrittenCommit>& commits)
{
    QJsonArray array;
    for (const RewrittenCommit& commit : commits) {
        array.append(QJsonArray{inJson(commit.before), inJson(commit.after)});
    }
    return array;
}
std::vector<RewrittenCommit> rewrittenFrom(const QJsonValue& value)
{
    std::vector<RewrittenCommit> commits;
    const QJsonArray array = value.toArray();
    for (const QJsonValue pair : array) {
        commits.push_back({idFrom(pair.toArray().at(0)), idFrom(pair.toArray().at(1))});
    }
    return commits;
}
}  // namespace

RecordingNote noteOf(const RecordingState& state)
{
    const QJsonObject object{
        {QStringLiteral("step"), QLatin1String(kStepNames[static_cast<std::size_t>(state.step)])},
        {QStringLiteral("ref"), inJson(state.ref)},
        {QStringLiteral("ours"), inJson(state.ours)},
        {QStringLiteral("oursTree"), inJson(state.oursTree)},
        {QStringLiteral("resultTree"), inJson(state.resultTree)},
        {QStringLiteral("commit"), inJson(state.commit)},
        {QStringLiteral("notedAt"), static_cast<qint64>(state.notedAt)},
        {QStringLiteral("workTree"), inJson(state.workTree)},
        {QStringLiteral("stagedTree"), inJson(state.stagedTree)},
        {QStringLiteral("intended"), inJson(state.intended)},
        {QStringLiteral("afterTree"), inJson(state.afterTree)},
        {QStringLiteral("keepsFiles"), state.keepsFiles},
        {QStringLiteral("nextRef"), inJson(state.nextRef)},
        {QStringLiteral("begun"), inJson(state.begun)},
        {QStringLiteral("detached"), inJson(state.detached)},
        {QStringLiteral("rewritten"), inJson(state.rewritten)},
        {QStringLiteral("alreadyThere"), inJson(state.before.alreadyThere)},
        {QStringLiteral("skipped"), inJson(state.before.skipped)},
        {QStringLiteral("assumed"), inJson(state.before.assumed)},
    };
    return QJsonDocument(object).toJson(QJsonDocument::Compact).toStdString();
}

std::optional<RecordingState> stateOf(const RecordingNote& note)
{
    const QJsonObject object = QJsonDocument::fromJson(QByteArray::fromStdString(note)).object();
    const QString step = object.value(QLatin1String("step")).toString();
    RecordingState state;
    bool isKnown = false;
    for (std::size_t i = 0; i < kStepNames.size(); ++i) {
        if (step == QLatin1String(kStepNames[i])) {
            state.step = static_cast<GitStep>(i);
            isKnown = true;
        }
    }
    state.ref = fromJson(object.value(QLatin1String("ref")));
    state.ours = idFrom(object.value(QLatin1String("ours")));
    state.oursTree = idFrom(object.value(QLatin1String("oursTree")));
    state.resultTree = idFrom(object.value(QLatin1String("resultTree")));
    state.commit = idFrom(object.value(QLatin1String("commit")));
    state.notedAt = object.value(QLatin1String("notedAt")).toInteger();
    state.workTree = idFrom(object.value(QLatin1String("workTree")));
    state.stagedTree = idFrom(object.value(QLatin1String("stagedTree")));
    state.intended = pathsFrom(object.value(QLatin1String("intended")));
    state.afterTree = idFrom(object.value(QLatin1String("afterTree")));
    state.keepsFiles = object.value(QLatin1String("keepsFiles")).toBool();
    state.nextRef = fromJson(object.value(QLatin1String("nextRef")));
    state.begun = fromJson(object.value(QLatin1String("begun")));
    state.detached = idFrom(object.value(QLatin1String("detached")));
    state.rewritten = rewrittenFrom(object.value(QLatin1String("rewritten")));
    state.before.alreadyThere = pathsFrom(object.value(QLatin1String("alreadyThere")));
    state.before.skipped = pathsFrom(object.value(QLatin1String("skipped")));
    state.before.assumed = pathsFrom(object.value(QLatin1String("assumed")));
    if (!isKnown || state.oursTree.isNull() || state.resultTree.isNull()) {
        return std::nullopt;
    }
    return state;
}
}  // namespace rope
