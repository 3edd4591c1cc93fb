#!/usr/bin/python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""One whole round by what a screen reader has: names, roles, states and actions (AT-SPI), and nothing else.

    accessible_round.py CLONE      while the window is open on the demo's clone

No key is pressed, no menu is opened, nothing is found by where it stands.
"""
import re
import subprocess
import sys
import time
import warnings

import gi

gi.require_version("Atspi", "2.0")
from gi.repository import Atspi, GLib  # noqa: E402

warnings.simplefilter("ignore", DeprecationWarning)
PATIENCE = 60  # seconds, for a step


class Round:
    def __init__(self):
        self.window = self.wait("the window", self.find_window)

    @staticmethod
    def wait(what, look):
        end = time.monotonic() + PATIENCE
        while time.monotonic() < end:
            try:
                if found := look():
                    return found
            except GLib.Error:  # it went while it was looked at
                pass
            time.sleep(0.1)
        sys.exit(f"waited in vain for {what}")

    @staticmethod
    def find_window():
        desktop = Atspi.get_desktop(0)
        for i in range(desktop.get_child_count()):
            application = desktop.get_child_at_index(i)
            if application and "rope-splice" in application.get_name() and application.get_child_count() > 0:
                return application.get_child_at_index(0)
        return None

    def all(self, role, name, within=None):
        """What is shown and has that role and, from its beginning, that name (a pattern)."""
        found = []
        waiting = [within or self.window]
        while waiting:
            thing = waiting.pop()
            if thing is None:
                continue
            if thing.get_role_name() == role and re.match(name, thing.get_name() or ""):
                found.append(thing)
            for i in range(thing.get_child_count()):
                child = thing.get_child_at_index(i)
                if child and child.get_state_set().contains(Atspi.StateType.SHOWING):
                    waiting.append(child)
        return sorted(found, key=lambda thing: thing.get_index_in_parent())

    def first(self, role, name, within=None):
        found = self.all(role, name, within)
        return found[0] if found else None

    @staticmethod
    def has(thing, state):
        return thing.get_state_set().contains(state)

    def act(self, thing, action):
        names = [Atspi.Action.get_action_name(thing, i) for i in range(Atspi.Action.get_n_actions(thing))]
        if action not in names:
            sys.exit(f"{thing.get_role_name()} “{thing.get_name()}” has no action {action}: {names}")
        Atspi.Action.do_action(thing, names.index(action))

    def press(self, name):
        """Presses a button once it can be pressed."""

        def ready():
            button = self.first("push button", name)
            return button if button and self.has(button, Atspi.StateType.ENABLED) else None

        self.act(self.wait(f"the button “{name}”", ready), "Press")

    def pick(self, list_name, name):
        """Goes to a row; says what it is called. Nothing: there is no such row."""
        rows = self.all("list item", name, self.first("list", list_name))
        if not rows:
            return None
        row = rows[0]
        said = row.get_name()
        if not self.has(row, Atspi.StateType.SELECTED):
            self.act(row, "Toggle")
            self.wait(f"the row “{said}” to be selected", lambda: self.has(row, Atspi.StateType.SELECTED))
        selected = [r for r in self.all("list item", "", self.first("list", list_name))
                    if self.has(r, Atspi.StateType.SELECTED)]
        if len(selected) != 1:
            sys.exit(f"{len(selected)} rows of {list_name} are selected after one was picked")
        return said

    def decide_all(self):
        """Takes for each what keeps both edits, else what stands first."""
        count = 0
        while place := self.pick("Worklist", r".* open$"):
            self.wait("candidates or answers", lambda: self.first("list", "Candidates|Answers"))
            choices = self.first("list", "Candidates|Answers").get_name()
            if choices == "Candidates":
                self.wait("the result to tell of the region at hand",
                          lambda: (text := self.first("text", "Text of the file"))
                          and re.search(r"line \d+ · .*Region \d+ of \d+ · open", text.get_description()))
            keeps = self.all("list item", r".*keeps both edits", self.first("list", choices))
            number = re.match(r"\d", keeps[0].get_name()).group(0) if keeps else "1"
            self.pick(choices, rf"{number} ")
            left = len(self.all("list item", r".* open$", self.first("list", "Worklist")))
            self.press(rf"Use .* {number}$|Use .*: ")  # it follows the row that is picked
            self.wait(f"{place} to be decided",
                      lambda: len(self.all("list item", r".* open$", self.first("list", "Worklist"))) < left)
            count += 1
        return count


def main():
    clone = sys.argv[1]
    said = Round()
    said.press("Fetch$")
    said.wait("the chart to tell what it shows",
              lambda: (chart := said.first("chart", "ours · ")) and "theirs: " in chart.get_description())
    said.press(r"Start: \d+ to decide")
    said.wait("Resolve", lambda: said.first("list", "Worklist"))
    print(f"decided {said.decide_all()}")
    said.press("Check, ")
    said.wait("Check's findings", lambda: said.pick("Findings", ".*Name is gone: free_slots"))
    said.press("Write passage_slots here")
    said.wait("the finding to be fixed", lambda: not said.first("list item", "Name is gone: free_slots .*renamed"))
    said.press("Go on to Record")
    said.press("Record ")
    said.press("Go to Push")
    said.press(r"Push \d+ commits")
    said.wait("the remote to have it", lambda: said.first("label", ".*same as yours"))
    ours = subprocess.check_output(["git", "-C", clone, "rev-parse", "tide-windows"])
    theirs = subprocess.check_output(["git", "-C", clone, "ls-remote", "origin", "refs/heads/tide-windows"])
    if not theirs.startswith(ours.strip()):
        sys.exit("the remote has not what was recorded")
    print("the round was played by names and actions alone")


if __name__ == "__main__":
    main()
