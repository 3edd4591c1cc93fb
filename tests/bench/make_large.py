#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Makes repositories that are large in one way each, always the same ones.

    tests/bench/make_large.py OUT

OUT/many-branches: 3,000 shared branches of a small tree. OUT/long: main and what it follows have parted
by 50,000 commits on either side.
Also used by compare_with_git.py: parted() adds branches of a few commits each to a repository,
line() one of many commits.
"""
import pathlib
import random
import subprocess
import sys


def git(repository, *arguments, data=None):
    return subprocess.run(["git", "-C", str(repository), *arguments], input=data, check=True,
                          capture_output=True).stdout.decode()


def commit(ref, number, parent, files):
    """One commit for fast-import; `files` maps paths to contents."""
    text = [f"commit {ref}", f"committer Dev {number % 7} <dev{number % 7}@slackwater.example> "
            f"{1_700_000_000 + number} +0000", "data 6", f"c{number % 10000:05d}"]
    if parent:
        text.append(f"from {parent}")
    for path, content in files.items():
        text += [f"M 100644 inline {path}", f"data {len(content)}", content]
    return "\n".join(text) + "\n"


def body(seed):
    numbers = random.Random(seed)
    return "".join(f"line {i} {numbers.randint(0, 9) if i % 9 == 0 else 0}\n" for i in range(60))


def parted(repository, count, tip, remote="team"):
    """Adds `count` branches to a repository, each a few commits upon one of the newest of `tip`."""
    numbers = random.Random(7)
    files = git(repository, "ls-tree", "-r", "--name-only", tip).split("\n")[:-1]
    newest = git(repository, "rev-list", "--first-parent", "-n", "200", tip).split()
    hot = numbers.sample(files, min(60, len(files)))
    stream = []
    for branch in range(count):
        ref = f"refs/remotes/{remote}/topic-{branch:04d}"
        for step in range(6):
            changed = {numbers.choice(hot): body(branch * 10 + step), numbers.choice(files): body(step)}
            stream.append(commit(ref, branch * 10 + step, None if step else numbers.choice(newest), changed))
    git(repository, "fast-import", "--quiet", "--force", data="".join(stream).encode())


def line(repository, count, parent, name, other):
    """A branch of `count` commits upon `parent`, each of which changes one file that no other does, nor `other`."""
    changed = set(git(repository, "diff", "--name-only", parent, other).split("\n"))
    files = [path for path in git(repository, "ls-tree", "-r", "--name-only", parent).split("\n")[:-1]
             if path not in changed]
    chosen = random.Random(11).sample(files, count)
    stream = [commit(f"refs/heads/{name}", step, None if step else git(repository, "rev-parse", parent).strip(),
                     {path: body(step)}) for step, path in enumerate(chosen)]
    git(repository, "fast-import", "--quiet", "--force", data="".join(stream).encode())


def begun(folder):
    folder.mkdir(parents=True)
    git(folder, "init", "-q", "-b", "main")
    git(folder, "config", "user.name", "Dev 1")
    git(folder, "config", "user.email", "dev1@slackwater.example")
    git(folder, "remote", "add", "team", "/nowhere")
    files = {f"part{i % 10}/file{i}.txt": body(i) for i in range(200)}
    git(folder, "fast-import", "--quiet", data=commit("refs/heads/main", 0, None, files).encode())


def follow(folder, branch):
    git(folder, "config", "branch.main.remote", "team")
    git(folder, "config", "branch.main.merge", f"refs/heads/{branch}")
    git(folder, "config", "remote.team.fetch", "+refs/heads/*:refs/remotes/team/*")
    git(folder, "reset", "-q", "--hard", "main")


def many_branches(folder):
    begun(folder)
    parted(folder, 3000, "main")
    follow(folder, "topic-0001")


def long_divergence(folder):
    begun(folder)
    main = git(folder, "rev-parse", "main").strip()
    stream = []
    for ref, path in (("refs/heads/main", "ours.txt"), ("refs/remotes/team/main", "theirs.txt")):
        for number in range(50_000):
            stream.append(commit(ref, number + 1, main if number == 0 else None,
                                 {path: f"{number}\n"} if number % 100 == 0 else {}))
    git(folder, "fast-import", "--quiet", "--force", data="".join(stream).encode())
    follow(folder, "main")


if __name__ == "__main__":
    if len(sys.argv) != 2:
        sys.exit(__doc__)
    out = pathlib.Path(sys.argv[1])
    many_branches(out / "many-branches")
    long_divergence(out / "long")
