import datetime
import unittest

from locks.model import Lock
from locks.passage import free_slots
from locks.report import daily_report

MONDAY = datetime.date(2026, 11, 2)


class PassageTest(unittest.TestCase):
    def test_a_day_without_bookings_is_free(self):
        self.assertEqual(len(free_slots(MONDAY, Lock("Weir Lane"))), 12)

    def test_report_has_a_row_for_each_lock(self):
        locks = [Lock("Weir Lane"), Lock("Sea Gate", is_tidal=True)]
        self.assertEqual(len(daily_report(MONDAY, locks)), 2)


if __name__ == "__main__":
    unittest.main()
