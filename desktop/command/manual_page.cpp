// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_papers.cpp.
#include "desktop/command/manual_page.h"

#include "desktop/command/command_texts.h"

#include <algorithm>

namespace rope {
namespace {
/// Text as roff takes it literally.
std::string literal(std::string_view text)
{
    std::string page;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const bool beginsLine = i == 0 || text[i - 1] == '\n';
        if (beginsLine && (text[i] == '.' || text[i] == '\'')) {
            page += "\\&";
        }
        page += text[i] == '\\' ? "\\e" : text[i] == '-' ? "\\-" : std::string(1, text[i]);
    }
    return page;
}

std::string upper(std::string text)
{
    std::transform(text.begin(), text.end(), text.begin(), [](char c) {
        return c >= 'a' && c <= 'z' ? static_cast<char>(c - 'a' + 'A') : c;
    });
    return text;
}

bool isFlag(const CLI::Option& option)
{
    return option.get_items_expected_max() == 0;
}

/// "--repo FOLDER", or "BRANCH...", in roff.
std::string namedOption(const CLI::Option& option)
{
    if (!option.nonpositional()) {
        const bool repeats = option.get_items_expected_max() > 1;
        return "\\fI" + literal(upper(option.get_name())) + "\\fR" + (repeats ? "..." : "");
    }
    std::string names;
    for (const std::string& name : option.get_snames()) {
        names += (names.empty() ? "\\fB\\-" : ", \\fB\\-") + literal(name) + "\\fR";
    }
    for (const std::string& name : option.get_lnames()) {
        names += (names.empty() ? "\\fB\\-\\-" : ", \\fB\\-\\-") + literal(name) + "\\fR";
    }
    return isFlag(option) ? names : names + " \\fI" + literal(option.get_type_name()) + "\\fR";
}

std::string sectionOfOptions(const CLI::App& command)
{
    std::string page;
    for (const CLI::Option* const option : command.get_options()) {
        if (!option->get_description().empty()) {
            page +=
                ".TP\n" + namedOption(*option) + "\n" + literal(option->get_description()) + ".\n";
        }
    }
    return page.empty() ? page : ".SH OPTIONS\n" + page;
}

std::string sectionOfSynopsis(const CLI::App& command, const std::string& called)
{
    std::string page = ".SH SYNOPSIS\n.B " + literal(called) + "\n";
    for (const bool arePositional : {false, true}) {
        for (const CLI::Option* const option : command.get_options()) {
            if (option->nonpositional() == arePositional || option == command.get_help_ptr()) {
                continue;
            }
            const std::string name = namedOption(*option);
            page += option->get_required() ? name + "\n" : "[" + name + "]\n";
        }
    }
    return page;
}

std::string sectionOfCommands(const CLI::App& app)
{
    std::string page;
    for (const CLI::App* const command : app.get_subcommands({})) {
        page += ".TP\n.B " + literal(command->get_name()) + "\n"
                + literal(command->get_description()) + ". See\n.BR "
                + literal(manualName(*command)) + " (1).\n";
    }
    return page.empty() ? page : ".SH COMMANDS\n" + page;
}

std::string paragraphs(const CommandText& text)
{
    std::string page = ".SH DESCRIPTION\n";
    bool isFirst = true;
    for (const std::string_view paragraph : text.about) {
        if (paragraph.starts_with(' ')) {
            page += ".PP\n.RS 4\n.nf\n" + literal(paragraph) + "\n.fi\n.RE\n";
        } else {
            page += (isFirst ? "" : ".PP\n") + literal(paragraph) + "\n";
        }
        isFirst = false;
    }
    return page;
}

/// What only the program's own page tells.
constexpr const char* kFilesAndConfiguration = R"(.SH FILES
.TP
.I .git/rope\-splice/journal.sqlite
The splices of a repository with every decision, as it is made.
.TP
.I .rope\-splice.toml
Check commands that a team shares, at the root of its repository: a table
.B [[check]]
with
.B run
for each.
.SH CONFIGURATION
In the section
.B [rope\-splice]
of git's configuration:
.TP
.B check
A command that Check runs on the result; may stand several times.
.TP
.B checkRequired
Whether nothing is recorded before all have passed.
.TP
.B checkSubmodules
Whether the scratch copy that they run in holds submodules.
)";
}  // namespace

std::string manualName(const CLI::App& command)
{
    return command.get_parent() == nullptr
               ? command.get_name()
               : command.get_parent()->get_name() + "-" + command.get_name();
}

std::string manualPage(const CLI::App& command)
{
    const bool isProgram = command.get_parent() == nullptr;
    const CommandText& text = textOf(isProgram ? std::string() : command.get_name());
    const std::string called = isProgram
                                   ? command.get_name()
                                   : command.get_parent()->get_name() + " " + command.get_name();
    std::string page =
        ".\\\" SPDX-License-Identifier: GPL-3.0-or-later\n.TH " + upper(manualName(command))
        + " 1 \"\" \"rope\\-splice " + kVersion + "\" \"User commands\"\n.SH NAME\n"
        + literal(manualName(command)) + " \\- "
        + literal(isProgram ? "merge diverged branches three-way" : command.get_description())
        + "\n" + sectionOfSynopsis(command, called);
    if (isProgram) {
        page += ".br\n.B rope\\-splice\n\\fICOMMAND\\fR [\\fIOPTIONS\\fR]\n";
    }
    page += paragraphs(text) + sectionOfCommands(command) + sectionOfOptions(command)
            + ".SH EXIT STATUS\n";
    for (const char* const code : text.exitCodes) {
        page += literal(code) + "\n.br\n";
    }
    if (isProgram) {
        page += kFilesAndConfiguration;
    }
    page += ".SH EXAMPLES\n";
    for (const CommandText::Example& example : text.examples) {
        page += ".TP\n.B " + literal(example.line) + "\n" + literal(example.meaning) + "\n";
    }
    return page + ".SH SEE ALSO\n" + (isProgram ? std::string() : ".BR rope\\-splice (1),\n")
           + ".BR git (1),\n.BR gitattributes (5)\n";
}
}  // namespace rope
