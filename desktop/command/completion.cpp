// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_papers.cpp, which runs bash.
#include "desktop/command/completion.h"

#include "desktop/command/command_tree.h"

#include <algorithm>

namespace rope {
namespace {
constexpr const char* kLooks = "light dark contrast";

std::vector<const CLI::App*> commandsOf(const CLI::App& app)
{
    return app.get_subcommands([](const CLI::App*) { return true; });
}

/// "--json" of each name of an option, the longer ones first.
std::vector<std::string> namesOf(const CLI::Option& option)
{
    std::vector<std::string> names;
    for (const std::string& name : option.get_lnames()) {
        names.push_back("--" + name);
    }
    for (const std::string& name : option.get_snames()) {
        names.push_back("-" + name);
    }
    return names;
}

std::string joined(const std::vector<std::string>& words, const char* between)
{
    std::string all;
    for (const std::string& word : words) {
        all += (all.empty() ? "" : between) + word;
    }
    return all;
}

/// All options of a command, as words.
std::string optionWords(const CLI::App& command)
{
    std::vector<std::string> words;
    for (const CLI::Option* const option : command.get_options()) {
        const std::vector<std::string> names = namesOf(*option);
        words.insert(words.end(), names.begin(), names.end());
    }
    return joined(words, " ");
}

std::string commandWords(const CLI::App& app)
{
    std::vector<std::string> words;
    for (const CLI::App* const command : commandsOf(app)) {
        words.push_back(command->get_name());
    }
    return joined(words, " ");
}

/// Whether what stands for itself on a command's line is branches.
bool takesBranches(const CLI::App& command)
{
    const auto options = command.get_options();
    return std::any_of(options.begin(), options.end(), [](const CLI::Option* option) {
        return !option->nonpositional() && option->get_type_name() == value_name::kBranch;
    });
}

/// Text between single quotes in a shell.
std::string quoted(const std::string& text)
{
    std::string all = "'";
    for (const char c : text) {
        all += c == '\'' ? std::string("'\\''") : std::string(1, c);
    }
    return all + "'";
}

/// Puts a text in the place of a word.
void put(std::string& script, const std::string& word, const std::string& text)
{
    script.replace(script.find(word), word.size(), text);
}

std::string withoutColons(std::string text)
{
    std::replace(text.begin(), text.end(), ':', ',');
    return text;
}

bool hasValue(const CLI::Option& option)
{
    return option.get_items_expected_max() > 0;
}

bool isLook(const CLI::Option& option)
{
    return option.get_type_name().starts_with("LOOK");
}

/// A command's options as _arguments of zsh takes them.
std::string zshOptions(const CLI::App& command)
{
    std::string all;
    for (const CLI::Option* const option : command.get_options()) {
        const bool isFolder = option->get_type_name() == value_name::kFolder;
        const std::string value = !hasValue(*option) ? ""
                                  : isLook(*option)  ? ":look:(" + std::string(kLooks) + ")"
                                  : isFolder         ? ":folder:_files -/"
                                                     : ":value:_files";
        for (const std::string& name : namesOf(*option)) {
            std::string words = name;
            words.append("[").append(withoutColons(option->get_description())).append("]");
            words.append(value);
            all.append(" \\\n            ").append(rope::quoted(words));
        }
    }
    return all;
}

/// A command's options as lines of fish, which hold where `when` does.
std::string fishOptions(const CLI::App& command, const std::string& when)
{
    std::string all;
    for (const CLI::Option* const option : command.get_options()) {
        if (!option->nonpositional()) {
            continue;
        }
        all += "complete -c rope-splice -n " + quoted(when);
        for (const std::string& name : option->get_lnames()) {
            all += " -l " + name;
        }
        for (const std::string& name : option->get_snames()) {
            all += " -s " + name;
        }
        all += hasValue(*option) ? " -r" : "";
        if (isLook(*option)) {
            all.append(" -fa ").append(quoted(kLooks));
        }
        all.append(" -d ").append(quoted(option->get_description())).append("\n");
    }
    return all;
}
}  // namespace

std::string bashCompletion(const CLI::App& app)
{
    std::string commands;
    for (const CLI::App* const command : commandsOf(app)) {
        commands += "    " + command->get_name() + ") options='" + optionWords(*command)
                    + "' takes=" + (takesBranches(*command) ? "branches" : "files") + " ;;\n";
    }
    std::string script = R"sh(# SPDX-License-Identifier: GPL-3.0-or-later
# bash completion for rope-splice
_rope_splice() {
    local current=${COMP_WORDS[COMP_CWORD]} previous=${COMP_WORDS[COMP_CWORD - 1]}
    local command='' repository=. options takes name i
    for ((i = 1; i < COMP_CWORD; i++)); do
        case ${COMP_WORDS[i]} in
        --repo) repository=${COMP_WORDS[i + 1]} ;;
        -*) ;;
        *) [[ ${COMP_WORDS[i - 1]} == --repo || -n $command ]] || command=${COMP_WORDS[i]} ;;
        esac
    done
    COMPREPLY=()
    case $previous in
    --theme) mapfile -t COMPREPLY < <(compgen -W '@LOOKS@' -- "$current"); return ;;
    --repo | --demo) mapfile -t COMPREPLY < <(compgen -d -- "$current"); return ;;
    -m) return ;;
    esac
    case $command in
@COMMANDS@    '') options='@WORDS@' takes=folders ;;
    *) return ;;
    esac
    if [[ $current == -* || -z $command ]]; then
        mapfile -t COMPREPLY < <(compgen -W "$options" -- "$current")
    fi
    [[ $current == -* ]] && return
    case $takes in
    branches)
        # Not by compgen -W, which would run what a name has in $(...).
        while IFS= read -r name; do
            [[ $name != "$current"* ]] || COMPREPLY+=("$name")
        done < <(git -C "$repository" for-each-ref --format='%(refname:short)' \
            refs/heads refs/remotes refs/tags 2>/dev/null) ;;
    folders) mapfile -t -O "${#COMPREPLY[@]}" COMPREPLY < <(compgen -d -- "$current") ;;
    files) mapfile -t -O "${#COMPREPLY[@]}" COMPREPLY < <(compgen -f -- "$current") ;;
    esac
}
complete -o filenames -F _rope_splice rope-splice
)sh";
    put(script, "@LOOKS@", kLooks);
    put(script, "@WORDS@", optionWords(app) + " " + commandWords(app));
    put(script, "@COMMANDS@", commands);
    return script;
}

std::string zshCompletion(const CLI::App& app)
{
    std::string names;
    std::string cases;
    for (const CLI::App* const command : commandsOf(app)) {
        names += "        "
                 + quoted(command->get_name() + ":" + withoutColons(command->get_description()))
                 + "\n";
        cases +=
            "    " + command->get_name() + ")\n        _arguments" + zshOptions(*command)
            + " \\\n            "
            + (takesBranches(*command) ? "'*:branch:_rope_splice_branches'" : "'*:file:_files'")
            + " ;;\n";
    }
    std::string script = R"sh(#compdef rope-splice
# SPDX-License-Identifier: GPL-3.0-or-later
_rope_splice_branches() {
    local -a branches
    branches=(${(f)"$(git for-each-ref --format='%(refname:short)' refs/heads refs/remotes refs/tags 2>/dev/null)"})
    compadd -a branches
}
_rope_splice() {
    local -a commands
    commands=(
@NAMES@    )
    if ((CURRENT == 2)); then
        _describe command commands
        _arguments@OPTIONS@ \
            '*:folder:_files -/'
        return
    fi
    local command=$words[2]
    shift words
    ((CURRENT--))
    case $command in
@CASES@    esac
}
_rope_splice "$@"
)sh";
    put(script, "@NAMES@", names);
    put(script, "@OPTIONS@", zshOptions(app));
    put(script, "@CASES@", cases);
    return script;
}

std::string fishCompletion(const CLI::App& app)
{
    std::string script = R"sh(# SPDX-License-Identifier: GPL-3.0-or-later
# fish completion for rope-splice
function __rope_splice_branches
    git for-each-ref --format='%(refname:short)' refs/heads refs/remotes refs/tags 2>/dev/null
end
)sh" + fishOptions(app, "__fish_use_subcommand");
    for (const CLI::App* const command : commandsOf(app)) {
        const std::string when = "__fish_seen_subcommand_from " + command->get_name();
        script += "complete -c rope-splice -n '__fish_use_subcommand' -a " + command->get_name()
                  + " -d " + quoted(command->get_description()) + "\n"
                  + fishOptions(*command, when);
        if (takesBranches(*command)) {
            script += "complete -c rope-splice -n " + quoted(when)
                      + " -f -a '(__rope_splice_branches)'\n";
        }
    }
    return script;
}
}  // namespace rope
