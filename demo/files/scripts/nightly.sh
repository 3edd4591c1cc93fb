#!/bin/sh
# Mails tomorrow's report to the lock keepers.
set -eu
cd /srv/slackwater
python3 -m locks.report > report.txt
mail -s "Passages" keepers < report.txt
