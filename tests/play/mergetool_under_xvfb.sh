#!/usr/bin/env bash
# SPDX-License-Identifier: GPL-3.0-or-later
# git mergetool calls the real window on a virtual screen, twice: keys decide one file, which is saved; the
# other one is closed undecided. Usage: mergetool_under_xvfb.sh ROPE_SPLICE
set -euo pipefail
program=$1
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT

if [[ -z ${IN_XVFB:-} ]]; then
    exec env IN_XVFB=1 QT_QPA_PLATFORM=xcb xvfb-run -a -s '-screen 0 1280x800x24' "$0" "$program"
fi

export HOME=$work GIT_CONFIG_NOSYSTEM=1
unset GIT_CONFIG_GLOBAL
git config --global user.name "Maren Voss"
git config --global user.email "maren@slackwater.example"
git init -q -b main "$work/repo"
cd "$work/repo"
printf 'low\nhigh\n' >a.txt
printf 'fee 15\n' >b.txt
git add . && git commit -qm base
git switch -q -c theirs
printf 'low\nhigh theirs\n' >a.txt
printf 'fee 16\n' >b.txt
git commit -qam theirs
git switch -q main
printf 'low\nhigh ours\n' >a.txt
printf 'fee 17\n' >b.txt
git commit -qam ours
"$program" setup-git
git merge -q theirs && { echo "this was to clash"; exit 1; }

# Waits for a window of that file and presses keys in it.
press() {
    local name=$1 window
    shift
    window=$(timeout 60 xdotool search --sync --onlyvisible --name "^$name: resolve" | head -1)
    sleep 0.5
    xdotool windowfocus "$window"
    for key in "$@"; do
        sleep 0.3
        xdotool key "$key"
    done
}
{
    press a.txt alt+t ctrl+s
    press b.txt ctrl+q
} &
# The second one is left undecided, which git is told by the exit code.
if timeout 120 git mergetool --no-prompt; then
    echo "git was not told that b.txt is open"
    exit 1
fi
wait
grep -q '^high theirs$' a.txt
! grep -q '<<<<<<<' a.txt
[[ -z $(git ls-files -u a.txt) ]] || { echo "a.txt is not settled"; exit 1; }
[[ -n $(git ls-files -u b.txt) ]] || { echo "b.txt is settled"; exit 1; }
grep -q '<<<<<<<' b.txt
"$program" setup-git --undo
! git config --get-regexp 'rope-splice'
echo "git mergetool was served."
