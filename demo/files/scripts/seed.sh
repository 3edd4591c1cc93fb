#!/bin/sh
# Fills an empty database with made-up locks.
set -eu
locks=4
for number in $(seq "$locks"); do
    echo "insert into lock (name) values ('Lock $number');"
done
