#!/bin/sh
# A large practice, made in some minutes, and its pages measured beside a small one.
set -eu
cd "$(dirname "$0")/.."
folder=$(mktemp -d)
trap 'rm -rf "$folder"' EXIT
./bin/patientfox make-large --data "$folder" --log error
go run ./e2e/large -data "$folder" -out docs/large.md
