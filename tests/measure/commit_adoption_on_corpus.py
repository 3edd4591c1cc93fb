#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Whether theirs has the rest of our commit: commit_adoption_on_corpus.py CASES.jsonl.xz REPORT.json

Ours of the real three-way cases is a release with patches on it, and each case names the patches that touch its
file: they are our commits. Of each commit the lines are counted that it added or removed in its other files (those
that it alone touches), and those of them that theirs added or removed there as well. Tells, for some thresholds,
how often people took theirs in the regions of a commit that counts as adopted by this, and what "theirs first"
would win and lose there against the program's order. REPORT.json is what run_corpus.py --report writes.
"""
import collections
import json
import lzma
import sys

LETTERS = 3


def lines_of(text):
    lines = (line.strip() for line in text.split("\n"))
    return collections.Counter(line for line in lines if sum(c.isalnum() or c == "_" for c in line) >= LETTERS)


class Shares:
    """Lines that a change added and removed, and how many of each the other side did too."""

    def __init__(self, case=None):
        self.added = self.added_too = self.removed = self.removed_too = 0
        if case:
            base, ours, theirs = (lines_of(case[side]) for side in ("base", "ours", "theirs"))
            self.added, self.added_too = sum((ours - base).values()), sum(((ours - base) & (theirs - base)).values())
            self.removed, self.removed_too = sum((base - ours).values()), sum(((base - ours) & (base - theirs)).values())

    def add(self, other):
        for name, value in vars(other).items():
            setattr(self, name, getattr(self, name) + value)

    def is_adopted(self, what, least_lines, share):
        added = self.added >= least_lines and self.added_too >= share * self.added
        removed = self.removed >= least_lines and self.removed_too >= share * self.removed
        return {"added": added, "removed": removed, "either": added or removed}[what]


def commits_of(case):
    names = set(case["patches_kept"]) | set(case["patches_dropped"])
    return [(case["package"], case["pair"], name) for name in sorted(names)]


def regions_with_rest(cases, report):
    """For each region of a file whose commits have other files: what people took, our rank of it, the shares."""
    alone = collections.defaultdict(list)
    for case in cases:
        if len(commits_of(case)) == 1:
            alone[commits_of(case)[0]].append(case)
    for case in cases:
        others = [c for commit in commits_of(case) for c in alone[commit] if c["id"] != case["id"]]
        if others:
            rest = Shares()
            for other in others:
                rest.add(Shares(other))
            for kind, rank, *_ in report.get(case["id"], {}).get("scores") or []:
                yield case["id"], kind, rank, rest


def main(cases_path, report_path):
    with lzma.open(cases_path, "rt", encoding="utf-8") as lines:
        cases = [json.loads(line) for line in lines]
    with open(report_path, encoding="utf-8") as file:
        report = {entry["id"]: entry for entry in json.load(file)["files"]}
    regions = list(regions_with_rest(cases, report))
    print(f"{len(regions)} regions in files whose commits have other files")
    for what in ("added", "removed", "either"):
        for least_lines in (3, 10):
            for share in (0.5, 0.8):
                adopted = [r for r in regions if r[3].is_adopted(what, least_lines, share)]
                theirs = sum(kind == "theirs" for _, kind, _, _ in adopted)
                won = [case for case, kind, rank, _ in adopted if kind == "theirs" and rank != 1]
                lost = [case for case, kind, rank, _ in adopted if kind != "theirs" and rank == 1]
                print(f"{what}, {least_lines} lines at least, {share:.0%}: {len(adopted)} regions, people took theirs in {theirs};"
                      f" won {len(won)} in {len(set(won))} files, lost {len(lost)}")


if __name__ == "__main__":
    if len(sys.argv) != 3:
        sys.exit(__doc__)
    main(*sys.argv[1:])
