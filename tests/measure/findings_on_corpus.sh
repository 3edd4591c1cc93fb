#!/bin/sh
# SPDX-License-Identifier: GPL-3.0-or-later
# What findings are worth on real cases: findings_on_corpus.sh PROGRAM CASES.jsonl.xz [--tell]
xz -dc "$2" | "$1" $3
