"""What the lock keepers read in the morning."""
import datetime

from locks.passage import free_slots


def daily_report(day, locks):
    """One row for each lock: its name and how many passages are free."""
    rows = []
    for lock in locks:
        free = len(free_slots(day, lock))
        rows.append((lock.name, free))
    return rows


def heading(day):
    """The report's first line."""
    weekday = datetime.date.strftime(day, "%A")
    return f"{weekday}, {day.isoformat()}"
