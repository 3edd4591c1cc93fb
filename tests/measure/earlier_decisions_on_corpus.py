#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""How often what was decided before would have been right: earlier_decisions_on_corpus.py CASES.jsonl.xz

Replays the real three-way cases of each package in the order of its releases, and within one of them by path.
A region counts as met before if an earlier one of the package had the same three texts, or the same but for
blanks; the decision is right if the person decided alike again.
"""
import json
import lzma
import re
import sys

RELEASES = ["stretch", "buster", "bullseye", "bookworm", "trixie", "forky"]


def without_blanks(text):
    return "\n".join(re.sub(r"\s+", "", line) for line in text.splitlines() if line.strip())


def place_in_time(case):
    return case["package"], RELEASES.index(case["pair"].split("-")[0]), case["path"]


def replay(cases, form):
    """Regions, those met before, those of another release pair among these, and where it was right."""
    decided = {}
    regions = met = elsewhere = right = 0
    for case in sorted(cases, key=place_in_time):
        for region in case["regions"]:
            if region["human"] is None:
                continue
            regions += 1
            key = case["package"], *(form(region[side]) for side in ("base", "ours", "theirs"))
            if key in decided:
                text, pair = decided[key]
                met += 1
                elsewhere += pair != case["pair"]
                right += form(text) == form(region["human"])
            decided[key] = region["human"], case["pair"]
    return regions, met, elsewhere, right


def main(path):
    with lzma.open(path, "rt", encoding="utf-8") as lines:
        cases = [json.loads(line) for line in lines]
    for name, form in (("the very same", str), ("the same but for blanks", without_blanks)):
        regions, met, elsewhere, right = replay(cases, form)
        print(f"{name}: of {regions} regions {met} met before ({elsewhere} in another release), {right} decided alike")


if __name__ == "__main__":
    if len(sys.argv) != 2:
        sys.exit(__doc__)
    main(sys.argv[1])
