#!/bin/sh
# Measures speed as ratios in one run, and keeps the table.
set -eu
cd "$(dirname "$0")/.."
. scripts/lib.sh
need chromium chromium
go run ./e2e/bench -out docs/benchmarks.md
