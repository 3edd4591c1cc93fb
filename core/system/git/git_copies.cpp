// SPDX-License-Identifier: GPL-3.0-or-later
// A scratch copy is a small repository of its own (gitrepository-layout(5)) that reads the objects of
// the one that it is a copy of. Its index is also the one that git's own conversions look attributes up in.
// Tested by tst_trial.cpp.
#include "core/system/git/git_errors.h"
#include "core/system/git/git_parsers.h"
#include "core/system/git/git_place.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>

#include <algorithm>
#include <array>

namespace rope {
namespace {
constexpr std::array<const char*, 6> kAttributes{
    "filter", "eol", "text", "crlf", "ident", "working-tree-encoding"};

/// Configuration that must not turn a copy into anything else than the files of its tree.
std::vector<std::string> inCopy(const std::string& folder, std::vector<std::string> arguments)
{
    std::vector<std::string> all{"-C",
                                 folder,
                                 "-c",
                                 "core.hooksPath=/dev/null",
                                 "-c",
                                 "core.splitIndex=false",
                                 "-c",
                                 "core.fsmonitor=false",
                                 "-c",
                                 "core.sparseCheckout=false",
                                 "-c",
                                 "index.sparse=false"};
    all.insert(all.end(), arguments.begin(), arguments.end());
    return all;
}

GitRunOptions copyOptions(const std::string& folder)
{
    GitRunOptions options;
    options.environment = {{"GIT_WORK_TREE", folder}, {"GIT_INDEX_FILE", folder + "/.git/index"}};
    return options;
}

/// As a new file: what a command has left there may be a link, or the same file as one elsewhere.
Status writeFile(const QString& name, const std::string& text)
{
    QFile::remove(name);
    QFile file(name);
    if (!file.open(QIODevice::WriteOnly)
        || file.write(text.data(), static_cast<qint64>(text.size())) < 0 || !file.flush()) {
        const bool isFull = file.error() == QFile::ResourceError
                            || file.errorString().contains(QLatin1String("No space left"));
        return Error{ErrorCode::io,
                     name.toStdString(),
                     file.errorString().toStdString(),
                     isFull ? Reason::diskFull : Reason::none};
    }
    return ok();
}

/// A folder that is really one; whatever else stands there goes.
Status makeFolder(const QString& name)
{
    const QFileInfo there(name);
    if (there.isSymLink() || (there.exists() && !there.isDir())) {
        QFile::remove(name);
    }
    if (!QDir().mkpath(name)) {
        return Error{ErrorCode::io, name.toStdString(), {}};
    }
    return ok();
}

bool isSaid(const std::string& value)
{
    return value != "unspecified" && value != "unset";
}
}  // namespace

std::vector<std::string> GitPlace::leadingVariables() const
{
    return GitProcess::leadingVariables();
}

Result<std::string> GitPlace::conversionStamp()
{
    return stampOf(attributeFiles());
}

Status
GitPlace::prepareCopy(const std::string& folder, const ObjectId& tree, const ObjectId& commit)
{
    const QString gitFolder = QString::fromStdString(folder) + QStringLiteral("/.git");
    for (const QString& part : {QString(), QStringLiteral("/objects"), QStringLiteral("/refs")}) {
        TRY(makeFolder(gitFolder + part));
    }
    TRY(makeFolder(gitFolder + QStringLiteral("/objects/info")));
    for (const char* left : {"/index.lock", "/HEAD.lock"}) {
        QFile::remove(gitFolder + QLatin1String(left));
    }
    if (const QString index = gitFolder + QStringLiteral("/index");
        QFileInfo(index).isSymLink()) {  // git would write where it leads
        QFile::remove(index);
    }
    GitRunOptions options = copyOptions(folder);
    TRY_ASSIGN(
        const GitOutput read,
        m_git.run(inCopy(folder, {"read-tree", "--no-sparse-checkout", tree.hex()}), options));
    if (read.exitCode != 0) {
        return writingError(folder, read.err);
    }
    TRY_ASSIGN(const std::string tags,
               m_git.output({"for-each-ref", "--format=%(objectname) %(refname)", "refs/tags"}));
    TRY(writeFile(gitFolder + QStringLiteral("/packed-refs"), tags));
    TRY(writeFile(gitFolder + QStringLiteral("/objects/info/alternates"),
                  m_commonFolder + "/objects\n"));
    TRY(writeFile(gitFolder + QStringLiteral("/config"),
                  m_usesSha256 ? "[core]\n\trepositoryformatversion = 1\n\tbare = false\n"
                                 "[extensions]\n\tobjectformat = sha256\n"
                               : "[core]\n\trepositoryformatversion = 0\n\tbare = false\n"));
    const QString shallow = QString::fromStdString(m_commonFolder) + QStringLiteral("/shallow");
    QFile::remove(gitFolder + QStringLiteral("/shallow"));
    QFile::copy(shallow, gitFolder + QStringLiteral("/shallow"));
    return writeFile(gitFolder + QStringLiteral("/HEAD"), commit.hex() + "\n");
}

Result<std::vector<RepoPath>> GitPlace::convertedPaths(const std::string& folder,
                                                       std::span<const RepoPath> paths)
{
    const auto setTo = [this](const char* key) {
        const LocalPrograms::Value* const value = m_programs.value(key);
        return value == nullptr ? std::string() : value->value;
    };
    const bool writesCrlf = setTo("core.autocrlf") == "true" || setTo("core.eol") == "crlf";
    const bool guessesText = setTo("core.autocrlf") == "true";
    GitRunOptions options = copyOptions(folder);
    if (paths.empty()) {
        return std::vector<RepoPath>{};
    }
    if (!guessesText && !mayHaveAttributes({})) {
        TRY_ASSIGN(
            const std::string listed,
            m_git.output(inCopy(folder, {"ls-files", "-z", "--", ":(glob)**/.gitattributes"}),
                         options));
        if (listed.empty()) {
            return std::vector<RepoPath>{};
        }
    }
    std::string input;
    for (const RepoPath& path : paths) {
        input.append(path).append(1, '\0');
    }
    options.input = input;
    std::vector<std::string> question{"check-attr", "--cached", "-z", "--stdin"};
    question.insert(question.end(), kAttributes.begin(), kAttributes.end());
    TRY_ASSIGN(const std::string out, m_git.output(inCopy(folder, question), options));
    const auto values = parseAttributes(out);
    if (!values || values->size() != kAttributes.size() * paths.size()) {
        return Error{ErrorCode::corrupt, "check-attr", out.substr(0, 500)};
    }
    std::vector<RepoPath> converted;
    for (std::size_t i = 0; i < paths.size(); ++i) {
        const auto value = [&](std::size_t attribute) -> const std::string& {
            return (*values)[i * kAttributes.size() + attribute].value;
        };
        const auto hasFilter = [&] {
            return isSaid(value(0))
                   && (!setTo(("filter." + value(0) + ".smudge").c_str()).empty()
                       || !setTo(("filter." + value(0) + ".process").c_str()).empty());
        };
        const bool isText =
            isSaid(value(2)) || isSaid(value(3)) || (guessesText && value(2) == "unspecified");
        if (hasFilter() || value(1) == "crlf" || value(3) == "set" || isSaid(value(4))
            || isSaid(value(5)) || (writesCrlf && isText)) {
            converted.push_back(paths[i]);
        }
    }
    return converted;
}

Status GitPlace::writeConverted(const std::string& folder,
                                std::span<const RepoPath> paths,
                                const std::stop_token& stop)
{
    std::string input;
    for (const RepoPath& path : paths) {
        input.append(path).append(1, '\0');
    }
    GitRunOptions options = copyOptions(folder);
    options.environment.emplace_back("GIT_NO_LAZY_FETCH", "0");
    options.input = input;
    options.stop = stop;
    options.purpose = RunFor::acting;
    TRY_ASSIGN(const GitOutput written,
               m_git.run(inCopy(folder, {"checkout-index", "-f", "-z", "--stdin"}), options));
    return written.exitCode == 0 ? ok() : writingError(folder, written.err);
}
}  // namespace rope
