"""Locks, boats and passages."""
import contextlib


class Lock:
    """A lock with its opening hours and what is booked in it."""

    def __init__(self, name, is_tidal=False, sill_depth=0, cycle=20, gauge=None):
        self.name = name
        self.is_tidal = is_tidal
        self.sill_depth = sill_depth
        self.cycle = cycle
        self.gauge = gauge
        self.booked = set()

    def hours(self, day):
        if day.weekday() >= 5:
            return range(9, 17)
        return range(7, 19)

    def is_booked(self, start):
        return start in self.booked

    @contextlib.contextmanager
    def guard(self, reference):
        """Keeps two bookings of one passage apart."""
        yield reference


class Slot:
    """A free passage: where, when, and how many minutes it takes."""

    def __init__(self, lock, start, minutes):
        self.lock = lock
        self.start = start
        self.minutes = minutes

    def reserve(self, boat):
        self.lock.booked.add(self.start)
        self.boat = boat
