// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "core/system/git/git_tool_setup.h"

#include "core/base/whole_file.h"
#include "core/system/git/git_errors.h"
#include "core/system/git/git_place.h"
#include "core/text/text.h"

#include <cstdlib>
#include <filesystem>

namespace rope {
namespace {
constexpr const char* kToolKey = "merge.tool";
constexpr std::string_view kAttribute = "* merge=rope-splice\n";

/// As a shell takes it for one word; git gives these commands to one.
std::string quotedForShell(const std::string& word)
{
    std::string result = "'";
    for (const char c : word) {
        result += c == '\'' ? std::string("'\\''") : std::string(1, c);
    }
    return result + "'";
}

class Setup
{
public:
    Setup(std::string folder, const ToolSetup& setup)
        : m_git(std::move(folder))
        , m_setup(setup)
    {
    }

    Result<ToolSetupOutcome> run()
    {
        TRY_ASSIGN(m_configFile, configFile());
        const std::string program = quotedForShell(m_setup.program);
        TRY(set(
            "mergetool.rope-splice.cmd",
            program
                + R"( resolve --labels base local remote -- "$BASE" "$LOCAL" "$REMOTE" "$MERGED")"));
        TRY(set("mergetool.rope-splice.trustExitCode", "true"));
        TRY(setFirstTool());
        if (m_setup.hasDriver || m_setup.undoes) {
            TRY(set("merge.rope-splice.name", "Rope Splice joins the file"));
            TRY(set(
                "merge.rope-splice.driver",
                program
                    + " merge-file -o %A --marker-size %L --labels base ours theirs -- %O %A %B"));
            TRY(setAttribute());
        }
        return std::move(m_outcome);
    }

private:
    [[nodiscard]] std::string scope() const { return m_setup.isGlobal ? "--global" : "--local"; }

    /// Where this scope's configuration stands, for people.
    Result<std::string> configFile()
    {
        if (m_setup.isGlobal) {
            return std::string("your git configuration");
        }
        TRY_ASSIGN(const GitOutput common,
                   m_git.run({"rev-parse", "--path-format=absolute", "--git-common-dir"}));
        if (common.exitCode != 0) {
            return Error{ErrorCode::notFound, m_git.folder(), common.err, Reason::notARepository};
        }
        m_commonFolder = withoutNewline(common.out);
        return m_commonFolder + "/config";
    }

    Result<std::string> value(const std::string& key)
    {
        TRY_ASSIGN(const GitOutput asked, m_git.run({"config", scope(), "--get", key}));
        return asked.exitCode == 0 ? withoutNewline(asked.out) : std::string();
    }

    void note(const std::string& file, const std::string& text, bool isRemoved)
    {
        m_outcome.lines.push_back({file, text, isRemoved});
    }

    Status set(const std::string& key, const std::string& wanted)
    {
        TRY_ASSIGN(const std::string present, value(key));
        if (m_setup.undoes ? present.empty() : present == wanted) {
            return ok();
        }
        const std::vector<std::string> arguments =
            m_setup.undoes ? std::vector<std::string>{"config", scope(), "--unset-all", key}
                           : std::vector<std::string>{"config", scope(), key, wanted};
        TRY_ASSIGN(const GitOutput done, m_git.run(arguments));
        if (done.exitCode != 0) {
            return writingError(key, done.err);
        }
        if (!present.empty()) {
            note(m_configFile, key + " = " + present, true);
        }
        if (!m_setup.undoes) {
            note(m_configFile, key + " = " + wanted, false);
        }
        return ok();
    }

    /// A tool that the person has chosen before stays theirs.
    Status setFirstTool()
    {
        TRY_ASSIGN(const std::string present, value(kToolKey));
        if (!present.empty() && present != "rope-splice") {
            m_outcome.otherTool = present;
            return ok();
        }
        return set(kToolKey, "rope-splice");
    }

    Result<std::string> attributesFile()
    {
        if (!m_setup.isGlobal) {
            return m_commonFolder + "/info/attributes";
        }
        TRY_ASSIGN(const GitOutput asked,
                   m_git.run({"config", "--type=path", "--get", "core.attributesFile"}));
        if (asked.exitCode == 0 && !withoutNewline(asked.out).empty()) {
            return withoutNewline(asked.out);
        }
        const char* const config = std::getenv("XDG_CONFIG_HOME");
        const char* const home = std::getenv("HOME");
        if (config != nullptr && *config != '\0') {
            return std::string(config) + "/git/attributes";
        }
        return std::string(home == nullptr ? "" : home) + "/.config/git/attributes";
    }

    Status setAttribute()
    {
        TRY_ASSIGN(const std::string file, attributesFile());
        auto present = readWholeFile(file);
        if (!present && present.error().code != ErrorCode::notFound) {
            return std::move(present).error();
        }
        std::string kept;
        bool isThere = false;
        for (const std::string_view line :
             splitLines(present ? std::string_view(*present) : std::string_view())) {
            const bool isOurs = withoutNewline(std::string(line)) + "\n" == kAttribute;
            isThere = isThere || isOurs;
            kept += isOurs ? std::string_view() : line;
        }
        if (isThere != m_setup.undoes) {
            return ok();
        }
        if (!m_setup.undoes) {
            // At the top: what a person says of some files counts more, and the last line wins.
            kept.insert(0, kAttribute);
        }
        std::error_code error;
        std::filesystem::create_directories(std::filesystem::path(file).parent_path(), error);
        TRY(writeWholeFile(file, kept));
        note(file, withoutNewline(std::string(kAttribute)), m_setup.undoes);
        return ok();
    }

    GitProcess m_git;
    const ToolSetup& m_setup;
    std::string m_configFile;
    std::string m_commonFolder;
    ToolSetupOutcome m_outcome;
};
}  // namespace

Result<ToolSetupOutcome> setUpGitTool(const std::string& folder, const ToolSetup& setup)
{
    return Setup(folder, setup).run();
}
}  // namespace rope
