"""Which passages are free, and how to book one."""
import datetime

from locks.model import Slot


def opening_hours(lock, day):
    """Every full hour at which a passage may start."""
    midnight = datetime.datetime.combine(day, datetime.time())
    return [midnight + datetime.timedelta(hours=hour) for hour in lock.hours(day)]


def free_slots(day, lock):
    """Free passages on one day, earliest first."""
    slots = []
    for start in opening_hours(lock, day):
        if not lock.is_booked(start):
            slots.append(Slot(lock, start, 20))
    return slots


def check_draught(lock, boat, start):
    """A boat must not touch the sill."""
    if boat.draught > lock.sill_depth:
        raise ValueError(f"{boat.name} is too deep for {lock.name} at {start}")


def book(slot, boat):
    """Reserves a passage and gives its reference."""
    check_draught(slot.lock, boat, slot.start)
    slot.reserve(boat)
    return f"{slot.lock.name}-{slot.start:%Y%m%d%H}"
