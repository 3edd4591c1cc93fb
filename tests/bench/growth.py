#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""How time and memory grow with what is joined: growth.py PROGRAM FOLDER [AXIS...].

Makes repositories and files of growing size in FOLDER, joins each with PROGRAM and with git, and prints a table.
The best of a few runs counts. Memory is the program's own, without the git processes that it reads through."""

import os
import subprocess
import sys
import time

GIT = {**os.environ, "GIT_CONFIG_GLOBAL": "/dev/null", "GIT_CONFIG_NOSYSTEM": "1"}
WHEN = 1_793_610_000


class Repository:
    """A bare repository that is filled through fast-import."""

    def __init__(self, folder):
        self.folder = folder
        subprocess.run(["git", "init", "-q", "--bare", "-b", "main", folder], check=True, env=GIT)
        self.importing = subprocess.Popen(
            ["git", "-C", folder, "fast-import", "--quiet"], stdin=subprocess.PIPE, env=GIT)
        self.marks = 0

    def commit(self, branch, files, parent=None):
        self.marks += 1
        lines = [f"commit refs/heads/{branch}\nmark :{self.marks}\n"
                 f"committer A <a@slackwater.example> {WHEN + self.marks} +0000\ndata 1\nx\n"]
        if parent:
            lines.append(f"from :{parent}\n")
        for path, text in files.items():
            lines.append(f"M 644 inline {path}\ndata {len(text)}\n{text}\n")
        self.importing.stdin.write("".join(lines).encode())
        return self.marks

    def finish(self):
        self.importing.stdin.close()
        self.importing.wait()


def lines_of(name, count):
    return "".join(f"{name} line {i} of the tide table\n" for i in range(count))


def file_path(number):
    return f"part{number // 400}/pier{number // 20}/f{number}.txt"


def edited(number, name):
    """The file's text with a line of its own changed by a side."""
    at = 3 if name == "ours" else 12
    return lines_of(f"f{number}", 20).replace(f"line {at} ", f"line {at} {name} ")


def fork(repository, base, ours, theirs):
    """Sides that change 200 files each, 50 of them both."""
    repository.commit("ours", {file_path(i): edited(i, "ours") for i in ours}, base)
    repository.commit("theirs", {file_path(i): edited(i, "theirs") for i in theirs}, base)


def spread(count, most, offset=0):
    step = max(1, count // most)
    return range(offset % count, count, step)


def files(folder, count):
    repository = Repository(folder)
    base = repository.commit("main", {file_path(i): lines_of(f"f{i}", 20) for i in range(count)})
    fork(repository, base, spread(count, 200), list(spread(count, 150, 1)) + list(spread(count, 50)))
    repository.finish()
    return forecast(folder, ["theirs"]), git_join(folder, ["theirs"])


def commits(folder, count):
    repository = Repository(folder)
    base = repository.commit("main", {file_path(i): lines_of(f"f{i}", 20) for i in range(200)})
    for side in ("ours", "theirs"):
        last = base
        for i in range(count):
            last = repository.commit(side, {f"{side}/log{i % 20}.txt": f"{i}\n"}, last)
    repository.finish()
    return forecast(folder, ["theirs"]), git_join(folder, ["theirs"])


def branches(folder, count):
    repository = Repository(folder)
    base = repository.commit("main", {file_path(i): lines_of(f"f{i}", 20) for i in range(2000)})
    repository.commit("ours", {file_path(i): edited(i, "ours") for i in spread(2000, 100)}, base)
    names = [f"b{i}" for i in range(count)]
    for i, name in enumerate(names):
        files = {file_path(n): edited(n, "theirs") for n in (i % 2000, (7 * i) % 2000, (20 * i) % 2000)}
        repository.commit(name, files, base)
    repository.finish()
    return forecast(folder, names), git_join(folder, names)


def write_three(folder, base, ours, theirs):
    os.makedirs(folder)
    paths = []
    for name, text in (("base", base), ("ours", ours), ("theirs", theirs)):
        paths.append(os.path.join(folder, name))
        with open(paths[-1], "w") as file:
            file.writelines(text)
    return paths


def join_files(paths):
    base, ours, theirs = paths
    return ([PROGRAM, "merge-file", base, ours, theirs],), (
        ["git", "merge-file", "-p", "--diff3", ours, base, theirs],)


def regions(folder, count):
    base = [f"line {i} of the tide table\n" for i in range(10 * count)]
    sides = []
    for name in ("ours", "theirs"):
        side = list(base)
        for i in range(5, len(side), 10):
            side[i] = f"line {i} as {name} has it\n"
        sides.append(side)
    return join_files(write_three(folder, base, *sides))


def bytes_of_a_file(folder, count):
    base = [f"line {i} of the tide table of the upper gate\n" for i in range(count * 1_000_000 // 48)]
    ours, theirs = list(base), list(base)
    for at in range(100, len(base), max(1, len(base) // 100)):
        ours[at] = f"line {at} as ours has it\n"
        theirs[at - 50] = f"line {at} as theirs has it\n"
    return join_files(write_three(folder, base, ours, theirs))


def same_lines(folder, count):
    """Few different lines, most of them braces and blanks, with a change every 30 lines."""
    kinds = ["{\n", "}\n", "\n", "    next();\n", "    if (open) {\n", "    }\n"]
    base = [kinds[(i * i + i // 7) % len(kinds)] for i in range(count)]
    ours, theirs = list(base), list(base)
    for at in range(20, count, 60):
        ours[at] = f"    ours({at});\n"
        theirs[min(count - 1, at + 30)] = f"    theirs({at});\n"
    return join_files(write_three(folder, base, ours, theirs))


def repeated_lines(folder, count):
    """Every line stands 65 times in the text."""
    base = [f"line {i % (count // 65)}\n" for i in range(count)]
    ours, theirs = list(base), list(base)
    for at in range(20, count, 200):
        ours[at] = f"ours {at}\n"
        theirs[min(count - 1, at + 100)] = f"theirs {at}\n"
    return join_files(write_three(folder, base, ours, theirs))


def regions_as_json(folder, count):
    own, gits = regions(folder, count)
    return ([[own[0][0], "merge-file", "--json", *own[0][2:]]], gits)


def new_folders(folder, count):
    """Each side adds files in folders that only it has."""
    repository = Repository(folder)
    base = repository.commit("main", {file_path(i): lines_of(f"f{i}", 20) for i in range(200)})
    for side in ("ours", "theirs"):
        repository.commit(
            side, {f"{side}/part{i // 50}/f{i}.txt": f"{side} {i}\n" for i in range(count)}, base)
    repository.finish()
    return forecast(folder, ["theirs"]), git_join(folder, ["theirs"])


def written_again(folder, count):
    """The joined objects are there already."""
    repository = Repository(folder)
    base = repository.commit("main", {file_path(i): lines_of(f"f{i}", 20) for i in range(count)})
    fork(repository, base, range(count), range(count))
    repository.finish()
    own = [[*forecast(folder, ["theirs"])[0][:-2], "--write-tree", "ours", "theirs"]]
    run(own)
    return own, git_join(folder, ["theirs"])


def with_commit_graph(folder, count):
    commands = commits(folder, count)
    subprocess.run(["git", "-C", folder, "commit-graph", "write", "--reachable"],
                   check=True, env=GIT, stderr=subprocess.DEVNULL)
    return commands


def several_bases(folder, count):
    """Sides that have joined each other's beginnings crosswise: so many best common ancestors."""
    repository = Repository(folder)
    base = repository.commit("main", {file_path(i): lines_of(f"f{i}", 20) for i in range(200)})
    tips = [repository.commit(f"b{i}", {file_path(i): edited(i, "ours")}, base) for i in range(count)]
    for side in ("ours", "theirs"):
        repository.marks += 1
        merges = "".join(f"merge :{tip}\n" for tip in tips[1:])
        files = {file_path(i): edited(i, "ours") for i in range(count)}
        files[f"{side}.txt"] = f"{side}\n"
        lines = [f"commit refs/heads/{side}\nmark :{repository.marks}\n"
                 f"committer A <a@slackwater.example> {WHEN + repository.marks} +0000\ndata 1\nx\n"
                 f"from :{tips[0]}\n{merges}"]
        for path, text in files.items():
            lines.append(f"M 644 inline {path}\ndata {len(text)}\n{text}\n")
        repository.importing.stdin.write("".join(lines).encode())
    repository.finish()
    return forecast(folder, ["theirs"]), git_join(folder, ["theirs"])


def forecast(folder, theirs):
    return ([PROGRAM, "forecast", "--json", "--repo", folder, "ours", *theirs],)


def git_join(folder, theirs):
    return [["git", "-C", folder, "merge-tree", "--write-tree", "ours", name] for name in theirs]


AXES = {
    "files": (files, (1_000, 10_000, 50_000, 200_000)),
    "commits": (commits, (100, 1_000, 10_000, 100_000)),
    "branches": (branches, (10, 100, 1_000, 3_000)),
    "regions": (regions, (10, 100, 1_000, 20_000)),
    "megabytes": (bytes_of_a_file, (1, 10, 100, 1_000)),
    "same lines": (same_lines, (30_000, 300_000, 900_000)),
    "repeated lines": (repeated_lines, (65_000, 300_000)),
    "regions as JSON": (regions_as_json, (100, 1_000, 20_000, 100_000)),
    "new folders": (new_folders, (1_000, 10_000, 50_000)),
    "written again": (written_again, (1_000, 20_000)),
    "commit graph": (with_commit_graph, (500, 5_000, 50_000)),
    "bases": (several_bases, (2, 6, 12)),
}


def run(commands):
    """Seconds of running these one after the other."""
    began = time.perf_counter()
    for command in commands:
        subprocess.run(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, env=GIT)
    return time.perf_counter() - began


def memory_of(command):
    """MB, as GNU time tells: a child of this large process would be told to be as large."""
    told = subprocess.run(["/usr/bin/time", "-q", "-f", "%M", *command],
                          stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, env=GIT, text=True)
    return int(told.stderr.split()[-1]) // 1000


def best(commands):
    first = run(commands)
    more = [run(commands) for _ in range(4 if first < 2 else 1 if first < 10 else 0)]
    return min([first] + more), memory_of(commands[0])


def main():
    folder = sys.argv[2]
    print("| axis | size | seconds | MB | git: seconds | MB | ratio |")
    print("| --- | --- | --- | --- | --- | --- | --- |")
    for axis in sys.argv[3:] or AXES:
        make, sizes = AXES[axis]
        for size in sizes:
            place = os.path.join(folder, f"{axis}-{size}".replace(" ", "-"))
            own, gits = make(place, size)
            (seconds, memory), (git_seconds, git_memory) = best(own), best(gits)
            print(f"| {axis} | {size:,} | {seconds:.3f} | {memory} | {git_seconds:.3f} | {git_memory} | "
                  f"{seconds / git_seconds:.2f} |", flush=True)
            subprocess.run(["rm", "-rf", place], check=True)


if __name__ == "__main__":
    PROGRAM = os.path.abspath(sys.argv[1])
    main()
