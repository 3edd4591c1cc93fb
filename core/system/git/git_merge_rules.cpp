// SPDX-License-Identifier: GPL-3.0-or-later
// What .gitattributes says about merging, see gitattributes(5) "Performing a three-way merge".
// Tested by tst_merge_rules.cpp.
#include "core/base/digest.h"
#include "core/system/git/git_parsers.h"
#include "core/system/git/git_place.h"
#include "core/system/git/scratch_folder.h"

#include <QDir>
#include <QFile>
#include <QTemporaryDir>

#include <algorithm>
#include <charconv>
#include <set>

namespace rope {
namespace {
constexpr int kWorstClash = 128;  // exit codes up to here say "clash", above "failed"
constexpr std::size_t kMostComplaint = 1'000'000;  // of what a program says; of more, the end

/// In single quotes, so that a shell takes it as it is.
std::string quoted(const std::string& text)
{
    std::string result = "'";
    for (const char c : text) {
        result += c == '\'' ? std::string("'\\''") : std::string(1, c);
    }
    return result + "'";
}

/// The command with its placeholders filled in.
std::string filledIn(const std::string& command, const std::map<char, std::string>& values)
{
    std::string result;
    for (std::size_t i = 0; i < command.size(); ++i) {
        const auto value = command[i] == '%' && i + 1 < command.size() ? values.find(command[i + 1])
                                                                       : values.end();
        if (value != values.end()) {
            result += value->second;
            ++i;
        } else if (command[i] == '%' && i + 1 < command.size() && command[i + 1] == '%') {
            result += '%';
            ++i;
        } else {
            result += command[i];
        }
    }
    return result;
}

/// The driver that setUpGitTool() names is this program: it joins by lines.
constexpr std::string_view kOwnDriver = "rope-splice";
}  // namespace

/// The rule that an attribute's value stands for.
MergeRule GitPlace::ruleOf(std::string value)
{
    if (value == "unspecified") {
        const LocalPrograms::Value* const byDefault = m_programs.value("merge.default");
        value = byDefault ? byDefault->value : "set";
    }
    MergeRule rule;
    if (value == "unset" || value == "binary") {
        rule.how = MergeRule::How::whole;
    } else if (value == "union") {
        rule.how = MergeRule::How::unionOfLines;
    } else if (value != "set" && value != "text" && value != kOwnDriver) {
        // A name nobody has set up means lines, as in git.
        if (const auto* const program = m_programs.value("merge." + value + ".driver")) {
            rule.how = MergeRule::How::program;
            rule.program = program->value;
            rule.isAllowed = m_programs.isAllowed(*program);
        }
    }
    return rule;
}

bool GitPlace::mayHaveAttributes(std::span<const RepoPath> paths) const
{
    const auto exists = [](const std::string& file) {
        return QFile::exists(QString::fromStdString(file));
    };
    const auto always = attributeFiles();
    if (m_programs.value("core.attributesfile") != nullptr
        || std::any_of(always.begin(), always.end(), exists)) {
        return true;
    }
    if (m_isBare) {
        return false;
    }
    std::set<std::string> folders{""};
    for (const RepoPath& path : paths) {
        for (std::size_t slash = path.find('/'); slash != RepoPath::npos;
             slash = path.find('/', slash + 1)) {
            folders.insert(path.substr(0, slash + 1));
        }
    }
    return std::any_of(folders.begin(), folders.end(), [&](const std::string& folder) {
        return exists(m_git.folder() + "/" + folder + ".gitattributes");
    });
}

Result<std::vector<MergeRule>> GitPlace::mergeRules(std::span<const RepoPath> paths)
{
    std::vector<MergeRule> rules(paths.size());
    if (paths.empty()) {
        return rules;
    }
    if (!mayHaveAttributes(paths)) {
        std::fill(rules.begin(), rules.end(), ruleOf("unspecified"));
        return rules;
    }
    TRY_ASSIGN(const auto values, m_attributes.valuesOf(paths));
    for (std::size_t i = 0; i < paths.size(); ++i) {
        rules[i] = ruleOf(values[2 * i].value);
        if (rules[i].how == MergeRule::How::program && !rules[i].isAllowed) {
            m_leftOut.insert(rules[i].program);
        }
        const std::string& size = values[2 * i + 1].value;
        std::size_t length = 0;
        std::from_chars(size.data(), size.data() + size.size(), length);
        if (length > 0 && length < 1000) {
            rules[i].markerLength = length;
        }
    }
    return rules;
}

/// git-config(1): merge.renames and merge.renameLimit stand before those of diff.
RenameRules GitPlace::renameRules() const
{
    const auto value = [this](const char* key, const char* other) -> std::string {
        const LocalPrograms::Value* const own = m_programs.value(key);
        const LocalPrograms::Value* const found =
            own == nullptr && other != nullptr ? m_programs.value(other) : own;
        return found == nullptr ? "unset" : found->value;
    };
    RenameRules rules;
    rules.isOff = boolOf(value("merge.renames", "diff.renames")) == false;
    const std::string limit = value("merge.renamelimit", "diff.renamelimit");
    std::from_chars(limit.data(), limit.data() + limit.size(), rules.mostFiles);
    if (const auto follows = boolOf(value("merge.directoryrenames", nullptr))) {
        rules.folders = *follows ? RenameRules::Folders::follow : RenameRules::Folders::stay;
    }
    return rules;
}

std::vector<std::string> GitPlace::attributeFiles() const
{
    const std::string config = qEnvironmentVariable("XDG_CONFIG_HOME").toStdString();
    std::vector<std::string> files{
        m_commonFolder + "/info/attributes",
        (config.empty() ? QDir::homePath().toStdString() + "/.config" : config) + "/git/attributes",
        "/etc/gitattributes"};
    if (const LocalPrograms::Value* const own = m_programs.value("core.attributesfile")) {
        files.push_back(own->value);
    }
    return files;
}

std::string GitPlace::stampOf(const std::vector<std::string>& files) const
{
    std::string all = m_programs.inOneText();
    for (const std::string& name : files) {
        QFile file(QString::fromStdString(name));
        all += '\0' + name + '\0';
        if (file.open(QIODevice::ReadOnly)) {
            all += file.readAll().toStdString();
        }
    }
    return digestOfParts({m_commonFolder, all});
}

Result<std::string> GitPlace::rulesStamp()
{
    std::vector<std::string> files = attributeFiles();
    if (!m_isBare) {
        TRY_ASSIGN(const std::string listed,
                   m_git.output({"ls-files", "-z", "--", ":(glob)**/.gitattributes"}));
        files.push_back(m_git.folder() + "/.gitattributes");
        for (std::size_t from = 0; from < listed.size(); from = listed.find('\0', from) + 1) {
            files.push_back(m_git.folder() + "/"
                            + listed.substr(from, listed.find('\0', from) - from));
        }
    }
    return stampOf(files);
}

/// The command is allowed configuration and git's documentation says that a shell runs it;
/// the path, which others chose, is quoted.
Result<ProgramOutcome> GitPlace::runMergeProgram(const MergeRule& rule,
                                                 const RepoPath& path,
                                                 const std::string& base,
                                                 const std::string& ours,
                                                 const std::string& theirs)
{
    TRY_ASSIGN(const std::string folder, privateFolder());
    const QTemporaryDir scratch(scratchTemplate(folder, "merge"));
    const QDir root(QString::fromStdString(m_git.folder()));
    std::map<char, std::string> values{{'L', std::to_string(rule.markerLength)},
                                       {'P', quoted(path)}};
    const std::pair<char, const std::string*> versions[] = {
        {'O', &base}, {'A', &ours}, {'B', &theirs}};
    for (const auto& [sign, bytes] : versions) {
        QFile file(scratch.filePath(QString(QLatin1Char(sign))));
        const auto size = static_cast<qint64>(bytes->size());
        if (!file.open(QIODevice::WriteOnly) || file.write(bytes->data(), size) != size) {
            return Error{
                ErrorCode::io, file.fileName().toStdString(), file.errorString().toStdString()};
        }
        const std::string name = root.relativeFilePath(file.fileName()).toStdString();
        values[sign] = name.find_first_of(" '\"\\$") == std::string::npos ? name : quoted(name);
    }
    GitRunOptions options;
    options.purpose = RunFor::ownTongue;
    options.mostKeptBytes = kMostComplaint;
    TRY_ASSIGN(const GitOutput ran,
               m_git.runProgram("sh", {"-c", filledIn(rule.program, values)}, options));
    if (ran.exitCode < 0 || ran.exitCode > kWorstClash) {
        return Error{ErrorCode::systemFailed, rule.program, ran.err, Reason::programFailed};
    }
    QFile result(scratch.filePath(QStringLiteral("A")));
    if (!result.open(QIODevice::ReadOnly)) {
        return Error{ErrorCode::io, rule.program, result.errorString().toStdString()};
    }
    return ProgramOutcome{ran.exitCode == 0, result.readAll().toStdString()};
}
}  // namespace rope
