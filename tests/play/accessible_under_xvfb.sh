#!/usr/bin/env bash
# SPDX-License-Identifier: GPL-3.0-or-later
# The round of accessible_round.py in a real window, with a bus and a registry of its own:
# accessible_under_xvfb.sh ROPE_SPLICE SOURCE
set -euo pipefail
program=$1 source=$2
if [ -z "${IN_XVFB:-}" ]; then
    exec env IN_XVFB=1 QT_QPA_PLATFORM=xcb xvfb-run -a -s '-screen 0 1280x800x24' dbus-run-session -- "$0" "$@"
fi
folder=$(mktemp -d)
trap 'kill $(jobs -p) 2>/dev/null || true; wait 2>/dev/null || true; rm -rf "$folder"' EXIT
mkdir -p "$folder/home"
mkdir -m 700 "$folder/run"
export HOME=$folder/home XDG_RUNTIME_DIR=$folder/run GIT_CONFIG_NOSYSTEM=1 QT_LINUX_ACCESSIBILITY_ALWAYS_ON=1
unset XDG_CONFIG_HOME XDG_STATE_HOME XDG_DATA_HOME XDG_CACHE_HOME
"$program" demo --no-window "$folder/demo" >/dev/null
/usr/libexec/at-spi-bus-launcher --launch-immediately 2>/dev/null &
"$program" "$folder/demo/slackwater" &
/usr/bin/python3 "$source/tests/play/accessible_round.py" "$folder/demo/slackwater"
