#!/bin/sh
# Takes the pictures in docs/screenshots from the demo practice, at a fixed moment so that they only
# change with what they show.
set -eu
cd "$(dirname "$0")/.."
. scripts/lib.sh
need chromium chromium
data=${TMPDIR:-/tmp}/kittiwake-quay # the page of copies shows where they lie
rm -rf "$data"
trap 'kill $server 2>/dev/null; rm -rf "$data"' EXIT
./bin/patientfox demo --data "$data" --listen 127.0.0.1:8429 --now 2026-11-23T15:00:00Z --log warn &
server=$!
go run ./e2e/shots -data "$data" -base http://127.0.0.1:8429 -to "${1:-docs/screenshots}"
