#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Times whole processes against git's, in turn in one run, and prints the ratios of the best times.

    tests/bench/compare_with_git.py PROGRAM GENERATED

GENERATED is what make_scale.py made: a-tree.git, b-file, c-criss.git, d-many.git.
"""
import pathlib
import shutil
import subprocess
import sys
import time

import make_large

ROUNDS = 9
SLOW_ROUNDS = 3


CLASHES = 1  # the exit code that says so
MOST_COUNTED_CLASHES = 127  # git merge-file counts them in its exit code


def run(command, worst=CLASHES):
    """How long a command takes. One that fails would be fast."""
    start = time.monotonic()
    code = subprocess.run(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, check=False).returncode
    if not 0 <= code <= worst:
        sys.exit(f"exit code {code}: {' '.join(command)}")
    return time.monotonic() - start


def best(ours, theirs, rounds):
    """The best time of each of two things to do, taken in turn so that noise meets both."""
    times = [(ours(), theirs()) for _ in range(rounds)]
    return min(a for a, _ in times), min(b for _, b in times)


def tell(what, ours, theirs, other="git", rounds=ROUNDS):
    mine, reference = best(ours, theirs, rounds)
    print(f"{what}: {mine * 1000:.0f} ms, {other} {reference * 1000:.0f} ms, ratio {mine / reference:.2f}")


def scratch_copies(program, repository, folder):
    """A commit laid out anew, and again after a small change, against a working tree that git adds."""
    lay_out = str(pathlib.Path(program).parent / "rope-splice-lay-out")
    copy, tree = folder / "copy", folder / "worktree"

    def whole():
        shutil.rmtree(copy, ignore_errors=True)
        copy.mkdir(parents=True)
        return run([lay_out, repository, "ours", str(copy)])

    def git_whole():
        subprocess.run(["git", "-C", repository, "worktree", "remove", "--force", str(tree)],
                       stderr=subprocess.DEVNULL, check=False)
        return run(["git", "-C", repository, "worktree", "add", "--detach", str(tree), "ours"])

    def again():
        run([lay_out, repository, "theirs", str(copy)])
        return run([lay_out, repository, "ours", str(copy)])

    tell("scratch copy, 50,000 files", whole, git_whole, "git worktree add", SLOW_ROUNDS)
    tell("scratch copy again, some hundred files changed", again, git_whole, "git worktree add", SLOW_ROUNDS)
    git_whole()
    subprocess.run(["git", "-C", repository, "worktree", "remove", "--force", str(tree)], check=True)
    shutil.rmtree(folder)


def rebased(program, repository, folder):
    """50 commits laid on theirs in memory, against git's own rebase of them, which writes them."""
    lay_commits = str(pathlib.Path(program).parent / "rope-splice-lay-commits")
    base = subprocess.run(["git", "-C", repository, "merge-base", "ours", "theirs"], capture_output=True,
                          text=True, check=True).stdout.strip()
    make_large.line(repository, 50, base, "topic", "theirs")
    subprocess.run(["git", "-C", repository, "worktree", "add", "-q", "--detach", str(folder), "topic"], check=True)

    def git_rebase():
        subprocess.run(["git", "-C", str(folder), "reset", "-q", "--hard", "topic"], check=True)
        return run(["git", "-C", str(folder), "-c", "user.name=Dev", "-c", "user.email=dev@slackwater.example",
                    "rebase", "-q", "theirs"])
    tell("a rebase of 50 commits forecast, 50,000 files",
         lambda: run([lay_commits, repository, "topic", "theirs"]), git_rebase, "git rebase", SLOW_ROUNDS)
    subprocess.run(["git", "-C", repository, "worktree", "remove", "--force", str(folder)], check=True)


def main(program, folder):
    texts = [str(folder / "b-file" / f"{side}.txt") for side in ("base", "ours", "theirs")]
    tell("merge-file, 100,000 lines",
         lambda: run([program, "merge-file", *texts]),
         lambda: run(["git", "merge-file", "-p", "--diff3", texts[1], texts[0], texts[2]], MOST_COUNTED_CLASHES))
    for name, what in (("a-tree.git", "forecast, 50,000 files"), ("c-criss.git", "forecast, six bases")):
        repository = str(folder / name)
        tell(what,
             lambda: run([program, "forecast", "--repo", repository, "ours", "theirs"]),
             lambda: run(["git", "-C", repository, "merge-tree", "--write-tree", "ours", "theirs"]))
    many = str(folder / "d-many.git")
    branches = subprocess.run(["git", "-C", many, "for-each-ref", "--format=%(refname)", "refs/remotes"],
                              capture_output=True, text=True, check=True).stdout.split()
    tell(f"{len(branches)} branches in one process",
         lambda: run([program, "forecast", "--repo", many, "main", *branches]),
         lambda: sum(run([program, "forecast", "--repo", many, "main", branch]) for branch in branches),
         "one process each")
    forty = str(folder / "forty.git")
    shutil.copytree(folder / "a-tree.git", forty)
    make_large.parted(forty, 40, "theirs")
    topics = [f"team/topic-{i:04d}" for i in range(40)]

    def git_forty():
        return sum(run(["git", "-C", forty, "merge-tree", "--write-tree", "ours", topic]) for topic in topics)
    tell("forecasts of 40 branches, 50,000 files",
         lambda: run([program, "forecast", "--repo", forty, "ours", *topics]),
         git_forty, "git, 40 processes", SLOW_ROUNDS)
    scratch_copies(program, str(folder / "a-tree.git"), folder / "copies")
    rebased(program, str(folder / "a-tree.git"), folder / "rebased")
    tell("who collides with whom, 780 pairs, 50,000 files",
         lambda: run([program, "collisions", "--repo", forty, *topics]),
         git_forty, "git, 40 processes", SLOW_ROUNDS)


if __name__ == "__main__":
    if len(sys.argv) != 3:
        sys.exit(__doc__)
    main(sys.argv[1], pathlib.Path(sys.argv[2]))
