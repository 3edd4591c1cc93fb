#!/usr/bin/env bash
# SPDX-License-Identifier: GPL-3.0-or-later
# One whole round in a real window under Xvfb, checked with real git afterwards: round_under_xvfb.sh PLAYER SOURCE
set -euo pipefail
player=$1 source=$2
folder=$(mktemp -d)
trap 'rm -rf "$folder"' EXIT
mkdir -p "$folder/home"
python3 "$source/demo/build.py" "$folder/demo" --uncommitted >/dev/null
clone=$folder/demo/slackwater
ours=$(git -C "$clone" rev-parse tide-windows) theirs=$(git -C "$folder/demo/shared.git" rev-parse main)
HOME=$folder/home QT_QPA_PLATFORM=xcb xvfb-run -a -s '-screen 0 1280x800x24' "$player" "$clone" "$folder/pictures"

fail() { echo "FAILED: $1" >&2; exit 1; }
[ "$(git -C "$clone" log -1 --format=%P tide-windows^1)" = "$ours $theirs" ] || fail "the parents are not ours, then theirs"
sent=$(git -C "$folder/demo/shared.git" log -1 --format=%s --grep='while there is ice' tide-windows)
[ -n "$sent" ] || fail "the teammate's commit is lost"
[ "$(git -C "$folder/demo/shared.git" rev-parse tide-windows)" = "$(git -C "$clone" rev-parse tide-windows)" ] || fail "it has not arrived"
[ "$(git -C "$clone" status --porcelain)" = " M locks/fees.toml
 M tests/test_passage.py" ] || fail "uncommitted work is not what it was"
grep -q 'discount = 20' "$clone/locks/fees.toml" || fail "an uncommitted edit is lost"
git -C "$clone" fsck --strict --no-dangling || fail "git fsck complains"
[ "$(git -C "$clone" for-each-ref refs/rope-splice | wc -l)" = 6 ] || fail "not just the recorded splices are kept alive"
grep -q 'is_booked(start) and tide_ok(start)' "$clone/locks/passage.py" || fail "our edit is lost"
grep -q 'Slot(lock, start, lock.cycle)' "$clone/locks/passage.py" || fail "their edit is lost"
grep -q '        logger.info("%s passes' "$clone/locks/passage.py" || fail "what was written by hand is lost"
grep -q 'revision = 43' "$clone/timetable/timetable.toml" || fail "the later revision was not taken"
[ ! -e "$clone/scripts/nightly.sh" ] || fail "the deleted script is still there"
if grep -rlE '^(<<<<<<<|>>>>>>>)' "$clone" --include='*.py' --include='*.toml'; then fail "markers were left"; fi
[ "$(ls "$folder/pictures" | wc -l)" -ge 6 ] || fail "pictures are missing"
echo "the round was played and recorded"
