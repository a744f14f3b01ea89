#!/bin/sh
# The long versions of tests: many kills, many random logs.
set -eu
cd "$(dirname "$0")/.."
. scripts/lib.sh
install_tools
install_node_packages
PATIENTFOX_KILLS=1000 go test -timeout 3h -count 1 -v -run Killed ./cmd/patientfox
PATIENTFOX_LOGS=10000 go test -timeout 3h -count 1 -v -run FoldTheSame ./e2e
