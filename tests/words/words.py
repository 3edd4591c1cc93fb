#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Lists every text that a person can read, and refuses odd ones.

    words.py            prints all texts, file by file, so that they can be read in one go (./dev words)
    words.py --check    prints those that break a rule, and exits with 1 if there are any

Texts are the literals in tr() and its like in desktop/, the descriptions and sentences of the command line, and the
labels of candidates and of proposed commit messages.
"""
import pathlib
import re
import sys

ROOT = pathlib.Path(__file__).resolve().parents[2]
LITERAL = r'"((?:[^"\\\n]|\\.)*)"'
RUN = re.compile(LITERAL + r"(?:\s*" + LITERAL + r")*")
CALLS = re.compile(
    r"\b(tr|translate|QT_TRANSLATE_NOOP|countOf|add_subcommand|add_option|add_flag|App|printSentence|fprintf|fputs)\s*\(")
SHOWN = {"tr", "QT_TRANSLATE_NOOP", "countOf"}  # all that they are given is shown, single words too
TABLES = [  # all literals of several words are shown
    "core/merge/candidate_kind.cpp",
    "core/plan/commit_message.cpp",
    "desktop/command/command_texts.cpp",
    "desktop/command/command_tree.cpp",
]

# Words that people stumbled over; what stands behind them is what to write. Whole words, in any case.
ODD = {
    r"join(?:s|ed|ing)?": "merge",
    r"joins cleanly": "merges cleanly",
    r"mend(?:s|ed)?": "fix",
    r"anew": "again, or rewrite",
    r"reckon(?:s|ed|ing)?": "calculate",
    r"otherwise than": "differently from",
    r"tick(?:s|ed)? off": "mark as read",
    r"let(?:s|ting)? (?:it|the \w+) go": "delete",
    r"stands? at|stood at|stands? there|stand there": "is at, is there",
    r"takes? out again|taken out again|taking it out again": "revert",
    r"by (?:itself|themselves) joined": "merged automatically",
    r"whoever has": "anyone who has",
    r"(?:was|were|is) (?:last|never) asked": "fetched",
    r"fill in": "enter",
    r"half-joined": "in conflict",
    r"as you have": "the same as yours",
    r"in the place of": "instead of, replaces",
    r"collides? with each": "conflicts",
    r"belongs? to no": "unexpected",
    r"is it to be|are they to be": "do you want",
    r"nobody's": "not ... anybody's",
    r"not \w+ after all": "undo, stop",
}
# Where a word is right: a name, or a thing of the trade.
ALLOWED = {
    "desktop/command/command_texts.cpp": {"join", "joins"},  # the earlier name of a command; what is written for git
    "desktop/command/setup_git_command.cpp": {"joins"},  # a line that earlier versions have written
}


def without_comments(source: str) -> str:
    """The source with comments blanked; strings stay, and so do line numbers."""
    pieces = re.compile(r'//[^\n]*|/\*.*?\*/|"(?:[^"\\\n]|\\.)*"|\'(?:[^\'\\\n]|\\.)\'|R"(\w*)\(.*?\)\1"', re.S)

    def blank(match: re.Match) -> str:
        text = match.group(0)
        return text if text.startswith('"') else re.sub(r"[^\n]", " ", text)

    return pieces.sub(blank, source)


def call_ends(source: str, begin: int) -> int:
    """Where the parenthesis that is open before `begin` closes."""
    depth = 1
    at = begin
    while at < len(source) and depth > 0:
        if source[at] == '"':
            at = RUN.match(source, at).end()
            continue
        depth += {"(": 1, ")": -1}.get(source[at], 0)
        at += 1
    return at


def texts_of(path: pathlib.Path):
    """Line and text of every literal that is shown."""
    source = without_comments(path.read_text())
    seen = set()
    areas = [(m.end(), call_ends(source, m.end()), m.group(1) in SHOWN) for m in CALLS.finditer(source)]
    if str(path.relative_to(ROOT)) in TABLES:
        areas = [(0, len(source), False)]
    for begin, end, is_shown in sorted(areas, key=lambda area: not area[2]):
        for match in RUN.finditer(source, begin, end):
            text = "".join(re.findall(LITERAL, match.group(0)))
            is_word = re.search(r"[A-Za-z]{2}", text) and not text.endswith(".h")
            if match.start() not in seen and is_word and (is_shown or not is_identifier(text)):
                seen.add(match.start())
                yield source.count("\n", 0, match.start()) + 1, text


def is_identifier(text: str) -> bool:
    return " " not in text and (text.startswith("--") or re.fullmatch(r"[a-z]+[A-Z]\w*|[a-z-]+", text) is not None)


def main() -> int:
    checks = "--check" in sys.argv[1:]
    files = sorted(ROOT.glob("desktop/**/*.cpp")) + sorted(ROOT.glob("desktop/**/*.h"))
    files += [ROOT / table for table in TABLES if ROOT / table not in files]
    odd = 0
    count = 0
    for path in files:
        name = str(path.relative_to(ROOT))
        lines = sorted(texts_of(path))
        count += len(lines)
        if not checks and lines:
            print(f"\n== {name}")
        for line, text in lines:
            if not checks:
                print(f"{line:5}  {text}")
                continue
            for pattern, better in ODD.items():
                found = re.search(rf"\b(?:{pattern})\b", text, re.I)
                if found and found.group(0).lower() not in ALLOWED.get(name, set()):
                    odd += 1
                    print(f"{name}:{line}: “{found.group(0)}” in “{text}”: say {better}")
    if checks:
        print(f"{count} texts read, {odd} odd")
        return 1 if odd or count < 1000 else 0  # fewer: they are not found any more
    return 0


if __name__ == "__main__":
    sys.exit(main())
