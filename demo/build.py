#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Builds the demo repositories of Slackwater, a made-up team that runs a booking service for canal locks.

    demo/build.py FOLDER [--uncommitted]
    demo/build.py --stream FILE

Makes FOLDER/shared.git (the bare shared remote), FOLDER/slackwater (yours, on tide-windows) and
FOLDER/teammate (W. Otieno's). Names, dates and contents are fixed, so every object id is the same each time.
--uncommitted leaves two edited files in your clone, one of which a teammate changed as well.
--stream writes all of it as one stream for git fast-import, from which `rope-splice demo` makes the same
repositories: refs/demo/yours is your branch, refs/demo/seen what your clone knows of the shared
main, refs/demo/main your own main, and
refs/demo/uncommitted holds your files with the two edits.
"""
import argparse
import os
import pathlib
import shutil
import struct
import subprocess
import sys
import tempfile
import zlib

HERE = pathlib.Path(__file__).resolve().parent

YOU = ("Maren Voss", "maren@slackwater.example")
ISA = ("Isa Falk", "isa@slackwater.example")
WERE = ("Were Otieno", "were@slackwater.example")
TAO = ("Tao Lindqvist", "tao@slackwater.example")
NOOR = ("Noor Adeyemi", "noor@slackwater.example")
PILAR = ("Pilar Quist", "pilar@slackwater.example")
DAY = 86_400
START = 1_793_610_000  # 2 November 2026, 09:00 UTC


class Repository:
    """A working clone in which commits are made with given people and times."""

    def __init__(self, folder):
        self.folder = pathlib.Path(folder)

    def git(self, *arguments, who=WERE, at=START):
        environment = {k: v for k, v in os.environ.items() if not k.startswith("GIT_")}
        date = f"{at} +0000"
        environment.update(
            GIT_AUTHOR_NAME=who[0], GIT_AUTHOR_EMAIL=who[1], GIT_AUTHOR_DATE=date,
            GIT_COMMITTER_NAME=who[0], GIT_COMMITTER_EMAIL=who[1], GIT_COMMITTER_DATE=date,
            GIT_CONFIG_GLOBAL=os.devnull, GIT_CONFIG_NOSYSTEM="1", LC_ALL="C")
        done = subprocess.run(["git", *arguments], cwd=self.folder, env=environment, capture_output=True)
        if done.returncode != 0:
            sys.exit(f"demo: git {' '.join(arguments)} failed:\n{done.stderr.decode()}")
        return done.stdout.decode().strip()

    def write(self, path, content):
        target = self.folder / path
        target.parent.mkdir(parents=True, exist_ok=True)
        target.write_bytes(content if isinstance(content, bytes) else content.encode())

    def edit(self, path, *replacements):
        text = (self.folder / path).read_bytes().decode()
        for old, new in replacements:
            if old not in text:
                sys.exit(f"demo: {path} does not hold {old!r}")
            text = text.replace(old, new)
        self.write(path, text)

    def commit(self, message, who, at):
        self.git("add", "-A")
        self.git("commit", "-q", "-m", message, who=who, at=at)


def png(width, height, colour_at):
    """A small RGB picture."""
    rows = b"".join(b"\0" + b"".join(bytes(colour_at(x, y)) for x in range(width)) for y in range(height))

    def chunk(kind, data):
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))
    header = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", zlib.compress(rows, 9)) + chunk(b"IEND", b"")


def lock_diagram(water, gates):
    """Two chambers with water, a wall between them and as many gates as told."""
    def colour(x, y):
        if y < 20:
            return (236, 240, 244)
        if x % 40 in (0, 1, 2) and x // 40 < gates:
            return (70, 60, 50)
        level = 34 if x < 60 else 48
        return water if y > level else (214, 205, 190)
    return png(120, 80, colour)


def base_commit(repo):
    shutil.copytree(HERE / "files", repo.folder, dirs_exist_ok=True)
    repo.write("docs/lock-diagram.png", lock_diagram((120, 160, 190), 3))
    repo.commit("Book passages through the locks", WERE, START)


def theirs_commits(repo):
    """What the team has put on main since."""
    at = START + DAY
    repo.edit("locks/passage.py",
              ("            slots.append(Slot(lock, start, 20))", "            slots.append(Slot(lock, start, lock.cycle))"),
              ("import datetime\n", "import datetime\nimport logging\n"),
              ("    check_draught(slot.lock, boat, slot.start)\n    slot.reserve(boat)\n    return f\"{slot.lock.name}-{slot.start:%Y%m%d%H}\"\n",
               "    reference = f\"{slot.lock.name}-{slot.start:%Y%m%d%H}\"\n    with slot.lock.guard(reference):\n"
               "        check_draught(slot.lock, boat, slot.start)\n        slot.reserve(boat)\n    return reference\n"))
    repo.edit("README.md", ("recieve", "receive"))
    repo.commit("Use each lock's own cycle time", ISA, at)

    at += DAY
    repo.edit("locks/fees.toml", ("discount = 15", "discount = 15\n\n[season.winter]\nfrom = \"11-01\"\nto = \"02-28\"\nfactor = 0.8"))
    repo.edit("timetable/timetable.toml", ("revision = 41", "revision = 43"), ('"17:40"', '"17:50"'))
    repo.commit("Winter season and a later last passage", WERE, at)

    at += DAY
    repo.git("rm", "-q", "scripts/nightly.sh")
    repo.edit("scripts/seed.sh", ("locks=4", "locks=6"))
    notices = (repo.folder / "docs/notices.txt").read_bytes().replace(b"\n", b"\r\n")
    repo.write("docs/notices.txt", notices)
    repo.commit("The scheduler replaces the nightly script", TAO, at)

    at += DAY
    repo.edit("locks/model.py", (
        "    def hours(self, day):\n        if day.weekday() >= 5:\n            return range(9, 17)\n        return range(7, 19)\n",
        "    def hours(self, day):\n        first, last = WEEKEND if day.weekday() >= 5 else WORKDAY\n        return range(first, last)\n"),
        ("class Lock:", "WORKDAY = (7, 19)\nWEEKEND = (9, 17)\n\n\nclass Lock:"))
    repo.edit("locks/report.py", (
        "    return f\"{weekday}, {day.isoformat()}\"\n",
        "    return f\"{weekday}, {day.isoformat()}\"\n\n\ndef outlook(day, lock):\n    \"\"\"How many passages are free tomorrow.\"\"\"\n"
        "    tomorrow = day + datetime.timedelta(days=1)\n    return len(free_slots(tomorrow, lock))\n"))
    repo.edit("tests/test_passage.py",
              ("from locks.report import daily_report\n", "from locks.report import daily_report, outlook\n"),
              ("\n\nif __name__", "\n    def test_outlook_counts_tomorrow(self):\n"
               "        self.assertEqual(outlook(MONDAY, Lock(\"Weir Lane\")), 12)\n\n\nif __name__"))
    repo.write("docs/glossary.md", "# Glossary\n\n- **pound**: the level stretch between two locks\n- **sill**: the ledge below a gate\n")
    repo.write("docs/lock-diagram.png", lock_diagram((90, 140, 180), 4))
    repo.commit("Count tomorrow's passages of tidal locks", ISA, at)

    at += DAY
    repo.git("mv", "gauge/gauge.cpp", "gauge/water_level.cpp")
    repo.edit("gauge/water_level.cpp", ("constexpr int kSamples = 8;", "constexpr int kSamples = 16;"))
    repo.edit("db/schema.sql", ("  boat_name text not null,\n", "  boat_name text not null,\n  boat_length_cm integer not null,\n"))
    repo.commit("Sample the gauge twice as often", TAO, at)


def ours_commits(repo):
    """What you did on tide-windows; the first of it is shared already."""
    at = START + DAY + 3_600
    repo.edit("locks/model.py", (
        "        return range(7, 19)\n",
        "        return range(7, 19)\n\n    def tide_at(self, start):\n        return self.gauge.level(start)\n"))
    repo.edit("README.md", ("recieve", "receive"))
    repo.commit("Ask the tide gauge for its level", YOU, at)
    repo.git("push", "-q", "origin", "tide-windows")

    at += DAY
    repo.edit("locks/passage.py",
              ("def free_slots(day, lock):", "def passage_slots(day, lock):"),
              ("        if not lock.is_booked(start):", "        if not lock.is_booked(start) and tide_ok(start):"),
              ("import datetime\n", "import datetime\nimport functools\n"),
              ("    slot.reserve(boat)\n", "    slot.reserve(boat)\n    logger.info(\"%s passes at %s\", boat.name, slot.start)\n"),
              ("    return slots\n", "    return slots\n\n\ndef tide_ok(start, lock=None):\n    if lock and lock.is_tidal:\n"
               "        return lock.tide_at(start) > lock.sill_depth\n    return True\n"))
    repo.edit("locks/report.py", ("from locks.passage import free_slots", "from locks.passage import passage_slots"),
              ("        free = len(free_slots(day, lock))", "        free = len(passage_slots(day, lock))"))
    repo.edit("tests/test_passage.py", ("free_slots", "passage_slots"))
    repo.edit("timetable/timetable.toml", ("revision = 41", "revision = 42"))
    repo.commit("Only offer passages the tide allows", YOU, at)

    at += DAY
    repo.edit("locks/fees.toml", ("discount = 15", "discount = 15\n\n[season.regatta]\nfrom = \"06-12\"\nto = \"06-20\"\nfactor = 1.4"))
    repo.edit("scripts/nightly.sh", ("python3 -m locks.report", "python3 -m locks.report --tides"))
    (repo.folder / "scripts/seed.sh").chmod(0o755)
    repo.edit("gauge/gauge.cpp", ("        return 1;\n", "        std::cerr << \"no reading\\n\";\n        return 1;\n"))
    repo.edit("docs/notices.txt", ("Lock 3 closes at dusk.", "Lock 3 closes at dusk and at low tide."))
    repo.write("docs/glossary.md", "# Glossary\n\n- **neap tide**: the smallest difference between high and low water\n- **sill**: the ledge below a gate\n")
    repo.write("docs/lock-diagram.png", lock_diagram((120, 160, 190), 2))
    repo.commit("Regatta fees, tides in the nightly report", YOU, at)


def side_branches(repo, base):
    """Eight more shared branches."""
    at = START + 2 * DAY
    repo.git("switch", "-q", "-c", "winter-fees", base)
    repo.edit("locks/fees.toml", ("[fee]\n", "[fee]\nminimum = 250\n"))
    repo.commit("A least fee", WERE, at)

    repo.git("switch", "-q", "-c", "booking-api", base)
    repo.edit("locks/passage.py", ("    slot.reserve(boat)\n", "    slot.reserve(boat, via=\"api\")\n"),
              ("            slots.append(Slot(lock, start, 20))", "            slots.append(Slot(lock, start, minutes=20))"))
    repo.commit("Bookings over the API", TAO, at)
    repo.edit("timetable/timetable.toml", ("revision = 41", "revision = 44"))
    repo.commit("Timetable for the API", TAO, at + 600)

    repo.git("switch", "-q", "-c", "lamp-signals", base)

    repo.git("switch", "-q", "-c", "dredging", base)
    lines = []
    for day in range(1, 41):
        lines.append(f"- day {day}: {80 + (day * 37) % 120} m dredged\n")
        repo.write("docs/dredging.md", "# Dredging log\n\n" + "".join(lines))
        repo.commit(f"Dredging log, day {day}", WERE, at + day * 900)
    more_people(repo, base)
    repo.git("push", "-q", "origin", "winter-fees", "booking-api", "lamp-signals", "dredging",
             "boat-sizes", "regatta-week", "gauge-alerts", "keeper-login")


def more_people(repo, base):
    """Branches of others, which meet one another and yours here and there."""
    at = START - 2 * DAY
    repo.git("switch", "-q", "-c", "boat-sizes", base)
    repo.edit("locks/model.py", ("    def __init__(self, lock, start, minutes):\n        self.lock = lock\n",
                                 "    def __init__(self, lock, start, minutes, boat_size=None):\n"
                                 "        self.boat_size = boat_size\n        self.lock = lock\n"))
    repo.edit("locks/passage.py", ("            slots.append(Slot(lock, start, 20))", "            slots.append(Slot(lock, start, lock.cycle, boat_size))"),
              ("def free_slots(day, lock):", "def free_slots(day, lock, boat_size=None):"),
              ("    if boat.draught > lock.sill_depth:", "    if boat.draught + boat.size.margin > lock.sill_depth:"))
    repo.edit("db/schema.sql", ("  boat_name text not null,\n", "  boat_name text not null,\n  boat_size text not null,\n"))
    repo.edit("locks/fees.toml", ("per_metre = 55", "per_metre = 60"))
    repo.commit("Slots by the size of the boat", ISA, at)

    repo.git("switch", "-q", "-c", "regatta-week", base)
    repo.edit("timetable/timetable.toml", ("revision = 41", "revision = 45"), ('"15:40"', '"18:10"'))
    repo.edit("locks/fees.toml", ("discount = 15", "discount = 5"), ("per_metre = 55", "per_metre = 70"))
    repo.commit("Longer hours in the week of the regatta", NOOR, at + 3_600)

    repo.git("switch", "-q", "-c", "gauge-alerts", base)
    repo.edit("gauge/gauge.cpp", ("constexpr int kSamples = 8;", "constexpr int kSamples = 32;"))
    repo.write("docs/alerts.md", "# Alerts\n\nWho is called when the gauge falls silent.\n")
    repo.commit("Call somebody when the gauge is silent", TAO, at + 7_200)

    repo.git("switch", "-q", "-c", "keeper-login", base)
    repo.edit("locks/passage.py", ("    slot.reserve(boat)\n", "    slot.reserve(boat, keeper=current_keeper())\n"))
    repo.write("locks/keepers.py", '"""Who may open a lock."""\n\n\ndef current_keeper():\n    return "nobody"\n')
    repo.commit("Keepers sign in", PILAR, at + 10_800)


def build(folder, has_uncommitted):
    folder.mkdir(parents=True, exist_ok=True)
    Repository(folder).git("init", "-q", "--bare", "--initial-branch=main", "shared.git")
    Repository(folder).git("clone", "-q", "shared.git", "teammate")
    team = Repository(folder / "teammate")
    team.git("switch", "-q", "-c", "main")
    base_commit(team)
    team.git("push", "-q", "-u", "origin", "main")
    base = team.git("rev-parse", "HEAD")
    side_branches(team, base)
    team.git("switch", "-q", "main")

    Repository(folder).git("clone", "-q", "shared.git", "slackwater")
    yours = Repository(folder / "slackwater")
    yours.git("config", "user.name", YOU[0])
    yours.git("config", "user.email", YOU[1])
    yours.git("switch", "-q", "--no-track", "-c", "tide-windows", "origin/main")
    ours_commits(yours)
    yours.git("branch", "-q", "--set-upstream-to=origin/main")

    theirs_commits(team)
    team.git("push", "-q", "origin", "main")
    yours.git("fetch", "-q", "--all")
    # One more push that your clone has not heard of: the first view is stale until you fetch.
    team.edit("README.md", ("# Slackwater", "# Slackwater locks"))
    team.commit("Name the project in full", WERE, START + 6 * DAY)
    team.git("push", "-q", "origin", "main")
    team.git("config", "user.name", WERE[0])
    team.git("config", "user.email", WERE[1])
    shutil.copy(HERE / "teammate-push", folder / "teammate-push")
    # The remote was last asked when the first work of the team had arrived.
    for trace in (".git/FETCH_HEAD", ".git/refs/remotes/origin/HEAD"):
        os.utime(folder / "slackwater" / trace, (START + 6 * DAY, START + 6 * DAY))
    if has_uncommitted:
        yours.edit("locks/fees.toml", ("discount = 15", "discount = 20"))
        yours.edit("tests/test_passage.py", ("class PassageTest", "# still to do: a test at low water\nclass PassageTest"))


def write_stream(file):
    with tempfile.TemporaryDirectory() as scratch:
        folder = pathlib.Path(scratch)
        build(folder, has_uncommitted=True)
        yours = Repository(folder / "slackwater")
        edits = yours.git("stash", "create", who=YOU, at=START + 7 * DAY)
        yours.git("push", "-q", "origin", "tide-windows:refs/demo/yours", "origin/main:refs/demo/seen",
                  "main:refs/demo/main",
                  f"{edits}:refs/demo/uncommitted")
        stream = subprocess.run(["git", "fast-export", "--all", "--signed-tags=strip"],
                                cwd=folder / "shared.git", capture_output=True, check=True).stdout
    file.parent.mkdir(parents=True, exist_ok=True)
    file.write_bytes(stream)


def main():
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("folder", type=pathlib.Path, nargs="?")
    parser.add_argument("--uncommitted", action="store_true")
    parser.add_argument("--stream", type=pathlib.Path, metavar="FILE")
    arguments = parser.parse_args()
    if arguments.stream:
        write_stream(arguments.stream)
        return
    if not arguments.folder:
        parser.error("FOLDER or --stream FILE")
    if arguments.folder.exists() and any(arguments.folder.iterdir()):
        sys.exit(f"demo: {arguments.folder} is not empty")
    build(arguments.folder.resolve(), arguments.uncommitted)
    print(arguments.folder.resolve() / "slackwater")


if __name__ == "__main__":
    main()
