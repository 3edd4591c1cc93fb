#!/bin/bash
# SPDX-License-Identifier: GPL-3.0-or-later
# How often findings cry wolf on a history that was written in a line: findings_on_history.sh PROGRAM REPOSITORY.
# Of three commits in a row the third is put onto the first; joining it with the second gives what was recorded,
# so nothing that is found there is wrong.
set -euo pipefail
program=$(realpath "$1") folder=$(mktemp -d)
trap 'rm -rf "$folder"' EXIT
git clone -q --no-hardlinks "$2" "$folder/copy"
cd "$folder/copy"
git config user.name x && git config user.email x@x
mapfile -t commits < <(git rev-list --reverse --no-merges HEAD)
joins=0
for ((i = 0; i + 2 < ${#commits[@]}; ++i)); do
    git checkout -q --detach "${commits[i]}"
    if ! git cherry-pick --allow-empty "${commits[i + 2]}" >/dev/null 2>&1; then
        git cherry-pick --abort 2>/dev/null || git reset -q --hard
        continue
    fi
    git branch -qf theirs
    if "$program" --branches . "${commits[i + 1]}" theirs >"$folder/found"; then
        joins=$((joins + 1))
        sed "s/^/${commits[i + 2]:0:7} /" "$folder/found"
    fi
done
echo "$joins joins"
